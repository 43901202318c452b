/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/inplace_strip.h>

#include "onewire_private.h"
#include "strip_develop.h"

enum dia_status dia_inplace_strip_init(struct dia_inplace_strip *strip, struct dia_port *port,
                                       uint8_t pin, const DIA_ROM struct dia_pixel_part *part,
                                       void *memory, uint16_t count)
{
    if (count == 0)
        return DIA_BAD_VALUE;
    uint8_t channels = part->channels->count;
    dia_develop_init(&strip->develop, part->channels);
    enum dia_status status = dia_onewire_init(&strip->line, port, pin, part);
    if (status != DIA_OK)
        return status;
    dia_develop_order(&strip->develop, part->order);
    strip->bytes = (uint8_t *)memory;
    memset(memory, 0, (size_t)DIA_INPLACE_STRIP_BYTES(channels, count));
    /* the colours lie at the end, where develop can overtake them without harm */
    strip->frame.pixels = (struct dia_rgb *)(void *)(strip->bytes + (channels - 3u) * count);
    strip->frame.count = count;
    strip->given_ua = DIA_NO_LIMIT;
    strip->slot = 0;
    return DIA_OK;
}

void dia_inplace_strip_supply(struct dia_inplace_strip *strip, uint16_t supply_ma,
                              uint16_t reserve_ma)
{
    strip->given_ua = supply_ma > reserve_ma ? (uint32_t)(supply_ma - reserve_ma) * 1000u : 0;
}

enum dia_status dia_inplace_strip_show(struct dia_inplace_strip *strip)
{
    enum dia_status status = dia_inplace_strip_wait(strip);
    if (status != DIA_OK)
        return status;
    uint8_t channels = strip->develop.channels->count;
    uint16_t count = (uint16_t)strip->frame.count;
    strip_develop(&strip->develop, strip->line.part, strip->given_ua, DIA_SHARE_ONE, strip->slot,
                  strip->frame.pixels, count, strip->bytes, 0);
    strip->slot++;
    return dia_onewire_begin(&strip->line, strip->bytes, DIA_INPLACE_STRIP_BYTES(channels, count));
}

enum dia_status dia_inplace_strip_poll(struct dia_inplace_strip *strip)
{
    return dia_onewire_poll(&strip->line);
}

enum dia_status dia_inplace_strip_wait(struct dia_inplace_strip *strip)
{
    enum dia_status status;
    do {
        status = dia_onewire_poll(&strip->line);
    } while (status == DIA_BUSY);
    return status;
}

enum dia_status dia_inplace_strip_dark(struct dia_inplace_strip *strip)
{
    static const DIA_ROM struct dia_rgb black = {0, 0, 0};
    dia_inplace_strip_wait(strip); /* a frame that was broken off does not keep it lit */
    dia_frame_fill(&strip->frame, black);
    enum dia_status status = dia_inplace_strip_show(strip);
    return status == DIA_OK ? dia_inplace_strip_wait(strip) : status;
}
