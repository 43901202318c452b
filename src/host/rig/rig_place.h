/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_PLACE_H
#define DIA_HOST_RIG_PLACE_H

#include <diachrome/picture.h>
#include <diachrome/rig.h>

/* The lamps of a device as they lie: dots in a grid, segments of digits each where it is, others in
 * a line. What the surface is made of is kept here. */
struct rig_device_lying {
    struct dia_surface surface;
    struct dia_grid grid;
    struct dia_places places;
    struct dia_point points[DIA_RIG_LAMPS];
};
enum dia_status dia_rig_lie_dots(const struct dia_rig_device *device,
                                 struct rig_device_lying *lying);
enum dia_status dia_rig_lie_segments(const struct dia_rig_device *device,
                                     struct rig_device_lying *lying);

/* From places of a surface to those of the desk: where its upper left corner is, and how it is
 * turned. */
struct rig_place {
    struct dia_rig_at at;
    int32_t left_um, top_um, width_um, height_um; /* of the surface, unturned */
};
void dia_rig_place(struct rig_place *place, const struct dia_rig_at *at,
                   const struct dia_surface *surface);
struct dia_point dia_rig_place_point(const struct rig_place *place, struct dia_point point);

/* What n elements reach over, from the first; on the desk, where place is not NULL. */
struct dia_rectangle dia_rig_reach(const struct dia_surface *surface, uint32_t first, uint32_t n,
                                   const struct rig_place *place);

/* The same of all of a lane or device on the desk. DIA_BAD_VALUE: nobody says where it is. */
enum dia_status dia_rig_reach_of(const struct dia_rig *rig, uint8_t is_device, uint32_t number,
                                 uint32_t first, uint32_t n, struct dia_rectangle *reach);

/* The smallest that holds both. */
struct dia_rectangle dia_rectangle_both(const struct dia_rectangle *a,
                                        const struct dia_rectangle *b);

#endif
