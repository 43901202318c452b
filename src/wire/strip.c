/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/strip.h>

enum dia_status dia_strip_init(struct dia_strip *strip, struct dia_port *port, uint8_t pin,
                               const DIA_ROM struct dia_pixel_part *part, void *memory,
                               uint16_t count)
{
    if (count == 0)
        return DIA_BAD_VALUE;
    uint8_t channels = part->channels->count;
    dia_develop_init(&strip->develop, part->channels);
    enum dia_status status = dia_onewire_init(&strip->line, port, pin, part);
    if (status != DIA_OK)
        return status;
    strip->order = part->order;
    strip->bytes = memory;
    memset(memory, 0, (size_t)DIA_STRIP_BYTES(channels, count));
    /* the colours lie at the end, where develop can overtake them without harm */
    strip->frame.pixels = (struct dia_rgb *)(void *)(strip->bytes + (channels - 3u) * count);
    strip->frame.count = count;
    strip->supply_ua = 0;
    strip->reserve_ua = 0;
    strip->slot = 0;
    return DIA_OK;
}

void dia_strip_supply(struct dia_strip *strip, uint16_t supply_ma, uint16_t reserve_ma)
{
    strip->supply_ua = (uint32_t)supply_ma * 1000u;
    strip->reserve_ua = (uint32_t)reserve_ma * 1000u;
}

static void limit(struct dia_strip *strip)
{
    struct dia_budget budget;
    dia_budget_init(&budget, strip->supply_ua, strip->reserve_ua);
    dia_budget_add(&budget, &strip->develop, &strip->line.part->power, strip->frame.pixels,
                   (uint16_t)strip->frame.count);
    dia_develop_limit(&strip->develop, dia_budget_share(&budget));
}

enum dia_status dia_strip_show(struct dia_strip *strip)
{
    enum dia_status status = dia_onewire_poll(&strip->line);
    if (status != DIA_OK)
        return status;
    uint8_t channels = strip->develop.channels->count;
    uint16_t count = (uint16_t)strip->frame.count;
    struct dia_carry carry;
    dia_develop_begin(&strip->develop, strip->slot);
    if (strip->supply_ua != 0)
        limit(strip);
    dia_carry_begin(&carry, &strip->develop);
    dia_develop_run(&strip->develop, &carry, strip->frame.pixels, count, strip->bytes);
    dia_onewire_arrange(strip->bytes, count, channels, strip->order);
    strip->slot++;
    return dia_onewire_start(&strip->line, strip->bytes, DIA_STRIP_BYTES(channels, count));
}

enum dia_status dia_strip_poll(struct dia_strip *strip)
{
    return dia_onewire_poll(&strip->line);
}

enum dia_status dia_strip_wait(struct dia_strip *strip)
{
    enum dia_status status;
    do {
        status = dia_onewire_poll(&strip->line);
    } while (status == DIA_BUSY);
    return status;
}

enum dia_status dia_strip_dark(struct dia_strip *strip)
{
    static const DIA_ROM struct dia_rgb black = {0, 0, 0};
    dia_strip_wait(strip); /* a frame that was broken off does not keep it lit */
    dia_frame_fill(&strip->frame, black);
    enum dia_status status = dia_strip_show(strip);
    return status == DIA_OK ? dia_strip_wait(strip) : status;
}
