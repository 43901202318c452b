/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

#define PIN  2
#define MOST 300

static struct dia_sim sim;
static struct dia_rgb pixels[MOST];
static uint8_t memory[4 * MOST];

static void draw_at_random(struct dia_strip *strip, uint32_t *seed)
{
    uint32_t kind = random_below(seed, 4);
    struct dia_rgb flat = {(uint8_t)random_below(seed, 256), (uint8_t)random_below(seed, 256),
                           (uint8_t)random_below(seed, 256)};
    dia_frame_fill(&strip->frame, flat);
    for (uint32_t i = 0; kind != 0 && i < strip->frame.count; i++) {
        struct dia_rgb *px = &strip->frame.pixels[i];
        uint32_t below = kind == 1 ? 256 : kind == 2 ? 40 : 2;
        px->r = (uint8_t)random_below(seed, below);
        px->g = (uint8_t)(kind == 3 ? 255 : random_below(seed, below));
        px->b = (uint8_t)random_below(seed, below);
    }
}

/*
 * 10,000 random frames on strips of 1 to 300 pixels of every part, with random budgets, masters
 * and frame numbers: what the bench's supply gives never exceeds the budget, and is at least
 * 99 % of it whenever the limiter worked. On fewer than 24 pixels one step of the drive can be
 * more than 1 %: there less than one step a channel may be left over (20 mA / 255 = 78.4 uA, and
 * up to 12 uA of rounding).
 */
static void the_budget_is_kept_and_used(void **state)
{
    (void)state;
    uint32_t seed = 1, limited = 0, frames = 0;
    while (frames < 10000) {
        const struct dia_pixel_part *part = dia_onewire_parts[random_below(&seed, 9)];
        uint32_t count = 1 + random_below(&seed, random_below(&seed, 4) == 0 ? 23 : MOST);
        uint32_t idle_ma = count * part->power.idle_ua / 1000 + 1, reserve_ma = 50;
        uint32_t supply_ma = idle_ma + reserve_ma + random_below(&seed, 30 * count);
        struct dia_bench *bench = dia_bench_new();
        int supply = dia_bench_supply(bench, "s", supply_ma * 1000u, reserve_ma * 1000u);
        struct dia_chain_setup setup = {
            .name = "c", .part = part->name, .pin = PIN, .count = count, .supply = supply};
        assert_int_equal(dia_bench_chain(bench, &setup), 0);
        dia_sim_init(&sim, 0);
        dia_sim_listen(&sim, dia_bench_take, bench);
        struct dia_strip strip;
        assert_int_equal(
            dia_strip_init(&strip, &sim.port, PIN, part, pixels, memory, (uint16_t)count), DIA_OK);
        dia_strip_supply(&strip, (uint16_t)supply_ma, (uint16_t)reserve_ma);
        strip.driver.master = (dia_share)random_below(&seed, DIA_SHARE_ONE + 1);
        strip.slot = random_below(&seed, 256);
        static uint16_t whole[256];
        strip.develop.time_from = (uint8_t)random_below(&seed, random_below(&seed, 2) ? 3 : 255);
        int rounds =
            random_below(&seed, 4) == 0 && dia_develop_whole(&strip.develop, whole) == DIA_OK;
        for (int i = 0; i < 5; i++, frames++) {
            draw_at_random(&strip, &seed);
            assert_int_equal(dia_driver_show_and_wait(&strip.driver), DIA_OK);
            dia_bench_settle(bench, sim.now_ns);
            uint64_t gives = dia_bench_gives_ua(bench, supply);
            dia_share full = dia_share_of(strip.develop.white[0], strip.develop.master);
            assert_true(gives <= supply_ma * 1000u);
            if (strip.develop.gain[0] != full) {
                int used = gives * 100 >= supply_ma * 1000u * 99u;
                uint64_t steps = part->channels->powers * 90u;
                assert_true(rounds || used || (count < 24 && supply_ma * 1000u - gives <= steps));
                limited++;
            }
        }
        assert_int_equal(dia_bench_findings(bench)->count, 0);
        dia_bench_free(bench);
    }
    assert_in_range(limited, 1000, 9500); /* both kinds of frame were among them */
}

/* 10 pixels of full white at 20 mA a channel are 600 mA, and 10 mA idle. Of 320 mA less 10 mA
 * for the controller that leaves 300 mA of light: half. */
static void the_limit_is_a_share_of_light(void **state)
{
    (void)state;
    struct dia_rgb white[10];
    struct dia_frame frame = {white, 10};
    dia_frame_fill(&frame, (struct dia_rgb){255, 255, 255});
    struct dia_develop develop;
    struct dia_budget budget;
    dia_develop_init(&develop, &dia_channels_rgb);
    develop.time_from = DIA_TIME_ALWAYS;
    dia_develop_begin(&develop, 0); /* phase 0: dithering adds nothing */
    dia_budget_init(&budget, 320000, 10000);
    dia_budget_add(&budget, &develop, &dia_ws2812b.power, white, 10);
    assert_in_range(dia_budget_asked_ua(&budget), 610000, 610018); /* 6 uA a channel rounded up */
    assert_in_range(dia_budget_share(&budget), DIA_SHARE_ONE / 2 - 2, DIA_SHARE_ONE / 2);

    dia_budget_init(&budget, 20000, 10000); /* idle alone uses it up: nothing may be lit */
    dia_budget_add(&budget, &develop, &dia_ws2812b.power, white, 10);
    assert_int_equal(dia_budget_share(&budget), 0);

    dia_budget_init(&budget, 620100, 10000);
    dia_budget_add(&budget, &develop, &dia_ws2812b.power, white, 10);
    assert_int_equal(dia_budget_share(&budget), DIA_SHARE_ONE);
}

/* Two strips on one supply: the loads add up, and both dim alike. */
static void strips_share_a_supply(void **state)
{
    (void)state;
    struct dia_rgb white[10];
    struct dia_frame frame = {white, 10};
    dia_frame_fill(&frame, (struct dia_rgb){255, 255, 255});
    struct dia_develop rgb, series;
    dia_develop_init(&rgb, &dia_channels_rgb);
    dia_develop_init(&series, &dia_channels_series);
    rgb.time_from = series.time_from = DIA_TIME_ALWAYS;
    dia_develop_begin(&rgb, 0);
    dia_develop_begin(&series, 0);
    struct dia_budget budget;
    dia_budget_init(&budget, 395000, 0);
    dia_budget_add(&budget, &rgb, &dia_ws2812b.power, white, 10);
    dia_budget_add(&budget, &series, &dia_ws2815.power, white, 10); /* 10 * 15 mA and 10 mA idle */
    assert_in_range(dia_budget_asked_ua(&budget), 770000, 770024);
    assert_in_range(dia_budget_share(&budget), DIA_SHARE_ONE / 2 - 2,
                    DIA_SHARE_ONE / 2); /* 375 of 750 mA */
}

/* 65,535 pixels of 3 * 40 mA at full white are 7864 A, more than 32 bits of microamperes: as good
 * as without end, so no budget lets them through. At 20 mA they are 3932 A, and 4000 A are enough.
 */
static void what_is_too_much_to_count_is_too_much(void **state)
{
    (void)state;
    static struct dia_rgb white[65535];
    const struct dia_channels *const kinds[] = {&dia_channels_rgb, &dia_channels_level,
                                                &dia_channels_seven};
    struct dia_power power = {{40000, 40000, 40000, 0}, 0}, less = {{20000, 20000, 20000, 0}, 0};
    memset(white, 255, sizeof white);
    for (int k = 0; k < 3; k++) {
        struct dia_develop develop;
        struct dia_budget budget;
        dia_develop_init(&develop, kinds[k]);
        dia_budget_init(&budget, 4000000000u, 0);
        dia_budget_add(&budget, &develop, &power, white, 65535);
        assert_int_equal(dia_budget_asked_ua(&budget), UINT32_MAX);
        assert_int_equal(dia_budget_share(&budget), 0);
        dia_budget_init(&budget, 4000000000u, 0);
        dia_budget_add(&budget, &develop, &less, white, 65535);
        assert_in_range(dia_budget_asked_ua(&budget), 3932100000u, 3933000000u);
        assert_int_equal(dia_budget_share(&budget), DIA_SHARE_ONE);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(what_is_too_much_to_count_is_too_much),
        cmocka_unit_test(the_budget_is_kept_and_used),
        cmocka_unit_test(the_limit_is_a_share_of_light),
        cmocka_unit_test(strips_share_a_supply),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
