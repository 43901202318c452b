/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_STRIP_H
#define DIACHROME_STRIP_H

#include <stdint.h>

#include "clocked.h"
#include "develop.h"
#include "driver.h"
#include "frame.h"
#include "linkage.h"
#include "onewire.h"
#include "power.h"

DIA_BEGIN

/*
 * The driver for a strip: any line of pixels, one-wire or clocked, with a supply of its own. For
 * lanes that are sent at once see group.h; for several drivers on one supply, set.h.
 *
 *   static struct dia_rgb pixels[48];
 *   static uint8_t memory[DIA_STRIP_BYTES(3, 48)];
 *   dia_strip_init(&strip, port, 17, &dia_ws2812b, pixels, memory, 48);
 *   dia_strip_supply(&strip, 2000, 100);              2 A, 100 mA of it for the controller
 *   pixels[0] = (struct dia_rgb){255, 160, 40};       the others stay as they are
 *   dia_driver_show_and_wait(&strip.driver);
 *
 * Drawing: the pixels, as sRGB. strip.frame has them too, for functions that want a frame.
 * Waiting: dia_driver_show waits for what is left of the latch gap (50 to 290 us by the part, 510
 *          of a WS2801), never for sending. So draw, show, rest needs no poll, if the rest is
 *          longer than the frame on the wire; else show says DIA_BUSY.
 * Memory:  3 bytes a pixel to draw in, and DIA_STRIP_BYTES (clocked pixels: DIA_CLOCKED_BYTES) for
 *          what goes out. Where that is too much, see inplace_strip.h.
 * Cost:    show takes some 150 cycles a pixel on an ATmega328P, 220 where the limiter or the master
 *          dims it: see docs/architecture.md.
 * White point, curve and dithering: fields of strip.develop, at any time between two shows. Another
 *          order of colours: dia_develop_order(&strip.develop, order). The master is the driver's:
 *          see driver.h for it, and for show, poll, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */
struct dia_group;
struct strip_line;
struct dia_strip {
    struct dia_driver driver;   /* its drawing is the pixels, as bytes */
    struct dia_frame frame;     /* the same, for drawing */
    struct dia_develop develop; /* from colours to drive bytes */
    uint32_t slot;              /* frames shown so far: the number of the next, for dithering */
    uint32_t given_ua;          /* what the supply has for it, uA; DIA_NO_LIMIT */
    uint8_t *bytes;             /* private, as all below: of the pixels, on the wire */
    uint8_t *whole;             /* those of clocked pixels with what is before and behind them */
    uint8_t taken;              /* 1: developed, and not sent yet */
    const DIA_ROM struct strip_line *kind;
    const DIA_ROM struct dia_pixel_part *part;
    union {
        struct dia_onewire onewire;
        struct dia_clocked clocked;
        struct {
            struct dia_group *group;
            uint8_t number;
        } lane;
    } line;
};

#define DIA_STRIP_BYTES(channels, count) ((uint32_t)(channels) * (count))

/*
 * A strip of one-wire pixels on a pin: dark, full master, no limiter. count is 1 to 65535. pixels
 * are cleared. memory has DIA_STRIP_BYTES(part's channels, count). Errors as dia_onewire_init,
 * DIA_BAD_VALUE also for a count of 0.
 */
enum dia_status dia_strip_init(struct dia_strip *strip, struct dia_port *port, uint8_t pin,
                               const DIA_ROM struct dia_pixel_part *part, struct dia_rgb *pixels,
                               uint8_t *memory, uint16_t count);

/* The same of clocked pixels on an SPI bus. memory has DIA_CLOCKED_BYTES(part's channels, count).
 * Errors as dia_clocked_init. */
enum dia_status dia_strip_init_clocked(struct dia_strip *strip, struct dia_port *port, uint8_t bus,
                                       const DIA_ROM struct dia_pixel_part *part, uint32_t clock_hz,
                                       struct dia_rgb *pixels, uint8_t *memory, uint16_t count);

/* Keeps the strip inside supply_ma less reserve_ma (kept for the controller), milliamperes. */
void dia_strip_supply(struct dia_strip *strip, uint16_t supply_ma, uint16_t reserve_ma);

DIA_END

#endif
