/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAY_DEVICE_H
#define DIA_HOST_PLAY_DEVICE_H

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
extern const struct play_kind play_kinds[]; /* by enum dia_kind */

#endif
