/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_STRIP_PRIVATE_H
#define DIA_WIRE_STRIP_PRIVATE_H

#include <diachrome/strip.h>

/* What differs between the lines that a strip may be: one-wire, clocked, a lane of a group. Each
 * has a file of its own, so that a program links only what it uses. */
struct strip_line {
    enum dia_status (*poll)(struct dia_strip *strip); /* of what is on the wire, and its gap */
    uint8_t (*is_sending)(const struct dia_strip *strip);
    uint32_t (*again_us)(const struct dia_strip *strip);
    enum dia_status (*begin)(struct dia_strip *strip); /* sends the bytes; poll has said DIA_OK */
    void (*about)(const struct dia_strip *strip, struct dia_about *about);
};

/* All that init does when the line is there. */
void dia_strip_begin(struct dia_strip *strip, const DIA_ROM struct strip_line *line,
                     struct dia_port *port, const DIA_ROM struct dia_pixel_part *part,
                     struct dia_rgb *pixels, uint8_t *memory, uint16_t count);

#endif
