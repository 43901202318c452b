/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/diachrome.h>

/* The last value that a range has, and the first that it has not. */

static void surfaces_have_limits(void **state)
{
    (void)state;
    static const struct {
        uint32_t there, count;
        int32_t gap_um, pitch_um;
        enum dia_status says;
    } folds[] = {
        {5, 10, 1000, 1000, DIA_OK},         {5, 11, 1000, 1000, DIA_BAD_VALUE},
        {10, 10, 0, 1000, DIA_OK},           {11, 10, 0, 1000, DIA_BAD_VALUE},
        {0, 0, 0, 1000, DIA_BAD_VALUE},      {5, 10, -1, 1000, DIA_BAD_VALUE},
        {5, 10, 0, 0, DIA_BAD_VALUE},        {1, 2, 1073741822, 1, DIA_OK},
        {1, 2, INT32_MAX, 1, DIA_BAD_VALUE},
    };
    struct dia_surface surface;
    for (size_t k = 0; k < sizeof folds / sizeof folds[0]; k++) {
        struct dia_fold fold = {folds[k].there, folds[k].gap_um};
        if (dia_surface_fold(&surface, &fold, folds[k].count, folds[k].pitch_um) != folds[k].says)
            fail_msg("fold %u", (unsigned)k);
    }
    struct dia_ring ring = {600000000, 0};
    assert_int_equal(dia_surface_ring(&surface, &ring, 1), DIA_OK);
    assert_int_equal(dia_surface_ring(&surface, &ring, 0), DIA_BAD_VALUE);
    ring.diameter_um = 600000001;
    assert_int_equal(dia_surface_ring(&surface, &ring, 1), DIA_BAD_VALUE);
    ring.diameter_um = 0;
    assert_int_equal(dia_surface_ring(&surface, &ring, 1), DIA_BAD_VALUE);
    /* 3.14 um round: 3 elements are 1 um apart */
    ring.diameter_um = 1;
    assert_int_equal(dia_surface_ring(&surface, &ring, 3), DIA_OK);
    assert_int_equal(surface.pitch_um, 1);
    assert_int_equal(dia_surface_ring(&surface, &ring, 4), DIA_BAD_VALUE);

    struct dia_grid grid;
    memset(&grid, 0xff, sizeof grid);
    assert_int_equal(dia_grid_init(&grid, 255, 257), DIA_OK); /* 65535 */
    assert_int_equal(grid.wiring.first, DIA_TOP_LEFT);
    assert_int_equal(grid.wiring.along_columns | grid.wiring.back_and_forth, 0);
    assert_int_equal(dia_surface_grid(&surface, &grid, 4194303), DIA_OK); /* 512 of them */
    assert_int_equal(dia_surface_grid(&surface, &grid, 4194304), DIA_BAD_VALUE);
    static const struct dia_grid one = {.columns = 1, .rows = 1};
    assert_int_equal(dia_surface_grid(&surface, &one, 16000000), DIA_OK);
    assert_int_equal(dia_surface_grid(&surface, &one, 16000001), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_grid(&surface, &grid, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 256, 256), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 0, 5), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 5, 0), DIA_BAD_VALUE);
    assert_int_equal(grid.columns, 255); /* untouched */
    static const struct dia_grid none = {.columns = 3}, many = {.columns = 300, .rows = 300};
    assert_int_equal(dia_surface_grid(&surface, &none, 1000), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_grid(&surface, &many, 1000), DIA_BAD_VALUE);

    /* element 999 at 2147 m is the last there is: 2147483647 um less its pitch */
    assert_int_equal(dia_surface_line(&surface, 1000, 0, 2147483), DIA_OK);
    assert_int_equal(dia_surface_line(&surface, 1000, 484, 2147483), DIA_OK);
    assert_int_equal(dia_surface_line(&surface, 1000, 648, 2147483), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_line(&surface, 1001, 0, 2147483), DIA_BAD_VALUE);

    /* lengths in pitches and parts: to nearest, halves away from 0, and held at 32 bits */
    assert_int_equal(dia_surface_line(&surface, 7, 0, 5), DIA_OK);
    assert_int_equal(dia_surface_px_um(&surface, 500), 3);
    assert_int_equal(dia_surface_px_um(&surface, -500), -3);
    assert_int_equal(dia_surface_px_um(&surface, 499), 2);
    assert_int_equal(dia_surface_part_um(&surface, 500000), 18); /* of 35 */
    assert_int_equal(dia_surface_part_um(&surface, 14285), 0);
    assert_int_equal(dia_surface_part_um(&surface, 14286), 1);
    assert_int_equal(dia_surface_line(&surface, 7, 0, 2000000), DIA_OK);
    assert_int_equal(dia_surface_px_um(&surface, INT32_MAX), INT32_MAX);
    assert_int_equal(dia_surface_px_um(&surface, -INT32_MAX), -INT32_MAX);

    struct dia_wave wave;
    memset(&wave, 0xff, sizeof wave);
    dia_wave_init(&wave);
    assert_int_equal(wave.shape, DIA_WAVE_SINE);
    assert_int_equal(wave.axis, DIA_ALONG);
    assert_int_equal(wave.length_um | wave.speed_um_s, 0);
    assert_int_equal(wave.period_ms | wave.low, 0);
}

static void places_have_limits(void **state)
{
    (void)state;
    struct dia_surface surface, kept;
    struct dia_places places, of_kept;
    struct dia_bounds bounds;
    uint16_t x[3], y[3], of_grid[3], kept_x[3];
    struct dia_point points[3] = {{-500000000, 0}, {500000000, 0}, {0, 500000000}}, seen[3];
    assert_int_equal(dia_surface_places(&surface, &places, points, 3, 1000), DIA_OK);
    assert_int_equal(dia_surface_places(&surface, &places, points, 3, 500000001), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_places(&surface, &places, points, 0, 1000), DIA_BAD_VALUE);
    dia_surface_bounds(&surface, &bounds);
    assert_int_equal(bounds.width_um, 1000001000);
    for (int k = 0; k < 4; k++) {
        struct dia_point right = points[2];
        points[2] = (struct dia_point){k == 0   ? -500000001
                                       : k == 1 ? 500000001
                                                : 0,
                                       k == 2   ? -500000001
                                       : k == 3 ? 500000001
                                                : 0};
        assert_int_equal(dia_surface_places(&surface, &places, points, 3, 1000), DIA_BAD_VALUE);
        points[2] = right;
    }
    /* from a grid, and then one more of itself: both are kept, and the points are not known */
    struct dia_grid grid;
    assert_int_equal(dia_grid_init(&grid, 3, 1), DIA_OK);
    assert_int_equal(dia_surface_grid(&surface, &grid, 1000), DIA_OK);
    dia_surface_shares(&surface, DIA_X, 0, 3, of_grid);
    dia_places_keep(&kept, &of_kept, &surface, DIA_X, x);
    dia_places_keep(&kept, &of_kept, &kept, DIA_Y, y);
    dia_surface_points(&kept, 0, 3, seen);
    assert_int_equal(seen[2].x_um, 0);
    dia_surface_shares(&kept, DIA_X, 0, 3, kept_x);
    assert_memory_equal(kept_x, of_grid, sizeof of_grid);
    assert_ptr_equal(of_kept.shares[DIA_Y], y);
}

/* Looks ask for as many elements at once as they like. */
static void a_ramp_is_the_same_in_pieces(void **state)
{
    (void)state;
    struct dia_ring ring = {100000, 0};
    struct dia_surface surface;
    struct dia_ramp ramp;
    uint32_t all[200], piece[7];
    assert_int_equal(dia_surface_ring(&surface, &ring, 200), DIA_OK);
    dia_ramp_init(&ramp, &surface, 5ull << 32, 1234567);
    dia_ramp_run(&ramp, 0, 200, all);
    for (uint32_t first = 0; first + 7 <= 200; first += 7) {
        dia_ramp_run(&ramp, first, 7, piece);
        assert_memory_equal(piece, all + first, sizeof piece);
    }
    /* five turns on 200 elements: after 40 of them it is where it was, to a 65536th of the way */
    assert_in_range(all[40] - all[0] + 400000, 0, 800000);
}

static void gaps_may_be_at_both_ends(void **state)
{
    (void)state;
    struct dia_rgb pixels[4] = {{1, 1, 1}, {2, 2, 2}, {9, 9, 9}, {9, 9, 9}};
    static const uint16_t ends[] = {0, 3};
    dia_gaps_open(pixels, 4, ends, 2);
    assert_memory_equal(pixels, ((uint8_t[]){0, 0, 0, 1, 1, 1, 2, 2, 2, 0, 0, 0}), 12);
    static const uint16_t all[] = {0, 1, 2, 3};
    dia_gaps_open(pixels, 4, all, 4);
    assert_memory_equal(pixels, ((uint8_t[12]){0}), 12);
    pixels[3].r = 7;
    dia_gaps_open(pixels, 4, NULL, 0);
    assert_int_equal(pixels[3].r, 7);
}

static void palettes_are_checked(void **state)
{
    (void)state;
    union dia_look_values values;
    dia_look_drift.defaults(&values);
    struct dia_palette *palette = &values.drift.palette;
    assert_null(dia_look_check(&dia_look_drift, &values));
    palette->count = 0;
    assert_non_null(dia_look_check(&dia_look_drift, &values));
    palette->count = DIA_PALETTE_MAX + 1;
    assert_non_null(dia_look_check(&dia_look_drift, &values));
    *palette = (struct dia_palette){.count = 3, .placed = 1, .places = {10, 20, 20}};
    assert_non_null(dia_look_check(&dia_look_drift, &values));
    palette->places[2] = 21;
    assert_null(dia_look_check(&dia_look_drift, &values));
    /* before 10 black, behind 21 white, at 20 green; 15 is half of green's light: code 188 */
    palette->colours[1].g = 255;
    palette->colours[2] = (struct dia_rgb){255, 255, 255};
    assert_int_equal(dia_palette_at(palette, 0).g, 0);
    assert_int_equal(dia_palette_at(palette, 15).g, 188);
    assert_int_equal(dia_palette_at(palette, 20).g, 255);
    assert_int_equal(dia_palette_at(palette, 20).r, 0);
    assert_int_equal(dia_palette_at(palette, 65535).r, 255);

    /* stops so near to each other that nothing fits between */
    static const struct dia_stop near[] = {{5, {255, 0, 0}}, {6, {0, 255, 0}}, {7, {0, 0, 255}}};
    static const struct dia_stop one[] = {{40000, {1, 2, 3}}};
    struct dia_gradient gradient;
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_OKLAB, near, 3), DIA_OK);
    dia_palette_of(palette, &gradient);
    assert_int_equal(palette->count, 3);
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_OKLAB, one, 1), DIA_OK);
    dia_palette_of(palette, &gradient);
    assert_int_equal(palette->count, 1);
    /* the longest piece is divided until there are 16 places: of a fifth of the way and four fifths
     * first five pieces, then ten of 6,553, of which five are divided again */
    static const struct dia_stop far[] = {
        {0, {255, 0, 0}}, {13107, {0, 255, 0}}, {65535, {0, 0, 255}}};
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_OKLAB, far, 3), DIA_OK);
    dia_palette_of(palette, &gradient);
    assert_int_equal(palette->count, DIA_PALETTE_MAX);
    for (uint8_t k = 1; k < palette->count; k++)
        assert_in_range(palette->places[k] - palette->places[k - 1], 3276, 6554);
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_OKLAB, one, 1), DIA_OK);
    dia_palette_of(palette, &gradient);
    assert_int_equal(dia_palette_at(palette, 0).b, 3);
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_LIGHT, near, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_LIGHT, near, DIA_GRADIENT_MAX + 1),
                     DIA_BAD_VALUE);
}

/* A table is for one gain of all three; without one, or with that of another frame, pixels are
 * worked out one by one, with the same bytes. */
static void a_table_needs_one_gain(void **state)
{
    (void)state;
    static const dia_share uneven[][3] = {{32768, 32768, 30000}, {32768, 30000, 30000}};
    struct dia_rgb pixels[4] = {{255, 128, 1}, {3, 200, 77}, {0, 0, 0}, {255, 255, 255}};
    uint16_t table[256];
    for (int k = 0; k < 5; k++) {
        struct dia_develop plain, tabled;
        struct dia_carry carry;
        uint8_t expected[12], bytes[12];
        dia_develop_init(&plain, &dia_channels_rgb);
        dia_develop_init(&tabled, &dia_channels_rgb_table);
        if (k < 2) {
            memcpy(plain.white, uneven[k], sizeof uneven[k]);
            memcpy(tabled.white, uneven[k], sizeof uneven[k]);
        }
        dia_develop_begin(&plain, 7);
        dia_develop_begin(&tabled, 7);
        assert_int_equal(dia_develop_prepare(&tabled, table), k < 2 ? DIA_UNSUPPORTED : DIA_OK);
        if (k == 3) { /* another gain after the table was made: of one, and of all */
            dia_develop_limit(&plain, 20000);
            dia_develop_limit(&tabled, 20000);
        } else if (k == 4) {
            plain.gain[2] = tabled.gain[2] = 9000;
        }
        dia_carry_begin(&carry, &plain);
        dia_develop_run(&plain, &carry, pixels, 4, expected);
        dia_carry_begin(&carry, &tabled);
        dia_develop_run(&tabled, &carry, pixels, 4, bytes);
        assert_memory_equal(bytes, expected, sizeof bytes);
    }
}

static void a_budget_of_nothing_gives_no_light(void **state)
{
    (void)state;
    struct dia_budget budget;
    struct dia_develop develop;
    struct dia_rgb white = {255, 255, 255};
    dia_develop_init(&develop, &dia_channels_rgb);
    dia_develop_begin(&develop, 0);
    dia_budget_init(&budget, 100000, 100001);
    assert_int_equal(budget.given_ua, 0);
    dia_budget_add(&budget, &develop, &dia_ws2812b.power, &white, 1);
    assert_int_equal(dia_budget_share(&budget), 0);
    /* 3,200 A of 4,200 A, both beyond 2^31 uA: 100 / 131.25 in shares, dark by two at most */
    budget = (struct dia_budget){.given_ua = 3200000000u, .light_ua = 4200000000u};
    assert_in_range(dia_budget_share(&budget), 24964, 24966);
    /* beyond 2^31 uA by halves, of which the one below is rounded up: 0x30000000 of 0x60000000 */
    budget = (struct dia_budget){.given_ua = 0x60000000u, .light_ua = 0xbfffffffu};
    assert_int_equal(dia_budget_share(&budget), DIA_SHARE_ONE / 2);
    /* what asks for more than 32 bits hold gets none */
    budget = (struct dia_budget){.given_ua = 3200000000u, .light_ua = UINT32_MAX, .idle_ua = 5};
    assert_int_equal(dia_budget_share(&budget), 0);
    assert_int_equal(dia_budget_asked_ua(&budget), UINT32_MAX);
}

static void signs_of_a_digit(void **state)
{
    (void)state;
    /* a is bit 0, then b to g; the point is bit 7 */
    static const struct {
        char is;
        uint8_t segments;
    } signs[] = {{'-', 0x40}, {'_', 0x08}, {'=', 0x48}, {'\'', 0x20}, {'"', 0x22},
                 {'.', 0x80}, {' ', 0},    {'%', 0},    {'A', 0x77},  {'a', 0x77},
                 {'8', 0x7f}, {'@', 0},    {'[', 0},    {'`', 0},     {'{', 0}};
    /* drawn by hand; k, m, v, w and x have no shape of their own */
    static const uint8_t drawn[] = {0x3f, 0x06, 0x5b, 0x4f, 0x66, 0x6d, 0x7d, 0x07, 0x7f,
                                    0x6f, 0x77, 0x7c, 0x39, 0x5e, 0x79, 0x71, 0x3d, 0x74,
                                    0x30, 0x1e, 0,    0x38, 0,    0x54, 0x5c, 0x73, 0x67,
                                    0x50, 0x6d, 0x78, 0x1c, 0,    0,    0,    0x6e, 0x5b};
    for (int k = 0; k < 36; k++)
        assert_int_equal(dia_segments_of("0123456789abcdefghijklmnopqrstuvwxyz"[k]), drawn[k]);
    uint8_t digits[3];
    for (size_t k = 0; k < sizeof signs / sizeof signs[0]; k++)
        assert_int_equal(dia_segments_of(signs[k].is), signs[k].segments);
    assert_int_equal(dia_segments_text(".1..2", digits, 3), 1); /* "." "1." "." and 2 is left */
    assert_memory_equal(digits, ((uint8_t[]){0x80, 0x86, 0x80}), 3);
    assert_int_equal(dia_segments_text("12.34.", digits, 2), 3);
    assert_memory_equal(digits, ((uint8_t[]){0x06, 0xdb}), 2);
    assert_int_equal(dia_segments_text("123.", digits, 2), 2); /* the point is not that of the 2 */
    assert_memory_equal(digits, ((uint8_t[]){0x06, 0x5b}), 2);
    assert_int_equal(dia_segments_text("7", digits, 0), 1);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(surfaces_have_limits),
        cmocka_unit_test(places_have_limits),
        cmocka_unit_test(a_ramp_is_the_same_in_pieces),
        cmocka_unit_test(gaps_may_be_at_both_ends),
        cmocka_unit_test(palettes_are_checked),
        cmocka_unit_test(a_table_needs_one_gain),
        cmocka_unit_test(a_budget_of_nothing_gives_no_light),
        cmocka_unit_test(signs_of_a_digit),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
