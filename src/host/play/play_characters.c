/* SPDX-License-Identifier: MIT */
#include "play_device.h"

static void characters_sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = DIA_CHARACTERS_CELLS((size_t)from->columns, from->rows);
    *memory = DIA_CHARACTERS_BYTES((size_t)from->columns, from->rows);
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
        .rw_pin = from->pins[DIA_CHARACTERS_RW],
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
                                                  &setup, device->drawing, device->memory)
                            : status;
}

const struct play_kind play_characters = {
    .sizes = characters_sizes,
    .on_bench = characters_on_bench,
    .connect = characters_connect,
};
