/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PORT_H
#define DIACHROME_PORT_H

#include <stdint.h>

#include "linkage.h"
#include "pin.h"
#include "config.h"
#include "status.h"

DIA_BEGIN

/*
 * The port: everything Diachrome wants from a controller. docs/porting.md shows how to write one.
 *
 * A port is a struct of its own with `struct dia_port` as first field. A function it cannot
 * offer is NULL; the drivers then answer DIA_UNSUPPORTED.
 *
 * Cost: each says its own; what waits says for how long.
 * Context: what may come from an interrupt, in the middle of any other call of the port, are the
 *          ticks of shift registers, digits, lamps on pins and colour panels. What they use must
 *          allow for that:
 *            now_us, wait_ns      at any time
 *            pin_write            at any time; writes of other pins may not undo it, nor it them
 *            lines_shift          the same
 *            spi_start, spi_poll  on a bus that nobody else sends on: their own, or one claimed
 *          All others come from the main loop only: pins let go and read, pulses, planes, I2C.
 *          An interrupt that comes while they send in the background does no harm. Where they send
 *          before they return, interrupts may be off for so long: 30 us a pixel for pulses of
 *          800 kHz. Ticks are late then, and show longer what they show.
 */

/* One part of a pulse, nanoseconds: what the sheet allows, and what to aim at. */
struct dia_pulse_range {
    uint16_t min_ns, nominal_ns, max_ns;
};

/* The four parts of the pulses: high and then low for a 0, the same for a 1. */
enum { DIA_T0H, DIA_T0L, DIA_T1H, DIA_T1L };

/* How bits become pulses: a bit is a high and then a low, most significant bit of a byte first. */
struct dia_pulse_timing {
    struct dia_pulse_range range[4]; /* DIA_T0H .. DIA_T1L */
    uint16_t latch_us;               /* a low at least this long ends a frame */
};

struct dia_port;

struct dia_port_ops {
    /* Microseconds since some moment, wrapping at 2^32; never steps back; coarse by 10 us at most.
     */
    uint32_t (*now_us)(struct dia_port *port);

    /* Makes a pin an output with that level, 0 or 1. DIA_BAD_VALUE: there is no such pin. */
    enum dia_status (*pin_write)(struct dia_port *port, uint8_t pin, uint8_t level);

    /* Lets a pin go: an input with a pull-up, until the next pin_write. DIA_BAD_VALUE: there is
     * no such pin. */
    enum dia_status (*pin_release)(struct dia_port *port, uint8_t pin);

    /* Level of a pin, 0 or 1: of one let go, what is outside. Errors as pin_release. */
    enum dia_status (*pin_read)(struct dia_port *port, uint8_t pin, uint8_t *level);

    /* Waits so long or a little longer, 1..2000 ns, by doing nothing. */
    void (*wait_ns)(struct dia_port *port, uint16_t ns);

    /*
     * Starts to send n bytes as pulses on a pin that is low, and leaves it low. A port may send
     * them before it returns (bit-banging) or in the background (DMA, SPI, a pulse engine): the
     * bytes stay untouched until pulse_poll says DIA_OK. No low inside a transmission may reach
     * timing->latch_us. The timing outlives the transmission.
     * DIA_BUSY: the pin still sends. DIA_BAD_VALUE: no such pin, or n is 0.
     * DIA_UNSUPPORTED: this controller cannot keep the ranges.
     */
    enum dia_status (*pulse_start)(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                   uint32_t n, const DIA_ROM struct dia_pulse_timing *timing);

    /* DIA_BUSY while the pin sends, DIA_OK when the last pulse is over (or there was none),
     * DIA_PORT_FAILED when the transmission was broken off. */
    enum dia_status (*pulse_poll)(struct dia_port *port, uint8_t pin);

    /*
     * The same for `width` (1..16) neighbouring pins from first_pin, all set together. planes has
     * one bit a pin for each bit in turn (see dia_planes_make): a byte of them for up to 8 pins,
     * two for more. lengths has the bytes of each pin; one that has sent its own stays low.
     * All bits last as long as the longer kind. Finished when pulse_poll of first_pin says so.
     * NULL where pins cannot be set together. Errors as pulse_start; DIA_BAD_VALUE also when all
     * lengths are 0.
     */
    enum dia_status (*planes_start)(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    const uint8_t *planes, const uint32_t *lengths,
                                    const DIA_ROM struct dia_pulse_timing *timing);

    /*
     * SPI mode 0, most significant bit first, no chip select (that is a pin of its own), on the
     * controller's bus of that number, from 0. Runs at clock_hz or the next slower clock there
     * is. The bytes stay untouched until spi_poll says DIA_OK. DIA_BUSY: still sending.
     * DIA_BAD_VALUE: no such bus, or n or clock_hz is 0. spi_poll: DIA_PORT_FAILED, when it was
     * broken off and nothing is sent any more.
     */
    enum dia_status (*spi_start)(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                 const uint8_t *bytes, uint32_t n);
    enum dia_status (*spi_poll)(struct dia_port *port, uint8_t bus);

    /*
     * Writes bytes to a 7-bit address on an I2C bus, from 0, at 100 kHz: start, address, bytes,
     * stop. The bytes stay untouched until i2c_poll says DIA_OK; it says DIA_PORT_FAILED when a
     * byte was not acknowledged. DIA_BUSY: still sending. DIA_BAD_VALUE: no such bus, or n is 0.
     */
    enum dia_status (*i2c_start)(struct dia_port *port, uint8_t bus, uint8_t address,
                                 const uint8_t *bytes, uint32_t n);
    enum dia_status (*i2c_poll)(struct dia_port *port, uint8_t bus);

    /*
     * Clocks n bytes out of `width` (1..8) neighbouring pins, bit 0 of a byte on first_pin: for
     * each byte these are set together, then clock_pin, which is low, goes high and low, each for
     * at least 20 ns and never both within 40 ns. Waits until all are out. All pins are outputs
     * already. NULL where pins cannot be set together: rows are then written pin by pin.
     * DIA_BAD_VALUE: no such pins, or these cannot be set together; nothing was done then.
     */
    enum dia_status (*lines_shift)(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                   uint8_t clock_pin, const uint8_t *bytes, uint16_t n);
};

struct dia_port {
    const DIA_ROM struct dia_port_ops *ops;
    uint16_t spi_held; /* private: a bit for each SPI bus that somebody holds, 0 at the start */
    uint16_t i2c_held; /* private: the same of I2C */
};

/*
 * Several drivers on one bus: each claims it for one transaction, from select to select or from
 * start to stop, and releases it. Programs that use a bus themselves (a memory card beside a
 * display) do the same. DIA_BUSY: somebody else holds it; ask again later. Buses 0..15; those
 * beyond have no claims. Main loop or interrupt: what an interrupt claims it releases before it
 * returns. A few cycles.
 */
static inline enum dia_status dia_port_claim_spi(struct dia_port *port, uint8_t bus)
{
    uint16_t bit = (uint16_t)(bus < 16 ? 1u << bus : 0u);
    if (port->spi_held & bit)
        return DIA_BUSY;
    port->spi_held |= bit;
    return DIA_OK;
}

static inline void dia_port_release_spi(struct dia_port *port, uint8_t bus)
{
    port->spi_held &= (uint16_t) ~(bus < 16 ? 1u << bus : 0u);
}

static inline enum dia_status dia_port_claim_i2c(struct dia_port *port, uint8_t bus)
{
    uint16_t bit = (uint16_t)(bus < 16 ? 1u << bus : 0u);
    if (port->i2c_held & bit)
        return DIA_BUSY;
    port->i2c_held |= bit;
    return DIA_OK;
}

static inline void dia_port_release_i2c(struct dia_port *port, uint8_t bus)
{
    port->i2c_held &= (uint16_t) ~(bus < 16 ? 1u << bus : 0u);
}

DIA_END

#endif
