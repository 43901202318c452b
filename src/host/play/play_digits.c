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

static uint32_t digits_tick(void *digits)
{
    return dia_digits_tick(digits);
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
        setup.segment_pin[k] = from->pins[k] == DIA_NO_PIN ? DIA_NO_SEGMENT : from->pins[k];
        setup.common_pin[k] = from->pins[8 + k];
    }
    enum dia_status status = dia_digits_init(&device->driver.digits, &player->sim.port, &setup);
    if (status == DIA_OK &&
        dia_sim_timer(&player->sim, digits_tick, &device->driver.digits, 100) < 0)
        status = DIA_UNSUPPORTED;
    return status;
}

static uint64_t digits_develop(const struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device)
{
    uint32_t lit = play_steps(from, device, DIA_SHARE_ONE, 1),
             turns = from->on_commons ? 8 : from->digits;
    device->driver.digits.master = player->rig->master;
    return (uint64_t)lit * from->lamp_ua / turns + 1;
}

static enum dia_status digits_start(const struct dia_rig_device *from, struct play_device *device)
{
    uint8_t segments[8] = {0};
    for (uint32_t i = 0; i < from->digits * 8; i++)
        segments[i / 8] |= (uint8_t)(device->outputs[i] << (i % 8));
    return dia_digits_show(&device->driver.digits, segments);
}

static enum dia_status digits_poll(struct play_device *device)
{
    return dia_digits_poll(&device->driver.digits);
}

static void digits_look(struct dia_player *player, struct play_device *device)
{
    play_look_for(player, device, &device->driver.digits.rounds);
}

static void digits_dark(struct dia_player *player, struct play_device *device)
{
    play_stop_ticks(player, &device->driver.digits);
    dia_digits_dark(&device->driver.digits);
    dia_sim_advance_us(&player->sim, 1);
    dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
}

const struct play_kind play_digits = {play_no_memory, digits_on_bench, digits_connect,
                                      digits_develop, digits_start,    digits_poll,
                                      digits_look,    digits_dark};
