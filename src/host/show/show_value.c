/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/look_text.h>
#include <diachrome/nearest.h>
#include <diachrome/number_double.h>

#include "host_private.h"
#include "show_private.h"

/* ---- names ------------------------------------------------------------------------------------
 */

enum dia_status dia_show_value_named(const struct dia_show *show, const char *name, uint8_t *value,
                                     struct dia_diagnostic *wrong)
{
    const char *names[DIA_SHOW_VALUES + 1] = {NULL};
    for (uint32_t k = 0; k < show->value_count; k++) {
        names[k] = show->values[k].name;
        if (strcmp(names[k], name) == 0) {
            *value = (uint8_t)k;
            return DIA_OK;
        }
    }
    const char *near = dia_nearest(name, names);
    if (near)
        return dia_host_wrong(wrong, "there is no value '%.40s'; did you mean '%s'?", name, near);
    return dia_host_wrong(wrong,
                          "there is no value '%.40s'; a line such as 'value %.40s input' makes one",
                          name, name);
}

/* A name for a value or choice that nothing has yet. */
enum dia_status dia_show_new_name(const struct dia_show *show, const char *word,
                                  char name[DIA_RIG_NAME], struct dia_diagnostic *wrong)
{
    size_t n = strlen(word);
    if (n == 0 || n >= DIA_RIG_NAME ||
        strspn(word, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_-") != n)
        return dia_host_wrong(
            wrong, "a name has letters, digits, '-' and '_', at most %d of them; found '%.40s'",
            DIA_RIG_NAME - 1, word);
    for (uint32_t k = 0; k < show->value_count + show->choice_count; k++) {
        const char *other = k < show->value_count ? show->values[k].name
                                                  : show->choices[k - show->value_count].name;
        if (strcmp(other, word) == 0)
            return dia_host_wrong(wrong, "there is a value '%s' already; each name is there once",
                                  word);
    }
    memcpy(name, word, n + 1);
    return DIA_OK;
}

/* ---- numbers ----------------------------------------------------------------------------------
 */

/* "2.37" in units of the last decimal. */
enum dia_status dia_show_number_read(const char *what, const char *text, uint8_t decimals,
                                     int32_t *number, struct dia_diagnostic *wrong)
{
    char *end;
    errno = 0;
    double value = strtod(text, &end);
    if (end == text || *end || errno == ERANGE || strpbrk(text, "xXnN") ||
        dia_number_of_double(value, decimals, number) != DIA_OK)
        return dia_host_wrong(
            wrong, "%s is a number of at most 32 bits, such as 2.37; found '%.40s'", what, text);
    return DIA_OK;
}

/* A text in quotes, or a word. */
enum dia_status dia_show_text_read(const char *what, const char *word, char text[DIA_VALUE_TEXT],
                                   struct dia_diagnostic *wrong)
{
    size_t n = strlen(word), quoted = word[0] == '"';
    if (quoted && (n < 2 || word[n - 1] != '"'))
        return dia_host_wrong(wrong, "%s lacks its closing quote", what);
    n -= 2 * quoted;
    if (n >= DIA_VALUE_TEXT)
        return dia_host_wrong(wrong, "%s has at most %d bytes", what, DIA_VALUE_TEXT - 1);
    memcpy(text, word + quoted, n);
    text[n] = 0;
    return DIA_OK;
}

/* ---- a line `value` ---------------------------------------------------------------------------
 */

static const char *const sources[] = {"constant", "counter", "time", "clock", "signal",
                                      "csv",      "input",   "keys", NULL};

enum {
    IS,
    START,
    RATE,
    AT,
    SHAPE,
    LOW,
    HIGH,
    PATH,
    STEPS,
    UP,
    DOWN,
    BY,
    STALE,
    GONE,
    DECIMALS,
    MIN,
    MAX,
    BEFORE,
    SMOOTH,
    EVERY
};
static const char *const keys[] = {"is",       "start", "rate", "at",     "shape",  "low",   "high",
                                   "file",     "steps", "up",   "down",   "by",     "stale", "gone",
                                   "decimals", "min",   "max",  "before", "smooth", "every", NULL};

/* Which keys a source takes, besides those from DECIMALS on. */
static const uint32_t taken[] = {
    1u << IS,
    1u << START | 1u << RATE,
    0,
    1u << AT,
    1u << SHAPE | 1u << LOW | 1u << HIGH,
    1u << PATH | 1u << STEPS | 1u << STALE | 1u << GONE,
    1u << PATH | 1u << STALE | 1u << GONE,
    1u << START | 1u << UP | 1u << DOWN | 1u << BY,
};

struct reader {
    struct dia_show *show;
    const struct dia_rig *rig;
    struct dia_show_value value;
    char file[SHOW_WORD];
    uint32_t seen; /* keys */
    struct dia_diagnostic *wrong;
};

/* "1.5/min". */
static enum dia_status read_rate(struct reader *r, const char *text)
{
    static const struct {
        const char *unit;
        uint32_t ms;
    } units[] = {{"/s", 1000}, {"/min", 60000}, {"/h", 3600000}};
    for (size_t k = 0; k < 3; k++) {
        char number[SHOW_WORD];
        size_t n = strlen(text), u = strlen(units[k].unit);
        if (n <= u || strcmp(text + n - u, units[k].unit) != 0)
            continue;
        snprintf(number, sizeof number, "%.*s", (int)(n - u), text);
        r->value.by_ms = units[k].ms;
        return dia_show_number_read("'rate'", number, r->value.decimals, &r->value.by, r->wrong);
    }
    return dia_host_wrong(r->wrong,
                          "'rate' is a number per s, min or h, such as 1/s; found '%.40s'", text);
}

/* "14:05" or "14:05:30". */
static enum dia_status read_clock(struct reader *r, const char *text)
{
    unsigned h, m, s = 0;
    int end = 0;
    if ((sscanf(text, "%2u:%2u:%2u%n", &h, &m, &s, &end) != 3 &&
         sscanf(text, "%2u:%2u%n", &h, &m, &end) != 2) ||
        text[end] || h > 23 || m > 59 || s > 59)
        return dia_host_wrong(r->wrong, "'at' is a time of day, such as 14:05; found '%.40s'",
                              text);
    r->value.at_s = h * 3600 + m * 60 + s;
    r->value.has_at = 1;
    return DIA_OK;
}

static enum dia_status read_steps(struct reader *r, const char *text)
{
    static const char *const ways[] = {"yes", "no", NULL};
    uint8_t way;
    enum dia_status status = dia_show_choose("'steps'", text, ways, &way, r->wrong);
    r->value.linear = status == DIA_OK && way == 1;
    return status;
}

static enum dia_status read_time(struct reader *r, int key, const char *text, uint32_t *ms)
{
    int64_t value;
    enum dia_status status =
        dia_show_amount(keys[key], text, DIA_TIME, 0, 3600000, &value, r->wrong);
    if (status == DIA_OK)
        *ms = (uint32_t)value;
    return status;
}

static enum dia_status read_value_key(struct reader *r, int key, const char *text)
{
    struct dia_show_value *v = &r->value;
    int32_t *const numbers[] = {
        [IS] = &v->start, [START] = &v->start, [LOW] = &v->low, [HIGH] = &v->high,
        [BY] = &v->by,    [MIN] = &v->min,     [MAX] = &v->max};
    char what[24];
    int64_t decimals;
    enum dia_status status;
    snprintf(what, sizeof what, "'%s'", keys[key]);
    switch (key) {
    case DECIMALS:
        status = dia_show_amount("decimals", text, DIA_NUMBER, 0, 9, &decimals, r->wrong);
        v->decimals = status == DIA_OK ? (uint8_t)decimals : 0;
        v->hidden = 0;
        return status;
    case RATE:
        return read_rate(r, text);
    case AT:
        return read_clock(r, text);
    case SHAPE:
        return dia_signal_read(text, &v->signal, r->wrong);
    case PATH:
        snprintf(r->file, sizeof r->file, "%s", text);
        return DIA_OK;
    case STEPS:
        return read_steps(r, text);
    case UP:
    case DOWN:
        return dia_show_key_read(r->rig, text, key == UP ? &v->up : &v->down, r->wrong);
    case BEFORE:
    case GONE:
        return dia_show_text_read(what, text, key == GONE ? v->gone : v->before, r->wrong);
    case STALE:
        return read_time(r, key, text, &v->stale_ms);
    case SMOOTH:
        return read_time(r, key, text, &v->smooth_ms);
    case EVERY:
        return read_time(r, key, text, &v->every_ms);
    default:
        return dia_show_number_read(what, text, v->decimals, numbers[key], r->wrong);
    }
}

/* Keys a source cannot be without. */
static enum dia_status is_complete(struct reader *r)
{
    static const uint32_t needed[] = {1u << IS,    1u << RATE, 0, 0,
                                      1u << SHAPE, 1u << PATH, 0, 1u << UP};
    static const char *const such[] = {
        "is=2.37", "rate=1/s",     "", "", "'shape=sine(period=10s)'", "file=tides.csv",
        "",        "up=operator.1"};
    uint8_t source = r->value.source;
    if ((r->seen & needed[source]) != needed[source])
        return dia_host_wrong(r->wrong, "a value of '%s' needs more: write such as %s",
                              sources[source], such[source]);
    if (r->value.min > r->value.max)
        return dia_host_wrong(r->wrong, "'min' is above 'max'");
    return DIA_OK;
}

/* KEY=VALUE words; twice, so that `decimals` is known before numbers are read. */
static enum dia_status read_keys(struct reader *r, const char *at, int decimals_only)
{
    char word[SHOW_WORD];
    enum dia_status status = DIA_OK;
    while (status == DIA_OK && dia_show_word(&at, word)) {
        char *equals = strchr(word, '=');
        uint8_t key = 0;
        if (!equals)
            return dia_host_wrong(r->wrong, "'%.40s' has no meaning here; write KEY=VALUE", word);
        *equals = 0;
        status = dia_show_parameter("a value", word, keys, &key, r->wrong);
        if (status != DIA_OK || (key == DECIMALS) != decimals_only)
            continue;
        if (key < DECIMALS && !(taken[r->value.source] >> key & 1))
            return dia_host_wrong(r->wrong, "'%s' is not for a value of '%s'", word,
                                  sources[r->value.source]);
        if (r->seen >> key & 1)
            return dia_host_wrong(r->wrong, "'%s' is here twice; keep one of them", word);
        r->seen |= 1u << key;
        status = read_value_key(r, key, equals + 1);
    }
    return status;
}

static void value_defaults(struct dia_show_value *v, uint8_t source)
{
    v->source = source;
    v->min = INT32_MIN;
    v->max = INT32_MAX;
    v->by_ms = 1000;
    v->down = 255;
    v->decimals = v->hidden = source == DIA_VALUE_INPUT || source == DIA_VALUE_CSV ? 3 : 0;
}

enum dia_status dia_show_value_read(struct dia_show *show, const struct dia_rig *rig,
                                    const char *text, struct dia_diagnostic *wrong)
{
    struct reader r = {.show = show, .rig = rig, .wrong = wrong};
    char name[SHOW_WORD], source[SHOW_WORD];
    uint8_t which = DIA_VALUE_INPUT;
    if (show->value_count == DIA_SHOW_VALUES)
        return dia_host_wrong(wrong, "a show has at most %d values", DIA_SHOW_VALUES);
    if (!dia_show_word(&text, name))
        return dia_host_wrong(wrong, "a value needs a name: write such as 'value depth input'");
    enum dia_status status = dia_show_new_name(show, name, r.value.name, wrong);
    if (status == DIA_OK && dia_show_word(&text, source))
        status = dia_show_choose("the source of a value", source, sources, &which, wrong);
    value_defaults(&r.value, which);
    if (status == DIA_OK && which == DIA_VALUE_KEYS)
        r.value.by = 1;
    if (status == DIA_OK)
        status = read_keys(&r, text, 1);
    if (status == DIA_OK && which == DIA_VALUE_SIGNAL) /* 0 to 100 unless it says */
        status = dia_show_number_read("'high'", "100", r.value.decimals, &r.value.high, wrong);
    if (status == DIA_OK)
        status = read_keys(&r, text, 0);
    if (status == DIA_OK)
        status = is_complete(&r);
    if (status == DIA_OK && which == DIA_VALUE_CSV)
        status = dia_show_csv_read(&r.value, r.file, wrong);
    if (status == DIA_OK && which == DIA_VALUE_INPUT && strlen(r.file) >= sizeof r.value.from)
        status = dia_host_wrong(wrong, "'file' has at most %d bytes", DIA_VALUE_FILE - 1);
    if (status == DIA_OK && which == DIA_VALUE_INPUT)
        snprintf(r.value.from, sizeof r.value.from, "%.255s", r.file);
    if (status == DIA_OK)
        show->values[show->value_count++] = r.value;
    else
        free(r.value.readings);
    return status;
}
