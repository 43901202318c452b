/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAYER_NODES_H
#define DIA_HOST_PLAYER_NODES_H

#include <diachrome/finding.h>
#include <diachrome/player.h>
#include <diachrome/rig_layer.h>

/*
 * A rig with nodes as one: a player for the part of each node, on a bench of its own, as each node
 * has a controller and supplies of its own. The player of the whole has these and no bench.
 */

/* The player of a lane or device, and its number there. */
struct play_part {
    struct dia_player *of;
    uint32_t number;
};

struct play_nodes {
    uint32_t count;
    struct dia_rig *rigs; /* the part of each */
    struct dia_player **players;
    struct play_part lanes[DIA_RIG_LANES], devices[DIA_RIG_DEVICES];
    struct dia_findings findings; /* of all of them, when they were last asked for */
};

/* 1: it is a whole rig with nodes, and not the part of one. */
int dia_play_has_nodes(const struct dia_rig *rig);

/* A player for each node of a rig that is whole. NULL: memory ran out, or what a part lacks. */
struct play_nodes *dia_play_nodes_new(const struct dia_rig *whole, struct dia_diagnostic *wrong);
void dia_play_nodes_free(struct play_nodes *nodes);

/* As the functions of player.h of these names. */
enum dia_status dia_play_nodes_content(struct play_nodes *nodes, const struct dia_content *content,
                                       uint32_t slot, uint64_t *frame_ns);
enum dia_status dia_play_nodes_layers(struct play_nodes *nodes, const struct dia_rig_layer *layers,
                                      uint32_t count, uint32_t ms, uint32_t slot,
                                      uint64_t *frame_ns);
void dia_play_nodes_hold_buttons(struct play_nodes *nodes, uint8_t held);
uint8_t dia_play_nodes_buttons(struct play_nodes *nodes);
const struct dia_findings *dia_play_nodes_findings(struct play_nodes *nodes);
uint64_t dia_play_nodes_now_ns(const struct play_nodes *nodes);

/* All are at the same time, that of the one which took longest. */
void dia_play_nodes_meet(struct play_nodes *nodes);

/* What all of them come to at a supply of the whole rig, each of which has one of that name or
 * none. */
enum play_sum { PLAY_ASKED, PLAY_GIVES, PLAY_MOST };
uint64_t dia_play_nodes_sum_ua(const struct play_nodes *nodes, const char *supply,
                               enum play_sum what);
dia_share dia_play_nodes_share(const struct play_nodes *nodes, const char *supply); /* the least */
uint32_t dia_play_nodes_with(const struct play_nodes *nodes, const char *supply);   /* how many */

#endif
