/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/diachrome.h>

static char text[DIA_NUMBER_BYTES];

static const char *written(int32_t value, struct dia_number_form form)
{
    memset(text, 'x', sizeof text);
    uint8_t n = dia_number_text(value, &form, text);
    assert_int_equal(strlen(text), n);
    return text;
}

#define IS(value, string, ...)                                                                     \
    assert_string_equal(written((int32_t)(value), (struct dia_number_form){__VA_ARGS__}), string)

static void numbers_are_written_as_people_do(void **state)
{
    (void)state;
    IS(0, "0", 0);
    IS(-7, "  -7", .width = 4);
    IS(-7, "-007", .width = 4, .fill = DIA_FILL_ZEROS);
    IS(7, "+007", .width = 4, .fill = DIA_FILL_ZEROS, .sign = DIA_SIGN_ALWAYS);
    IS(7, "  +7", .width = 4, .sign = DIA_SIGN_ALWAYS);
    IS(3141, "3.141", .width = 5, .decimals = 3);
    IS(3141, "3.141", .width = 4, .decimals = 3, .merged = 1);
    IS(3141, "----", .width = 4, .decimals = 3);
    IS(314, " 3,14", .width = 5, .decimals = 2, .point = ',');
    IS(-7, "-0.007", .decimals = 3);
    IS(5, "  0.05", .width = 6, .decimals = 2);
    IS(250, "  FA", .width = 4, .base = 16);
    IS(250, "00FA", .width = 4, .base = 16, .fill = DIA_FILL_ZEROS);
    IS(-1, "FFFFFFFF", .base = 16);
    IS(-1, "----", .width = 4, .base = 16);
    IS(-1, "FFFF FFFF", .base = 16, .group = ' ');
    IS(10, "00001010", .width = 8, .base = 2, .fill = DIA_FILL_ZEROS);
    IS(1234567, "1 234 567", .group = ' ');
    IS(1234567, "12'345.67", .group = '\'', .decimals = 2);
    IS(-123, "-123", .group = ' ');
    IS(INT32_MIN, "-2 147 483 648", .group = ' ');
    IS(INT32_MIN, "-2.147483648", .decimals = 9);
    IS(INT32_MIN, "1000 0000 0000 0000 0000 0000 0000 0000", .base = 2, .group = ' ');
    IS(10000, "----", .width = 4);
    IS(-1000, "----", .width = 4);
    IS(9999, "9999", .width = 4);
    IS(1000, "----", .width = 4, .sign = DIA_SIGN_ALWAYS);
    IS(1, "                                         1", .width = 42);
    IS(1, "-", .width = 43);
    IS(1, "-", .width = 255);
    /* on four digits a point is merged: as many places, one more character */
    IS(-50, "-0.50", .width = 4, .decimals = 2, .merged = 1);
    IS(-50, "-0.50", .width = 4, .decimals = 2, .merged = 1, .fill = DIA_FILL_ZEROS);
    IS(50, "00.50", .width = 4, .decimals = 2, .merged = 1, .fill = DIA_FILL_ZEROS);
    IS(-5000, "----", .width = 4, .decimals = 2, .merged = 1);
    IS(50, "  50", .width = 4, .merged = 1);
    IS(1234, "----", .width = 4, .decimals = 4, .merged = 1);
}

/* What the C library writes, where it fits. */
static void check(int32_t value, uint8_t width, uint8_t fill, uint8_t sign)
{
    char should[40];
    int n = snprintf(should, sizeof should,
                     fill ? (sign ? "%+0*ld" : "%0*ld") : (sign ? "%+*ld" : "%*ld"), (int)width,
                     (long)value);
    if (width && n > width) {
        memset(should, '-', width);
        should[width] = 0;
    }
    struct dia_number_form form = {.width = width, .fill = fill, .sign = sign};
    dia_number_text(value, &form, text);
    if (strcmp(text, should) != 0)
        fail_msg("%ld in %u: '%s', not '%s'", (long)value, (unsigned)width, text, should);
}

/* All numbers of 16 bits in all widths, and ten million of 32. */
static void numbers_are_those_of_the_c_library(void **state)
{
    (void)state;
    uint32_t seed = 3;
    for (int32_t value = -32768; value <= 65535; value++) {
        for (uint8_t width = 0; width <= 8; width++) {
            for (uint8_t kind = 0; kind < 4; kind++)
                check(value, width, kind & 1, kind >> 1);
        }
    }
    for (uint32_t k = 0; k < 10000000; k++) {
        seed = seed * 1664525u + 1013904223u;
        uint32_t bits = seed ^ seed >> 15;
        struct dia_number_form hex = {.width = 8, .base = 16, .fill = DIA_FILL_ZEROS};
        char should[40];
        if (k % 4 == 0) {
            dia_number_text((int32_t)bits, &hex, text);
            snprintf(should, sizeof should, "%08lX", (unsigned long)bits);
            assert_string_equal(text, should);
        } else {
            check((int32_t)(bits >> bits % 32), (uint8_t)(k % 12), k >> 4 & 1, k >> 5 & 1);
        }
    }
}

static void digits_go_with_halves_away_from_zero(void **state)
{
    (void)state;
    static const struct {
        int32_t value, is;
        uint8_t without;
    } by_hand[] = {{314159, 314, 3},  {-7, -1, 1},        {5, 1, 1},
                   {4, 0, 1},         {-5, -1, 1},        {-4, 0, 1},
                   {149, 1, 2},       {150, 2, 2},        {-150, -2, 2},
                   {7, 7, 0},         {INT32_MIN, -2, 9}, {INT32_MAX, 214748365, 1},
                   {499999999, 0, 9}, {500000000, 1, 9}};
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++)
        assert_int_equal(dia_number_without(by_hand[k].value, by_hand[k].without), by_hand[k].is);
}

static const char *clock(uint32_t seconds, struct dia_clock_form form)
{
    memset(text, 'x', sizeof text);
    uint8_t n = dia_clock_text(seconds, &form, text);
    assert_int_equal(strlen(text), n);
    return text;
}

static void times_have_pairs_of_digits(void **state)
{
    (void)state;
    struct dia_clock_form hms = {.width = 8, .colon = ':'};
    assert_string_equal(clock(7509, hms), " 2:05:09");
    assert_string_equal(clock(97509, hms), "27:05:09");
    assert_string_equal(clock(359999, hms), "99:59:59");
    assert_string_equal(clock(360000, hms), "--------");
    hms.fill = DIA_FILL_ZEROS;
    assert_string_equal(clock(9, hms), "00:00:09");
    hms.width = 0;
    assert_string_equal(clock(UINT32_MAX, hms), "1193046:28:15");
    assert_string_equal(clock(7509, (struct dia_clock_form){.width = 6}), " 20509");
    assert_string_equal(
        clock(7509, (struct dia_clock_form){.width = 5, .parts = DIA_CLOCK_HM, .colon = ':'}),
        " 2:05");
    assert_string_equal(clock(7509, (struct dia_clock_form){.parts = DIA_CLOCK_MS, .colon = '.'}),
                        "125.09");
    assert_string_equal(clock(7509, (struct dia_clock_form){.width = 4, .parts = DIA_CLOCK_S}),
                        "7509");
    assert_string_equal(clock(7509, (struct dia_clock_form){.width = 3, .parts = DIA_CLOCK_S}),
                        "---");
    assert_string_equal(clock(7509, (struct dia_clock_form){.width = 8, .parts = 4}), "--------");
    assert_string_equal(clock(7509, (struct dia_clock_form){.width = 43}), "-");
    /* every second of a day, against the C library */
    struct dia_clock_form day = {.width = 8, .fill = DIA_FILL_ZEROS, .colon = ':'};
    for (uint32_t s = 0; s < 86400; s++) {
        char should[40];
        snprintf(should, sizeof should, "%02u:%02u:%02u", (unsigned)(s / 3600),
                 (unsigned)(s / 60 % 60), (unsigned)(s % 60));
        assert_string_equal(clock(s, day), should);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(numbers_are_written_as_people_do),
        cmocka_unit_test(numbers_are_those_of_the_c_library),
        cmocka_unit_test(digits_go_with_halves_away_from_zero),
        cmocka_unit_test(times_have_pairs_of_digits),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
