/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_device.h"

static void matrix_sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = DIA_MATRIX_ROWS(from->count);
    *memory = DIA_MATRIX_BYTES(from->count);
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
                           from->bus, pins[DIA_MATRIX_CS], from->clock_hz, device->drawing,
                           device->memory, (uint16_t)from->count);
}

/* Each of eight digits is lit for an eighth of the time; at most 31/32 of that. */
const struct play_kind play_matrix = {
    .sizes = matrix_sizes,
    .on_bench = matrix_on_bench,
    .connect = matrix_connect,
    .refresh_every = REFRESH_EVERY,
};
