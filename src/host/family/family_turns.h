/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FAMILY_TURNS_H
#define DIA_HOST_FAMILY_TURNS_H

#include "check_limits.h"
#include "family_read.h"
#include "fault_kinds.h"
#include "player_private.h"

/* What may be wrong with a chain; ended by one without a word. */
extern const struct fault_kind dia_family_shift_faults[];

/* Digits on a shift-register chain that are lit in turns: those with 'common_outputs'. */

/* bits_us: what all bits of the chain take. */
enum dia_status dia_family_turns_read(struct rig_reader *reader, const struct tree_node *node,
                                      struct dia_rig_device *device, uint32_t bits_us);

/* In how many turns its lamps are lit: 1 where they are not. */
uint32_t dia_family_turns(const struct dia_rig_device *device);

/* The turn of a digit; 0: none can be so short or long. */
uint16_t dia_family_turn_us(const struct dia_rig_device *device);

/* How they hang on the real chain; and the driver, with all of a setup but the turn. */
struct dia_shift_turns dia_family_turns_wired(const struct dia_rig_device *there);
enum dia_status dia_family_turns_connect(struct dia_player *player,
                                         const struct dia_rig_device *from,
                                         struct play_device *device, struct dia_shift_setup setup);

/* What a round takes; cycles: of a tick. */
void dia_family_turns_numbers(struct dia_check_device *c, const struct dia_rig *rig,
                              const struct dia_rig_device *device);
/* Two chips in each other's place, numbers from 1. */
void dia_family_turns_swap(struct dia_rig_device *device, uint32_t a, uint32_t b);
void dia_family_turns_limits(struct dia_check *check, const struct dia_rig_device *device);

/* The first digit becomes the last: 1, or 0: it is not lit in turns. */
int dia_family_turns_reverse(struct dia_rig_device *device);

#endif
