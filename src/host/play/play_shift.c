/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_device.h"

static size_t shift_memory(const struct dia_rig_device *from)
{
    return DIA_SHIFT_BYTES(from->count, from->depth);
}

static int shift_on_bench(struct dia_player *player, uint32_t number,
                          const struct dia_device_setup *setup)
{
    int device = dia_bench_shift(player->bench, setup);
    dia_bench_shift_fault(player->bench, device, &player->desk->devices[number].shift);
    return device;
}

static uint32_t shift_tick(void *shift)
{
    return dia_shift_tick(shift);
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
        .enable_pin = pins[DIA_SHIFT_OE] == DIA_NO_PIN ? DIA_NO_ENABLE : pins[DIA_SHIFT_OE],
        .bus = from->by_spi ? from->bus : DIA_SHIFT_BY_PINS,
        .depth = from->depth,
        .slices = from->slices,
        .clock_hz = from->clock_hz,
        .chips = (uint16_t)from->count,
        .unit_us = dia_slices_unit_us(from->refresh_mhz, from->depth),
    };
    enum dia_status status = DIA_OK;
    if (from->by_spi)
        status = dia_sim_spi_pins(&player->sim, from->bus, setup.clock_pin, setup.data_pin);
    if (status == DIA_OK)
        status = dia_shift_init(&device->driver.shift, &player->sim.port, &setup, device->memory);
    if (status == DIA_OK &&
        dia_sim_timer(&player->sim, shift_tick, &device->driver.shift, setup.unit_us) < 0)
        status = DIA_UNSUPPORTED;
    return status;
}

static uint64_t shift_develop(const struct dia_player *player, const struct dia_rig_device *from,
                              struct play_device *device)
{
    uint64_t sum = play_steps(from, device, player->rig->master, from->depth);
    uint32_t full = (1u << from->depth) - 1u;
    return (sum * from->lamp_ua + full - 1) / full + from->lamp_ua;
}

static enum dia_status shift_start(const struct dia_rig_device *from, struct play_device *device)
{
    (void)from;
    return dia_shift_show(&device->driver.shift, device->outputs);
}

static enum dia_status shift_poll(struct play_device *device)
{
    return dia_shift_poll(&device->driver.shift);
}

static void shift_look(struct dia_player *player, struct play_device *device)
{
    play_look_for(player, device, &device->driver.shift.periods);
}

static void shift_dark(struct dia_player *player, struct play_device *device)
{
    play_stop_ticks(player, &device->driver.shift);
    dia_shift_dark(&device->driver.shift);
    dia_sim_advance_us(&player->sim, 1);
    dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
}

const struct play_kind play_shift = {shift_memory, shift_on_bench, shift_connect, shift_develop,
                                     shift_start,  shift_poll,     shift_look,    shift_dark};
