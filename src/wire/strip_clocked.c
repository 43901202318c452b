/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "strip_private.h"

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_clocked *line = &strip_of(driver)->line.clocked;
    enum dia_status status = dia_clocked_poll(line);
    *again_us = status == DIA_BUSY ? dia_clocked_again_us(line) : 0;
    return status;
}

/* As of one-wire pixels; only the WS2801 has a rest to wait for. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_strip *strip = strip_of(driver);
    struct dia_clocked *line = &strip->line.clocked;
    enum dia_status status;
    do {
        status = dia_clocked_poll(line);
    } while (status == DIA_BUSY && !dia_clocked_is_sending(line));
    if (status != DIA_OK)
        return status;
    uint32_t count = strip->frame.count;
    strip_bytes(strip, line->part);
    dia_clocked_arrange(line->part, strip->order, strip->bytes, count);
    status = dia_clocked_start_whole(line, strip->whole, dia_clocked_bytes(line->part, count));
    if (status == DIA_OK)
        strip->slot++;
    return status;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_strip *strip = (const struct dia_strip *)driver;
    const struct dia_clocked *line = &strip->line.clocked;
    uint32_t bytes = dia_clocked_bytes(line->part, strip->frame.count),
             khz = line->clock_hz / 1000u;
    strip_about(strip, about);
    about->private_bytes = bytes;
    /* at half the clock asked for, in whole ms */
    about->worst_us = (bytes * 16u / (khz ? khz : 1u) + 1u) * 1000u + line->part->clock.latch_us;
    about->route = DIA_ON_SPI;
    about->bus = line->bus;
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .dark = strip_dark,
    .refresh = strip_refresh,
    .about = about,
};

enum dia_status dia_strip_init_clocked(struct dia_strip *strip, struct dia_port *port, uint8_t bus,
                                       const DIA_ROM struct dia_pixel_part *part, uint32_t clock_hz,
                                       struct dia_rgb *pixels, uint8_t *memory, uint16_t count)
{
    if (count == 0)
        return DIA_BAD_VALUE;
    enum dia_status status = dia_clocked_init(&strip->line.clocked, port, bus, part, clock_hz);
    if (status != DIA_OK)
        return status;
    uint32_t bytes = dia_clocked_bytes(part, count);
    memset(memory, 0, (size_t)bytes); /* what is before and behind the pixels stays so */
    strip_begin(strip, &ops, port, part, pixels, memory + dia_clocked_lead(part, count), count);
    strip->whole = memory;
    return DIA_OK;
}
