/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_SCREEN_H
#define DIA_CLI_SCREEN_H

#include <diachrome/player.h>

#include "canvas.h"

/* What the top and bottom lines say. */
struct screen_state {
    const char *look;
    const char *parameter; /* the one that keys change, and its value */
    const char *keys;      /* those of the rig that are pressed */
    const char *trouble;   /* with its files, or NULL */
    const char *news;      /* to be said for a while, or NULL */
    uint32_t ms;
    double rate;  /* frames a second shown lately */
    double speed; /* of time */
    int paused;
};

/* Draws what the player shows now on a canvas that has begun. */
void screen_draw(struct canvas *canvas, const struct dia_rig *rig, const struct dia_player *player,
                 const struct screen_state *state);

/* The same as a picture of one moment, for a canvas as high as may be needed: without what is said
 * at the bottom. Returns how many rows it took. */
int screen_still(struct canvas *canvas, const struct dia_rig *rig, const struct dia_player *player,
                 const struct screen_state *state);

#endif
