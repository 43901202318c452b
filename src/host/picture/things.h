/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_THINGS_H
#define DIA_HOST_THINGS_H

#include "view.h"

/* Every lane and device where it is on the desk. What does not say where it is lies in rows below
 * the others. */
struct thing {
    struct view view;
    const char *name;
    const struct dia_rig_device *device; /* NULL: a lane */
    uint32_t number;
    double x, y, width, height; /* mm; as it lies */
    uint8_t turn;
};

struct desk {
    struct thing things[DIA_RIG_LANES + DIA_RIG_DEVICES];
    uint32_t count;
    double left, top, width, height; /* mm */
};

/* NULL: no memory. */
struct desk *dia_things_lay_out(const struct dia_rig *rig);
void dia_things_free(struct desk *desk);

#endif
