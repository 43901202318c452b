/* SPDX-License-Identifier: MIT */
#include "gap.h"
#include "onewire_private.h"
#include "strip_private.h"

static enum dia_status poll(struct dia_strip *strip)
{
    return dia_onewire_poll(&strip->line.onewire);
}

static uint8_t is_sending(const struct dia_strip *strip)
{
    return dia_onewire_is_sending(&strip->line.onewire);
}

static uint32_t bytes_of(const struct dia_strip *strip)
{
    return DIA_STRIP_BYTES(strip->part->channels->count, strip->frame.count);
}

/* While it sends: not before the shortest time that its bytes can take. */
static uint32_t again_us(const struct dia_strip *strip)
{
    const struct dia_onewire *line = &strip->line.onewire;
    uint32_t bytes = bytes_of(strip);
    if (!dia_onewire_is_sending(line))
        return dia_onewire_again_us(line);
    return gap_left_us(line->port,
                       line->end_us - gap_longest_us(bytes) + gap_shortest_us(line->part, bytes));
}

static enum dia_status begin(struct dia_strip *strip)
{
    return dia_onewire_begin(&strip->line.onewire, strip->bytes, bytes_of(strip));
}

static void about(const struct dia_strip *strip, struct dia_about *about)
{
    about->worst_us = gap_longest_us(bytes_of(strip)) + strip->part->timing.latch_us + 20u;
    about->route = DIA_ON_PINS;
    about->pins = 1;
    about->pin[0] = strip->line.onewire.pin;
}

static const DIA_ROM struct strip_line line = {poll, is_sending, again_us, begin, about};

enum dia_status dia_strip_init(struct dia_strip *strip, struct dia_port *port, uint8_t pin,
                               const DIA_ROM struct dia_pixel_part *part, struct dia_rgb *pixels,
                               uint8_t *memory, uint16_t count)
{
    if (count == 0)
        return DIA_BAD_VALUE;
    enum dia_status status = dia_onewire_init(&strip->line.onewire, port, pin, part);
    if (status == DIA_OK)
        dia_strip_begin(strip, &line, port, part, pixels, memory, count);
    return status;
}
