/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/shift.h>

#include "fence.h"
#include "shift_rows.h"

/*
 * A frame is rows of bits, each of which is on the outputs for a slice of the period: bit planes of
 * levels (shift_lamps.c), or the turns of digits (shift_digits.c). The bytes of a row are in the
 * order in which they go out: the chip furthest away first, its output QH first. There are two
 * frames: a tick reads the front one, and takes the other for it when a period begins.
 */

uint32_t dia_shift_us(const struct dia_shift_setup *setup)
{
    uint32_t khz = setup->clock_hz / 1000u;
    return (uint32_t)setup->chips * 8000u / (khz ? khz : 1u) + 1u;
}

static uint8_t is_right(const struct dia_shift_setup *setup)
{
    if (setup->chips == 0 || setup->chips > DIA_SHIFT_MOST || setup->depth == 0 ||
        setup->depth > 8 || setup->unit_us == 0)
        return 0;
    if (setup->slices != DIA_SLICES_EVEN && setup->unit_us > 65535u >> (setup->depth - 1u))
        return 0;
    if (setup->bus == DIA_SHIFT_BY_PINS)
        return 1;
    return setup->clock_hz != 0 && setup->clock_hz <= setup->part->max_hz &&
           dia_shift_us(setup) < setup->unit_us;
}

static struct dia_shift *shift_of(struct dia_driver *driver)
{
    return (struct dia_shift *)driver;
}

/* Rows of a frame: a bit of the levels each; or a digit each, and the dark one. */
uint32_t dia_shift_plane_bytes(const struct dia_shift *shift)
{
    uint32_t rows = shift->digits ? shift->digits->digits + 1u : shift->setup.depth;
    return (uint32_t)shift->setup.chips * rows;
}

/* Ticks of the period that shows: turns have a dark rest where they are not as long as they may. */
static uint16_t slices_of(const struct dia_shift *shift)
{
    if (shift->digits)
        return (uint16_t)(shift->digits->digits +
                          (shift->lit_us[shift->front] != shift->setup.unit_us));
    return dia_slices_count((enum dia_slices)shift->setup.slices, shift->setup.depth);
}

/* The port refused: poll tells it. */
static void failed(struct dia_shift *shift)
{
    shift->failed = 1;
}

enum dia_status dia_shift_poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_shift *shift = shift_of(driver);
    *again_us = shift->setup.unit_us;
    if (shift->failed) {
        shift->failed = 0;
        return DIA_PORT_FAILED;
    }
    return shift->waits ? DIA_BUSY : DIA_OK;
}

enum dia_status dia_shift_show(struct dia_driver *driver)
{
    struct dia_shift *shift = shift_of(driver);
    uint32_t again_us;
    enum dia_status status = dia_shift_poll(driver, &again_us);
    if (status == DIA_PORT_FAILED || shift->waits == 2)
        return status; /* one that is being shifted leaves the other planes free */
    shift->develop(shift, shift->planes[shift->front ^ 1u]);
    DIA_FENCE(); /* the planes are there before the tick is told */
    shift->waits = 2;
    shift->dark = 0;
    return DIA_OK;
}

/* Bit by bit; 0 when the port refused, and the chips hold neither the old row nor the new. */
static uint8_t by_pins(struct dia_shift *shift, const uint8_t *bytes)
{
    struct dia_port *port = shift->driver.port;
    const DIA_ROM struct dia_port_ops *ops = port->ops;
    const DIA_ROM struct dia_shift_part *part = shift->setup.part;
    uint8_t last = 2, refused = 0;
    for (uint16_t n = shift->setup.chips; n != 0; n--, bytes++) {
        for (uint8_t mask = 0x80; mask != 0; mask = (uint8_t)(mask >> 1)) {
            uint8_t bit = (*bytes & mask) != 0;
            if (bit != last && ops->pin_write(port, shift->setup.data_pin, bit) != DIA_OK)
                refused = 1;
            last = bit;
            ops->wait_ns(port, part->set_up_ns);
            if (ops->pin_write(port, shift->setup.clock_pin, 1) != DIA_OK)
                refused = 1;
            ops->wait_ns(port, part->pulse_ns);
            if (ops->pin_write(port, shift->setup.clock_pin, 0) != DIA_OK)
                refused = 1;
        }
    }
    return !refused;
}

/* A bus that is still busy after four times what the bits take will stay so: DIA_PORT_FAILED. */
static enum dia_status until_sent(struct dia_shift *shift)
{
    struct dia_port *port = shift->driver.port;
    uint32_t began_us = port->ops->now_us(port), most_us = 4u * dia_shift_us(&shift->setup) + 20u;
    enum dia_status status;
    do {
        status = port->ops->spi_poll(port, shift->setup.bus);
    } while (status == DIA_BUSY && port->ops->now_us(port) - began_us <= most_us);
    return status == DIA_OK ? DIA_OK : DIA_PORT_FAILED;
}

/*
 * Sends a row of bits, by SPI in the background unless the bus is shared. 1: it is on its way, or
 * there already, and may be latched when the bus is at rest.
 */
static uint8_t send(struct dia_shift *shift, const uint8_t *bytes)
{
    const struct dia_shift_setup *setup = &shift->setup;
    struct dia_port *port = shift->driver.port;
    enum dia_status status;
    if (setup->bus == DIA_SHIFT_BY_PINS) {
        if (by_pins(shift, bytes))
            return 1;
        failed(shift);
        return 0;
    }
    status = port->ops->spi_start(port, setup->bus, setup->clock_hz, bytes, setup->chips);
    if (status == DIA_OK && setup->shared)
        status = until_sent(shift);
    if (status == DIA_BUSY)
        shift->late = (uint16_t)(shift->late + 1u);
    else if (status != DIA_OK)
        failed(shift);
    return status == DIA_OK;
}

/* What was shifted comes to the outputs; with light unless they are to stay off. */
static void latch(struct dia_shift *shift, uint8_t light)
{
    struct dia_port *port = shift->driver.port;
    const DIA_ROM struct dia_port_ops *ops = port->ops;
    uint8_t refused = 0;
    if (shift->digits && shift->lit && shift->setup.enable_pin != DIA_NO_PIN) {
        refused = ops->pin_write(port, shift->setup.enable_pin, 1) != DIA_OK;
        shift->lit = refused;
        ops->wait_ns(port, DIA_SHIFT_BLANK_NS);
    }
    if (ops->pin_write(port, shift->setup.latch_pin, 1) != DIA_OK)
        refused = 1;
    ops->wait_ns(port, shift->setup.part->pulse_ns);
    if (ops->pin_write(port, shift->setup.latch_pin, 0) != DIA_OK)
        refused = 1;
    if (light && !shift->lit && !refused) {
        if (shift->setup.enable_pin != DIA_NO_PIN &&
            ops->pin_write(port, shift->setup.enable_pin, 0) != DIA_OK)
            refused = 1;
        shift->lit = !refused;
    }
    if (refused)
        failed(shift);
    shift->shifted = 0;
}

/*
 * Which plane shows in a slice. Even slices: number s + 1 with z zeros at its low end shows plane
 * depth - 1 - z, so the highest bit has every other slice, the next every fourth, and so on.
 */
static uint8_t plane_of(const struct dia_shift *shift, uint16_t slice)
{
    if (shift->digits || shift->setup.slices != DIA_SLICES_EVEN)
        return (uint8_t)slice;
    uint8_t plane = (uint8_t)(shift->setup.depth - 1u);
    for (slice++; !(slice & 1u); slice = (uint16_t)(slice >> 1))
        plane--;
    return plane;
}

/*
 * Own bus: the row that was sent since the last tick is latched, and the next goes out in the
 * background. Shared bus: a row is sent and latched in one tick, so that nothing of the others
 * comes in between.
 */
static void latch_row(struct dia_shift *shift)
{
    latch(shift, 1);
    if (shift->slice != 0)
        return;
    shift->periods = (uint8_t)(shift->periods + 1u);
    if (shift->waits == 1)
        shift->waits = 0; /* the frame shows */
}

/* The row after the one that was shifted last: a new period may begin with another frame. */
static const uint8_t *next_row(struct dia_shift *shift)
{
    const struct dia_shift_setup *setup = &shift->setup;
    uint16_t next = (uint16_t)(shift->slice + 1u);
    if (next >= slices_of(shift)) {
        next = 0;
        if (shift->waits == 2 && !shift->driver.hold) {
            shift->front ^= 1u;
            shift->waits = 1;
        }
    }
    shift->slice = next;
    return shift->planes[shift->front] + (uint32_t)plane_of(shift, next) * setup->chips;
}

/* A row that could not be sent is sent with the next tick. */
static void send_next(struct dia_shift *shift)
{
    uint16_t before = shift->slice;
    shift->shifted = send(shift, next_row(shift));
    if (!shift->shifted)
        shift->slice = before;
}

static uint16_t slice_us(const struct dia_shift *shift, uint16_t slice)
{
    if (shift->digits) {
        uint16_t turn_us = shift->setup.unit_us, lit_us = shift->lit_us[shift->front];
        return slice < shift->digits->digits
                   ? lit_us
                   : (uint16_t)((uint16_t)(turn_us - lit_us) * shift->digits->digits);
    }
    return shift->setup.slices == DIA_SLICES_EVEN ? shift->setup.unit_us
                                                  : (uint16_t)(shift->setup.unit_us << slice);
}

static uint16_t shared_tick(struct dia_shift *shift)
{
    struct dia_port *port = shift->driver.port;
    if (dia_port_claim_spi(port, shift->setup.bus) != DIA_OK) {
        shift->late = (uint16_t)(shift->late + 1u);
        return shift->setup.unit_us;
    }
    send_next(shift);
    uint8_t sent = shift->shifted;
    if (sent)
        latch_row(shift);
    dia_port_release_spi(port, shift->setup.bus);
    return sent ? slice_us(shift, shift->slice) : shift->setup.unit_us;
}

uint16_t dia_shift_tick(struct dia_driver *driver)
{
    struct dia_shift *shift = shift_of(driver);
    uint16_t shows = shift->slice;
    if (shift->dark)
        return shift->setup.unit_us;
    if (shift->setup.shared)
        return shared_tick(shift);
    if (shift->setup.bus != DIA_SHIFT_BY_PINS) {
        enum dia_status status = driver->port->ops->spi_poll(driver->port, shift->setup.bus);
        if (status == DIA_BUSY) {
            shift->late = (uint16_t)(shift->late + 1u);
            return shift->digits ? shift->lit_us[shift->front] : shift->setup.unit_us;
        }
        if (status != DIA_OK && shift->shifted) { /* the row was broken off: send it again */
            failed(shift);
            shift->shifted = send(shift, shift->planes[shift->front] +
                                             (uint32_t)plane_of(shift, shows) * shift->setup.chips);
            return shift->setup.unit_us;
        }
    }
    if (shift->shifted)
        latch_row(shift);
    uint16_t lasts_us = slice_us(shift, shows); /* of its own frame; the next may be another's */
    send_next(shift);
    return lasts_us;
}

void dia_shift_refresh(struct dia_driver *driver)
{
    (void)driver; /* every period sends all */
}

/* By the enable pin at once; then by the outputs, for chips that have none. */
enum dia_status dia_shift_dark(struct dia_driver *driver)
{
    struct dia_shift *shift = shift_of(driver);
    const struct dia_shift_setup *setup = &shift->setup;
    struct dia_port *port = driver->port;
    uint8_t has_enable = setup->enable_pin != DIA_NO_PIN, by_spi = setup->bus != DIA_SHIFT_BY_PINS;
    shift->dark = 1;
    DIA_FENCE(); /* from here on no tick touches anything */
    shift->failed = 0;
    shift->waits = 0;
    if (has_enable && port->ops->pin_write(port, setup->enable_pin, 1) == DIA_OK)
        shift->lit = 0;
    if (by_spi && setup->shared && dia_port_claim_spi(port, setup->bus) != DIA_OK)
        return DIA_BUSY;
    if (by_spi)
        until_sent(shift);
    shift->develop(shift, NULL);
    if (send(shift, shift->planes[0]) && (!by_spi || until_sent(shift) == DIA_OK))
        latch(shift, 0);
    else
        failed(shift);
    if (by_spi && setup->shared)
        dia_port_release_spi(port, setup->bus);
    shift->slice = (uint16_t)(slices_of(shift) - 1u);
    shift->shifted = 0;
    if (!has_enable)
        shift->lit = 0;
    uint8_t refused = shift->failed || (has_enable && shift->lit);
    shift->failed = 0;
    return refused ? DIA_PORT_FAILED : DIA_OK;
}

void dia_shift_about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_shift *shift = (const struct dia_shift *)driver;
    const struct dia_shift_setup *setup = &shift->setup;
    uint8_t by_spi = setup->bus != DIA_SHIFT_BY_PINS;
    uint8_t pins[4] = {setup->latch_pin, setup->enable_pin, setup->data_pin, setup->clock_pin};
    *about = (struct dia_about){
        .elements = shift->digits ? driver->drawing_bytes * 8u : setup->chips * 8u,
        .drawing_bytes = driver->drawing_bytes,
        .private_bytes = 2u * dia_shift_plane_bytes(shift),
        /* a period until the frame's own begins, and the first slice */
        .worst_us = (shift->digits ? shift->digits->digits + 1u : 1u << setup->depth) *
                    (uint32_t)setup->unit_us,
        .element = DIA_LAMPS,
        .route = by_spi ? DIA_ON_SPI : DIA_ON_PINS,
        .bus = (uint8_t)(by_spi ? setup->bus : 0),
    };
    for (uint8_t k = 0; k < (by_spi ? 2 : 4); k++) {
        if (pins[k] != DIA_NO_PIN)
            about->pin[about->pins++] = pins[k];
    }
}

static enum dia_status begin(struct dia_port *port, const struct dia_shift_setup *setup)
{
    if (!port->ops->wait_ns || !port->ops->pin_write)
        return DIA_UNSUPPORTED;
    if (setup->bus != DIA_SHIFT_BY_PINS && (!port->ops->spi_start || !port->ops->spi_poll))
        return DIA_UNSUPPORTED;
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    enum dia_status status = port->ops->pin_write(port, setup->latch_pin, 0);
    if (status == DIA_OK && setup->enable_pin != DIA_NO_PIN)
        status = port->ops->pin_write(port, setup->enable_pin, 1);
    if (status == DIA_OK && setup->bus == DIA_SHIFT_BY_PINS) {
        status = port->ops->pin_write(port, setup->clock_pin, 0);
        if (status == DIA_OK)
            status = port->ops->pin_write(port, setup->data_pin, 0);
    }
    return status;
}

enum dia_status dia_shift_begin(struct dia_shift *shift, struct dia_port *port,
                                const struct dia_shift_setup *setup,
                                const struct dia_shift_digits *digits, dia_shift_develop *develop,
                                const DIA_ROM struct dia_driver_ops *of, uint8_t *drawing,
                                uint32_t drawing_bytes, uint8_t *memory)
{
    enum dia_status status = begin(port, setup);
    if (status != DIA_OK)
        return status;
    memset(drawing, 0, (size_t)drawing_bytes);
    memset(shift, 0, sizeof *shift);
    shift->driver = DIA_DRIVER(of, port, drawing, drawing_bytes);
    shift->setup = *setup;
    shift->digits = digits;
    shift->develop = develop;
    shift->lit_us[0] = shift->lit_us[1] = setup->unit_us;
    shift->planes[0] = memory;
    shift->planes[1] = memory + dia_shift_plane_bytes(shift);
    shift->slice = (uint16_t)(slices_of(shift) - 1u);
    develop(shift, NULL);
    return DIA_OK;
}
