/* SPDX-License-Identifier: MIT */
#include "bringup_lane.h"

struct dia_rig_lane *dia_lane_believed(struct run *run)
{
    return &run->report->rig.lanes[run->lane];
}

int dia_lane_is_lit(struct dia_rgb seen)
{
    return seen.r > 20 || seen.g > 20 || seen.b > 20;
}
