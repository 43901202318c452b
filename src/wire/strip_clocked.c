/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "strip_private.h"

static enum dia_status poll(struct dia_strip *strip)
{
    return dia_clocked_poll(&strip->line.clocked);
}

static uint8_t is_sending(const struct dia_strip *strip)
{
    return dia_clocked_is_sending(&strip->line.clocked);
}

static uint32_t again_us(const struct dia_strip *strip)
{
    return dia_clocked_again_us(&strip->line.clocked);
}

static enum dia_status begin(struct dia_strip *strip)
{
    return dia_clocked_start_whole(&strip->line.clocked, strip->whole,
                                   dia_clocked_bytes(strip->part, strip->frame.count));
}

static void about(const struct dia_strip *strip, struct dia_about *about)
{
    const struct dia_clocked *line = &strip->line.clocked;
    uint32_t bytes = dia_clocked_bytes(strip->part, strip->frame.count);
    uint32_t khz = line->clock_hz / 1000u;
    about->private_bytes = bytes;
    /* at half the clock asked for, in whole ms */
    about->worst_us = (bytes * 16u / (khz ? khz : 1u) + 1u) * 1000u + strip->part->clock.latch_us;
    about->route = DIA_ON_SPI;
    about->bus = line->bus;
}

static const DIA_ROM struct strip_line line = {poll, is_sending, again_us, begin, about};

enum dia_status dia_strip_init_clocked(struct dia_strip *strip, struct dia_port *port, uint8_t bus,
                                       const DIA_ROM struct dia_pixel_part *part, uint32_t clock_hz,
                                       struct dia_rgb *pixels, uint8_t *memory, uint16_t count)
{
    if (count == 0)
        return DIA_BAD_VALUE;
    enum dia_status status = dia_clocked_init(&strip->line.clocked, port, bus, part, clock_hz);
    if (status != DIA_OK)
        return status;
    memset(memory, 0, (size_t)dia_clocked_bytes(part, count)); /* before and behind it stays so */
    dia_strip_begin(strip, &line, port, part, pixels, memory + dia_clocked_lead(part, count),
                    count);
    strip->develop.mark = dia_clocked_mark(part);
    strip->whole = memory;
    return DIA_OK;
}
