/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CLOCKED_H
#define DIACHROME_CLOCKED_H

#include <stdint.h>

#include "linkage.h"
#include "part.h"
#include "port.h"
#include "status.h"

DIA_BEGIN

/*
 * The encoder for pixels with a clock line, on an SPI bus of the port. Used as dia_onewire; what a
 * frame needs before and after the pixels (32 zero bits, clocks for the last pixels, zero bytes,
 * a rest of the clock) is added here and takes none of the caller's memory. Programs use a strip
 * (strip.h), which has one of these inside.
 *
 *   dia_clocked_init(&line, port, 0, &dia_apa102, 4000000);
 *   bytes are in the order of the part, with its mark: see dia_develop_order, dia_clocked_mark
 *   while (dia_clocked_start(&line, bytes, count) == DIA_BUSY) ... do something else
 *   while (dia_clocked_poll(&line) == DIA_BUSY) ...             keeps it going: call it often
 *
 * The bus is claimed for the whole frame. Pixels have no select: whatever else is sent on their
 * two wires they take for colours, so give them a bus of their own, or one gated by a select.
 *
 * Cost: starting and polling take some hundred cycles, whatever the length; the port sends.
 * Context: main loop only, as the drivers that have one inside.
 */
struct dia_clocked {
    struct dia_port *port;
    const DIA_ROM struct dia_pixel_part *part;
    const uint8_t *bytes;
    uint32_t clock_hz;
    uint32_t count;  /* private, as all below: pixels of the frame */
    uint32_t zeros;  /* zero bytes still to go before or after them */
    uint32_t end_us; /* when the line was first known to rest, or will rest at the soonest */
    uint8_t bus;
    uint8_t state;
};

/* The clock must be 1 Hz to the part's highest, else DIA_BAD_VALUE. DIA_UNSUPPORTED when the port
 * has no SPI or the part is none with a clock. */
enum dia_status dia_clocked_init(struct dia_clocked *line, struct dia_port *port, uint8_t bus,
                                 const DIA_ROM struct dia_pixel_part *part, uint32_t clock_hz);

/* Starts a frame of count pixels (1 or more) in wire order. DIA_BUSY while the frame before
 * lasts; other errors as port spi_start. */
enum dia_status dia_clocked_start(struct dia_clocked *line, const uint8_t *bytes, uint32_t count);

/*
 * The same for a frame that has its zero bytes in memory, before and after the pixels: n is
 * dia_clocked_bytes(part, count), the pixels begin at dia_clocked_lead(part, count), and all else
 * is 0. It goes out in one piece, so that nobody need poll while it does.
 */
enum dia_status dia_clocked_start_whole(struct dia_clocked *line, const uint8_t *bytes, uint32_t n);

/* Goes on with the frame. DIA_BUSY until it shows and the next may start, then DIA_OK and the
 * bytes are the caller's again. Between two calls the clock may rest. Only
 * the WS2801 would take that for the end of the frame, so its frame is sent in one piece. */
enum dia_status dia_clocked_poll(struct dia_clocked *line);

/* As of dia_onewire. */
uint8_t dia_clocked_is_sending(const struct dia_clocked *line);
uint32_t dia_clocked_again_us(const struct dia_clocked *line);

/* The bits that a part wants set in its bytes: 111 before a level, one before 7 bits; 0 for none.
 * For dia_develop's field of that name. */
uint8_t dia_clocked_mark(const DIA_ROM struct dia_pixel_part *part);

/* Bytes on the wire of a frame of count pixels, all included; and those before the pixels. */
uint32_t dia_clocked_bytes(const DIA_ROM struct dia_pixel_part *part, uint32_t count);
uint32_t dia_clocked_lead(const DIA_ROM struct dia_pixel_part *part, uint32_t count);

/* At least that many, for arrays: whatever the part. */
#define DIA_CLOCKED_BYTES(channels, count)                                                         \
    ((uint32_t)(channels) * (count) + 8u + 2u * (((uint32_t)(count) + 15u) / 16u))

DIA_END

#endif
