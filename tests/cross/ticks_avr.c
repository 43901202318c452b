/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

/* Sixteen ticks of each kind of driver, each marked by a high of PD6. */
#define MARK_HIGH() (PORTD |= _BV(PD6))
#define MARK_LOW()  (PORTD &= (uint8_t)~_BV(PD6))

static struct dia_port *port;
static uint8_t memory[DIA_SHIFT_BYTES(8, 8)], levels[DIA_SHIFT_LEVELS(8)];
static struct dia_shift shift;
static struct dia_digits digits;
static struct dia_pin_lamps lamps;
static struct dia_rgb_panel panel;
static struct dia_rgb pixels[16 * 16];
static uint8_t panel_memory[DIA_RGB_PANEL_BYTES(16, 16, 1)];

static void shift_ticks(uint16_t chips, uint8_t bus)
{
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = 8,
                                    .clock_pin = 9,
                                    .latch_pin = 1,
                                    .enable_pin = 0,
                                    .bus = bus,
                                    .depth = 8,
                                    .slices = DIA_SLICES_WEIGHTED,
                                    .clock_hz = 8000000,
                                    .chips = chips,
                                    .unit_us = 32};
    if (dia_shift_init(&shift, port, &setup, levels, memory) != DIA_OK)
        return;
    for (uint8_t i = 0; i < sizeof levels; i++)
        levels[i] = (uint8_t)(i * 37u);
    dia_driver_show(&shift.driver);
    for (uint8_t k = 0; k < 16; k++) {
        MARK_HIGH();
        dia_driver_tick(&shift.driver);
        MARK_LOW();
    }
}

static void digits_ticks(void)
{
    struct dia_digits_setup setup = {.segment_pin = {0, 1, 2, 3, 4, 8, 9, 10},
                                     .common_pin = {11, 12, 13, 16},
                                     .digits = 4,
                                     .turn_us = 1250};
    static const uint8_t shown[4] = {0x55, 0xaa, 0xff, 0};
    static uint8_t segments[4];
    if (dia_digits_init(&digits, port, &setup, segments) != DIA_OK)
        return;
    for (uint8_t k = 0; k < 4; k++)
        segments[k] = shown[k];
    dia_driver_show(&digits.driver);
    for (uint8_t k = 0; k < 16; k++) {
        MARK_HIGH();
        dia_driver_tick(&digits.driver);
        MARK_LOW();
    }
}

/* Segments on the first register, commons on the second. */
static void turns_ticks(void)
{
    static const struct dia_shift_digits wired = {
        .digits = 4, .segment = {0, 1, 2, 3, 4, 5, 6, 7}, .common = {8, 9, 10, 11}};
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .latch_pin = 1,
                                    .enable_pin = 0,
                                    .clock_hz = 8000000,
                                    .chips = 2,
                                    .unit_us = 1250};
    if (dia_shift_digits_init(&shift, port, &setup, &wired, levels, memory) != DIA_OK)
        return;
    for (uint8_t k = 0; k < 4; k++)
        levels[k] = (uint8_t)(k * 73u);
    dia_driver_show(&shift.driver);
    for (uint8_t k = 0; k < 16; k++) {
        MARK_HIGH();
        dia_driver_tick(&shift.driver);
        MARK_LOW();
    }
}

static void lamps_ticks(uint8_t count)
{
    struct dia_pin_lamps_setup setup = {.pins = {0, 1, 2, 3, 4, 8, 9, 10, 11, 12, 13, 16},
                                        .lamps = count,
                                        .depth = 8,
                                        .unit_us = 32};
    if (dia_pin_lamps_init(&lamps, port, &setup, levels) != DIA_OK)
        return;
    for (uint8_t k = 0; k < count; k++)
        levels[k] = k % 2 ? 150 : 200;
    dia_driver_show(&lamps.driver);
    for (uint8_t k = 0; k < 16; k++) {
        MARK_HIGH();
        dia_driver_tick(&lamps.driver);
        MARK_LOW();
    }
}

/* Sixteen rows of one bit; in 16 ticks all rows change, and the first of them only shifts. */
static void panel_ticks(uint16_t columns, uint8_t lowest)
{
    struct dia_rgb_panel_setup setup = {
        .pins = {lowest, 1, 2, 3, 4, 5, 8, 9, 10, DIA_NO_PIN, DIA_NO_PIN, 11, 12, 13},
        .columns = columns,
        .rows = 16,
        .depth = 1,
        .unit_us = 2000,
        .tick_us = 2000,
    };
    if (dia_rgb_panel_init(&panel, port, &setup, pixels, panel_memory) != DIA_OK)
        return;
    for (uint16_t i = 0; i < columns * 16u; i += 2) /* each data line changes at each column */
        pixels[i] = (struct dia_rgb){255, 255, 255};
    dia_driver_show(&panel.driver);
    for (uint8_t k = 0; k < 16; k++) {
        MARK_HIGH();
        dia_driver_tick(&panel.driver);
        MARK_LOW();
    }
}

int main(void)
{
    port = dia_avr_port_all();
    DDRD |= _BV(PD6);
    cli();
    MARK_LOW();
    shift_ticks(8, 0);
    shift_ticks(1, 0);
    shift_ticks(8, DIA_SHIFT_BY_PINS);
    shift_ticks(1, DIA_SHIFT_BY_PINS);
    digits_ticks();
    turns_ticks();
    lamps_ticks(12);
    lamps_ticks(1);
    panel_ticks(16, 0);
    panel_ticks(8, 0);
    panel_ticks(16, 16); /* R1 is no neighbour */
    panel_ticks(8, 16);
    sleep_mode();
    return 0;
}
