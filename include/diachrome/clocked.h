/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CLOCKED_H
#define DIACHROME_CLOCKED_H

#include <stdint.h>

#include "part.h"
#include "port.h"
#include "status.h"

/*
 * The encoder for pixels with a clock line, on an SPI bus of the port. Used as dia_onewire; what a
 * frame needs before and after the pixels (32 zero bits, clocks for the last pixels, zero bytes,
 * a rest of the clock) is added here and takes none of the caller's memory.
 *
 *   dia_clocked_init(&line, port, 0, &dia_apa102, 4000000);
 *   dia_clocked_arrange(&dia_apa102, dia_apa102.order, bytes, count);
 *   while (dia_clocked_start(&line, bytes, count) == DIA_BUSY) ... do something else
 *   while (dia_clocked_poll(&line) == DIA_BUSY) ...             keeps it going: call it often
 */
struct dia_clocked {
    struct dia_port *port;
    const DIA_ROM struct dia_pixel_part *part;
    const uint8_t *bytes;
    uint32_t clock_hz;
    uint32_t count;  /* private: pixels of the frame */
    uint32_t zeros;  /* private: zero bytes still to go before or after them */
    uint32_t end_us; /* private */
    uint8_t bus;
    uint8_t state; /* private */
};

/* The clock must be 1 Hz to the part's highest, else DIA_BAD_VALUE. DIA_UNSUPPORTED when the port
 * has no SPI or the part is none with a clock. */
enum dia_status dia_clocked_init(struct dia_clocked *line, struct dia_port *port, uint8_t bus,
                                 const DIA_ROM struct dia_pixel_part *part, uint32_t clock_hz);

/* Starts a frame of count pixels (1 or more) in wire order. DIA_BUSY while the frame before
 * lasts; other errors as port spi_start. */
enum dia_status dia_clocked_start(struct dia_clocked *line, const uint8_t *bytes, uint32_t count);

/* Goes on with the frame. DIA_BUSY until it shows and the next may start, then DIA_OK and the
 * bytes are the caller's again. Between two calls the clock may rest, which no part minds but
 * the WS2801; that gets its frame in one piece. */
enum dia_status dia_clocked_poll(struct dia_clocked *line);

/* Puts count pixels of drive bytes into wire order, in place, with the marks the part wants in
 * them (111 before a level, a set bit before 7 bits). */
void dia_clocked_arrange(const DIA_ROM struct dia_pixel_part *part, struct dia_order order,
                         uint8_t *bytes, uint32_t count);

/* Bytes on the wire of a frame of count pixels, all included. */
uint32_t dia_clocked_bytes(const DIA_ROM struct dia_pixel_part *part, uint32_t count);

#endif
