/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_STRIP_PRIVATE_H
#define DIA_WIRE_STRIP_PRIVATE_H

#include <diachrome/strip.h>

/* What both kinds of strips do; each has a file of its own, so that a program links only what it
 * uses. */
static inline struct dia_strip *strip_of(struct dia_driver *driver)
{
    return (struct dia_strip *)driver;
}

/* All that init does when the line is there. */
void strip_begin(struct dia_strip *strip, const DIA_ROM struct dia_driver_ops *ops,
                 struct dia_port *port, const DIA_ROM struct dia_pixel_part *part,
                 struct dia_rgb *pixels, uint8_t *memory, uint16_t count);

/* Develops the drawing into the bytes, r g b (w). */
void strip_bytes(struct dia_strip *strip, const DIA_ROM struct dia_pixel_part *part);

/* Shows with a master of 0, trying until it is taken and shown, for as long as the driver may. */
enum dia_status strip_dark(struct dia_driver *driver);

/* All frames are sent whole: nothing to do. */
void strip_refresh(struct dia_driver *driver);

/* What all strips say of themselves. */
void strip_about(const struct dia_strip *strip, struct dia_about *about);

#endif
