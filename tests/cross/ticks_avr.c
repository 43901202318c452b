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
    sleep_mode();
    return 0;
}
