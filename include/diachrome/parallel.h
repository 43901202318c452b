/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PARALLEL_H
#define DIACHROME_PARALLEL_H

#include <stdint.h>

#include "linkage.h"
#include "part.h"
#include "port.h"
#include "status.h"

DIA_BEGIN

/*
 * Several one-wire lanes at once, for controllers that can set 8 or 16 neighbouring pins together.
 * The lanes have one part's timing, but each its own length and colour order; the wire time is
 * that of the longest.
 *
 *   dia_parallel_init(&group, port, 16, 8, &dia_ws2812b);            pins 16..23
 *   dia_planes_make(planes, 8, lanes, lengths);                      drive bytes in wire order
 *   while (dia_parallel_start(&group, planes, lengths) == DIA_BUSY) ...
 *   while (dia_parallel_poll(&group) == DIA_BUSY) ...                planes are in use until here
 *
 * Cost: making planes takes 1,200 cycles for a byte of each of eight lanes on an ATmega328P;
 * starting and polling as of dia_onewire. Context: main loop only, as the drivers that have one
 * inside.
 */
#define DIA_PARALLEL_MOST 16

/* Bytes of the planes of `width` lanes, the longest of them `longest` bytes long. */
#define DIA_PLANES_BYTES(width, longest) ((longest)*8u * ((width) > 8 ? 2u : 1u))

/*
 * Turns the bytes of the lanes into planes: one for each bit in the order in which it is sent,
 * with bit k for lane k; 8 lanes to a byte, up to 16 to two (lanes 0..7 first). lanes and lengths
 * (bytes) have `width` entries, 1..16; a lane that has ended has zeros. planes has room for
 * DIA_PLANES_BYTES.
 */
void dia_planes_make(uint8_t *planes, uint8_t width, const uint8_t *const *lanes,
                     const uint32_t *lengths);

struct dia_parallel {
    struct dia_port *port;
    const DIA_ROM struct dia_pixel_part *part;
    uint32_t
        end_us; /* private, as the next: when the lines rest, at the latest and at the soonest */
    uint32_t soonest_us;
    uint8_t first_pin;
    uint8_t width;
    uint8_t state; /* private */
};

/* Puts the pins low. DIA_BAD_VALUE: width is not 1..16, or there are no such pins;
 * DIA_UNSUPPORTED: the port cannot set pins together, or the part has a clock line. */
enum dia_status dia_parallel_init(struct dia_parallel *group, struct dia_port *port,
                                  uint8_t first_pin, uint8_t width,
                                  const DIA_ROM struct dia_pixel_part *part);

/* Starts a frame on all lanes; lengths in bytes, 0 for a lane that rests. DIA_BUSY while the frame
 * before or its latch gap lasts; other errors as port planes_start. */
enum dia_status dia_parallel_start(struct dia_parallel *group, const uint8_t *planes,
                                   const uint32_t *lengths);

/* As dia_onewire_poll, for all lanes together. */
enum dia_status dia_parallel_poll(struct dia_parallel *group);

/* After DIA_BUSY: how many us it takes at least until it is worth asking again. */
uint32_t dia_parallel_again_us(const struct dia_parallel *group);

DIA_END

#endif
