/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAY_DEVICE_H
#define DIA_HOST_PLAY_DEVICE_H

#include <stddef.h>

#include "player_private.h"

/* What a player does with each kind of device. */
struct play_kind {
    size_t (*memory)(const struct dia_rig_device *from); /* bytes of the driver's memory */
    int (*on_bench)(struct dia_player *player, uint32_t number,
                    const struct dia_device_setup *setup);
    enum dia_status (*connect)(struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device);
    /* levels to what the driver takes; returns the current they ask for */
    uint64_t (*develop)(const struct dia_player *player, const struct dia_rig_device *from,
                        struct play_device *device);
    enum dia_status (*start)(const struct dia_rig_device *from, struct play_device *device);
    enum dia_status (*poll)(struct play_device *device);
    void (*look)(struct dia_player *player, struct play_device *device); /* NULL: at any time */
    void (*dark)(struct dia_player *player, struct play_device *device);
};
extern const struct play_kind play_matrix, play_shift, play_digits, play_panel, play_characters;
extern const struct play_kind *const play_kinds[]; /* by enum dia_kind */

/* What several kinds do. */
size_t play_no_memory(const struct dia_rig_device *from);

/* Levels to steps, and through the wiring map to outputs; returns the sum of all steps. With a
 * depth of 1 lamps are on or off, and that is how many are on. */
uint32_t play_steps(const struct dia_rig_device *from, struct play_device *device, dia_share master,
                    uint8_t depth);

/* Looks for a whole period, from one change of a driver's counter to the next. */
void play_look_for(struct dia_player *player, struct play_device *device,
                   const volatile uint8_t *counter);

/* No tick comes any more: what is driven by it stays as it is left. */
void play_stop_ticks(struct dia_player *player, const void *driver);

/* Every so many frames all is sent again: what a disturbance has changed comes back. */
#define REFRESH_EVERY 8

#endif
