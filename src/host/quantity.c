/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "host_private.h"

struct unit {
    const char *name;
    int64_t size; /* in the unit kept */
};

/* Units of a kind, the one that is written first; and how to tell a person. */
static const struct kind {
    const char *what, *example;
    struct unit units[4];
} kinds[] = {
    [DIA_VOLTAGE] = {"a voltage", "5 V", {{"V", 1000}, {"mV", 1}}},
    [DIA_CURRENT] = {"a current", "2 A", {{"A", 1000000}, {"mA", 1000}, {"uA", 1}}},
    [DIA_LENGTH] = {"a length",
                    "16.7 mm",
                    {{"mm", 1000}, {"cm", 10000}, {"m", 1000000}, {"um", 1}}},
    [DIA_SPEED] = {"a speed", "200 mm/s", {{"mm/s", 1000}, {"cm/s", 10000}, {"m/s", 1000000}}},
    [DIA_CLOCK] = {"a clock rate", "16 MHz", {{"MHz", 1000000}, {"kHz", 1000}, {"Hz", 1}}},
    [DIA_RATE] = {"a rate", "30 Hz", {{"Hz", 1000}, {"kHz", 1000000}}},
    [DIA_MEMORY] = {"a memory size", "2 KB", {{"KB", 1024}, {"B", 1}, {"MB", 1048576}}},
    [DIA_PERCENT] = {"a percentage", "30 %", {{"%", 10000}}},
    [DIA_TIME] = {"a time", "2.5 s", {{"s", 1000}, {"ms", 1}, {"min", 60000}, {"h", 3600000}}},
    [DIA_MOMENT] = {"a time",
                    "20 us",
                    {{"us", 1000}, {"ns", 1}, {"ms", 1000000}, {"s", 1000000000}}},
    [DIA_RESISTANCE] = {"a resistance", "330 ohm", {{"ohm", 1000}, {"kohm", 1000000}, {"mohm", 1}}},
    [DIA_RAIL] = {"a resistance for a length",
                  "0.12 ohm/m",
                  {{"ohm/m", 1000000}, {"mohm/m", 1000}}},
    [DIA_SECTION] = {"a cross-section", "0.75 mm2", {{"mm2", 1000000}}},
    [DIA_NUMBER] = {"a whole number", "120", {{"", 1}}},
};

#define DIGITS 12 /* so that every number times every unit stays inside 63 bits */

/* The number as digits and how many of them are decimals. Returns what follows, NULL: no number. */
static const char *read_digits(const char *text, int64_t *digits, int *decimals)
{
    int seen = 0, point = 0, negative = *text == '-';
    *digits = 0;
    *decimals = 0;
    if (*text == '-' || *text == '+')
        text++;
    for (; isdigit((unsigned char)*text) || (*text == '.' && !point); text++) {
        if (*text == '.') {
            point = 1;
            continue;
        }
        if (++seen > DIGITS)
            return NULL;
        *digits = *digits * 10 + (*text - '0');
        *decimals += point;
    }
    if (negative)
        *digits = -*digits;
    return seen ? text : NULL;
}

static const struct unit *unit_of(const struct kind *kind, const char *name)
{
    for (int i = 0; i < 4 && kind->units[i].name; i++) {
        if (strcmp(kind->units[i].name, name) == 0)
            return &kind->units[i];
    }
    return NULL;
}

static enum dia_status wrong_unit(const struct kind *kind, const char *what, const char *text,
                                  struct dia_diagnostic *wrong)
{
    char units[40] = "";
    for (int i = 0; i < 4 && kind->units[i].name; i++) {
        strcat(units, i ? ", " : "");
        strcat(units, kind->units[i].name);
    }
    if (kind->units[0].name[0] == 0)
        return dia_host_wrong(wrong, "%s takes %s without a unit, such as %s; found '%.40s'", what,
                              kind->what, kind->example, text);
    return dia_host_wrong(wrong, "%s takes %s in %s, such as %s; found '%.40s'", what, kind->what,
                          units, kind->example, text);
}

static int64_t rounded(int64_t digits, int decimals, int64_t size)
{
    int64_t divisor = 1;
    while (decimals-- > 0)
        divisor *= 10;
    int64_t product = digits * size, half = divisor / 2;
    return (product < 0 ? product - half : product + half) / divisor;
}

enum dia_status dia_quantity_read(const char *text, enum dia_quantity kind_number, int64_t min,
                                  int64_t max, const char *what, int64_t *value,
                                  struct dia_diagnostic *wrong)
{
    const struct kind *kind = &kinds[kind_number];
    int64_t digits;
    int decimals;
    const char *rest = read_digits(text, &digits, &decimals);
    if (!rest)
        return wrong_unit(kind, what, text, wrong);
    while (*rest == ' ')
        rest++;
    const char *first = text + (*text == '-' || *text == '+');
    if (first[0] == '0' && first[1] >= '0' && first[1] <= '9') /* 8, or 10? YAML 1.1 has both */
        return dia_host_wrong(wrong, "%s begins with 0; write it without; found '%.40s'", what,
                              text);
    const struct unit *unit = unit_of(kind, rest);
    if (!unit || (kind_number == DIA_NUMBER && decimals > 0))
        return wrong_unit(kind, what, text, wrong);
    int64_t found = rounded(digits, decimals, unit->size);
    if (found < min || found > max) {
        char low[40], high[40];
        return dia_host_wrong(wrong, "%s must be %s to %s; found '%.40s'", what,
                              dia_quantity_write(min, kind_number, low, sizeof low),
                              dia_quantity_write(max, kind_number, high, sizeof high), text);
    }
    *value = found;
    return DIA_OK;
}

/* The unit a person would choose: the largest in which the value is 1 or more. */
static const struct unit *unit_to_write(const struct kind *kind, int64_t value,
                                        enum dia_quantity number)
{
    const struct unit *best = &kind->units[0];
    int64_t size = value < 0 ? -value : value;
    if (number == DIA_LENGTH || number == DIA_SPEED || number == DIA_RATE || number == DIA_RAIL ||
        number == DIA_SECTION || size == 0)
        return best; /* always in mm, mm/s, Hz, ohm/m, mm2 */
    if (number == DIA_TIME)
        return size < 1000 ? &kind->units[1] : best;
    const struct unit *least = best;
    best = NULL;
    for (int i = 0; i < 4 && kind->units[i].name; i++) {
        const struct unit *unit = &kind->units[i];
        if (unit->size < least->size)
            least = unit;
        if (unit->size <= size && (!best || unit->size > best->size))
            best = unit;
    }
    return best ? best : least;
}

char *dia_quantity_write(int64_t value, enum dia_quantity kind_number, char *text, int size)
{
    const struct kind *kind = &kinds[kind_number];
    const struct unit *unit = unit_to_write(kind, value, kind_number);
    int64_t magnitude = value < 0 ? -value : value;
    int64_t whole = magnitude / unit->size;
    /* up to six decimals, trailing zeros left out */
    int64_t part = (magnitude % unit->size * 1000000 + unit->size / 2) / unit->size;
    char decimals[24];
    snprintf(decimals, sizeof decimals, ".%06" PRId64, part);
    for (size_t n = strlen(decimals); n > 0 && (decimals[n - 1] == '0' || decimals[n - 1] == '.');)
        decimals[--n] = 0;
    snprintf(text, (size_t)size, "%s%" PRId64 "%s%s%s", value < 0 ? "-" : "", whole, decimals,
             unit->name[0] ? " " : "", unit->name);
    return text;
}
