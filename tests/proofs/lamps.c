/* SPDX-License-Identifier: MIT */
/* proof: small: -eva-precision 2 -eva-slevel-function about_0:400 */
#include "port.h"

/* Devices with lamps: matrix drivers, shift registers, digits and panels, on a port that may refuse
 * anything. */
#define CHIPS 2

static uint8_t levels[64];

static void matrix(void)
{
    static struct dia_matrix_wiring wiring;
    static uint8_t rows[DIA_MATRIX_ROWS(CHIPS)], memory[DIA_MATRIX_BYTES(CHIPS)];
    struct dia_matrix device;
    ANY(wiring);
    dia_matrix_dot(&wiring, CHIPS, (uint16_t)any(0, 8 * CHIPS - 1), (uint8_t)any(0, 7));
    dia_matrix_segment(&wiring, CHIPS, 8, (uint16_t)any(0, 8 * CHIPS - 1), (uint8_t)any(0, 7));
    if (dia_matrix_init(&device, &a_port, &dia_max7219, (uint8_t)any(0, 255), (uint8_t)any(0, 255),
                        any_number(), rows, memory, CHIPS) != DIA_OK)
        return;
    dia_matrix_set(&device, any_number(), (uint8_t)any(0, 1));
    dia_matrix_columns(&device, &wiring, levels);
    driven(&device.driver, levels, 64);
}

static void chain(uint8_t bus, uint8_t depth)
{
    static uint8_t drawing[DIA_SHIFT_LEVELS(CHIPS)], memory[DIA_SHIFT_BYTES(CHIPS, 8)];
    struct dia_shift device;
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = (uint8_t)any(0, 255),
                                    .clock_pin = (uint8_t)any(0, 255),
                                    .latch_pin = (uint8_t)any(0, 255),
                                    .enable_pin = (uint8_t)any(0, 255),
                                    .bus = bus,
                                    .shared = (uint8_t)any(0, 1),
                                    .depth = depth,
                                    .slices = (uint8_t)any(DIA_SLICES_WEIGHTED, DIA_SLICES_EVEN),
                                    .clock_hz = any_number(),
                                    .chips = CHIPS,
                                    .unit_us = (uint16_t)any(0, UINT16_MAX)};
    dia_slices_unit_us(any_number(), depth);
    dia_slices_count((enum dia_slices)setup.slices, depth);
    if (dia_shift_init(&device, &a_port, &setup, drawing, memory) == DIA_OK)
        driven(&device.driver, levels, 64);
}

static void chain_of_digits(uint8_t bus, uint8_t count, uint8_t per)
{
    static uint8_t segments[DIA_SHIFT_DRAWING(4, 17)], memory[DIA_SHIFT_DIGITS_BYTES(CHIPS, 4)];
    static struct dia_shift_digits digits;
    struct dia_shift device;
    struct dia_shift_setup setup = {.part = &dia_74hct595,
                                    .data_pin = (uint8_t)any(0, 255),
                                    .clock_pin = (uint8_t)any(0, 255),
                                    .latch_pin = (uint8_t)any(0, 255),
                                    .enable_pin = (uint8_t)any(0, 255),
                                    .bus = bus,
                                    .shared = (uint8_t)any(0, 1),
                                    .clock_hz = any_number(),
                                    .chips = CHIPS,
                                    .unit_us = (uint16_t)any(0, UINT16_MAX)};
    ANY(digits);
    digits.digits = count;
    digits.segments = per;
    if (dia_shift_digits_init(&device, &a_port, &setup, &digits, segments, memory) == DIA_OK)
        driven(&device.driver, levels, 64);
}

static void on_pins(uint8_t count, uint8_t depth)
{
    static uint8_t drawing[DIA_PIN_LAMPS_MOST];
    static struct dia_pin_lamps_setup setup;
    struct dia_pin_lamps device;
    ANY(setup);
    setup.lamps = count;
    setup.depth = depth;
    if (dia_pin_lamps_init(&device, &a_port, &setup, drawing) == DIA_OK)
        driven(&device.driver, levels, 64);
}

static void of_digits(uint8_t digits, uint8_t by_segment)
{
    static uint8_t segments[DIA_DIGITS_MOST];
    struct dia_digits device;
    struct dia_digits_setup setup;
    ANY(setup);
    setup.digits = digits;
    setup.by_segment = by_segment;
    dia_digits_turn_us(any_number(), (uint8_t)any(1, 8), by_segment);
    if (dia_digits_init(&device, &a_port, &setup, segments) == DIA_OK)
        driven(&device.driver, levels, 64);
}

static void panel(const struct dia_panel_part *part)
{
    static uint8_t drawing[DIA_PANEL_DRAWING];
    struct dia_panel device;
    if (dia_panel_init(&device, &a_port, part, (uint8_t)any(0, 255), (uint8_t)any(0, 255),
                       (uint8_t)any(0, 255), drawing) != DIA_OK)
        return;
    dia_panel_digit(&device, (uint8_t)any(0, 255), (uint8_t)any(0, 255));
    dia_panel_lamp(&device, (uint8_t)any(0, 255), (uint8_t)any(0, 255));
    driven(&device.driver, levels, 64);
}

/* Eight columns: a byte each in two halves of 8 rows and `depth` planes, twice. */
static void of_colours(uint8_t depth, uint8_t rows)
{
    static struct dia_rgb drawing[8 * 16];
    static uint8_t memory[DIA_RGB_PANEL_BYTES(8, 16, 2)];
    static struct dia_rgb_panel_setup setup;
    struct dia_rgb_panel device;
    ANY(setup);
    setup.columns = 8;
    setup.rows = rows;
    setup.depth = depth;
    dia_slices_row_unit_us(any_number(), (uint8_t)any(0, 255), (uint16_t)any(0, UINT16_MAX), depth);
    if (dia_rgb_panel_init(&device, &a_port, &setup, drawing, memory) == DIA_OK)
        driven(&device.driver, levels, 64);
}

int main(void)
{
    ANY(levels);
    of_colours(1, 16);
    of_colours(2, 16);
    matrix();
    chain(DIA_SHIFT_BY_PINS, 8);
    chain(3, 1);
    chain(3, 8);
    chain_of_digits(DIA_SHIFT_BY_PINS, 1, 15);
    chain_of_digits(3, 4, 8);
    on_pins(1, 8);
    on_pins(16, 1);
    of_digits(1, 0);
    of_digits(8, 0);
    of_digits(8, 1);
    of_digits(9, 0);
    panel(&dia_tm1638);
    panel(&dia_tm1637);
    return 0;
}
