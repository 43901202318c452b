/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_device.h"

static size_t matrix_memory(const struct dia_rig_device *from)
{
    return DIA_MATRIX_BYTES(from->count);
}

static int matrix_on_bench(struct dia_player *player, uint32_t number,
                           const struct dia_device_setup *setup)
{
    (void)number;
    return dia_bench_matrix(player->bench, setup);
}

static enum dia_status matrix_connect(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    const uint8_t *pins = from->pins;
    enum dia_status status =
        dia_sim_spi_pins(&player->sim, from->bus, pins[DIA_MATRIX_CLK], pins[DIA_MATRIX_DIN]);
    if (status != DIA_OK)
        return status;
    return dia_matrix_init(&device->driver.matrix, &player->sim.port,
                           strcmp(from->chip, "MAX7221") == 0 ? &dia_max7221 : &dia_max7219,
                           from->bus, pins[DIA_MATRIX_CS], from->clock_hz, device->memory,
                           (uint16_t)from->count);
}

/* Each of eight digits is lit for an eighth of the time; at most 31/32 of that. */
static uint64_t matrix_develop(const struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device)
{
    uint32_t lit = play_steps(from, device, DIA_SHARE_ONE, 1);
    for (uint32_t i = 0; i < from->lamps; i++)
        dia_matrix_set(&device->driver.matrix, from->output_of[i],
                       device->outputs[from->output_of[i]]);
    dia_matrix_master(&device->driver.matrix, player->rig->master);
    return (uint64_t)lit * from->lamp_ua / 8 * (2u * device->driver.matrix.intensity + 2u) / 32;
}

static enum dia_status matrix_start(const struct dia_rig_device *from, struct play_device *device)
{
    (void)from;
    if (device->frames % REFRESH_EVERY == 0)
        dia_matrix_refresh(&device->driver.matrix);
    return dia_matrix_start(&device->driver.matrix);
}

static enum dia_status matrix_poll(struct play_device *device)
{
    return dia_matrix_poll(&device->driver.matrix);
}

static void matrix_dark(struct dia_player *player, struct play_device *device)
{
    struct dia_matrix *matrix = &device->driver.matrix;
    (void)player;
    while (dia_matrix_poll(matrix) == DIA_BUSY)
        ;
    dia_matrix_master(matrix, 0);
    dia_matrix_start(matrix);
    while (dia_matrix_poll(matrix) == DIA_BUSY)
        ;
}

const struct play_kind play_matrix = {matrix_memory,  matrix_on_bench, matrix_connect,
                                      matrix_develop, matrix_start,    matrix_poll,
                                      NULL,           matrix_dark};
