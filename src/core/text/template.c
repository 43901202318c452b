/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/face.h>
#include <diachrome/number.h>
#include <diachrome/value.h>

/* A text that is being written. */
struct writing {
    char *at, *end; /* end: of what may be written */
};

static void put_bytes(struct writing *to, const char *from, uint8_t n)
{
    if (to->end - to->at < n) { /* a sign is there whole, or it is the end */
        to->end = to->at;
        return;
    }
    memcpy(to->at, from, n);
    to->at += n;
}

static void put(struct writing *to, char c)
{
    put_bytes(to, &c, 1);
}

/* ---- fields -----------------------------------------------------------------------------------
 */

static uint8_t is_digit(char c)
{
    return c >= '0' && c <= '9';
}

/* Up to 42, the widest of number.h; more is 255. */
static uint8_t read_number(const char **at)
{
    uint8_t value = 0;
    for (; is_digit(**at); (*at)++)
        value = value > 24 ? 255 : (uint8_t)(value * 10 + (**at - '0'));
    return value;
}

static uint8_t takes(const char **at, const char *word)
{
    uint8_t n = (uint8_t)strlen(word);
    if (strncmp(*at, word, n) != 0)
        return 0;
    *at += n;
    return 1;
}

static void read_form(const char **at, struct dia_field *field)
{
    field->left = takes(at, "<");
    field->sign = takes(at, "+");
    field->zeros = **at == '0';
    field->width = read_number(at);
    if (takes(at, ".")) {
        field->has_decimals = is_digit(**at);
        field->ok = field->has_decimals;
        field->decimals = read_number(at);
    }
    if (takes(at, "hms"))
        field->clock = DIA_CLOCK_HMS + 1;
    else if (takes(at, "hm"))
        field->clock = DIA_CLOCK_HM + 1;
    else if (takes(at, "ms"))
        field->clock = DIA_CLOCK_MS + 1;
    else if (takes(at, "bar"))
        field->bar = 1;
    else if (takes(at, "x"))
        field->base = 16;
    else if (takes(at, "b"))
        field->base = 2;
    field->ok = (uint8_t)(field->ok && field->width <= 42 && field->decimals <= 9 &&
                          (!field->bar || field->width));
}

const char *dia_field_read(const char *bracket, struct dia_field *field)
{
    const char *at = bracket + 1;
    memset(field, 0, sizeof *field);
    field->name = at;
    while (*at && *at != '}' && *at != ':')
        at++;
    field->name_length = (uint8_t)(at - field->name < 255 ? at - field->name : 255);
    field->ok = field->name_length != 0;
    if (takes(&at, ":"))
        read_form(&at, field);
    if (*at != '}')
        field->ok = 0;
    while (*at && *at != '}')
        at++;
    return *at ? at + 1 : at;
}

/* ---- what they show ---------------------------------------------------------------------------
 */

/* The number with other decimals than it has. 0: it is too large for them. */
static uint8_t with_decimals(const struct dia_value *value, uint8_t decimals, int32_t *number)
{
    *number = value->number;
    if (decimals < value->decimals)
        *number = dia_number_without(value->number, (uint8_t)(value->decimals - decimals));
    for (uint8_t k = value->decimals; k < decimals; k++) {
        if (*number > INT32_MAX / 10 || *number < -(INT32_MAX / 10))
            return 0;
        *number *= 10;
    }
    return 1;
}

static void spaces(struct writing *to, uint8_t used, uint8_t width)
{
    for (; used < width; used++)
        put(to, ' ');
}

/* A word in a field: as many signs as there is room for. */
static void put_word(struct writing *to, const struct dia_field *field, const char *text)
{
    const char *at = text;
    uint8_t n = 0;
    while (*at && (field->width == 0 || n < field->width) && n < 255) {
        dia_utf8_next(&at);
        n++;
    }
    if (!field->left)
        spaces(to, n, field->width);
    for (const char *sign = text, *next = text; sign < at; sign = next) {
        dia_utf8_next(&next);
        put_bytes(to, sign, (uint8_t)(next - sign));
    }
    if (field->left)
        spaces(to, n, field->width);
}

static uint8_t dashes(char *text)
{
    text[0] = '-';
    text[1] = 0;
    return 1;
}

static void put_number(struct writing *to, const struct dia_field *field,
                       const struct dia_value *value, uint8_t merged)
{
    char text[DIA_NUMBER_BYTES];
    uint8_t decimals = (uint8_t)(value->decimals - value->hidden), n;
    uint8_t width = field->left ? 0 : field->width, fill = field->zeros;
    uint8_t colons = 0; /* that take no place */
    int32_t number;
    if (field->has_decimals)
        decimals = field->decimals;
    if (field->clock) {
        uint8_t parts = (uint8_t)(field->clock - 1u);
        colons = !merged || parts == DIA_CLOCK_S ? 0 : parts == DIA_CLOCK_HMS ? 2 : 1;
        struct dia_clock_form form = {(uint8_t)(width ? width + colons : 0), parts, fill, ':'};
        n = with_decimals(value, 0, &number) && number >= 0
                ? dia_clock_text((uint32_t)number, &form, text)
                : dashes(text);
    } else {
        struct dia_number_form form = {.width = width,
                                       .decimals = decimals,
                                       .base = field->base,
                                       .sign = field->sign,
                                       .fill = fill,
                                       .merged = merged};
        if (!with_decimals(value, field->base ? 0 : decimals, &number))
            form.width = 255; /* dashes */
        n = dia_number_text(number, &form, text);
    }
    uint8_t takes_no_place = merged && decimals && !field->base && !field->clock;
    uint8_t signs = (uint8_t)(n - (takes_no_place && n > 1 && memchr(text, '.', n)));
    if (signs > colons)
        signs = (uint8_t)(signs - colons);
    if (field->width && signs > field->width)
        text[0] = 0; /* at the left, and too long */
    if (field->width && (text[0] == 0 || (n == 1 && text[0] == '-'))) {
        for (uint8_t k = 0; k < field->width; k++)
            put(to, '-');
        return;
    }
    put_bytes(to, text, n);
    if (field->left)
        spaces(to, signs, field->width);
}

/* Blocks in fifths of a cell, the full one first. */
static void put_bar(struct writing *to, const struct dia_field *field,
                    const struct dia_value *value)
{
    static const DIA_ROM char last[4] = {'\216', '\215', '\213', '\212'}; /* U+258E, D, B, A */
    uint32_t span = (uint32_t)value->most - (uint32_t)value->least;
    uint32_t gone = (uint32_t)value->number - (uint32_t)value->least;
    char block[3] = {'\342', '\226', '\210'};
    if (value->most <= value->least) {
        for (uint8_t k = 0; k < field->width; k++)
            put(to, '-');
        return;
    }
    if (value->number <= value->least)
        gone = 0;
    if (value->number >= value->most)
        gone = span;
    while (span > 0xffffffu) { /* what a bar does not show */
        span >>= 1;
        gone >>= 1;
    }
    uint8_t lit = (uint8_t)((gone * field->width * 5u + span / 2u) / span), used = 0;
    for (; lit >= 5; lit = (uint8_t)(lit - 5), used++)
        put_bytes(to, block, 3);
    if (lit) {
        block[2] = last[lit - 1];
        put_bytes(to, block, 3);
        used++;
    }
    spaces(to, used, field->width);
}

static const struct dia_value *find(const struct dia_value *values, uint8_t count,
                                    const struct dia_field *field)
{
    for (; count != 0; count--, values++) {
        if (strncmp(values->name, field->name, field->name_length) == 0 &&
            values->name[field->name_length] == 0)
            return values;
    }
    return 0;
}

uint16_t dia_values_text(const char *form, const struct dia_value *values, uint8_t count,
                         uint8_t merged, char *out, uint16_t size)
{
    struct writing to = {out, out + size - 1};
    while (*form) {
        struct dia_field field;
        if (*form != '{' || form[1] == '{') {
            const char *sign = form;
            dia_utf8_next(&form);
            put_bytes(&to, sign, (uint8_t)(form - sign));
            if ((*sign == '{' || *sign == '}') && *form == *sign)
                form++;
            continue;
        }
        form = dia_field_read(form, &field);
        const struct dia_value *value = find(values, count, &field);
        if (!value || !field.ok)
            put(&to, '?');
        else if (value->text)
            put_word(&to, &field, value->text);
        else if (field.bar)
            put_bar(&to, &field, value);
        else
            put_number(&to, &field, value, merged);
    }
    *to.at = 0;
    return (uint16_t)(to.at - out);
}
