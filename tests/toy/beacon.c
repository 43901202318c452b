/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "beacon.h"

static struct beacon *beacon_of(struct dia_driver *driver)
{
    return (struct beacon *)driver;
}

/* A lamp a call: a pin that is refused is told once, and the next show writes all again. */
static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct beacon *beacon = beacon_of(driver);
    *again_us = 0;
    if (beacon->next == beacon->count)
        return DIA_OK;
    enum dia_status status = driver->port->ops->pin_write(driver->port, beacon->pins[beacon->next],
                                                          beacon->on[beacon->next]);
    if (status == DIA_BUSY)
        return DIA_BUSY;
    if (status != DIA_OK) {
        beacon->next = beacon->count;
        return DIA_PORT_FAILED;
    }
    return ++beacon->next == beacon->count ? DIA_OK : DIA_BUSY;
}

static enum dia_status show(struct dia_driver *driver)
{
    struct beacon *beacon = beacon_of(driver);
    if (beacon->next != beacon->count)
        return DIA_BUSY;
    for (uint8_t k = 0; k < beacon->count && k < BEACON_LAMPS; k++)
        beacon->on[k] = driver->master != 0 && driver->drawing[k] >= 128;
    beacon->next = 0;
    return DIA_OK;
}

static enum dia_status all_off(struct beacon *beacon)
{
    memset(beacon->on, 0, sizeof beacon->on);
    beacon->next = 0;
    beacon->driver.hold = 0;
    return dia_driver_wait(&beacon->driver);
}

static enum dia_status dark(struct dia_driver *driver)
{
    return all_off(beacon_of(driver));
}

static void refresh(struct dia_driver *driver)
{
    (void)driver; /* every frame is written whole */
}

static void levels(struct dia_driver *driver, const uint8_t *level, uint32_t n,
                   const DIA_ROM uint16_t *outputs)
{
    for (uint32_t i = 0; i < n; i++) {
        uint32_t at = outputs ? outputs[i] : i;
        if (at < driver->drawing_bytes)
            driver->drawing[at] = level[i];
    }
}

static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    uint32_t lit = 0;
    for (uint32_t k = 0; k < driver->drawing_bytes; k++)
        lit += driver->master != 0 && driver->drawing[k] >= 128;
    return lit * lamp_ua;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct beacon *beacon = (const struct beacon *)driver;
    *about = (struct dia_about){.elements = beacon->count,
                                .drawing_bytes = beacon->count,
                                .worst_us = 100,
                                .element = DIA_LAMPS,
                                .route = DIA_ON_PINS,
                                .pins = beacon->count};
    memcpy(about->pin, beacon->pins, beacon->count);
}

static const DIA_ROM struct dia_driver_ops ops = {.show = show,
                                                  .poll = poll,
                                                  .dark = dark,
                                                  .refresh = refresh,
                                                  .levels = levels,
                                                  .asks_ua = asks_ua,
                                                  .about = about};

enum dia_status beacon_init(struct beacon *beacon, struct dia_port *port, const uint8_t *pins,
                            uint8_t count, uint8_t *drawing)
{
    if (count == 0 || count > BEACON_LAMPS)
        return DIA_BAD_VALUE;
    beacon->driver = DIA_DRIVER(&ops, port, drawing, count);
    memcpy(beacon->pins, pins, count);
    memset(drawing, 0, count);
    beacon->count = beacon->next = count;
    return all_off(beacon);
}
