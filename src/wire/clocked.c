/* SPDX-License-Identifier: MIT */
#include <diachrome/clocked.h>
#include <diachrome/onewire.h>

#include "gap.h"

/* A frame goes out in stages; in each, `left` bytes are still to be started. */
enum { SHOWN, BEFORE, PIXELS, AFTER, RESTING };

static const uint8_t zeros[8];

static uint8_t has_level(uint8_t framing)
{
    return framing == DIA_FRAME_LEVEL || framing == DIA_FRAME_LEVEL_LATCH;
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
    line->left = 0;
    line->state = RESTING;
    line->end_us = port->ops->now_us(port);
    return DIA_OK;
}

enum dia_status dia_clocked_start(struct dia_clocked *line, const uint8_t *bytes, uint32_t count)
{
    enum dia_status status = dia_clocked_poll(line);
    if (status != DIA_OK)
        return status;
    uint8_t framing = line->part->clock.framing, before = has_level(framing);
    const uint8_t *first = before ? zeros : bytes;
    uint32_t n = before ? 4 : count * line->part->channels->count;
    if (count == 0)
        return DIA_BAD_VALUE;
    status = line->port->ops->spi_start(line->port, line->bus, line->clock_hz, first, n);
    if (status != DIA_OK)
        return status;
    line->state = before ? BEFORE : PIXELS;
    line->bytes = bytes;
    line->left = before ? count * line->part->channels->count : 0;
    line->after = zeros_after(framing, count);
    return DIA_OK;
}

/* Starts what comes next; 0 when there is nothing more. */
static uint8_t go_on(struct dia_clocked *line, enum dia_status *status)
{
    const uint8_t *bytes = zeros;
    uint32_t n;
    if (line->state == BEFORE) {
        bytes = line->bytes;
        n = line->left;
        line->state = PIXELS;
    } else {
        n = line->after < sizeof zeros ? line->after : (uint32_t)sizeof zeros;
        line->after -= n;
        line->state = AFTER;
    }
    if (n == 0)
        return 0;
    *status = line->port->ops->spi_start(line->port, line->bus, line->clock_hz, bytes, n);
    return 1;
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
    return (has_level(framing) ? 4u : 0u) + count * part->channels->count +
           zeros_after(framing, count);
}
