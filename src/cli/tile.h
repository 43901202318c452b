/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_TILE_H
#define DIA_CLI_TILE_H

#include <diachrome/player.h>

#include "canvas.h"

/* A lane or a device as a piece of a screen: a title, and as many rows and columns as it takes. */
struct tile {
    char title[64];
    int width, height;
    int rows; /* of pixels whose places make no grid */
    const struct dia_rig *rig;
    const struct dia_player *player;
    uint32_t number;
    void (*draw)(const struct tile *tile, struct canvas *canvas, int row, int column);
};

/* No wider than `most`. */
void tile_of_lane(struct tile *tile, const struct dia_rig *rig, const struct dia_player *player,
                  uint32_t number, int most, int in_colour);
void tile_of_device(struct tile *tile, const struct dia_rig *rig, const struct dia_player *player,
                    uint32_t number, int most, int in_colour);

static inline void tile_draw(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    tile->draw(tile, canvas, row, column);
}

#endif
