/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "play_device.h"

#define QUEUE 160u /* entries: a whole 20 x 4 and the start-up */

static size_t characters_memory(const struct dia_rig_device *from)
{
    (void)from;
    return QUEUE * sizeof(uint16_t);
}

static int characters_on_bench(struct dia_player *player, uint32_t number,
                               const struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    const struct dia_desk_device *desk = &player->desk->devices[number];
    struct dia_glass glass = {.columns = there->columns,
                              .rows = there->rows,
                              .split = there->split,
                              .address = there->address,
                              .half = desk->half,
                              .oscillator_khz = desk->oscillator_khz,
                              .contrast_mv = desk->contrast_mv};
    return dia_bench_characters(player->bench, setup, &glass);
}

static enum dia_status characters_connect(struct dia_player *player,
                                          const struct dia_rig_device *from,
                                          struct play_device *device)
{
    struct dia_characters_setup setup = {
        .part = &dia_hd44780,
        .bus = from->lines,
        .rs_pin = from->pins[DIA_CHARACTERS_RS],
        .rw_pin = from->pins[DIA_CHARACTERS_RW] == DIA_NO_PIN ? DIA_NOT_WIRED
                                                              : from->pins[DIA_CHARACTERS_RW],
        .e_pin = from->pins[DIA_CHARACTERS_E],
        .i2c_bus = from->bus,
        .address = from->address,
        .columns = from->columns,
        .rows = from->rows,
        .split = from->split,
    };
    uint8_t first = from->lines == DIA_BUS_8_LINES ? 0 : 4;
    for (uint8_t k = 0; first + k < 8; k++)
        setup.data_pin[k] = from->pins[DIA_CHARACTERS_D0 + first + k];
    setup.oscillator_khz = (uint16_t)(from->oscillator_hz / 1000);
    enum dia_status status = DIA_OK;
    if (from->lines == DIA_BUS_EXPANDER)
        status = dia_sim_i2c_pins(&player->sim, from->bus, from->pins[DIA_CHARACTERS_SCL],
                                  from->pins[DIA_CHARACTERS_SDA]);
    return status == DIA_OK ? dia_characters_init(&device->driver.characters, &player->sim.port,
                                                  &setup, (uint16_t *)(void *)device->memory, QUEUE)
                            : status;
}

static uint64_t characters_develop(const struct dia_player *player,
                                   const struct dia_rig_device *from, struct play_device *device)
{
    (void)player;
    (void)device;
    return from->lamp_ua;
}

/* A row that changes is written whole, with spaces behind it. */
static enum dia_status characters_start(const struct dia_rig_device *from,
                                        struct play_device *device)
{
    for (uint8_t row = 0; row < from->rows; row++) {
        char line[41];
        if (device->text[row][0] && strcmp(device->text[row], device->written[row]) == 0)
            continue;
        snprintf(line, sizeof line, "%-40s", device->text[row]);
        if (device->text[row][0] || device->written[row][0])
            dia_characters_text(&device->driver.characters, 0, row, line, from->columns);
        memcpy(device->written[row], device->text[row], sizeof device->written[row]);
    }
    return DIA_OK;
}

static enum dia_status characters_poll(struct play_device *device)
{
    (void)device;
    return DIA_OK; /* it shows when its time comes: see characters_look */
}

static void characters_look(struct dia_player *player, struct play_device *device)
{
    uint32_t us;
    while ((us = dia_characters_pump(&device->driver.characters)) != 0)
        dia_sim_advance_us(&player->sim, us);
    dia_bench_settle(player->bench, player->sim.now_ns);
}

static void characters_dark(struct dia_player *player, struct play_device *device)
{
    struct dia_characters *characters = &device->driver.characters;
    characters->light = 0;
    while (dia_characters_show(characters, 0, 0, 0) == DIA_BUSY)
        characters_look(player, device);
    characters_look(player, device);
}

const struct play_kind play_characters = {
    characters_memory, characters_on_bench, characters_connect, characters_develop,
    characters_start,  characters_poll,     characters_look,    characters_dark};
