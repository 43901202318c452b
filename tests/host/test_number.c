/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/number.h>
#include <diachrome/number_double.h>

static void doubles_by_hand(void **state)
{
    (void)state;
    static const struct {
        double value;
        uint8_t decimals;
        int32_t is;
    } by_hand[] = {
        {3.14159, 2, 314},
        {0.5, 0, 1},
        {-0.5, 0, -1},
        {1.5, 0, 2},
        {2.5, 0, 3},
        {0.125, 2, 13},  /* exactly a half */
        {1.005, 2, 100}, /* a double a little below it */
        {2.675, 2, 267},
        {-0.4, 0, 0},
        {2147483647.4, 0, INT32_MAX},
        {-2147483648.4, 0, INT32_MIN},
        {0.49999999999999994, 0, 0}, /* the last before a half */
        {2.147483647, 9, INT32_MAX},
    };
    int32_t number = 5;
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        assert_int_equal(dia_number_of_double(by_hand[k].value, by_hand[k].decimals, &number),
                         DIA_OK);
        assert_int_equal(number, by_hand[k].is);
    }
    number = 5;
    assert_int_equal(dia_number_of_double(2147483647.5, 0, &number), DIA_BAD_VALUE);
    assert_int_equal(dia_number_of_double(-2147483648.5, 0, &number), DIA_BAD_VALUE);
    assert_int_equal(dia_number_of_double(3, 9, &number), DIA_BAD_VALUE);
    assert_int_equal(dia_number_of_double(1e300, 9, &number), DIA_BAD_VALUE);
    assert_int_equal(dia_number_of_double(NAN, 0, &number), DIA_BAD_VALUE);
    assert_int_equal(dia_number_of_double(INFINITY, 0, &number), DIA_BAD_VALUE);
    assert_int_equal(dia_number_of_double(1, 10, &number), DIA_BAD_VALUE);
    assert_int_equal(number, 5);
}

/* A million doubles with 0 to 6 decimals, as the C library prints them. It rounds exact halves to
 * even, so those are left out: a half is exact where the product with 10^decimals is. */
static void doubles_are_those_of_the_c_library(void **state)
{
    (void)state;
    uint32_t seed = 8, halves = 0;
    for (uint32_t k = 0; k < 1000000; k++) {
        uint8_t decimals = (uint8_t)(k % 7);
        double scale = pow(10, decimals), most = 2e9 / scale;
        double value = (random_below(&seed, 2000001) - 1000000.0) / 1e6 * most;
        if (k % 3 == 0) /* as people type them: near to a half, and halves */
            value = ((double)random_below(&seed, 20001) - 10000.0) / 2000 / scale * 1000;
        if (fabs(value) > most)
            continue;
        double product = fabs(value) * scale;
        if (product - floor(product) == 0.5 && fma(fabs(value), scale, -product) == 0) {
            halves++;
            continue;
        }
        char should[64], text[DIA_NUMBER_BYTES];
        struct dia_number_form form = {.decimals = decimals};
        int32_t number;
        assert_int_equal(dia_number_of_double(value, decimals, &number), DIA_OK);
        dia_number_text(number, &form, text);
        snprintf(should, sizeof should, "%.*f", decimals, value);
        if (number == 0) /* the library has a zero below 0 */
            assert_string_equal(text, should + (should[0] == '-'));
        else if (strcmp(text, should) != 0)
            fail_msg("%.17g with %u: %s, not %s", value, (unsigned)decimals, text, should);
    }
    assert_true(halves > 100);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(doubles_by_hand),
        cmocka_unit_test(doubles_are_those_of_the_c_library),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
