/* SPDX-License-Identifier: MIT */
#include "play_device.h"

static int digits_on_bench(struct dia_player *player, uint32_t number,
                           const struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    struct dia_device_setup with = *setup;
    with.options = (there->anode ? DIA_DIGITS_ANODE : 0u) |
                   (there->transistors ? DIA_DIGITS_TRANSISTORS : 0u) |
                   (there->on_commons ? DIA_DIGITS_ON_COMMONS : 0u);
    return dia_bench_digits(player->bench, &with);
}

static void digits_sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = from->digits;
    *memory = 0;
}

static enum dia_status digits_connect(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    struct dia_digits_setup setup = {
        .digits = (uint8_t)from->digits,
        .common_anode = from->anode,
        .transistors = from->transistors,
        .resistors_on_commons = from->on_commons,
        .turn_us = dia_digits_turn_us(from->refresh_mhz, (uint8_t)from->digits, from->on_commons),
    };
    for (uint8_t k = 0; k < 8; k++) {
        setup.segment_pin[k] = from->pins[k];
        setup.common_pin[k] = from->pins[8 + k];
    }
    return dia_digits_init(&device->driver.digits, &player->sim.port, &setup, device->drawing);
}

static const volatile uint8_t *digits_counter(const struct play_device *device)
{
    return &device->driver.digits.rounds;
}

const struct play_kind play_digits = {
    .sizes = digits_sizes,
    .on_bench = digits_on_bench,
    .connect = digits_connect,
    .counter = digits_counter,
};
