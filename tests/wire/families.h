/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_FAMILIES_H
#define DIA_TESTS_FAMILIES_H

#include "../desk.h"

#include <string.h>

/*
 * One driver of each family, small, with what a person would see of it: for tests of what holds
 * for all of them. Elements are on or off: element i is on when bit i % 16 of a pattern is.
 */
struct family {
    const char *name;
    int (*connect)(void); /* on the desk; its number on the bench */
    struct dia_driver *driver;
    uint32_t elements;
    uint8_t element;  /* enum dia_element */
    uint8_t channels; /* of a strip */
};

enum { SPI_DATA = 2, SPI_CLOCK, PINS = 5, I2C_SCL = 60, I2C_SDA };

static union {
    struct dia_driver any;
    struct dia_strip strip;
    struct dia_matrix matrix;
    struct dia_shift shift;
    struct dia_digits digits;
    struct dia_panel panel;
    struct dia_characters characters;
    struct dia_pin_lamps pin_lamps;
    struct dia_rgb_panel rgb_panel;
} its[18];

static uint8_t drawing[18][384], private_memory[18][256];
static uint8_t desk_pins[18][24];

/* What the last init said; unless a test says that it may fail, it has gone well. */
static int init_may_fail;
static enum dia_status init_said;
static void inits(enum dia_status status)
{
    init_said = status;
    if (!init_may_fail)
        assert_int_equal(status, DIA_OK);
}

/* All families may lie on one desk: those by SPI share a bus, and each has pins of its own. */
static int families_supply; /* of the bench, for all lamps; 0: none */
static uint32_t families_lamp_ua;
static struct dia_device_setup on_desk(int k, const char *part, uint32_t count)
{
    return (struct dia_device_setup){.name = part,
                                     .part = part,
                                     .pins = desk_pins[k],
                                     .count = count,
                                     .supply = families_supply,
                                     .lamp_ua = families_lamp_ua};
}

static int connect_onewire(void)
{
    struct dia_chain_setup setup = {.name = "strip", .part = "WS2812B", .pin = 5, .count = 5};
    int chain = dia_bench_chain(bench, &setup);
    inits(dia_strip_init(&its[0].strip, &sim.port, 5, &dia_ws2812b,
                         (struct dia_rgb *)(void *)drawing[0], private_memory[0], 5));
    return chain;
}

static int connect_clocked(int k, const char *name, const struct dia_pixel_part *part)
{
    struct dia_chain_setup setup = {
        .name = name, .part = name, .pin = SPI_DATA, .clock_pin = SPI_CLOCK, .count = 5};
    int chain = dia_bench_chain(bench, &setup);
    inits(dia_strip_init_clocked(&its[k].strip, &sim.port, 0, part, 4000000,
                                 (struct dia_rgb *)(void *)drawing[k], private_memory[k], 5));
    return chain;
}

static int connect_level(void)
{
    return connect_clocked(1, "APA102", &dia_apa102);
}

static int connect_pause(void)
{
    return connect_clocked(2, "WS2801", &dia_ws2801);
}

static int connect_matrix(void)
{
    memcpy(desk_pins[3], (uint8_t[]){SPI_DATA, SPI_CLOCK, 6}, 3);
    struct dia_device_setup setup = on_desk(3, "MAX7219", 2);
    int device = dia_bench_matrix(bench, &setup);
    inits(dia_matrix_init(&its[3].matrix, &sim.port, &dia_max7219, 0, 6, 4000000, drawing[3],
                          private_memory[3], 2));
    return device;
}

static uint32_t tick(void *driver)
{
    return dia_driver_tick(driver);
}

static int connect_shift(int k, uint8_t data, uint8_t clock, uint8_t latch, uint8_t bus,
                         uint8_t shared)
{
    memcpy(desk_pins[k], (uint8_t[]){data, clock, latch, (uint8_t)(latch + 1)}, 4);
    struct dia_device_setup on = on_desk(k, "74HC595", 1);
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = data,
                                    .clock_pin = clock,
                                    .latch_pin = latch,
                                    .enable_pin = (uint8_t)(latch + 1),
                                    .bus = bus,
                                    .shared = shared,
                                    .depth = 2,
                                    .clock_hz = 4000000,
                                    .chips = 1,
                                    .unit_us = 300};
    int device = dia_bench_shift(bench, &on);
    inits(dia_shift_init(&its[k].shift, &sim.port, &setup, drawing[k], private_memory[k]));
    assert_true(init_said != DIA_OK || dia_sim_timer(&sim, tick, &its[k].any, 100) >= 0);
    return device;
}

static int connect_shift_pins(void)
{
    return connect_shift(4, 7, 8, 9, DIA_SHIFT_BY_PINS, 0);
}

static int connect_shift_spi(void)
{
    return connect_shift(5, SPI_DATA, SPI_CLOCK, 11, 0, 0);
}

static int connect_shift_shared(void)
{
    return connect_shift(6, SPI_DATA, SPI_CLOCK, 13, 0, 1);
}

/* Two digits in turns, segments on the first chip, commons on 2A and 2C, with transistors. */
static int connect_shift_digits(void)
{
    static const struct dia_shift_turns wired = {.digits = 2,
                                                 .segments = 8,
                                                 .inverted = 1,
                                                 .segment = {0, 1, 2, 3, 4, 5, 6, 7},
                                                 .common = {8, 10}};
    static const struct dia_shift_digits digits = {
        .digits = 2, .inverted = 1, .segment = {0, 1, 2, 3, 4, 5, 6, 7}, .common = {8, 10}};
    memcpy(desk_pins[15], (uint8_t[]){SPI_DATA, SPI_CLOCK, 58, DIA_NO_PIN}, 4);
    struct dia_device_setup on = on_desk(15, "74HC595", 2);
    on.turns = &wired;
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = SPI_DATA,
                                    .clock_pin = SPI_CLOCK,
                                    .latch_pin = 58,
                                    .enable_pin = DIA_NO_PIN,
                                    .bus = 0,
                                    .clock_hz = 4000000,
                                    .chips = 2,
                                    .unit_us = 300};
    int device = dia_bench_shift(bench, &on);
    inits(dia_shift_digits_init(&its[15].shift, &sim.port, &setup, &digits, drawing[15],
                                private_memory[15]));
    assert_true(init_said != DIA_OK || dia_sim_timer(&sim, tick, &its[15].any, 100) >= 0);
    return device;
}

static int connect_pin_lamps(void)
{
    struct dia_pin_lamps_setup setup = {
        .pins = {1, 4, 47, 50, 59, 62, 63}, .lamps = 7, .depth = 2, .unit_us = 300};
    memcpy(desk_pins[16], setup.pins, 7);
    struct dia_device_setup on = on_desk(16, "lamps", 7);
    int device = dia_bench_pin_lamps(bench, &on);
    inits(dia_pin_lamps_init(&its[16].pin_lamps, &sim.port, &setup, drawing[16]));
    assert_true(init_said != DIA_OK || dia_sim_timer(&sim, tick, &its[16].any, 100) >= 0);
    return device;
}

/* Two rows at a time of 16; its pixels are 384 lamps. */
static int connect_rgb_panel(void)
{
    struct dia_rgb_panel_setup setup = {
        .pins = {30, 31, 32, 33, 34, 35, 36, 37, 38, DIA_NO_PIN, DIA_NO_PIN, 39, 40, 41},
        .columns = 8,
        .rows = 16,
        .depth = 2,
        .unit_us = 80,
        .tick_us = 100,
        .blank_ns = 1000};
    const struct dia_rgb_panel_shape shape = {8, 16, 800};
    memcpy(desk_pins[17], &setup.pins, sizeof setup.pins);
    struct dia_device_setup on = on_desk(17, "rgb-panel", 1);
    int device = dia_bench_rgb_panel(bench, &on, &shape);
    inits(dia_rgb_panel_init(&its[17].rgb_panel, &sim.port, &setup,
                             (struct dia_rgb *)(void *)drawing[17], private_memory[17]));
    assert_true(init_said != DIA_OK || dia_sim_timer(&sim, tick, &its[17].any, 100) >= 0);
    return device;
}

static int connect_digits(void)
{
    struct dia_digits_setup setup = {.segment_pin = {15, 16, 17, 18, 19, 20, 21, 22},
                                     .common_pin = {23, 24},
                                     .digits = 2,
                                     .turn_us = 200};
    memcpy(desk_pins[7], setup.segment_pin, 8);
    memcpy(desk_pins[7] + 8, setup.common_pin, 2);
    struct dia_device_setup on = on_desk(7, "digits", 2);
    int device = dia_bench_digits(bench, &on);
    inits(dia_digits_init(&its[7].digits, &sim.port, &setup, drawing[7]));
    assert_true(init_said != DIA_OK || dia_sim_timer(&sim, tick, &its[7].any, 100) >= 0);
    return device;
}

static int connect_panel(void)
{
    memcpy(desk_pins[8], (uint8_t[]){25, 26, 27}, 3);
    struct dia_device_setup on = on_desk(8, "TM1638", 8);
    int device = dia_bench_panel(bench, &on);
    inits(dia_panel_init(&its[8].panel, &sim.port, &dia_tm1638, 25, 26, 27, drawing[8]));
    return device;
}

static int connect_two_wires(void)
{
    memcpy(desk_pins[9], (uint8_t[]){DIA_NO_PIN, 28, 29}, 3);
    struct dia_device_setup on = on_desk(9, "TM1637", 6);
    int device = dia_bench_panel(bench, &on);
    inits(dia_panel_init(&its[9].panel, &sim.port, &dia_tm1637, DIA_NO_PIN, 28, 29, drawing[9]));
    return device;
}

static int connect_characters(int k, uint8_t bus, uint8_t first, uint8_t rw)
{
    struct dia_glass glass = {.columns = 8, .rows = 2, .address = 0x27, .oscillator_khz = 270};
    struct dia_characters_setup setup = {.part = &dia_hd44780,
                                         .bus = bus,
                                         .rs_pin = first,
                                         .rw_pin = rw,
                                         .e_pin = (uint8_t)(first + 1),
                                         .address = 0x27,
                                         .columns = 8,
                                         .rows = 2};
    memset(desk_pins[k], DIA_NO_PIN, sizeof desk_pins[k]);
    if (bus == DIA_BUS_EXPANDER) {
        desk_pins[k][DIA_CHARACTERS_SCL] = I2C_SCL;
        desk_pins[k][DIA_CHARACTERS_SDA] = I2C_SDA;
    } else {
        uint8_t lines = bus == DIA_BUS_8_LINES ? 8 : 4;
        desk_pins[k][DIA_CHARACTERS_RS] = setup.rs_pin;
        desk_pins[k][DIA_CHARACTERS_E] = setup.e_pin;
        desk_pins[k][DIA_CHARACTERS_RW] = rw;
        for (uint8_t i = 0; i < lines; i++) {
            setup.data_pin[i] = (uint8_t)(first + 2 + i);
            desk_pins[k][DIA_CHARACTERS_D0 + 8 - lines + i] = setup.data_pin[i];
        }
    }
    struct dia_device_setup on = on_desk(k, "HD44780", 1);
    int device = dia_bench_characters(bench, &on, &glass);
    inits(
        dia_characters_init(&its[k].characters, &sim.port, &setup, drawing[k], private_memory[k]));
    return device;
}

static int connect_four_lines(void)
{
    return connect_characters(10, DIA_BUS_4_LINES, 30, DIA_NO_PIN);
}

static int connect_busy_flag(void)
{
    return connect_characters(11, DIA_BUS_8_LINES, 36, 46);
}

static int connect_busy_flag_four_lines(void)
{
    return connect_characters(14, DIA_BUS_4_LINES, 51, 57);
}

static int connect_expander(void)
{
    return connect_characters(12, DIA_BUS_EXPANDER, 0, DIA_NO_PIN);
}

/* The second lane of two; the first rests. */
static int connect_lane(void)
{
    static struct dia_group group;
    static uint8_t planes[DIA_PLANES_BYTES(2, 15)];
    struct dia_chain_setup setup = {.name = "lane", .part = "WS2812B", .pin = 49, .count = 5};
    int chain = dia_bench_chain(bench, &setup);
    inits(dia_group_init(&group, &sim.port, 48, 2, &dia_ws2812b, planes, 15));
    if (init_said == DIA_OK)
        inits(dia_strip_init_lane(&its[13].strip, &group, 1, &dia_ws2812b,
                                  (struct dia_rgb *)(void *)drawing[13], private_memory[13], 5));
    return chain;
}

static const struct family families[] = {
    {"one-wire strip", connect_onewire, &its[0].any, 5, DIA_PIXELS, 3},
    {"clocked strip, APA102", connect_level, &its[1].any, 5, DIA_PIXELS, 4},
    {"clocked strip, WS2801", connect_pause, &its[2].any, 5, DIA_PIXELS, 3},
    {"matrix", connect_matrix, &its[3].any, 128, DIA_LAMPS, 0},
    {"shift registers by pins", connect_shift_pins, &its[4].any, 8, DIA_LAMPS, 0},
    {"shift registers by SPI", connect_shift_spi, &its[5].any, 8, DIA_LAMPS, 0},
    {"shift registers, shared SPI", connect_shift_shared, &its[6].any, 8, DIA_LAMPS, 0},
    {"digits", connect_digits, &its[7].any, 16, DIA_LAMPS, 0},
    {"panel", connect_panel, &its[8].any, 128, DIA_LAMPS, 0},
    {"panel, two wires", connect_two_wires, &its[9].any, 48, DIA_LAMPS, 0},
    {"characters, four lines", connect_four_lines, &its[10].any, 16, DIA_CELLS, 0},
    {"characters, busy flag", connect_busy_flag, &its[11].any, 16, DIA_CELLS, 0},
    {"characters, expander", connect_expander, &its[12].any, 16, DIA_CELLS, 0},
    {"lane of a group", connect_lane, &its[13].any, 5, DIA_PIXELS, 3},
    {"characters, busy flag on four lines", connect_busy_flag_four_lines, &its[14].any, 16,
     DIA_CELLS, 0},
    {"digits on shift registers", connect_shift_digits, &its[15].any, 16, DIA_LAMPS, 0},
    {"lamps on pins", connect_pin_lamps, &its[16].any, 7, DIA_LAMPS, 0},
    {"row-scanned colour panel", connect_rgb_panel, &its[17].any, 384, DIA_LAMPS, 0},
};
#define FAMILIES (sizeof families / sizeof families[0])

/* A desk with an SPI bus and an I2C bus, and nothing on it yet. */
static void families_desk(void)
{
    desk_set_up(48000000);
    assert_int_equal(dia_sim_spi_pins(&sim, 0, SPI_CLOCK, SPI_DATA), DIA_OK);
    assert_int_equal(dia_sim_i2c_pins(&sim, 0, I2C_SCL, I2C_SDA), DIA_OK);
}

static uint8_t is_on(uint16_t pattern, uint32_t i)
{
    return pattern >> (i % 16) & 1;
}

/* The panel has digits at even addresses, and one lamp at each odd one. */
static uint8_t exists(const struct family *family, uint32_t i)
{
    return family->driver != &its[8].any || i / 8 % 2 == 0 || i % 8 == 0;
}

static inline void family_draw(const struct family *family, uint16_t pattern)
{
    struct dia_driver *driver = family->driver;
    uint8_t levels[384];
    for (uint32_t i = 0; i < family->elements; i++) {
        uint8_t on = is_on(pattern, i);
        levels[i] = on && exists(family, i) ? 255 : 0;
        if (family->element == DIA_PIXELS)
            memset(driver->drawing + 3 * i, on ? 255 : 0, 3);
        else if (family->element == DIA_CELLS)
            driver->drawing[i] = on ? (uint8_t)('A' + i) : ' ';
    }
    if (family->element == DIA_LAMPS)
        assert_int_equal(dia_driver_levels(driver, levels, family->elements, NULL), DIA_OK);
}

/* Looks for long enough to see every turn. */
static inline void family_look(const struct family *family, int device)
{
    if (dia_driver_has_tick(family->driver)) {
        dia_sim_advance_us(&sim, 2000);
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 4000);
    }
    desk_settle();
}

/* Whether it shows the pattern, as the bench sees it. */
static inline int family_shows(const struct family *family, int device, uint16_t pattern)
{
    int right = 1;
    for (uint32_t i = 0; i < family->elements; i++) {
        uint8_t on = is_on(pattern, i) && exists(family, i);
        if (family->element == DIA_PIXELS) {
            const uint8_t *drive = dia_bench_shown(bench, device)->drive[i];
            right &= drive[0] == (on ? 255 : 0) && drive[1] == drive[0] && drive[2] == drive[0];
        } else if (family->element == DIA_LAMPS) {
            right &= (dia_bench_lamps(bench, device)->level[i] != 0) == on;
        } else {
            uint8_t code = dia_bench_cells(bench, device)->code[i / 8][i % 8];
            right &= dia_bench_cells(bench, device)->on && code == (on ? 'A' + i : ' ');
        }
    }
    return right;
}

#endif
