/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_SCREEN_H
#define DIA_CLI_SCREEN_H

#include <diachrome/player.h>

/* A screenful of text, made to be written at once. */
struct screen {
    char *text;
    size_t length, room;
    int columns, rows;
    int in_colour; /* else levels are letters */
};

/* What the top and bottom lines say. */
struct screen_state {
    const char *look;
    uint32_t ms;
    double rate; /* frames a second shown lately */
    int paused;
};

/* Draws what the player shows now, no wider or higher than the screen. 0, or -1: no memory. */
int screen_draw(struct screen *screen, const struct dia_rig *rig, const struct dia_player *player,
                const struct screen_state *state);

#endif
