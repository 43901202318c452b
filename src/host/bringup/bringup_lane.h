/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_BRINGUP_LANE_H
#define DIA_HOST_BRINGUP_LANE_H

#include "bringup_private.h"

/* The lane as it is believed to be. */
struct dia_rig_lane *dia_lane_believed(struct run *run);

/* Light enough to be told from none. */
int dia_lane_is_lit(struct dia_rgb seen);

/* Which way a line or a ring runs; how a chain runs through a grid. 1: go on; -1: end. */
int dia_bringup_direction(struct run *run);
int dia_bringup_grid(struct run *run);

#endif
