/* SPDX-License-Identifier: MIT */
#include "gap.h"
#include "onewire_private.h"
#include "strip_private.h"

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_onewire *line = &strip_of(driver)->line.onewire;
    enum dia_status status = dia_onewire_poll(line);
    *again_us = status == DIA_BUSY ? dia_onewire_again_us(line) : 0;
    return status;
}

/* What is left of the latch gap is waited for; what is on the wire is not. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_strip *strip = strip_of(driver);
    struct dia_onewire *line = &strip->line.onewire;
    enum dia_status status;
    do {
        status = dia_onewire_poll(line);
    } while (status == DIA_BUSY && !dia_onewire_is_sending(line));
    if (status != DIA_OK)
        return status;
    uint32_t count = strip->frame.count;
    uint8_t channels = strip->develop.channels->count;
    strip_bytes(strip, line->part);
    dia_onewire_arrange(strip->bytes, count, channels, strip->order);
    status = onewire_begin(line, strip->bytes, DIA_STRIP_BYTES(channels, count));
    if (status == DIA_OK)
        strip->slot++;
    return status;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_strip *strip = (const struct dia_strip *)driver;
    const struct dia_onewire *line = &strip->line.onewire;
    strip_about(strip, about);
    about->worst_us = gap_longest_us(about->private_bytes) + line->part->timing.latch_us + 20u;
    about->route = DIA_ON_PINS;
    about->pins = 1;
    about->pin[0] = line->pin;
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .dark = strip_dark,
    .refresh = strip_refresh,
    .about = about,
};

enum dia_status dia_strip_init(struct dia_strip *strip, struct dia_port *port, uint8_t pin,
                               const DIA_ROM struct dia_pixel_part *part, struct dia_rgb *pixels,
                               uint8_t *memory, uint16_t count)
{
    if (count == 0)
        return DIA_BAD_VALUE;
    enum dia_status status = dia_onewire_init(&strip->line.onewire, port, pin, part);
    if (status == DIA_OK)
        strip_begin(strip, &ops, port, part, pixels, memory, count);
    return status;
}
