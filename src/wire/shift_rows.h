/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_SHIFT_ROWS_H
#define DIA_WIRE_SHIFT_ROWS_H

#include <diachrome/shift.h>

/* What lamps and digits on a chain have in common: rows of bits are sent and latched by ticks. */

/* The bits of all chips and a little time for the tick itself, in us. */
uint32_t dia_shift_us(const struct dia_shift_setup *setup);

/* Bytes of a frame. */
uint32_t dia_shift_plane_bytes(const struct dia_shift *shift);

/* The rows of the drawing into a frame; NULL: both frames become dark. */
typedef void dia_shift_develop(struct dia_shift *shift, uint8_t *plane);

/* All of an init. Nothing is changed when it fails. */
enum dia_status dia_shift_begin(struct dia_shift *shift, struct dia_port *port,
                                const struct dia_shift_setup *setup,
                                const struct dia_shift_digits *digits, dia_shift_develop *develop,
                                const DIA_ROM struct dia_driver_ops *of, uint8_t *drawing,
                                uint32_t drawing_bytes, uint8_t *memory);

enum dia_status dia_shift_show(struct dia_driver *driver);
enum dia_status dia_shift_poll(struct dia_driver *driver, uint32_t *again_us);
uint16_t dia_shift_tick(struct dia_driver *driver);
enum dia_status dia_shift_dark(struct dia_driver *driver);
void dia_shift_refresh(struct dia_driver *driver);
void dia_shift_about(const struct dia_driver *driver, struct dia_about *about);

#endif
