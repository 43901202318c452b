/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAY_DEVICE_H
#define DIA_HOST_PLAY_DEVICE_H

#include <stddef.h>

#include "player_private.h"

/* What a player must know of each kind of device; all else is the driver's contract. */
struct play_kind {
    /* bytes to draw in, and of the driver's own memory */
    void (*sizes)(const struct dia_rig_device *from, size_t *drawing, size_t *memory);
    int (*on_bench)(struct dia_player *player, uint32_t number,
                    const struct dia_device_setup *setup);
    enum dia_status (*connect)(struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device);
    /* counts the periods of what is lit in turns; NULL for others */
    const volatile uint8_t *(*counter)(const struct play_device *device);
    uint8_t refresh_every; /* frames, after which all is sent again; 0: never */
};
extern const struct play_kind play_matrix, play_shift, play_digits, play_panel, play_characters;
extern const struct play_kind *const play_kinds[]; /* by enum dia_kind */

/* Every so many frames all is sent again: what a disturbance has changed comes back. */
#define REFRESH_EVERY 8

#endif
