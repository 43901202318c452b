/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_GROUP_H
#define DIACHROME_GROUP_H

#include "linkage.h"
#include "parallel.h"
#include "strip.h"

DIA_BEGIN

/*
 * A group: one-wire strips on up to 16 neighbouring pins, sent at once in the time of the longest.
 * Each lane is a strip like any other.
 *
 *   static uint8_t planes[DIA_PLANES_BYTES(3, 3 * 48)];       3 lanes, the longest of 48 pixels
 *   dia_group_init(&group, port, 16, 3, &dia_ws2812b, planes, 3 * 48);
 *   dia_strip_init_lane(&strip[0], &group, 0, &dia_ws2812b, pixels[0], memory[0], 48); ...
 *   for each lane: dia_driver_show(&strip[k].driver);
 *   for each lane: dia_driver_wait(&strip[k].driver);         all go out with the first poll
 *
 * Polling: sending begins with the first poll of any lane; all that have been shown by then go
 *          together. Those that have not rest, and show what they showed.
 * Memory:  the planes, yours, for as long as the group lives; and that of each strip.
 * Cost:    to show is to develop each lane; then the planes, 1,200 cycles for a byte of each of
 *          eight lanes on an ATmega328P. The wire takes the time of the longest lane.
 *
 * Context: as driver.h says.
 */
struct dia_group {
    struct dia_parallel line; /* private, as all below */
    uint8_t *planes;
    uint32_t longest;                            /* bytes of the longest lane */
    struct dia_strip *strips[DIA_PARALLEL_MOST]; /* by lane; NULL: nothing there */
    uint16_t waiting, sending, failed;           /* a bit for each lane */
};

/* longest: bytes of the longest lane, its pixels times the part's channels. planes has
 * DIA_PLANES_BYTES(width, longest). Errors as dia_parallel_init; DIA_BAD_VALUE also for a longest
 * of 0. */
enum dia_status dia_group_init(struct dia_group *group, struct dia_port *port, uint8_t first_pin,
                               uint8_t width, const DIA_ROM struct dia_pixel_part *part,
                               uint8_t *planes, uint32_t longest);

/* The strip on a lane, 0 for the first pin. The part has the timing of the group's; its colour
 * order, length and supply are its own. DIA_BAD_VALUE: no such lane, one that is taken, or longer
 * than the longest. */
enum dia_status dia_strip_init_lane(struct dia_strip *strip, struct dia_group *group, uint8_t lane,
                                    const DIA_ROM struct dia_pixel_part *part,
                                    struct dia_rgb *pixels, uint8_t *memory, uint16_t count);

/* 1: what was shown on a lane is not on the wire yet; 0 too for a lane that is not there. */
uint8_t dia_group_is_waiting(const struct dia_group *group, uint8_t lane);

DIA_END

#endif
