/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAYER_PRIVATE_H
#define DIA_HOST_PLAYER_PRIVATE_H

#include <diachrome/player.h>

/* A lane at work. */
struct play_lane {
    struct dia_develop develop;
    union {
        struct dia_onewire onewire;
        struct dia_clocked clocked;
    } line; /* by the family of the part; of no use in a group */
    struct dia_rgb *pixels;
    uint8_t *bytes;
    int chain;
    uint64_t started_ns;
    uint64_t draws; /* of its last frame, for comparing */
};

/* Lanes sent at once. */
struct play_group {
    struct dia_parallel line;
    uint8_t *planes;
    uint8_t width;
    uint8_t lane_of[DIA_PARALLEL_MOST]; /* by pin from the first */
};

struct dia_player {
    const struct dia_rig *rig;
    struct dia_sim sim;
    struct dia_bench *bench;
    int supplies[DIA_RIG_SUPPLIES]; /* numbers on the bench */
    struct dia_budget budgets[DIA_RIG_SUPPLIES];
    struct play_lane lanes[DIA_RIG_LANES];
    struct play_group groups[DIA_RIG_GROUPS];
};

/* Connects all lanes and groups: 0, or -1. */
int play_lanes_connect(struct dia_player *player);
void play_lanes_free(struct dia_player *player);

/* What the look shows on every lane, added to the budgets. */
void play_lanes_draw(struct dia_player *player, const struct dia_look *look, const void *values,
                     uint32_t ms, uint32_t slot);

/* Limits, develops and sends what was drawn; returns when it shows. */
enum dia_status play_lanes_send(struct dia_player *player);

/* Until every lane is at rest. */
enum dia_status play_lanes_wait(struct dia_player *player);

#endif
