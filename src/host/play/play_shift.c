/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_device.h"

static void shift_sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = DIA_SHIFT_LEVELS(from->count);
    *memory = DIA_SHIFT_BYTES(from->count, from->depth);
}

static int shift_on_bench(struct dia_player *player, uint32_t number,
                          const struct dia_device_setup *setup)
{
    int device = dia_bench_shift(player->bench, setup);
    dia_bench_shift_fault(player->bench, device, &player->desk->devices[number].shift);
    return device;
}

static enum dia_status shift_connect(struct dia_player *player, const struct dia_rig_device *from,
                                     struct play_device *device)
{
    const uint8_t *pins = from->pins;
    struct dia_shift_setup setup = {
        .part = strcmp(from->chip, "74HCT595") == 0 ? &dia_74hct595 : &dia_74hc595,
        .data_pin = pins[DIA_SHIFT_SER],
        .clock_pin = pins[DIA_SHIFT_SRCLK],
        .latch_pin = pins[DIA_SHIFT_RCLK],
        .enable_pin = pins[DIA_SHIFT_OE],
        .bus = from->by_spi ? from->bus : DIA_SHIFT_BY_PINS,
        .shared = from->shares,
        .depth = from->depth,
        .slices = from->slices,
        .clock_hz = from->clock_hz,
        .chips = (uint16_t)from->count,
        .unit_us = dia_slices_unit_us(from->refresh_mhz, from->depth),
    };
    enum dia_status status = DIA_OK;
    if (from->by_spi)
        status = dia_sim_spi_pins(&player->sim, from->bus, setup.clock_pin, setup.data_pin);
    return status == DIA_OK ? dia_shift_init(&device->driver.shift, &player->sim.port, &setup,
                                             device->drawing, device->memory)
                            : status;
}

static const volatile uint8_t *shift_counter(const struct play_device *device)
{
    return &device->driver.shift.periods;
}

const struct play_kind play_shift = {
    .sizes = shift_sizes,
    .on_bench = shift_on_bench,
    .connect = shift_connect,
    .counter = shift_counter,
};
