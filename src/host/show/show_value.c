/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/look_text.h>
#include <diachrome/nearest.h>
#include <diachrome/number_double.h>
#include <diachrome/value.h>

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
static enum dia_status new_name(const struct dia_show *show, const char *word,
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
static enum dia_status read_text(const char *what, const char *word, char text[DIA_VALUE_TEXT],
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
    1u << PATH | 1u << STEPS,
    1u << STALE | 1u << GONE,
    1u << START | 1u << UP | 1u << DOWN | 1u << BY,
};

struct reader {
    struct dia_show *show;
    const struct dia_rig *rig;
    struct dia_show_value value;
    const char *file;
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
    case DECIMALS: /* which has been read */
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
        r->file = text;
        return DIA_OK;
    case STEPS:
        return read_steps(r, text);
    case UP:
    case DOWN:
        return dia_show_key_read(r->rig, text, key == UP ? &v->up : &v->down, r->wrong);
    case BEFORE:
    case GONE:
        return read_text(what, text, key == GONE ? v->gone : v->before, r->wrong);
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
    static char file[SHOW_WORD];
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
        if (key == PATH) {
            snprintf(file, sizeof file, "%s", equals + 1);
            r->file = file;
        }
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
    enum dia_status status = new_name(show, name, r.value.name, wrong);
    if (status == DIA_OK && dia_show_word(&text, source))
        status = dia_show_choose("the source of a value", source, sources, &which, wrong);
    value_defaults(&r.value, which);
    if (status == DIA_OK && which == DIA_VALUE_KEYS)
        r.value.by = 1;
    if (status == DIA_OK)
        status = read_keys(&r, text, 1);
    if (status == DIA_OK && which == DIA_VALUE_SIGNAL) { /* 0 to 100 unless it says */
        status = dia_show_number_read("'high'", "100", r.value.decimals, &r.value.high, wrong);
    }
    if (status == DIA_OK)
        status = read_keys(&r, text, 0);
    if (status == DIA_OK)
        status = is_complete(&r);
    if (status == DIA_OK && which == DIA_VALUE_CSV)
        status = dia_show_csv_read(&r.value, r.file, wrong);
    if (status == DIA_OK)
        show->values[show->value_count++] = r.value;
    else
        free(r.value.readings);
    return status;
}

/* ---- lines `choice` and `drive` ---------------------------------------------------------------
 */

/* NAME of VALUE TEXT LIMIT TEXT [LIMIT TEXT...] [within NUMBER] */
enum dia_status dia_show_choice_read(struct dia_show *show, const char *text,
                                     struct dia_diagnostic *wrong)
{
    struct dia_show_choice choice = {0};
    char word[SHOW_WORD];
    static const char such[] = "write a choice like this: choice state of volts \"low\" 2.9 \"ok\"";
    if (show->choice_count == DIA_SHOW_CHOICES)
        return dia_host_wrong(wrong, "a show has at most %d choices", DIA_SHOW_CHOICES);
    if (!dia_show_word(&text, word))
        return dia_host_wrong(wrong, "%s", such);
    enum dia_status status = new_name(show, word, choice.name, wrong);
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(&text, word) || strcmp(word, "of") != 0 || !dia_show_word(&text, word))
        return dia_host_wrong(wrong, "%s", such);
    status = dia_show_value_named(show, word, &choice.value, wrong);
    if (status != DIA_OK)
        return status;
    uint8_t decimals = show->values[choice.value].decimals;
    while (status == DIA_OK && dia_show_word(&text, word)) {
        if (choice.count == DIA_CHOICE_TEXTS)
            return dia_host_wrong(wrong, "a choice has at most %d texts", DIA_CHOICE_TEXTS);
        status = read_text("a text of a choice", word, choice.text[choice.count++], wrong);
        if (status != DIA_OK || !dia_show_word(&text, word))
            break;
        if (strcmp(word, "within") == 0) {
            if (!dia_show_word(&text, word))
                return dia_host_wrong(wrong, "'within' needs a number behind it");
            status = dia_show_number_read("'within'", word, decimals, &choice.within, wrong);
            if (status == DIA_OK && (choice.within < 0 || dia_show_word(&text, word)))
                return dia_host_wrong(wrong, "'within' is 0 or more, and comes last");
            break;
        }
        if (choice.count == DIA_CHOICE_TEXTS)
            return dia_host_wrong(wrong, "a choice has at most %d texts", DIA_CHOICE_TEXTS);
        int32_t *limit = &choice.limit[choice.count - 1];
        status = dia_show_number_read("a limit of a choice", word, decimals, limit, wrong);
        if (status == DIA_OK && choice.count > 1 && *limit <= limit[-1])
            return dia_host_wrong(wrong, "the limits of a choice rise; found '%.40s'", word);
        if (status == DIA_OK && !text[strspn(text, " \t")])
            return dia_host_wrong(wrong, "a text is missing behind the limit '%.40s'", word);
    }
    if (status == DIA_OK && choice.count < 2)
        return dia_host_wrong(wrong, "%s", such);
    if (status == DIA_OK)
        show->choices[show->choice_count++] = choice;
    return status;
}

/* LAYER.KEY by VALUE from NUMBER to NUMBER gives AMOUNT to AMOUNT */
enum dia_status dia_show_drive_read(struct dia_show *show, const char *text,
                                    struct dia_diagnostic *wrong)
{
    static const char *const between[] = {"by", "from", "to", "gives", "to", NULL};
    char word[6][SHOW_WORD], said[SHOW_WORD];
    static const char such[] =
        "write it like this: drive sea.speed by wind from 0 to 20 gives 5cm/s to 80cm/s";
    struct dia_show_drive drive = {0};
    if (show->drive_count == DIA_SHOW_DRIVES)
        return dia_host_wrong(wrong, "a show has at most %d lines 'drive'", DIA_SHOW_DRIVES);
    for (int k = 0; k < 6; k++) {
        if (!dia_show_word(&text, word[k]) ||
            (k < 5 && (!dia_show_word(&text, said) || strcmp(said, between[k]) != 0)))
            return dia_host_wrong(wrong, "%s", such);
    }
    char *key = strchr(word[0], '.');
    if (!key || dia_show_word(&text, said))
        return dia_host_wrong(wrong, "%s", such);
    *key++ = 0;
    enum dia_status status = dia_show_layer_named(show, word[0], &drive.layer, wrong);
    if (status == DIA_OK)
        status = dia_show_value_named(show, word[1], &drive.value, wrong);
    if (status != DIA_OK)
        return status;
    uint8_t decimals = show->values[drive.value].decimals;
    const struct dia_rig_layer *layer = &show->layers[drive.layer];
    int32_t *const ends[] = {&drive.low, &drive.high};
    status = dia_show_number_read("'from'", word[2], decimals, &drive.from, wrong);
    if (status == DIA_OK)
        status = dia_show_number_read("'to'", word[3], decimals, &drive.to, wrong);
    if (status == DIA_OK && drive.to <= drive.from)
        return dia_host_wrong(wrong, "'to' is above 'from'; found %.40s to %.40s", word[2],
                              word[3]);
    for (int k = 0; k < 2 && status == DIA_OK; k++) {
        union dia_look_values values = layer->values;
        char setting[2 * SHOW_WORD];
        snprintf(setting, sizeof setting, "%s=%s", key, word[4 + k]);
        drive.param = dia_look_param(layer->look, key, wrong);
        if (!drive.param)
            return DIA_BAD_VALUE;
        if (drive.param->kind < DIA_PARAM_COUNT || drive.param->kind > DIA_PARAM_TIME)
            return dia_host_wrong(wrong, "'%s' is no number; values drive numbers", key);
        status = dia_look_set(layer->look, &values, setting, wrong);
        memcpy(ends[k], (const char *)&values + drive.param->offset, sizeof *ends[k]);
    }
    if (status == DIA_OK)
        show->drives[show->drive_count++] = drive;
    return status;
}

/* ---- all of it --------------------------------------------------------------------------------
 */

static int is_known(const struct dia_show *show, const struct dia_field *field)
{
    for (uint32_t k = 0; k < show->value_count + show->choice_count; k++) {
        const char *name = k < show->value_count ? show->values[k].name
                                                 : show->choices[k - show->value_count].name;
        if (strlen(name) == field->name_length &&
            memcmp(name, field->name, field->name_length) == 0)
            return 1;
    }
    return 0;
}

/* 1: it is on something made of dots or pixels. */
static int is_on_dots(const struct dia_rig *rig, const struct dia_rig_layer *layer)
{
    for (uint32_t k = 0; k < layer->parts; k++) {
        const struct dia_rig_part *part = &layer->part[k];
        const struct dia_rig_device *device = &rig->devices[part->number];
        if (!part->is_device || (!device->columns && !device->digits))
            return 1;
    }
    return layer->parts == 0;
}

int dia_show_lacks(const struct dia_show *show, const struct dia_rig *rig, uint32_t number,
                   struct dia_diagnostic *note)
{
    const struct dia_rig_layer *layer = &show->layers[number];
    const struct dia_face *face = layer->values.lettering.text.face;
    if (layer->look != &dia_look_text || !is_on_dots(rig, layer))
        return 0;
    for (const char *at = layer->says; *at;) {
        struct dia_field field;
        const char *sign = at;
        if (*at == '{' && at[1] != '{') {
            at = dia_field_read(at, &field);
            continue;
        }
        uint16_t code = dia_utf8_next(&at);
        if (code == '\n' || dia_face_has(face, code))
            continue;
        dia_host_wrong(note, "the face of \"%.60s\" has no '%.*s' (byte %u); it shows as a box",
                       layer->says, (int)(at - sign), sign, (unsigned)(sign - layer->says) + 1);
        return 1;
    }
    return 0;
}

enum dia_status dia_show_check(const struct dia_show *show, struct dia_diagnostic *wrong)
{
    for (uint32_t k = 0; k < show->layer_count; k++) {
        for (const char *at = show->layers[k].says; *at;) {
            struct dia_field field;
            char name[DIA_RIG_NAME];
            uint8_t none;
            if (*at != '{' || at[1] == '{') {
                at += *at == '{' ? 2 : 1;
                continue;
            }
            const char *begin = at;
            at = dia_field_read(at, &field);
            if (!field.ok)
                return dia_host_wrong(
                    wrong,
                    "'%.*s' is no field; write such as {depth}, {depth:5.2} or {{ for a "
                    "bracket",
                    (int)(at - begin < 60 ? at - begin : 60), begin);
            snprintf(name, sizeof name, "%.*s", field.name_length, field.name);
            if (!is_known(show, &field))
                return dia_show_value_named(show, name, &none, wrong);
        }
    }
    return DIA_OK;
}
