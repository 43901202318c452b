/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_JUDGE_WIRES_H
#define DIA_HOST_JUDGE_WIRES_H

#include <diachrome/judge.h>

/* Which wire of the rig each wire of the capture is, -1: none. */
struct joined {
    int32_t wire_of[DIA_CAPTURE_WIRES];
    uint32_t any;
};

/* The wires of the rig, those of lanes first. */
void dia_judge_list(struct dia_judge *judge, const struct dia_rig *rig);

/* The number of a wire by any of its names, -1: there is none. */
int32_t dia_judge_wire_named(const struct dia_judge *judge, const struct dia_rig *rig,
                             const char *wanted);

/* Which is which: as told, by equal names, and the only ones that are left. */
enum dia_status dia_judge_join(struct dia_judge *judge, struct joined *joined,
                               const struct dia_rig *rig, const struct dia_capture *capture,
                               const struct dia_judge_map *maps, uint32_t n,
                               struct dia_diagnostic *wrong);

#endif
