/* SPDX-License-Identifier: MIT */
#include <diachrome/clocked.h>
#include <diachrome/onewire.h>

#include "gap.h"

/* A frame goes out in stages: zero bytes, the pixels in one piece, zero bytes. */
enum { SHOWN, BEFORE, PIXELS, AFTER, RESTING };

static const uint8_t zeros[8] = {0};

#define PIXELS_SENT UINT32_MAX /* in place of zero bytes: the pixels are on the wire */

static uint8_t has_level(uint8_t framing)
{
    return framing == DIA_FRAME_LEVEL || framing == DIA_FRAME_LEVEL_LATCH;
}

/* Zero bytes before the pixels: 32 bits for parts with a level. 7-bit parts have had theirs behind
 * the frame before, but nothing tells what they took in while the controller started. */
static uint32_t zeros_before(uint8_t framing, uint32_t count)
{
    return has_level(framing) ? 4 : framing == DIA_FRAME_SEVEN ? (count + 31) / 32 : 0;
}

/*
 * Zero bytes after the pixels. Parts with a level hand each bit on half a clock late, so the last
 * pixel of n wants n / 2 more clocks; one that latches wants its 32 zero bits to come through
 * too. 7-bit parts want a zero byte for each 32 pixels begun.
 */
static uint32_t zeros_after(uint8_t framing, uint32_t count)
{
    uint32_t clocks = (count + 15) / 16;
    switch (framing) {
    case DIA_FRAME_LEVEL:
        return clocks;
    case DIA_FRAME_LEVEL_LATCH:
        return 4 + clocks;
    case DIA_FRAME_SEVEN:
        return (count + 31) / 32;
    default:
        return 0;
    }
}

enum dia_status dia_clocked_init(struct dia_clocked *line, struct dia_port *port, uint8_t bus,
                                 const DIA_ROM struct dia_pixel_part *part, uint32_t clock_hz)
{
    if (part->family != DIA_CLOCKED || !port->ops->spi_start || !port->ops->spi_poll)
        return DIA_UNSUPPORTED;
    if (clock_hz == 0 || clock_hz > part->clock.max_hz)
        return DIA_BAD_VALUE;
    line->port = port;
    line->part = part;
    line->bus = bus;
    line->clock_hz = clock_hz;
    line->bytes = zeros;
    line->count = line->zeros = 0;
    line->state = RESTING;
    line->end_us = port->ops->now_us(port);
    return DIA_OK;
}

/* Zero bytes of the stage that go next, in pieces. */
static uint32_t piece(uint32_t left)
{
    return left < sizeof zeros ? left : (uint32_t)sizeof zeros;
}

/* On to the next stage that has bytes; RESTING when there is none. */
static void next_stage(struct dia_clocked *line)
{
    const DIA_ROM struct dia_pixel_part *part = line->part;
    if (line->state == BEFORE && line->zeros == 0) {
        line->state = PIXELS;
    } else if (line->state == PIXELS && line->zeros == PIXELS_SENT) {
        line->zeros = zeros_after(part->clock.framing, line->count);
        line->state = AFTER;
    }
    if (line->state == AFTER && line->zeros == 0)
        line->state = RESTING;
}

/* When n bytes have gone out, if the port's clock is as fast as it may be. Down to whole kHz and
 * us: 65,535 pixels at 10 kHz are 2,097 s, which fits. */
static void sends_until(struct dia_clocked *line, uint32_t n)
{
    uint32_t khz = (line->clock_hz + 999u) / 1000u;
    line->end_us =
        line->port->ops->now_us(line->port) + n * 8u / khz * 1000u + n * 8u % khz * 1000u / khz;
}

/* Sends what comes next. DIA_OK: it is on its way, or all has been sent (RESTING). Nothing has
 * changed when the port refuses, so that it can be tried again. */
static enum dia_status go_on(struct dia_clocked *line)
{
    struct dia_port *port = line->port;
    next_stage(line);
    if (line->state == RESTING)
        return DIA_OK;
    uint8_t is_zeros = line->state != PIXELS;
    uint32_t n = is_zeros ? piece(line->zeros) : line->count * line->part->channels->count;
    enum dia_status status =
        port->ops->spi_start(port, line->bus, line->clock_hz, is_zeros ? zeros : line->bytes, n);
    if (status != DIA_OK)
        return status;
    line->zeros = is_zeros ? line->zeros - n : PIXELS_SENT;
    sends_until(line, n);
    return DIA_OK;
}

/* A port may run at a slower clock than it was asked for, so the rest counts from when the end was
 * seen. */
static void rest(struct dia_clocked *line)
{
    line->end_us = line->port->ops->now_us(line->port);
    line->state = RESTING;
    dia_port_release_spi(line->port, line->bus);
}

/* The bus is held from here on, unless the port refuses. */
static enum dia_status begin(struct dia_clocked *line,
                             enum dia_status (*start)(struct dia_clocked *))
{
    if (dia_port_claim_spi(line->port, line->bus) != DIA_OK)
        return DIA_BUSY;
    enum dia_status status = start(line);
    if (status == DIA_BUSY && line->part->clock.latch_us != 0) {
        line->state = AFTER; /* somebody sends: the rest of the clock counts from his end */
        line->zeros = 0;
    } else if (status != DIA_OK) {
        rest(line); /* it may have failed in the middle */
    }
    return status;
}

enum dia_status dia_clocked_start(struct dia_clocked *line, const uint8_t *bytes, uint32_t count)
{
    enum dia_status status = dia_clocked_poll(line);
    if (status != DIA_OK)
        return status;
    if (count == 0)
        return DIA_BAD_VALUE;
    line->bytes = bytes;
    line->count = count;
    line->zeros = zeros_before(line->part->clock.framing, count);
    line->state = BEFORE;
    return begin(line, go_on);
}

static enum dia_status send_whole(struct dia_clocked *line)
{
    enum dia_status status =
        line->port->ops->spi_start(line->port, line->bus, line->clock_hz, line->bytes, line->count);
    if (status == DIA_OK)
        sends_until(line, line->count);
    return status;
}

enum dia_status dia_clocked_start_whole(struct dia_clocked *line, const uint8_t *bytes, uint32_t n)
{
    enum dia_status status = dia_clocked_poll(line);
    if (status != DIA_OK)
        return status;
    line->bytes = bytes;
    line->count = n;
    line->zeros = 0;
    line->state = AFTER; /* nothing comes behind it */
    return begin(line, send_whole);
}

enum dia_status dia_clocked_poll(struct dia_clocked *line)
{
    struct dia_port *port = line->port;
    if (line->state == SHOWN)
        return DIA_OK;
    if (line->state != RESTING) {
        enum dia_status status = port->ops->spi_poll(port, line->bus);
        if (status == DIA_BUSY)
            return DIA_BUSY;
        if (status == DIA_OK)
            status = go_on(line);
        if (status == DIA_BUSY || (status == DIA_OK && line->state != RESTING))
            return DIA_BUSY;
        rest(line);
        if (status != DIA_OK)
            return status;
    }
    uint16_t latch_us = line->part->clock.latch_us;
    if (latch_us != 0 && !gap_is_over(port->ops->now_us(port), line->end_us, latch_us))
        return DIA_BUSY;
    line->state = SHOWN;
    return DIA_OK;
}

uint8_t dia_clocked_is_sending(const struct dia_clocked *line)
{
    return line->state != SHOWN && line->state != RESTING;
}

uint32_t dia_clocked_again_us(const struct dia_clocked *line)
{
    if (dia_clocked_is_sending(line))
        return gap_left_us(line->port, line->end_us);
    return gap_left_us(line->port, line->end_us + line->part->clock.latch_us + 11u);
}

uint8_t dia_clocked_mark(const DIA_ROM struct dia_pixel_part *part)
{
    uint8_t framing = part->clock.framing;
    return has_level(framing) ? 0xe0 : framing == DIA_FRAME_SEVEN ? 0x80 : 0;
}

uint32_t dia_clocked_bytes(const DIA_ROM struct dia_pixel_part *part, uint32_t count)
{
    uint8_t framing = part->clock.framing;
    return zeros_before(framing, count) + count * part->channels->count +
           zeros_after(framing, count);
}

uint32_t dia_clocked_lead(const DIA_ROM struct dia_pixel_part *part, uint32_t count)
{
    return zeros_before(part->clock.framing, count);
}
