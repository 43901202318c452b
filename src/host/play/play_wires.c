/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "player_private.h"

/* What drivers send by: wires of the simulated port, or devices of this computer. */

enum dia_status dia_play_spi(struct dia_player *player, uint8_t bus, const char *path,
                             uint8_t clock_pin, uint8_t data_pin)
{
    struct dia_linux *computer = player->computer;
    if (!computer)
        return dia_sim_spi_pins(&player->sim, bus, clock_pin, data_pin);
    if (computer->spi[bus]) /* shared: it is there already */
        return DIA_OK;
    return path[0] ? dia_linux_spi(computer, bus, path)
                   : dia_linux_spi_pins(computer, bus, clock_pin, data_pin);
}

enum dia_status dia_play_i2c(struct dia_player *player, uint8_t bus, const char *path,
                             uint8_t scl_pin, uint8_t sda_pin)
{
    struct dia_linux *computer = player->computer;
    if (!computer)
        return dia_sim_i2c_pins(&player->sim, bus, scl_pin, sda_pin);
    if (computer->i2c[bus])
        return DIA_OK;
    return dia_linux_i2c(computer, bus, path);
}

enum dia_status dia_play_pulses(struct dia_player *player, const struct dia_rig_lane *lane)
{
    uint32_t bytes = lane->count * lane->part.channels->count;
    if (!player->computer)
        return DIA_OK;
    return dia_linux_pulses(player->computer, (uint8_t)lane->pin, lane->spi, bytes,
                            &lane->part.timing);
}
