/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/lamp.h>
#include <diachrome/pin_lamps.h>

#include "bits.h"
#include "fence.h"

/* Bit k of all levels shows for 2^k units of a period. */

#define LEAST_US 20u /* choice: a tick of a fast controller with many lamps */

static struct dia_pin_lamps *lamps_of(struct dia_driver *driver)
{
    return (struct dia_pin_lamps *)driver;
}

static uint8_t is_right(const struct dia_pin_lamps_setup *setup)
{
    if (setup->lamps == 0 || setup->lamps > DIA_PIN_LAMPS_MOST || setup->depth == 0 ||
        setup->depth > 8 || setup->unit_us < LEAST_US ||
        setup->unit_us > 65535u >> (setup->depth - 1u))
        return 0;
    for (uint8_t k = 0; k < setup->lamps; k++) {
        for (uint8_t i = 0; i < k; i++) {
            if (setup->pins[i] == setup->pins[k])
                return 0;
        }
        if (setup->pins[k] == DIA_NO_PIN)
            return 0;
    }
    return 1;
}

static uint16_t mask_of(const struct dia_pin_lamps *lamps)
{
    return (uint16_t)(0xffffu >> (DIA_PIN_LAMPS_MOST - lamps->setup.lamps));
}

/* Only pins that change are written, and those of which nobody knows how they are. */
static void say(struct dia_pin_lamps *lamps, uint16_t lines)
{
    struct dia_port *port = lamps->driver.port;
    uint16_t changed = (uint16_t)((lamps->lines ^ lines) | lamps->unknown);
    lamps->unknown = 0;
    for (uint8_t k = 0; k < lamps->setup.lamps; k++) {
        uint16_t bit = (uint16_t)(1u << k);
        uint8_t on = (lines & bit) != 0;
        if ((changed & bit) &&
            port->ops->pin_write(port, lamps->setup.pins[k], on ^ lamps->setup.sinks) != DIA_OK)
            lamps->unknown |= bit;
    }
    lamps->lines = lines;
    if (lamps->unknown)
        lamps->failed = 1;
}

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_pin_lamps *lamps = lamps_of(driver);
    *again_us = lamps->setup.unit_us;
    return tick_status(&lamps->failed, lamps->waits);
}

/* The tick takes the frame whole when it sees that one waits. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_pin_lamps *lamps = lamps_of(driver);
    uint8_t steps[DIA_PIN_LAMPS_MOST], depth = lamps->setup.depth;
    uint32_t again_us;
    enum dia_status status = poll(driver, &again_us);
    if (status != DIA_OK)
        return status;
    dia_lamps_develop(driver->drawing, lamps->setup.lamps, driver->master, depth, steps);
    for (uint8_t k = 0; k < depth; k++) {
        uint16_t lines = 0, lamp = 1;
        for (uint8_t i = 0; i < lamps->setup.lamps; i++, lamp = (uint16_t)(lamp << 1)) {
            if (steps[i] >> k & 1)
                lines |= lamp;
        }
        lamps->wanted[k] = lines;
    }
    DIA_FENCE(); /* all is there before the tick is told */
    lamps->waits = 1;
    lamps->dark = 0;
    return DIA_OK;
}

static uint16_t tick(struct dia_driver *driver)
{
    struct dia_pin_lamps *lamps = lamps_of(driver);
    if (lamps->dark)
        return lamps->setup.unit_us;
    if (++lamps->slice >= lamps->setup.depth) {
        if (lamps->waits && !driver->hold) {
            DIA_FENCE();
            memcpy(lamps->shown, lamps->wanted, sizeof lamps->shown);
            lamps->waits = 0;
        }
        lamps->slice = 0;
        if (lamps->again)
            lamps->unknown = mask_of(lamps);
        lamps->again = 0;
        lamps->periods = (uint8_t)(lamps->periods + 1u);
    }
    say(lamps, lamps->shown[lamps->slice]);
    return (uint16_t)(lamps->setup.unit_us << lamps->slice);
}

static enum dia_status dark(struct dia_driver *driver)
{
    struct dia_pin_lamps *lamps = lamps_of(driver);
    lamps->dark = 1;
    DIA_FENCE(); /* from here on no tick touches a pin */
    memset(lamps->shown, 0, sizeof lamps->shown);
    lamps->waits = 0;
    lamps->slice = lamps->setup.depth;
    lamps->unknown = mask_of(lamps);
    say(lamps, 0);
    uint8_t refused = lamps->failed && lamps->unknown;
    lamps->failed = 0;
    return refused ? DIA_PORT_FAILED : DIA_OK;
}

static void refresh(struct dia_driver *driver)
{
    struct dia_pin_lamps *lamps = lamps_of(driver);
    lamps->again = 1; /* the next tick writes all pins */
}

/* The mean over a period, rounded up. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    const struct dia_pin_lamps *lamps = (const struct dia_pin_lamps *)driver;
    uint8_t steps[DIA_PIN_LAMPS_MOST], depth = lamps->setup.depth;
    uint32_t sum = 0, full = (1u << depth) - 1u;
    dia_lamps_develop(driver->drawing, lamps->setup.lamps, driver->master, depth, steps);
    for (uint8_t i = 0; i < lamps->setup.lamps; i++)
        sum += steps[i];
    return sum / full * lamp_ua + (sum % full * lamp_ua + full - 1u) / full;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_pin_lamps_setup *setup = &((const struct dia_pin_lamps *)driver)->setup;
    *about = (struct dia_about){
        .elements = setup->lamps,
        .drawing_bytes = setup->lamps,
        .worst_us = (1u << setup->depth) * (uint32_t)setup->unit_us, /* a period, and a slice */
        .element = DIA_LAMPS,
        .route = DIA_ON_PINS,
        .pins = setup->lamps,
    };
    memcpy(about->pin, setup->pins, setup->lamps);
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .tick = tick,
    .dark = dark,
    .refresh = refresh,
    .levels = bytes_levels,
    .about = about,
    .asks_ua = asks_ua,
};

enum dia_status dia_pin_lamps_init(struct dia_pin_lamps *lamps, struct dia_port *port,
                                   const struct dia_pin_lamps_setup *setup, uint8_t *level)
{
    if (!port->ops->pin_write)
        return DIA_UNSUPPORTED;
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    for (uint8_t k = 0; k < setup->lamps; k++) {
        enum dia_status status = port->ops->pin_write(port, setup->pins[k], setup->sinks != 0);
        if (status != DIA_OK)
            return status;
    }
    memset(level, 0, setup->lamps);
    memset(lamps, 0, sizeof *lamps);
    lamps->driver = DIA_DRIVER(&ops, port, level, setup->lamps);
    lamps->setup = *setup;
    lamps->setup.sinks = setup->sinks != 0;
    lamps->slice = setup->depth;
    return DIA_OK;
}
