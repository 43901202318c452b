/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_INPLACE_STRIP_H
#define DIACHROME_INPLACE_STRIP_H

#include <stdint.h>

#include "develop.h"
#include "frame.h"
#include "linkage.h"
#include "onewire.h"
#include "power.h"

DIA_BEGIN

/*
 * A strip in one buffer: SHOWING USES UP THE FRAME. Colours become drive bytes in place, so draw
 * every pixel anew before the next show. For controllers whose RAM does not hold the pixels twice;
 * all others use a strip (strip.h), which keeps its drawing.
 *
 *   static uint8_t memory[DIA_INPLACE_STRIP_BYTES(3, 48)];
 *   dia_inplace_strip_init(&strip, port, 17, &dia_ws2812b, memory, 48);
 *   dia_inplace_strip_wait(&strip);                until the pixels show the frame before
 *   ... draw all of strip.frame.pixels
 *   dia_inplace_strip_show(&strip);
 *
 * Cost: as a strip, and 41 cycles a pixel more on an ATmega328P where the part's order is not r g
 * b.
 * Context: main loop only.
 */
struct dia_inplace_strip {
    struct dia_frame frame; /* draw here, when nothing is being sent */
    struct dia_develop develop;
    struct dia_onewire line; /* private */
    uint8_t *bytes;          /* private */
    uint32_t given_ua;       /* what the supply has for it, uA; DIA_NO_LIMIT */
    uint8_t slot;            /* frames shown so far, for dithering; wraps */
};

#define DIA_INPLACE_STRIP_BYTES(channels, count) ((uint32_t)(channels) * (count))

/* Dark, full master, no limiter. count is 1 or more. memory has DIA_INPLACE_STRIP_BYTES(part's
 * channels, count) and is cleared. Errors as dia_onewire_init. */
enum dia_status dia_inplace_strip_init(struct dia_inplace_strip *strip, struct dia_port *port,
                                       uint8_t pin, const DIA_ROM struct dia_pixel_part *part,
                                       void *memory, uint16_t count);

/* Keeps the strip inside supply_ma less reserve_ma (kept for the controller), milliamperes. */
void dia_inplace_strip_supply(struct dia_inplace_strip *strip, uint16_t supply_ma,
                              uint16_t reserve_ma);

/*
 * Uses up strip.frame and starts to send it. Waits until the frame before is shown; but wait before
 * you draw, since a drawing goes over the bytes that are being sent. DIA_PORT_FAILED: the frame
 * before was broken off, and this one is not used up; show it again. Other errors as
 * dia_onewire_start; the frame is used up then.
 */
enum dia_status dia_inplace_strip_show(struct dia_inplace_strip *strip);

/* As dia_onewire_poll: DIA_OK when the frame is shown and strip.frame may be drawn again. */
enum dia_status dia_inplace_strip_poll(struct dia_inplace_strip *strip);

/* Polls until the frame is shown. */
enum dia_status dia_inplace_strip_wait(struct dia_inplace_strip *strip);

/* Shows black, and waits for it: how a program leaves its strip. Errors as _show. */
enum dia_status dia_inplace_strip_dark(struct dia_inplace_strip *strip);

DIA_END

#endif
