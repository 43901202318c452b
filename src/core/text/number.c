/* SPDX-License-Identifier: MIT */
#include <diachrome/number.h>

#define MOST (DIA_NUMBER_BYTES - 2u) /* characters, a sign and groups included */

/* A text is written from its right end, before `at`, which is NULL when it does not fit. */
static char *put(char *at, const char *text, char c)
{
    if (at == text)
        at = 0;
    if (at)
        *--at = c;
    return at;
}

static char *fill_up(char *at, const char *to, char c)
{
    while (at && at > to)
        *--at = c;
    return at;
}

/* Characters there is room for: none for a width that cannot be, which is 0 then. */
static uint8_t places_of(uint8_t *width)
{
    if (*width == 0)
        return MOST;
    if (*width > MOST)
        *width = 0;
    return *width;
}

/* To where it belongs, if it has no width; or dashes. */
static uint8_t end(const char *at, const char *right, uint8_t width, char *text)
{
    uint8_t n = 0;
    if (at) {
        while (at < right)
            text[n++] = *at++;
    } else {
        do
            text[n++] = '-';
        while (n < width);
    }
    text[n] = 0;
    return n;
}

uint8_t dia_number_text(int32_t value, const struct dia_number_form *form, char *text)
{
    uint8_t base = form->base, in_group = 4, more, decimals = 0, width = form->width;
    uint32_t left = (uint32_t)value;
    char sign = 0;
    if (base != 16 && base != 2) {
        base = 10;
        in_group = 3;
        decimals = form->decimals;
        if (form->sign)
            sign = '+';
        if (value < 0) {
            left = 0u - left;
            sign = '-';
        }
    }
    char *at = text + places_of(&width);
    if (form->merged && decimals && at != text)
        at++;
    const char *right = at;
    uint8_t until_group = (uint8_t)(decimals + in_group);
    more = (uint8_t)(decimals + 1u); /* digits there are at least */
    do {
        uint8_t digit = (uint8_t)(left % base);
        left /= base;
        if (until_group-- == 0) {
            until_group = (uint8_t)(in_group - 1u);
            if (form->group && !form->fill)
                at = put(at, text, form->group);
        }
        at = put(at, text, (char)(digit < 10 ? '0' + digit : 'A' - 10 + digit));
        if (more != 0 && --more == 1)
            at = put(at, text, form->point ? form->point : '.');
    } while (at && (left != 0 || more != 0));
    if (form->fill && width)
        at = fill_up(at, text + (sign != 0), '0');
    if (sign)
        at = put(at, text, sign);
    return end(width ? fill_up(at, text, ' ') : at, right, width, text);
}

int32_t dia_number_without(int32_t value, uint8_t digits)
{
    int8_t last = 0;
    for (; digits != 0; digits--) {
        last = (int8_t)(value % 10);
        value /= 10;
    }
    return value + (last >= 5) - (last <= -5);
}

uint8_t dia_clock_text(uint32_t seconds, const struct dia_clock_form *form, char *text)
{
    uint8_t width = form->width, pairs = form->parts == DIA_CLOCK_S ? 0 : 1;
    char *at = text + places_of(&width);
    if (form->parts > DIA_CLOCK_S)
        at = text;
    const char *right = at;
    if (form->parts == DIA_CLOCK_HMS)
        pairs = 2;
    if (form->parts == DIA_CLOCK_HM)
        seconds /= 60;
    for (; pairs != 0; pairs--) {
        uint8_t pair = (uint8_t)(seconds % 60);
        seconds /= 60;
        at = put(at, text, (char)('0' + pair % 10));
        at = put(at, text, (char)('0' + pair / 10));
        if (form->colon)
            at = put(at, text, form->colon);
    }
    do {
        at = put(at, text, (char)('0' + seconds % 10));
        seconds /= 10;
    } while (at && seconds != 0);
    return end(width ? fill_up(at, text, form->fill ? '0' : ' ') : at, right, width, text);
}
