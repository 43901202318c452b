/* SPDX-License-Identifier: MIT */
#include <stdatomic.h>
#include <string.h>

#include <diachrome/shift.h>

#include "mirror.h"

/*
 * A frame is kept as bit planes, plane k being what is on the wire while bit k shows. The bytes of
 * a plane are in the order in which they go out: the chip furthest away first, its output QH
 * first. There are two frames: a tick reads the front one, and takes the other for it when a
 * period begins.
 */

/* The bits of all chips and a little time for the tick itself, in us. */
static uint32_t shift_us(const struct dia_shift_setup *setup)
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
           shift_us(setup) < setup->unit_us;
}

enum dia_status dia_shift_init(struct dia_shift *shift, struct dia_port *port,
                               const struct dia_shift_setup *setup, uint8_t *memory)
{
    if (!port->ops->wait_ns)
        return DIA_UNSUPPORTED;
    if (setup->bus != DIA_SHIFT_BY_PINS && (!port->ops->spi_start || !port->ops->spi_poll))
        return DIA_UNSUPPORTED;
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    enum dia_status status = port->ops->pin_write(port, setup->latch_pin, 0);
    if (status == DIA_OK && setup->enable_pin != DIA_NO_ENABLE)
        status = port->ops->pin_write(port, setup->enable_pin, 1);
    if (status == DIA_OK && setup->bus == DIA_SHIFT_BY_PINS) {
        status = port->ops->pin_write(port, setup->clock_pin, 0);
        if (status == DIA_OK)
            status = port->ops->pin_write(port, setup->data_pin, 0);
    }
    if (status != DIA_OK)
        return status;
    memset(memory, 0, (size_t)DIA_SHIFT_BYTES((uint32_t)setup->chips, setup->depth));
    memset(shift, 0, sizeof *shift);
    shift->port = port;
    shift->setup = *setup;
    shift->planes[0] = memory;
    shift->planes[1] = memory + (uint32_t)setup->chips * setup->depth;
    shift->slice = (uint16_t)(dia_slices_count(setup->slices, setup->depth) - 1u);
    return DIA_OK;
}

enum dia_status dia_shift_poll(const struct dia_shift *shift)
{
    return shift->swap ? DIA_BUSY : DIA_OK;
}

enum dia_status dia_shift_show(struct dia_shift *shift, const uint8_t *steps)
{
    uint16_t chips = shift->setup.chips;
    uint8_t depth = shift->setup.depth;
    if (shift->swap)
        return DIA_BUSY;
    uint8_t *byte = shift->planes[shift->front ^ 1u] + chips - 1u;
    for (uint16_t chip = 0; chip < chips; chip++, steps += 8, byte--) {
        uint8_t bits[8]; /* that of the highest bit first */
        mirror(steps, bits, 1);
        for (uint8_t k = 0; k < depth; k++)
            byte[(uint32_t)k * chips] = bits[7 - k];
    }
    atomic_signal_fence(memory_order_release); /* the planes are there before the tick is told */
    shift->swap = 1;
    return DIA_OK;
}

static void by_pins(struct dia_shift *shift, const uint8_t *bytes)
{
    struct dia_port *port = shift->port;
    const DIA_ROM struct dia_port_ops *ops = port->ops;
    const DIA_ROM struct dia_shift_part *part = shift->setup.part;
    uint8_t last = 2;
    for (uint16_t n = shift->setup.chips; n != 0; n--, bytes++) {
        for (uint8_t mask = 0x80; mask != 0; mask = (uint8_t)(mask >> 1)) {
            uint8_t bit = (*bytes & mask) != 0;
            if (bit != last)
                ops->pin_write(port, shift->setup.data_pin, bit);
            last = bit;
            ops->wait_ns(port, part->set_up_ns);
            ops->pin_write(port, shift->setup.clock_pin, 1);
            ops->wait_ns(port, part->pulse_ns);
            ops->pin_write(port, shift->setup.clock_pin, 0);
        }
    }
}

static void send(struct dia_shift *shift, const uint8_t *bytes)
{
    shift->shifted = 1;
    if (shift->setup.bus == DIA_SHIFT_BY_PINS)
        by_pins(shift, bytes);
    else if (shift->port->ops->spi_start(shift->port, shift->setup.bus, shift->setup.clock_hz,
                                         bytes, shift->setup.chips) != DIA_OK)
        shift->shifted = 0;
}

static void latch(struct dia_shift *shift)
{
    struct dia_port *port = shift->port;
    port->ops->pin_write(port, shift->setup.latch_pin, 1);
    port->ops->wait_ns(port, shift->setup.part->pulse_ns);
    port->ops->pin_write(port, shift->setup.latch_pin, 0);
    shift->shifted = 0;
    if (!shift->lit && shift->setup.enable_pin != DIA_NO_ENABLE)
        port->ops->pin_write(port, shift->setup.enable_pin, 0);
    shift->lit = 1;
}

/*
 * Which plane shows in a slice. Even slices: number s + 1 with z zeros at its low end shows plane
 * depth - 1 - z, so the highest bit has every other slice, the next every fourth, and so on.
 */
static uint8_t plane_of(const struct dia_shift *shift, uint16_t slice)
{
    if (shift->setup.slices != DIA_SLICES_EVEN)
        return (uint8_t)slice;
    uint8_t plane = (uint8_t)(shift->setup.depth - 1u);
    for (slice++; !(slice & 1u); slice = (uint16_t)(slice >> 1))
        plane--;
    return plane;
}

uint16_t dia_shift_tick(struct dia_shift *shift)
{
    const struct dia_shift_setup *setup = &shift->setup;
    uint16_t shows = shift->slice;
    if (setup->bus != DIA_SHIFT_BY_PINS &&
        shift->port->ops->spi_poll(shift->port, setup->bus) == DIA_BUSY) {
        shift->late++;
        return setup->unit_us;
    }
    if (shift->shifted) {
        latch(shift);
        if (shows == 0)
            shift->periods++;
    }
    uint16_t next = (uint16_t)(shows + 1u);
    if (next == dia_slices_count(setup->slices, setup->depth)) {
        next = 0;
        shift->front ^= shift->swap;
        shift->swap = 0;
    }
    shift->slice = next;
    send(shift, shift->planes[shift->front] + (uint32_t)plane_of(shift, next) * setup->chips);
    return setup->slices == DIA_SLICES_EVEN ? setup->unit_us : (uint16_t)(setup->unit_us << shows);
}

void dia_shift_dark(struct dia_shift *shift)
{
    struct dia_port *port = shift->port;
    if (shift->setup.enable_pin != DIA_NO_ENABLE)
        port->ops->pin_write(port, shift->setup.enable_pin, 1);
    if (shift->setup.bus != DIA_SHIFT_BY_PINS) {
        while (port->ops->spi_poll(port, shift->setup.bus) == DIA_BUSY)
            ;
    }
    memset(shift->planes[0], 0, (size_t)shift->setup.chips * shift->setup.depth);
    send(shift, shift->planes[0]);
    if (shift->setup.bus != DIA_SHIFT_BY_PINS) {
        while (port->ops->spi_poll(port, shift->setup.bus) == DIA_BUSY)
            ;
    }
    if (shift->shifted) {
        uint8_t was = shift->lit;
        shift->lit = 1; /* the enable pin stays as it is */
        latch(shift);
        shift->lit = (uint8_t)(was && shift->setup.enable_pin == DIA_NO_ENABLE);
    }
}
