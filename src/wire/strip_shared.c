/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "strip_develop.h"
#include "strip_private.h"

void dia_strip_supply(struct dia_strip *strip, uint16_t supply_ma, uint16_t reserve_ma)
{
    strip->given_ua = supply_ma > reserve_ma ? (uint32_t)(supply_ma - reserve_ma) * 1000u : 0;
}

void strip_begin(struct dia_strip *strip, const DIA_ROM struct dia_driver_ops *ops,
                 struct dia_port *port, const DIA_ROM struct dia_pixel_part *part,
                 struct dia_rgb *pixels, uint8_t *memory, uint16_t count)
{
    uint32_t drawing_bytes = (uint32_t)count * sizeof *pixels;
    strip->driver = (struct dia_driver){ops, port, (uint8_t *)pixels, drawing_bytes, DIA_SHARE_ONE};
    strip->frame = (struct dia_frame){pixels, count};
    dia_develop_init(&strip->develop, part->channels);
    strip->order = part->order;
    strip->slot = 0;
    strip->given_ua = DIA_NO_LIMIT;
    strip->bytes = memory;
    memset(pixels, 0, (size_t)drawing_bytes);
}

void strip_bytes(struct dia_strip *strip, const DIA_ROM struct dia_pixel_part *part)
{
    strip->develop.master = strip->driver.master;
    strip_develop(&strip->develop, part, strip->given_ua, strip->slot, strip->frame.pixels,
                  (uint16_t)strip->frame.count, strip->bytes);
}

/* A frame that was broken off does not keep it lit. */
enum dia_status strip_dark(struct dia_driver *driver)
{
    dia_share master = driver->master;
    if (dia_driver_wait(driver) == DIA_BUSY)
        return DIA_BUSY;
    driver->master = 0;
    enum dia_status status = dia_driver_show_and_wait(driver);
    driver->master = master;
    return status;
}

void strip_refresh(struct dia_driver *driver)
{
    (void)driver;
}

void strip_about(const struct dia_strip *strip, struct dia_about *about)
{
    *about = (struct dia_about){
        .elements = strip->frame.count,
        .drawing_bytes = strip->driver.drawing_bytes,
        .private_bytes = DIA_STRIP_BYTES(strip->develop.channels->count, strip->frame.count),
        .element = DIA_PIXELS,
    };
}
