/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

/* Row-scanned colour panels, by their model. */

static struct dia_rgb_panel panel;
static struct dia_rgb pixels[64 * 64];
static uint8_t memory[DIA_RGB_PANEL_BYTES(64, 64, 8)];

static uint32_t tick(void *self)
{
    return dia_driver_tick(self);
}

/* A tick of 64 columns takes some 60 us at 48 MHz here. */
static struct dia_rgb_panel_setup setup_of(uint16_t columns, uint8_t rows, uint8_t depth)
{
    struct dia_rgb_panel_setup setup = {
        .pins = {2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15},
        .columns = columns,
        .rows = rows,
        .depth = depth,
        .unit_us = 10,
        .tick_us = 100,
        .blank_ns = 1000,
    };
    setup.pins.e = rows == 64 ? 12 : DIA_NO_PIN;
    setup.pins.d = rows == 16 ? DIA_NO_PIN : 11;
    return setup;
}

static int connect(const struct dia_rgb_panel_setup *setup, uint16_t row_off_ns)
{
    const struct dia_rgb_panel_shape shape = {setup->columns, setup->rows, row_off_ns};
    const struct dia_device_setup on_bench = {.name = "wall",
                                              .part = "rgb-panel",
                                              .pins = (const uint8_t *)&setup->pins,
                                              .lamp_ua = 10000};
    desk_set_up(48000000);
    int device = dia_bench_rgb_panel(bench, &on_bench, &shape);
    assert_true(device >= 0);
    assert_int_equal(dia_rgb_panel_init(&panel, &sim.port, setup, pixels, memory), DIA_OK);
    dia_sim_timer(&sim, tick, &panel, 100);
    return device;
}

static void next_period(void)
{
    uint8_t now = panel.periods;
    while (panel.periods == now)
        dia_sim_advance_us(&sim, 1);
}

static const struct dia_lamps_shown *look(int device)
{
    assert_int_equal(dia_driver_show_and_wait(&panel.driver), DIA_OK);
    next_period();
    dia_bench_expose(bench, device, sim.now_ns);
    next_period();
    dia_bench_see(bench, device, sim.now_ns);
    return dia_bench_lamps(bench, device);
}

/* Light of a lamp, in us of a period. */
static uint32_t lit_us(const struct dia_lamps_shown *shown, uint32_t lamp)
{
    const struct dia_rgb_panel_setup *setup = &panel.setup;
    uint32_t period_us =
        setup->rows / 2u * dia_slices_row_us(setup->unit_us, setup->tick_us, setup->depth);
    return (uint32_t)(((uint64_t)shown->level[lamp] * period_us + 32767u) / 65535u);
}

/*
 * Each pixel alone, in the corners and the middle of all three sizes: its colour comes up in its
 * place and nowhere else. Each channel is lit for its level in units: of code 255 2^depth - 1, of
 * code 128 (a light of 0.2158, IEC 61966-2-1) 0.2158 times that, rounded; one bit is on from there
 * on. A plane that is longer
 * than a tick is cut by the blanks and the pins, at most 6 us.
 */
static void a_pixel_is_where_it_belongs(void **state)
{
    (void)state;
    static const struct {
        uint16_t columns;
        uint8_t rows, depth;
        uint32_t full, half; /* units */
    } panels[] = {{32, 16, 1, 1, 1}, {64, 32, 4, 15, 3}, {64, 64, 8, 255, 55}};
    for (int k = 0; k < 3; k++) {
        struct dia_rgb_panel_setup setup =
            setup_of(panels[k].columns, panels[k].rows, panels[k].depth);
        if (k == 1) /* a pin that is no neighbour: data goes out pin by pin */
            setup.pins.r1 = 20;
        int device = connect(&setup, 800);
        uint32_t columns = setup.columns, count = columns * setup.rows;
        const uint32_t places[] = {0, columns - 1, count / 2 + 3, count / 2 - 1, count - 1};
        for (int i = 0; i < 5; i++) {
            dia_driver_clear(&panel.driver);
            pixels[places[i]] = (struct dia_rgb){255, 128, 0};
            const struct dia_lamps_shown *shown = look(device);
            for (uint32_t lamp = 0; lamp < 3 * count; lamp++) {
                uint32_t units = lamp == 3 * places[i]       ? panels[k].full
                                 : lamp == 3 * places[i] + 1 ? panels[k].half
                                                             : 0;
                uint32_t us = lit_us(shown, lamp), off = units ? 6 * setup.depth : 0;
                assert_in_range(us, units * 10 > off ? units * 10 - off : 0, units * 10 + off);
            }
        }
        assert_int_equal(dia_driver_dark(&panel.driver), DIA_OK);
        assert_int_equal(sim.level[setup.pins.oe], 1);
        desk_finds(NULL);
        desk_clear();
    }
}

/* 64 x 32, 5 bits of 10 us, ticks of 100 us: slices of 110, 120, 140, 180 and 160 us, by hand. */
static void slices_and_the_current(void **state)
{
    (void)state;
    struct dia_rgb_panel_setup setup = setup_of(64, 32, 5);
    struct dia_about about;
    assert_int_equal(dia_slices_row_us(10, 100, 5), 110 + 120 + 140 + 180 + 160);
    int device = connect(&setup, 800);
    dia_driver_about(&panel.driver, &about);
    assert_int_equal(about.elements, 3 * 2048);
    assert_int_equal(about.private_bytes, 2 * 5 * 16 * 64);
    assert_int_equal(about.pins, 13);
    assert_int_equal(about.worst_us, 18 * 710);
    /* all white: 6,144 lamps, each 310 of 16 * 710 us, with 10 mA: 1,676.6 mA; and 4 us more for
     * the planes that ticks wait for: 1,698.3 mA. In 65536ths a unit is 924 of a row, a us 93; in
     * 256ths of a lamp 16 pixels are 5,441 then, all of a row's turn 43,528: all rounded up */
    memset(pixels, 255, 2048 * sizeof *pixels);
    uint32_t asks_ua = panel.driver.ops->asks_ua(&panel.driver, 10000);
    assert_int_equal(asks_ua, 170 * 10000 + (8 * 10000 + 255) / 256);
    /* the last 16 pixels alone: 5,441 by 16 rows that take turns are 341 */
    memset(pixels, 0, (2048 - 16) * sizeof *pixels);
    assert_int_equal(panel.driver.ops->asks_ua(&panel.driver, 10000),
                     1 * 10000 + (85 * 10000 + 255) / 256);
    memset(pixels, 255, 2048 * sizeof *pixels);
    const struct dia_lamps_shown *shown = look(device);
    assert_in_range(shown->draws_ua, asks_ua * 95ull / 100, asks_ua);
    /* at a moment it is one row of each half, all of its 64 columns, in full */
    while (sim.level[setup.pins.oe])
        dia_sim_advance_us(&sim, 1);
    dia_bench_expose(bench, device, sim.now_ns);
    dia_bench_see(bench, device, sim.now_ns);
    uint32_t lit = 0;
    for (uint32_t lamp = 0; lamp < shown->count; lamp++)
        lit += shown->level[lamp] == 65535;
    assert_int_equal(lit, 2 * 64 * 3);
    assert_int_equal(shown->draws_ua, 2 * 64 * 3 * 10000);
    /* half of the light: 15 of 31 steps, all of which ticks wait for: 6,144 * 154 of 11,360 us,
     * 832.9 mA; 16 pixels are 2,669 of 256ths, a row's turn 21,352 */
    dia_driver_master(&panel.driver, DIA_SHARE_ONE / 2);
    assert_int_equal(panel.driver.ops->asks_ua(&panel.driver, 10000),
                     83 * 10000 + (104 * 10000 + 255) / 256);
    shown = look(device);
    assert_in_range(lit_us(shown, 0), 150, 154);
    desk_finds(NULL);
    desk_clear();
    /* no tick waits for a plane as long as a tick: 1,536 lamps, each an eighth of the time */
    setup = setup_of(32, 16, 1);
    setup.unit_us = 100;
    connect(&setup, 800);
    memset(pixels, 255, 512 * sizeof *pixels);
    assert_int_equal(panel.driver.ops->asks_ua(&panel.driver, 10000), 1536 / 8 * 10000);
    desk_clear();
}

/* Without a blank the row before is still on: it shows the row after it, dimly, and the bench says
 * so. With one as long as the row takes it does not. */
static void a_short_blank_makes_ghosts(void **state)
{
    (void)state;
    for (uint16_t blank_ns = 0; blank_ns <= 2000; blank_ns += 2000) {
        struct dia_rgb_panel_setup setup = setup_of(32, 16, 3);
        setup.blank_ns = blank_ns;
        int device = connect(&setup, 1800);
        dia_driver_clear(&panel.driver);
        for (uint32_t column = 0; column < 32; column++)
            pixels[1 * 32 + column].g = pixels[4 * 32 + column].g = 255;
        const struct dia_lamps_shown *shown = look(device);
        desk_finds(blank_ns ? NULL : "ghost");
        for (uint32_t row = 1; row < 6; row += 3) {
            uint32_t ghost = shown->level[3 * ((row - 1) * 32 + 7) + 1],
                     lit = shown->level[3 * (row * 32 + 7) + 1];
            if (blank_ns)
                assert_int_equal(ghost, 0);
            else /* up to 3 us of 70, less what the pins take in between */
                assert_in_range(ghost, lit * 1 / 70, lit * 3 / 70);
            assert_int_equal(shown->level[3 * ((row + 1) * 32 + 7) + 1], 0);
        }
        desk_clear();
    }
}

/* The model by hand: what was clocked in first comes out in column 0; sheets are kept. */
static void the_model_reads_its_wires(void **state)
{
    (void)state;
    static const uint8_t pins[DIA_RGB_PANEL_PINS] = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14};
    const struct dia_rgb_panel_shape shape = {2, 64, 0};
    const struct dia_device_setup setup = {.name = "wall", .part = "rgb-panel", .pins = pins};
    bench = dia_bench_new();
    int device = dia_bench_rgb_panel(bench, &setup, &shape);
    by_hand_ns = 0;
    after(1000, 14, 1);
    after(100, 7, 1); /* row 1 + 16, and 49 below it */
    after(100, 11, 1);
    after(100, 5, 1); /* green of the lower half, first */
    after(20, 12, 1);
    after(20, 12, 0);
    after(20, 5, 0);
    after(0, 1, 1); /* then red of the upper half */
    after(20, 12, 1);
    after(20, 12, 0);
    after(20, 13, 1);
    after(20, 13, 0);
    after(100, 14, 0);
    dia_bench_expose(bench, device, by_hand_ns);
    after(1000, 14, 1);
    dia_bench_settle(bench, by_hand_ns);
    const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
    for (uint32_t lamp = 0; lamp < 2 * 64 * 3; lamp++)
        assert_int_equal(shown->level[lamp] != 0,
                         lamp == 3 * (49 * 2 + 0) + 1 || lamp == 3 * (17 * 2 + 1));
    desk_finds(NULL);
    after(100, 12, 1); /* one column of two */
    after(20, 12, 0);
    after(20, 13, 1);
    desk_finds("word-part");
    assert_string_equal(dia_findings_find(dia_bench_findings(bench), "word-part", "wall")->text,
                        "LAT rose after 1 clock; a row has 2 columns");
    after(20, 13, 0);
    after(100, 12, 1); /* as fast as it may be, */
    after(20, 12, 0);
    after(20, 12, 1);
    after(20, 12, 0);
    desk_finds("word-part");
    after(19, 12, 1); /* and faster */
    assert_string_equal(dia_findings_find(dia_bench_findings(bench), "clock-fast", "wall")->text,
                        "a clock period lasts 39 ns; it must be 40 ns or longer");
    assert_string_equal(dia_findings_find(dia_bench_findings(bench), "pulse-short", "wall")->text,
                        "a low of CLK lasts 19 ns; it must be 20 ns or longer");
    after(20, 12, 0);
    after(100, 13, 1);
    assert_null(dia_findings_find(dia_bench_findings(bench), "command", "wall"));
    after(100, 12, 1); /* while LAT is high */
    assert_non_null(dia_findings_find(dia_bench_findings(bench), "command", "wall"));
    dia_bench_free(bench);
}

/* Rows that come as bursts show what they show edge by edge, and are judged the same. */
static void bursts_show_the_same(void **state)
{
    (void)state;
    uint16_t levels[2][3 * 64 * 32];
    for (int bursts = 0; bursts < 2; bursts++) {
        struct dia_rgb_panel_setup setup = setup_of(64, 32, 5);
        const struct dia_rgb_panel_shape shape = {64, 32, 800};
        const struct dia_device_setup on_bench = {
            .name = "wall", .part = "rgb-panel", .pins = (const uint8_t *)&setup.pins};
        bench = dia_bench_new();
        dia_sim_init(&sim, 48000000);
        assert_int_equal(dia_sim_listen(&sim, dia_bench_take, bench), DIA_OK);
        if (bursts)
            assert_int_equal(dia_sim_bursts(&sim, dia_bench_take_burst), DIA_OK);
        int device = dia_bench_rgb_panel(bench, &on_bench, &shape);
        assert_int_equal(dia_rgb_panel_init(&panel, &sim.port, &setup, pixels, memory), DIA_OK);
        dia_sim_timer(&sim, tick, &panel, 100);
        for (uint32_t i = 0; i < 64 * 32; i++)
            pixels[i] = (struct dia_rgb){(uint8_t)(i * 7), (uint8_t)(i * 11), (uint8_t)(i * 13)};
        memcpy(levels[bursts], look(device)->level, sizeof levels[bursts]);
        assert_int_equal(sim.level[setup.pins.clk], 0);
        desk_finds(NULL);
        desk_clear();
    }
    assert_memory_equal(levels[0], levels[1], sizeof levels[0]);
    assert_true(levels[0][3 * 64 * 32 - 1] != 0 || levels[0][3 * 64 * 32 - 2] != 0);
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    desk_set_up(48000000);
    static const uint8_t pins[DIA_RGB_PANEL_PINS] = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14};
    struct dia_device_setup on_bench = {.name = "wall", .part = "rgb-panel", .pins = pins};
    assert_int_equal(dia_bench_rgb_panel(bench, &on_bench, &(struct dia_rgb_panel_shape){0, 16, 0}),
                     -1);
    assert_int_equal(
        dia_bench_rgb_panel(bench, &on_bench, &(struct dia_rgb_panel_shape){32, 24, 0}), -1);
    on_bench.part = "MAX7219";
    assert_int_equal(
        dia_bench_rgb_panel(bench, &on_bench, &(struct dia_rgb_panel_shape){32, 16, 0}), -1);
    for (int k = 0; k < 13; k++) {
        struct dia_rgb_panel_setup setup = setup_of(32, 32, 4);
        enum dia_status expected = DIA_BAD_VALUE;
        switch (k) {
        case 0:
            setup.columns = 7;
            break;
        case 1:
            setup.columns = 257;
            break;
        case 2:
            setup.rows = 24;
            break;
        case 3:
            setup.depth = 0;
            break;
        case 4:
            setup.depth = 9;
            break;
        case 5:
            setup.unit_us = 0;
            break;
        case 6:
            setup.unit_us = 8192; /* the fourth plane: 65,536 us */
            break;
        case 7:
            setup.tick_us = 0;
            break;
        case 8:
            setup.blank_ns = 20001;
            break;
        case 9:
            setup.pins.e = 12; /* 32 rows have none */
            break;
        case 10:
            setup.pins.d = DIA_NO_PIN; /* and need this */
            break;
        case 11:
            setup.pins.lat = setup.pins.r1;
            break;
        default:
            setup.unit_us = 8191; /* the most */
            setup.blank_ns = 20000;
            expected = DIA_OK;
            break;
        }
        assert_int_equal(dia_rgb_panel_init(&panel, &sim.port, &setup, pixels, memory), expected);
    }
    desk_clear();
}

/* The unit with which a row is lit most: never below the refresh, and no other gives more light. */
static void units_fit_the_refresh(void **state)
{
    (void)state;
    for (uint8_t depth = 1; depth <= 8; depth++) {
        for (uint32_t refresh_mhz = 20000; refresh_mhz <= 400000; refresh_mhz += 20000) {
            uint16_t unit = dia_slices_row_unit_us(refresh_mhz, 16, 100, depth);
            uint32_t most_us = 1000000000u / refresh_mhz / 16;
            double best = unit ? (double)unit / dia_slices_row_us(unit, 100, depth) : 0;
            assert_true(unit == 0 || dia_slices_row_us(unit, 100, depth) <= most_us);
            for (uint16_t other = 1; other < 400 && other << (depth - 1) < 65536; other++) {
                uint32_t us = dia_slices_row_us(other, 100, depth);
                assert_true(us > most_us || (double)other / us <= best + 1.0 / 65536);
            }
        }
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_pixel_is_where_it_belongs), cmocka_unit_test(slices_and_the_current),
        cmocka_unit_test(a_short_blank_makes_ghosts),  cmocka_unit_test(the_model_reads_its_wires),
        cmocka_unit_test(bursts_show_the_same),        cmocka_unit_test(what_cannot_be_is_refused),
        cmocka_unit_test(units_fit_the_refresh),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
