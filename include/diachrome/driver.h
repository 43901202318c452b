/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DRIVER_H
#define DIACHROME_DRIVER_H

#include <stdint.h>

#include "fixed.h"
#include "linkage.h"
#include "port.h"
#include "config.h"
#include "status.h"

DIA_BEGIN

/*
 * A driver: what takes frames and makes signals for one device. All families have this one
 * contract; `struct dia_driver` is the first field, called `driver`, of each of them.
 *
 * Use:     1. dia_..._init()          once, of the family; the device is dark
 *          2. draw                    into the drawing that you gave to init, whenever you like
 *          3. dia_driver_show()       hands the drawing over; you may draw the next one at once
 *          4. dia_driver_poll()       again and again, until it is not DIA_BUSY
 *          5. dia_driver_dark()       when the program ends
 *          A small program calls dia_driver_show_and_wait() in place of 3 and 4.
 * Keeps:   your drawing. Change one element and show again: the others stay as they are.
 * Memory:  the drawing, and a second array that is private to the driver. Both are yours, for as
 *          long as the driver lives. Clear the drawing with dia_driver_clear() or by hand.
 * Ticks:   devices that are lit in turns want dia_driver_tick() from a timer interrupt.
 * Cost:    show, poll and tick as their family says; the others a few dozen cycles, but for
 *          those that wait.
 * Context: tick comes from an interrupt; all others from the main loop only.
 * Errors:  DIA_BUSY         nothing has changed, nothing is lost: try again
 *          DIA_PORT_FAILED  the port refused; what was handed over is not shown, or not all of
 *                           it. Told once. The next show sends everything again.
 */

/* What a device is made of, and so what its drawing holds. */
enum dia_element {
    DIA_PIXELS, /* struct dia_rgb, an element each */
    DIA_LAMPS,  /* bits, or a level 0..255 each: the family's header says which */
    DIA_CELLS   /* a character code each, row after row */
};

/* What a driver sends its signals on. */
enum dia_route { DIA_ON_PINS, DIA_ON_SPI, DIA_ON_I2C };

/* For those who write a family: a driver with full light. */
#define DIA_DRIVER(ops, port, drawing, bytes)                                                      \
    ((struct dia_driver){(ops), (port), (drawing), (bytes), DIA_SHARE_ONE, DIA_SHARE_ONE, 0})

/* What a driver is: see dia_driver_about. */
struct dia_about {
    uint32_t elements;      /* pixels, lamps or cells */
    uint32_t drawing_bytes; /* memory of yours to draw in */
    uint32_t private_bytes; /* memory of yours for the driver; 0 for some */
    uint32_t worst_us;      /* from show to shown, with a port that refuses nothing */
    uint8_t element;        /* enum dia_element */
    uint8_t route;          /* enum dia_route */
    uint8_t bus;            /* number of the SPI or I2C bus */
    uint8_t pins;           /* how many are in pin[] */
    uint8_t pin[24];        /* all that the driver writes itself; those of a bus are the port's */
};

struct dia_driver;
struct dia_budget;

/* What a family does. For those who write one: each function gets the family's own struct, of
 * which the driver is the first field. */
struct dia_driver_ops {
    enum dia_status (*show)(struct dia_driver *driver);
    enum dia_status (*poll)(struct dia_driver *driver, uint32_t *again_us); /* never NULL */
    uint16_t (*tick)(struct dia_driver *driver); /* NULL: nothing is lit in turns */
    enum dia_status (*dark)(struct dia_driver *driver);
    void (*refresh)(struct dia_driver *driver);
    void (*levels)(struct dia_driver *driver, const uint8_t *levels, uint32_t n,
                   const DIA_ROM uint16_t *outputs); /* NULL: these are no lamps */
    void (*about)(const struct dia_driver *driver, struct dia_about *about);
    /* What the drawing asks for, see set.h: pixels add theirs to a budget; lamps and cells say how
     * many uA at most, from what one of them takes while it is lit. One of the two is NULL. */
    void (*budget)(struct dia_driver *driver, struct dia_budget *budget);
    uint32_t (*asks_ua)(const struct dia_driver *driver, uint32_t lamp_ua);
    uint8_t blank; /* what each byte of an empty drawing is */
};

struct dia_driver {
    const DIA_ROM struct dia_driver_ops *ops; /* private */
    struct dia_port *port;                    /* private */
    uint8_t *drawing;                         /* yours to draw in: see the family's header */
    uint32_t drawing_bytes;                   /* private */
    dia_share master;                         /* private: see dia_driver_master */
    dia_share share;                          /* private: of light that a set leaves it */
    volatile uint8_t hold;                    /* private: 1: what is taken is not sent yet */
};

/*
 * Hands the drawing over. It is copied during the call, so you may draw the next one at once.
 * DIA_OK: it will be shown, or poll will tell an error. DIA_BUSY: the one before is still on its
 * way; nothing has changed. An error of the one before may come back here; nothing has changed
 * then either. Sending never makes it wait; strips say what does.
 */
static inline enum dia_status dia_driver_show(struct dia_driver *driver)
{
    return driver->ops->show(driver);
}

/*
 * Keeps the driver going. DIA_OK: what was handed over is shown. DIA_BUSY: call again, after
 * *again_us microseconds or later (0: as soon as you can); later does no harm, it only shows
 * later. Other errors come back once, and do not stick: show again. again_us may be NULL.
 */
static inline enum dia_status dia_driver_poll(struct dia_driver *driver, uint32_t *again_us)
{
    uint32_t nobody_asks;
    if (!again_us)
        again_us = &nobody_asks;
    if (!driver->hold)
        return driver->ops->poll(driver, again_us);
    *again_us = 0; /* a set lets it go when others show */
    return DIA_BUSY;
}

/*
 * Goes on to the next slice of time, of devices that are lit in turns. Returns after how many
 * microseconds it is due again; 0 for a driver that wants no ticks. From a timer interrupt. A
 * tick that comes late makes its slice longer, no more. Its cost is in docs/architecture.md.
 */
static inline uint16_t dia_driver_tick(struct dia_driver *driver)
{
    return driver->ops->tick ? driver->ops->tick(driver) : 0;
}

/* 1: the driver wants ticks. */
static inline uint8_t dia_driver_has_tick(const struct dia_driver *driver)
{
    return driver->ops->tick != 0;
}

/* Overall level from the next show on. DIA_SHARE_ONE is full light, as after init; 0 is dark. */
static inline void dia_driver_master(struct dia_driver *driver, dia_share master)
{
    driver->master = master;
}

/*
 * Dark, in the device's own way, whatever was on its way before; ticks show nothing any more.
 * Waits until it is so: at most twice worst_us of dia_driver_about. The drawing stays, and the
 * next show lights it again. DIA_BUSY: the device or its bus would not take it in that time.
 */
static inline enum dia_status dia_driver_dark(struct dia_driver *driver)
{
    driver->hold = 0; /* it waits for nobody any more */
    return driver->ops->dark(driver);
}

/* Sends everything with the next show, the set-up too: after a disturbance, or when a device was
 * plugged in late. Nothing for devices to which every frame is sent whole. */
static inline void dia_driver_refresh(struct dia_driver *driver)
{
    driver->ops->refresh(driver);
}

/*
 * Draws levels of lamps, 0..255 as sRGB codes are: lamp i goes to output outputs[i], or to output
 * i where outputs is NULL. Outputs without a lamp stay as they are; those beyond the device are
 * left out. On devices that are on or off, 128 and more is on. DIA_UNSUPPORTED: these are no lamps.
 */
static inline enum dia_status dia_driver_levels(struct dia_driver *driver, const uint8_t *levels,
                                                uint32_t n, const DIA_ROM uint16_t *outputs)
{
    if (!driver->ops->levels)
        return DIA_UNSUPPORTED;
    driver->ops->levels(driver, levels, n, outputs);
    return DIA_OK;
}

/* What the driver is: its elements, memory, pins, and how long it takes. */
static inline void dia_driver_about(const struct dia_driver *driver, struct dia_about *about)
{
    driver->ops->about(driver, about);
}

/* Empties the drawing: black, dark or spaces. It shows with the next show. */
void dia_driver_clear(struct dia_driver *driver);

/*
 * Polls until what was handed over is shown: for programs that have nothing else to do meanwhile.
 * DIA_BUSY: it is not after twice the driver's worst time, because a bus is held by somebody else
 * or no ticks come; it is still on its way. Other errors as dia_driver_poll.
 */
enum dia_status dia_driver_wait(struct dia_driver *driver);

/*
 * Waits until the drawing can be taken, hands it over, and waits until it is shown. So a program
 * that does nothing but draw, show and rest shows every frame. DIA_BUSY as dia_driver_wait: ask
 * dia_driver_poll, or call again. Other errors as dia_driver_poll.
 */
enum dia_status dia_driver_show_and_wait(struct dia_driver *driver);

DIA_END

#endif
