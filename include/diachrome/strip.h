/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_STRIP_H
#define DIACHROME_STRIP_H

#include <stdint.h>

#include "develop.h"
#include "frame.h"
#include "onewire.h"
#include "power.h"

/*
 * A strip of one-wire pixels with a supply of its own, in one buffer: draw into strip.frame, then
 * show it. Showing turns the colours into drive bytes in place, so draw the whole frame anew
 * before showing the next.
 *
 * Memory: DIA_STRIP_BYTES(&part's channels, count) bytes owned by the caller, for as long as the
 * strip is used, and sizeof(struct dia_strip).
 */
struct dia_strip {
    struct dia_frame frame; /* draw here */
    struct dia_develop develop;
    struct dia_onewire line;
    struct dia_order order;
    uint8_t *bytes;
    uint32_t supply_ua; /* 0: no limiter */
    uint32_t reserve_ua;
    uint32_t slot; /* frames shown so far: the number of the next frame for dithering */
};

#define DIA_STRIP_BYTES(channels, count) ((uint32_t)(channels) * (count))

/* Dark, full master, no limiter. count is 1 or more. Errors as dia_onewire_init. */
enum dia_status dia_strip_init(struct dia_strip *strip, struct dia_port *port, uint8_t pin,
                               const DIA_ROM struct dia_pixel_part *part, void *memory,
                               uint16_t count);

/* Keeps the strip inside supply_ma less reserve_ma (kept for the controller), milliamperes. */
void dia_strip_supply(struct dia_strip *strip, uint16_t supply_ma, uint16_t reserve_ma);

/* Develops strip.frame and starts to send it. DIA_BUSY while the frame before lasts (nothing is
 * changed then); other errors as dia_onewire_start. */
enum dia_status dia_strip_show(struct dia_strip *strip);

/* As dia_onewire_poll: DIA_OK when the frame is shown and strip.frame may be drawn again. */
enum dia_status dia_strip_poll(struct dia_strip *strip);

/* Polls until the frame is shown. */
enum dia_status dia_strip_wait(struct dia_strip *strip);

/* Shows black, and waits for it: how a program leaves its strip. Errors as dia_strip_show. */
enum dia_status dia_strip_dark(struct dia_strip *strip);

#endif
