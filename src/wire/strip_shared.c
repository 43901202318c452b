/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "strip_develop.h"
#include "strip_private.h"

static struct dia_strip *strip_of(struct dia_driver *driver)
{
    return (struct dia_strip *)driver;
}

void dia_strip_supply(struct dia_strip *strip, uint16_t supply_ma, uint16_t reserve_ma)
{
    strip->given_ua = supply_ma > reserve_ma ? (uint32_t)(supply_ma - reserve_ma) * 1000u : 0;
}

/* What was taken is begun when the line is at rest and nobody holds it. */
static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_strip *strip = strip_of(driver);
    enum dia_status status = strip->kind->poll(strip);
    *again_us = 0;
    if (status == DIA_OK && strip->taken) {
        status = strip->kind->begin(strip);
        strip->taken = status == DIA_BUSY;
        return status == DIA_OK ? DIA_BUSY : status;
    }
    if (status == DIA_BUSY)
        *again_us = strip->kind->again_us(strip);
    return status;
}

/* What is left of the latch gap is waited for; what is on the wire is not. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_strip *strip = strip_of(driver);
    enum dia_status status;
    do {
        status = strip->kind->poll(strip);
    } while (status == DIA_BUSY && !strip->kind->is_sending(strip));
    if (status != DIA_OK)
        return status;
    if (strip->taken)
        return DIA_BUSY;
    strip->develop.master = driver->master;
    strip_develop(&strip->develop, strip->part, strip->given_ua, driver->share, strip->slot,
                  strip->frame.pixels, (uint16_t)strip->frame.count, strip->bytes, 1);
    strip->taken = driver->hold;
    if (!driver->hold)
        status = strip->kind->begin(strip);
    if (status == DIA_OK)
        strip->slot++;
    return status;
}

/* A frame that was broken off does not keep it lit. */
static enum dia_status dark(struct dia_driver *driver)
{
    dia_share master = driver->master;
    if (dia_driver_wait(driver) == DIA_BUSY)
        return DIA_BUSY;
    driver->master = 0;
    enum dia_status status = dia_driver_show_and_wait(driver);
    driver->master = master;
    return status;
}

static void refresh(struct dia_driver *driver)
{
    (void)driver; /* every frame is sent whole */
}

static void budget(struct dia_driver *driver, struct dia_budget *budget)
{
    struct dia_strip *strip = strip_of(driver);
    strip->develop.master = driver->master;
    strip_begin(&strip->develop, strip->slot, 1);
    dia_budget_add(budget, &strip->develop, &strip->part->power, strip->frame.pixels,
                   (uint16_t)strip->frame.count);
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_strip *strip = (const struct dia_strip *)driver;
    *about = (struct dia_about){
        .elements = strip->frame.count,
        .drawing_bytes = driver->drawing_bytes,
        .private_bytes = DIA_STRIP_BYTES(strip->part->channels->count, strip->frame.count),
        .element = DIA_PIXELS,
    };
    strip->kind->about(strip, about);
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .dark = dark,
    .refresh = refresh,
    .about = about,
    .budget = budget,
};

void dia_strip_begin(struct dia_strip *strip, const DIA_ROM struct strip_line *line,
                     struct dia_port *port, const DIA_ROM struct dia_pixel_part *part,
                     struct dia_rgb *pixels, uint8_t *memory, uint16_t count)
{
    uint32_t drawing_bytes = (uint32_t)count * sizeof *pixels;
    strip->driver = DIA_DRIVER(&ops, port, (uint8_t *)pixels, drawing_bytes);
    strip->kind = line;
    strip->part = part;
    strip->frame = (struct dia_frame){pixels, count};
    dia_develop_init(&strip->develop, part->channels);
    dia_develop_order(&strip->develop, part->order);
    strip->slot = 0;
    strip->given_ua = DIA_NO_LIMIT;
    strip->taken = 0;
    strip->bytes = memory;
    memset(pixels, 0, (size_t)drawing_bytes);
}
