/* SPDX-License-Identifier: MIT */
#include <diachrome/clocked.h>
#include <diachrome/onewire.h>

#include "gap.h"

/* A frame goes out in stages: zero bytes, the pixels in one piece, zero bytes. */
enum { SHOWN, BEFORE, PIXELS, AFTER, RESTING };

static const uint8_t zeros[8];

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
    line->state = RESTING;
    line->end_us = port->ops->now_us(port);
    return DIA_OK;
}

/* Starts what comes next; 0 when there is nothing more. */
static uint8_t go_on(struct dia_clocked *line, enum dia_status *status)
{
    const DIA_ROM struct dia_pixel_part *part = line->part;
    const uint8_t *bytes = zeros;
    uint32_t n = line->zeros < sizeof zeros ? line->zeros : (uint32_t)sizeof zeros;
    if (n == 0 && line->state == BEFORE) {
        bytes = line->bytes;
        n = line->count * part->channels->count;
        line->state = PIXELS;
    } else if (n == 0 && line->state == PIXELS) {
        line->zeros = zeros_after(part->clock.framing, line->count);
        line->state = AFTER;
        n = line->zeros < sizeof zeros ? line->zeros : (uint32_t)sizeof zeros;
    }
    if (n == 0)
        return 0;
    if (bytes == zeros)
        line->zeros -= n;
    *status = line->port->ops->spi_start(line->port, line->bus, line->clock_hz, bytes, n);
    return 1;
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
    go_on(line, &status);
    if (status != DIA_OK)
        line->state = SHOWN; /* nothing has begun */
    return status;
}

enum dia_status dia_clocked_poll(struct dia_clocked *line)
{
    const DIA_ROM struct dia_port_ops *ops = line->port->ops;
    enum dia_status status = DIA_OK;
    if (line->state == SHOWN)
        return DIA_OK;
    if (line->state != RESTING) {
        status = ops->spi_poll(line->port, line->bus);
        if (status == DIA_OK && go_on(line, &status))
            return status == DIA_OK ? DIA_BUSY : status;
        if (status == DIA_BUSY)
            return DIA_BUSY;
        line->state = RESTING;
        line->end_us = ops->now_us(line->port);
        if (status != DIA_OK)
            return status;
    }
    uint16_t latch_us = line->part->clock.latch_us;
    if (latch_us != 0 && !gap_is_over(line->port, line->end_us, latch_us))
        return DIA_BUSY;
    line->state = SHOWN;
    return DIA_OK;
}

void dia_clocked_arrange(const DIA_ROM struct dia_pixel_part *part, struct dia_order order,
                         uint8_t *bytes, uint32_t count)
{
    uint8_t channels = part->channels->count, framing = part->clock.framing;
    dia_onewire_arrange(bytes, count, channels, order);
    if (has_level(framing)) {
        for (; count != 0; count--, bytes += 4)
            *bytes |= 0xe0;
    } else if (framing == DIA_FRAME_SEVEN) {
        for (count *= 3; count != 0; count--)
            *bytes++ |= 0x80;
    }
}

uint32_t dia_clocked_bytes(const DIA_ROM struct dia_pixel_part *part, uint32_t count)
{
    uint8_t framing = part->clock.framing;
    return zeros_before(framing, count) + count * part->channels->count +
           zeros_after(framing, count);
}
