/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/value.h>

static const struct dia_value values[] = {
    {.name = "depth", .number = 237, .decimals = 2},
    {.name = "ok", .text = "\342\234\223"}, /* a tick */
    {.name = "n", .number = -7},
    {.name = "t", .number = 50709}, /* 14 h, 5 min, 9 s */
    {.name = "raw", .number = 12345, .decimals = 3, .hidden = 3},
    {.name = "large", .number = 2147483647},
    {.name = "low", .number = -50, .least = -100, .most = 100},
    {.name = "full", .number = 2147483647, .least = -2147483647 - 1, .most = 2147483647},
    {.name = "empty", .number = -8, .least = -7, .most = 3},
    {.name = "over", .number = 9, .least = -7, .most = 3},
};
#define VALUES 10

static void each_field_shows_its_value(void **state)
{
    (void)state;
    static const struct {
        const char *form, *text, *merged; /* NULL: the same */
    } fields[] = {
        {"Depth {depth:5.1} m", "Depth   2.4 m", "Depth    2.4 m"},
        {"{depth}", "2.37", NULL},
        {"{depth:3}", "---", "2.37"},
        {"{depth:<6}|", "2.37  |", "2.37   |"},
        {"{depth:4.3}", "----", "2.370"},
        {"{depth:.0}{depth:.1}", "22.4", NULL},
        {"{n:4}|{n:04}|{n:<4}|{n:1}|{n:+4}", "  -7|-007|-7  |-|  -7", NULL},
        {"{depth:+6}", " +2.37", "  +2.37"},
        {"{n:42}", "                                        -7", NULL}, /* as wide as it may be */
        {"{n:x} {t:6x} {t:020b}", "FFFFFFF9   C615 00001100011000010101", NULL},
        {"{t:hms} {t:6hm} {t:7ms}", "14:05:09  14:05  845:09", "14:05:09   14:05   845:09"},
        {"{n:5hm}", "-----", NULL},
        /* a quarter of 15 fifths is 3.75, so 4; of 10 fifths 2.5, so 3; no ends are known of n */
        {"{low:3bar}|{low:2bar}|{low:4bar}|", "\342\226\212  |\342\226\213 |\342\226\210   |",
         NULL},
        {"{full:2bar}{empty:2bar}|{n:3bar}|{low:bar}", "\342\226\210\342\226\210  |---|?", NULL},
        {"{over:2bar}|", "\342\226\210\342\226\210|", NULL},
        {"{raw} {raw:6.2}", "12  12.35", "12   12.35"},
        {"[{ok:3}][{ok:<3}][{ok}]", "[  \342\234\223][\342\234\223  ][\342\234\223]", NULL},
        {"{large:.1}|{large:12.1}|{large}", "-|------------|2147483647", NULL},
        {"{{n}} }} {no} {n:q} {n:99} {", "{n} } ? ? ? ?", NULL},
        {"\303\266\n{n}", "\303\266\n-7", NULL},
    };
    char out[80];
    for (size_t k = 0; k < sizeof fields / sizeof fields[0]; k++) {
        for (uint8_t merged = 0; merged < 2; merged++) {
            const char *expected = merged && fields[k].merged ? fields[k].merged : fields[k].text;
            uint16_t n = dia_values_text(fields[k].form, values, VALUES, merged, out, sizeof out);
            assert_string_equal(out, expected);
            assert_int_equal(n, strlen(expected));
        }
    }
}

/* In any room it is the beginning of the same text, never half a sign, and ended. */
static void what_does_not_fit_is_cut_off_behind_a_sign(void **state)
{
    (void)state;
    static const char form[] = "\303\266{depth:6}{ok:2}\342\202\254{n:<4}x";
    char whole[80], out[80];
    uint16_t all = dia_values_text(form, values, VALUES, 0, whole, sizeof whole);
    for (uint16_t size = 1; size <= all + 1; size++) {
        memset(out, 'z', sizeof out);
        uint16_t n = dia_values_text(form, values, VALUES, 0, out, size);
        assert_true(n < size);
        assert_int_equal(out[n], 0);
        assert_memory_equal(out, whole, n);
        assert_int_equal(out[size], 'z');
        assert_true(n == 0 || (whole[n] & 0xc0) != 0x80);
        assert_true(size <= all || n == all);
    }
}

static void a_word_in_a_field_is_as_wide_as_the_field(void **state)
{
    (void)state;
    const struct dia_value word = {.name = "w", .text = "h\303\266her"};
    char out[80];
    static const char *const fields[] = {
        "{w:1}",          "h",       "{w:2}",           "h\303\266", "{w:7}",
        "  h\303\266her", "{w:<7}|", "h\303\266her  |", "{w:.2}",    "h\303\266her"};
    for (size_t k = 0; k < sizeof fields / sizeof fields[0]; k += 2) {
        dia_values_text(fields[k], &word, 1, 0, out, sizeof out);
        assert_string_equal(out, fields[k + 1]);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_field_shows_its_value),
        cmocka_unit_test(what_does_not_fit_is_cut_off_behind_a_sign),
        cmocka_unit_test(a_word_in_a_field_is_as_wide_as_the_field),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
