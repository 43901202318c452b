/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdlib.h>

#include <diachrome/noise.h>

/* Nowhere a step of more than what a bump's steepest slope gives: 1.5 of full over 65536, and x, y
 * and z add up. Octaves are as steep together, each half as strong and twice as fine: times their
 * number. */
static void noise_is_smooth_in_every_direction(void **state)
{
    (void)state;
    uint32_t seed = 3;
    for (int k = 0; k < 200000; k++) {
        uint32_t x = random_below(&seed, 1u << 28) << 4, y = random_below(&seed, 1u << 28) << 4;
        uint32_t z = random_below(&seed, 1u << 28) << 4, step = 256; /* a 256th of a bump */
        int here = dia_noise(x, y, z, 7), fine = dia_noise_octaves(x, y, z, 4, 7);
        int most = 65536 * 3 / 2 / 256 + 8;
        assert_true(abs(dia_noise(x + step, y, z, 7) - here) <= most);
        assert_true(abs(dia_noise(x, y + step, z, 7) - here) <= most);
        assert_true(abs(dia_noise(x, y, z + step, 7) - here) <= most);
        assert_true(abs(dia_noise_octaves(x + step, y, z, 4, 7) - fine) <=
                    most * 4 * 128 / 240 + 8);
    }
}

/* Each octave is half as strong as the one before and twice as fine, and has a seed of its own;
 * what is asked for beyond 1 to 8 is 1 or 8. */
static void octaves_are_added_by_half(void **state)
{
    (void)state;
    uint32_t seed = 5;
    for (int k = 0; k < 2000; k++) {
        uint32_t x = random_below(&seed, 1u << 31), y = random_below(&seed, 1u << 31);
        uint32_t z = random_below(&seed, 1u << 31), sum = 0;
        for (uint8_t n = 0; n < 8; n++) {
            sum += dia_noise(x << n, y << n, z << n, 9u + n) * (128u >> n);
            assert_int_equal(dia_noise_octaves(x, y, z, (uint8_t)(n + 1), 9),
                             sum / (256u - (128u >> n)));
        }
        assert_int_equal(dia_noise_octaves(x, y, z, 0, 9), dia_noise(x, y, z, 9));
        assert_int_equal(dia_noise_octaves(x, y, z, 9, 9), dia_noise_octaves(x, y, z, 8, 9));
    }
}

/* Over many bumps: the mean is the middle, both ends are reached, another seed is another noise. */
static void noise_and_random_numbers_are_spread_evenly(void **state)
{
    (void)state;
    int of[16] = {0}, alike = 0;
    uint64_t sum = 0;
    uint16_t least = 65535, most = 0;
    for (uint32_t i = 0; i < 160000; i++) {
        uint16_t level = dia_noise(i << 16, i / 400 << 16, 0, 1);
        sum += level;
        least = level < least ? level : least;
        most = level > most ? level : most;
        alike += level == dia_noise(i << 16, i / 400 << 16, 0, 2);
        of[dia_random(i % 400, i / 400, 9) >> 12]++;
    }
    assert_in_range(sum / 160000, 32768 - 400, 32768 + 400);
    assert_true(least < 50 && most > 65485 && alike < 20);
    for (int k = 0; k < 16; k++)
        assert_in_range(of[k], 9600, 10400);
}

/* It comes again after 65536 bumps without a seam, and a coordinate of 0 is the lattice itself. */
static void noise_comes_round(void **state)
{
    (void)state;
    uint32_t seed = 8;
    for (int k = 0; k < 1000; k++) {
        uint32_t y = random_below(&seed, 1u << 28), z = random_below(&seed, 1u << 28);
        int last = dia_noise(0xffffff00u, y, z, 5), first = dia_noise(0, y, z, 5);
        assert_true(abs(last - first) <= 8);
        last = dia_noise(y, z, 0xffffff00u, 5);
        assert_true(abs(last - dia_noise(y, z, 0, 5)) <= 8);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(noise_is_smooth_in_every_direction),
        cmocka_unit_test(octaves_are_added_by_half),
        cmocka_unit_test(noise_and_random_numbers_are_spread_evenly),
        cmocka_unit_test(noise_comes_round),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
