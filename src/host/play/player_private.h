/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAYER_PRIVATE_H
#define DIA_HOST_PLAYER_PRIVATE_H

#include <diachrome/player.h>

/* A lane at work. */
struct play_lane {
    struct dia_develop develop;
    uint16_t curve[256]; /* where its gamma is not that of sRGB */
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

/* A device at work. */
struct play_device {
    union {
        struct dia_driver any; /* the first field of each */
        struct dia_matrix matrix;
        struct dia_shift shift;
        struct dia_digits digits;
        struct dia_panel panel;
        struct dia_characters characters;
    } driver;         /* by the kind of the device */
    uint8_t *levels;  /* of each lamp */
    uint8_t *steps;   /* and what its driver can show of it */
    uint8_t *drawing; /* what the driver gets, and its own memory */
    uint8_t *memory;
    int on_bench;
    uint32_t frames;     /* started so far */
    uint64_t started_ns; /* of its last frame */
    uint64_t shown_ns;   /* when that was shown, first of all */
    uint64_t wants_ua;   /* of its frame */
    uint64_t draws_ua;   /* the same, or that of the frame before while that may still show */
    uint8_t busy;
    uint8_t is_cells;
};

struct dia_player {
    const struct dia_rig *rig;   /* as the controller knows it */
    const struct dia_desk *desk; /* as it is */
    struct dia_desk *own;        /* the desk, where the player made it */
    struct dia_sim sim;
    struct dia_bench *bench;
    int supplies[DIA_RIG_SUPPLIES]; /* numbers on the bench */
    struct dia_budget budgets[DIA_RIG_SUPPLIES];
    struct play_lane lanes[DIA_RIG_LANES];
    struct play_group groups[DIA_RIG_GROUPS];
    struct play_device devices[DIA_RIG_DEVICES];
};

/* Connects all lanes and groups: 0, or -1. */
int play_lanes_connect(struct dia_player *player);
void play_lanes_free(struct dia_player *player);

/* What is to show on every lane, added to the budgets. */
void play_lanes_draw(struct dia_player *player, const struct dia_content *content, uint32_t slot);

/* Limits, develops and sends what was drawn; returns when it shows. */
enum dia_status play_lanes_send(struct dia_player *player);

/* Until every lane is at rest. */
enum dia_status play_lanes_wait(struct dia_player *player);

/* The same for the devices. What they draw is added to the reserve of their supplies. */
int play_devices_connect(struct dia_player *player);
void play_devices_free(struct dia_player *player);
void play_devices_draw(struct dia_player *player, const struct dia_content *content);
uint64_t play_devices_ask_ua(const struct dia_player *player, uint32_t supply);
enum dia_status play_devices_start(struct dia_player *player);

/* Keeps those going that are sending. 1: some still are, character displays apart: frames do not
 * wait for those, they are up to date when they are looked at. */
int play_devices_poll(struct dia_player *player);

/* Looks at each for as long as an eye needs, with character displays up to date. */
void play_devices_look(struct dia_player *player);

/* Dark, by every device's own way; the worst answer. */
enum dia_status play_devices_dark(struct dia_player *player);

#endif
