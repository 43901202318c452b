/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/number_double.h>
#include <diachrome/value.h>

#include "host_private.h"
#include "show_private.h"

/* What values are at a time. All is worked out anew from what has come in until then, so that any
 * frame can be asked for by itself. */

#define SAMPLES 64   /* of a value that is smoothed */
#define LOOK_MS 50   /* how finely a choice looks back for the last time it was sure */
#define COARSER 1024 /* and further back in such parts of the way */

static int32_t within(const struct dia_show_value *v, int64_t number)
{
    return (int32_t)(number < v->min ? v->min : number > v->max ? v->max : number);
}

static int64_t power_of_ten(uint8_t n)
{
    int64_t power = 1;
    for (; n > 0; n--)
        power *= 10;
    return power;
}

/* The last reading at a time or before it: its number, or count where there is none. */
static uint32_t reading_at(const struct dia_show_value *v, uint32_t ms)
{
    uint32_t low = 0, high = v->count;
    while (low < high) {
        uint32_t middle = low + (high - low) / 2;
        if (v->readings[middle].ms <= ms)
            low = middle + 1;
        else
            high = middle;
    }
    return low ? low - 1 : v->count;
}

static int64_t between(const struct dia_show_value *v, uint32_t at, uint32_t ms)
{
    const struct dia_reading *a = &v->readings[at], *b = a + 1;
    if (!v->linear || at + 1 == v->count || b->ms == a->ms)
        return a->number;
    int64_t way = (int64_t)b->number - a->number, span = b->ms - a->ms, gone = ms - a->ms;
    return a->number + (way * gone + (way < 0 ? -span / 2 : span / 2)) / span;
}

/* Each press of one of two keys is a step; it stays within its range on the way. */
int32_t dia_show_stepped(const struct dia_show *show, const struct dia_show_value *v, uint32_t ms)
{
    int64_t number = within(v, v->start);
    uint32_t done[(DIA_SHOW_PRESSES + 31) / 32] = {0};
    for (;;) { /* presses need not be in the order of time */
        uint32_t next = show->press_count;
        for (uint32_t k = 0; k < show->press_count; k++) {
            const struct dia_show_press *press = &show->presses[k];
            if (press->ms <= ms && !(done[k / 32] >> k % 32 & 1) &&
                (press->key == v->up || press->key == v->down) &&
                (next == show->press_count || press->ms < show->presses[next].ms))
                next = k;
        }
        if (next == show->press_count)
            return (int32_t)number;
        done[next / 32] |= 1u << next % 32;
        number = within(v, number + (show->presses[next].key == v->up ? v->by : -(int64_t)v->by));
    }
}

/* What its source says at a time: 0 when it has said nothing yet. */
static int raw_at(const struct dia_show *show, const struct dia_show_value *v, uint32_t ms,
                  int64_t *number)
{
    uint32_t at;
    switch (v->source) {
    case DIA_VALUE_CONSTANT:
        *number = v->start;
        return 1;
    case DIA_VALUE_COUNTER: {
        int64_t steps = (int64_t)ms * v->by; /* rounded down: a step is there when it is over */
        *number = v->start + (steps - (steps < 0 ? v->by_ms - 1 : 0)) / v->by_ms;
        return 1;
    }
    case DIA_VALUE_TIME:
        *number = (int64_t)ms * power_of_ten(v->decimals) / 1000;
        return 1;
    case DIA_VALUE_CLOCK:
        *number = (v->has_at ? v->at_s : show->clock_s) * (int64_t)1000 + ms;
        *number = *number % 86400000 * power_of_ten(v->decimals) / 1000;
        return 1;
    case DIA_VALUE_SIGNAL:
        *number =
            v->low + (((int64_t)v->high - v->low) * dia_signal_at(&v->signal, ms) + 32767) / 65535;
        return 1;
    case DIA_VALUE_KEYS:
        *number = dia_show_stepped(show, v, ms);
        return 1;
    default:
        at = reading_at(v, ms);
        if (at == v->count)
            return 0;
        *number = between(v, at, ms);
        return 1;
    }
}

/* The same, smoothed and held as the value says. */
static int number_at(const struct dia_show *show, const struct dia_show_value *v, uint32_t ms,
                     int32_t *number)
{
    int64_t sum = 0, one;
    uint32_t known = 0;
    if (v->every_ms)
        ms -= ms % v->every_ms;
    if (v->smooth_ms == 0) {
        if (!raw_at(show, v, ms, &one))
            return 0;
        *number = within(v, one);
        return 1;
    }
    for (uint32_t k = 0; k < SAMPLES; k++) {
        uint32_t back = (uint32_t)((uint64_t)v->smooth_ms * k / SAMPLES);
        if (back > ms || !raw_at(show, v, ms - back, &one))
            break;
        sum += within(v, one);
        known++;
    }
    if (known == 0)
        return 0;
    int64_t half = known / 2;
    *number = (int32_t)((sum + (sum < 0 ? -half : half)) / known);
    return 1;
}

static int is_stale(const struct dia_show_value *v, uint32_t ms)
{
    uint32_t at = v->stale_ms ? reading_at(v, ms) : v->count;
    return at != v->count && ms - v->readings[at].ms > v->stale_ms;
}

/* The last moment of those that come from outside, at a time or before it; UINT32_MAX: none. */
static uint32_t moved_at(const struct dia_show *show, const struct dia_show_value *v, uint32_t ms)
{
    uint32_t last = UINT32_MAX, at = v->source == DIA_VALUE_KEYS ? 0 : reading_at(v, ms);
    if (v->source != DIA_VALUE_KEYS)
        return at == v->count ? UINT32_MAX : v->readings[at].ms;
    for (uint32_t k = 0; k < show->press_count; k++) {
        const struct dia_show_press *press = &show->presses[k];
        if ((press->key == v->up || press->key == v->down) && press->ms <= ms &&
            (last == UINT32_MAX || press->ms > last))
            last = press->ms;
    }
    return last;
}

/* An earlier moment, to look at what it was before. What moves at readings and presses alone has
 * been looked at when both sides of each have: on its way from one to the next it does not turn. 0:
 * there is none. */
static int earlier(const struct dia_show *show, const struct dia_show_value *v, uint32_t from,
                   uint32_t *ms)
{
    int at_moves =
        v->source == DIA_VALUE_CSV || v->source == DIA_VALUE_INPUT || v->source == DIA_VALUE_KEYS;
    if (at_moves && !v->smooth_ms && !v->every_ms) {
        uint32_t moved = moved_at(show, v, *ms);
        if (moved == UINT32_MAX || (moved == *ms && moved == 0))
            return 0;
        *ms = moved < *ms ? moved : moved - 1;
        return 1;
    }
    uint32_t step = (from - *ms) / COARSER;
    step = step > LOOK_MS ? step : LOOK_MS;
    if (*ms == 0)
        return 0;
    *ms -= step < *ms ? step : *ms;
    return 1;
}

/* 1: it is above a limit, or was when it was last out of the band below it. */
static int is_above(const struct dia_show *show, const struct dia_show_choice *choice,
                    uint8_t limit, uint32_t ms)
{
    const struct dia_show_value *v = &show->values[choice->value];
    int64_t upper = choice->limit[limit], lower = upper - choice->within;
    uint32_t at = ms;
    int32_t number;
    do {
        if (!number_at(show, v, at, &number))
            return 0;
        if (number >= upper)
            return 1;
        if (number < lower || choice->within == 0)
            return 0;
    } while (earlier(show, v, ms, &at));
    return 0;
}

static const char *chosen(const struct dia_show *show, const struct dia_show_choice *choice,
                          uint32_t ms)
{
    uint8_t k = 0;
    while (k + 1 < choice->count && is_above(show, choice, k, ms))
        k++;
    return choice->text[k];
}

uint8_t dia_show_all_at(const struct dia_show *show, uint32_t ms, struct dia_value *out)
{
    uint8_t n = 0;
    int known[DIA_SHOW_VALUES];
    for (uint32_t k = 0; k < show->value_count; k++, n++) {
        const struct dia_show_value *v = &show->values[k];
        out[n] = (struct dia_value){.name = v->name, .decimals = v->decimals, .hidden = v->hidden};
        out[n].least = v->min != INT32_MIN ? v->min : v->source == DIA_VALUE_SIGNAL ? v->low : 0;
        out[n].most = v->max != INT32_MAX ? v->max : v->source == DIA_VALUE_SIGNAL ? v->high : 0;
        known[k] = number_at(show, v, ms, &out[n].number);
        if (!known[k])
            out[n].text = v->before[0] ? v->before : "--";
        else if (is_stale(v, ms))
            out[n].text = v->gone[0] ? v->gone : "--";
    }
    for (uint32_t k = 0; k < show->choice_count; k++, n++) {
        const struct dia_show_choice *choice = &show->choices[k];
        const struct dia_value *of = &out[choice->value];
        out[n] = (struct dia_value){.name = choice->name,
                                    .text = of->text ? of->text : chosen(show, choice, ms)};
    }
    return n;
}

void dia_show_drive_all(const struct dia_show *show, uint32_t ms, struct dia_rig_layer *now)
{
    for (uint32_t k = 0; k < show->drive_count; k++) {
        const struct dia_show_drive *drive = &show->drives[k];
        int32_t number;
        if (!number_at(show, &show->values[drive->value], ms, &number))
            number = drive->from;
        number = number < drive->from ? drive->from : number > drive->to ? drive->to : number;
        int64_t way = (int64_t)drive->high - drive->low, span = (int64_t)drive->to - drive->from;
        int64_t gone = (int64_t)number - drive->from;
        /* 2^31 * 2^32 does not fit 64 bits: gone and span lose what a parameter cannot show */
        while (span > INT32_MAX) {
            span /= 2;
            gone /= 2;
        }
        int32_t value =
            (int32_t)(drive->low + (way * gone + (way < 0 ? -span / 2 : span / 2)) / span);
        memcpy((char *)&now[drive->layer].values + drive->param->offset, &value, sizeof value);
    }
}

/* ---- what comes in ----------------------------------------------------------------------------
 */

enum dia_status dia_show_feed(struct dia_show *show, const char *line, uint32_t ms,
                              struct dia_diagnostic *wrong)
{
    char name[SHOW_WORD], number[SHOW_WORD], more[SHOW_WORD];
    struct dia_show_value *only = NULL, *to = NULL;
    uint32_t inputs = 0;
    int32_t value;
    if (!dia_show_word(&line, name))
        return DIA_OK;
    for (uint32_t k = 0; k < show->value_count; k++) {
        if (show->values[k].source != DIA_VALUE_INPUT)
            continue;
        only = &show->values[k];
        inputs++;
        to = strcmp(only->name, name) == 0 ? only : to;
    }
    if (!dia_show_word(&line, number)) { /* a number alone, where it can only be that of one */
        if (inputs != 1)
            return dia_host_wrong(wrong, "a line is 'NAME NUMBER'; found '%.40s'", name);
        memcpy(number, name, sizeof number);
        to = only;
    }
    if (!to)
        return dia_host_wrong(wrong, "there is no value '%.40s' that comes in", name);
    if (dia_show_word(&line, more))
        return dia_host_wrong(wrong, "'%.40s' has no meaning here; a line is 'NAME NUMBER'", more);
    enum dia_status status = dia_show_number_read("a value", number, to->decimals, &value, wrong);
    if (status == DIA_OK && dia_show_reading(to, ms, value) != DIA_OK) {
        dia_host_wrong(wrong, "no room for more readings of '%s'", to->name);
        return DIA_PORT_FAILED;
    }
    return status;
}

enum dia_status dia_show_record(const struct dia_show *show, const char *path,
                                struct dia_diagnostic *wrong)
{
    struct host_output out;
    uint32_t next[DIA_SHOW_VALUES] = {0};
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    fputs("time,name,value\r\n", out.file);
    for (;;) { /* of all that came in, in the order of time */
        uint32_t first = show->value_count;
        for (uint32_t k = 0; k < show->value_count; k++) {
            const struct dia_show_value *v = &show->values[k];
            if (v->source == DIA_VALUE_INPUT && next[k] < v->count &&
                (first == show->value_count ||
                 v->readings[next[k]].ms < show->values[first].readings[next[first]].ms))
                first = k;
        }
        if (first == show->value_count)
            break;
        const struct dia_show_value *v = &show->values[first];
        const struct dia_reading *reading = &v->readings[next[first]++];
        char number[DIA_NUMBER_BYTES];
        dia_number_text(reading->number, &(struct dia_number_form){.decimals = v->decimals},
                        number);
        fprintf(out.file, "%u.%03u,%s,%s\r\n", reading->ms / 1000, reading->ms % 1000, v->name,
                number);
    }
    return dia_host_output_close(&out, wrong);
}
