/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_ONEWIRE_H
#define DIACHROME_ONEWIRE_H

#include <stdint.h>

#include "linkage.h"
#include "part.h"
#include "port.h"
#include "status.h"

DIA_BEGIN

/*
 * The encoder for one-wire pixels: sends drive bytes and keeps the latch gap, without blocking.
 * Programs use a strip (strip.h), which has one of these inside.
 *
 *   dia_onewire_init(&line, port, 17, &dia_ws2812b);
 *   bytes are in the order of the part: see dia_develop_order
 *   while (dia_onewire_start(&line, bytes, n) == DIA_BUSY) ... do something else
 *   while (dia_onewire_poll(&line) == DIA_BUSY) ...            the bytes are in use until here
 *
 * The latch gap counts from the end of sending. Where nobody asked when that was, it counts as
 * 24 us a byte after the start, which is longer than any part takes.
 *
 * Cost: starting and polling take some hundred cycles, whatever the length, where the port sends
 * by itself; on a port that does not, starting takes as long as the wire.
 * Context: main loop only, as the drivers that have one inside.
 */
struct dia_onewire {
    struct dia_port *port;
    const DIA_ROM struct dia_pixel_part *part;
    uint32_t end_us; /* private: when the line rests, at the latest */
    uint8_t pin;
    uint8_t state; /* private */
};

/* Puts the pin low; the first frame may start a latch gap later. Errors as port pin_write;
 * DIA_UNSUPPORTED when the port has no pulses or the part has a clock line. */
enum dia_status dia_onewire_init(struct dia_onewire *line, struct dia_port *port, uint8_t pin,
                                 const DIA_ROM struct dia_pixel_part *part);

/* Starts a frame of n bytes in wire order. DIA_BUSY while the frame before or its latch gap
 * lasts; other errors as port pulse_start. */
enum dia_status dia_onewire_start(struct dia_onewire *line, const uint8_t *bytes, uint32_t n);

/* DIA_BUSY while a frame or its latch gap lasts, then DIA_OK: the pixels show it and the bytes
 * are the caller's again. Once, another error of the port when it broke the frame off. */
enum dia_status dia_onewire_poll(struct dia_onewire *line);

/* 1: bytes are on the wire. 0: it rests, though its latch gap may still be to come. */
uint8_t dia_onewire_is_sending(const struct dia_onewire *line);

/* After DIA_BUSY: how many us it takes at least until it is worth asking again. */
uint32_t dia_onewire_again_us(const struct dia_onewire *line);

/* Time on the wire of n bytes without the latch gap, in nanoseconds at nominal pulses; the
 * longest there can be (all bits of the longer kind). */
uint64_t dia_onewire_wire_ns(const DIA_ROM struct dia_pixel_part *part, uint32_t n);

DIA_END

#endif
