/* SPDX-License-Identifier: MIT */
#ifndef TESTS_PROOF_PORT_H
#define TESTS_PROOF_PORT_H

#include "proof.h"

/* A port on which anything may happen: every call may be refused, or busy, at any time of any
 * clock; what it is given to send must be there to be read. */

static inline enum dia_status any_status(void)
{
    return (enum dia_status)any(DIA_OK, DIA_PORT_FAILED);
}

static inline enum dia_status sends(const uint8_t *bytes, uint32_t n)
{
    volatile uint8_t read;
    if (n == 0)
        return DIA_BAD_VALUE;
    read = bytes[0];
    read = bytes[n - 1u];
    (void)read;
    return any_status();
}

static inline uint32_t port_now_us(struct dia_port *port)
{
    (void)port;
    return any_number();
}

static inline enum dia_status port_pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    (void)port;
    (void)pin;
    (void)level;
    return any_status();
}

static inline enum dia_status port_pin_release(struct dia_port *port, uint8_t pin)
{
    (void)port;
    (void)pin;
    return any_status();
}

static inline enum dia_status port_pin_read(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    (void)port;
    (void)pin;
    *level = (uint8_t)any(0, 1);
    return any_status();
}

static inline void port_wait_ns(struct dia_port *port, uint16_t ns)
{
    (void)port;
    (void)ns;
}

static inline enum dia_status port_pulse_start(struct dia_port *port, uint8_t pin,
                                               const uint8_t *bytes, uint32_t n,
                                               const struct dia_pulse_timing *timing)
{
    (void)port;
    (void)pin;
    (void)timing;
    return sends(bytes, n);
}

static inline enum dia_status port_poll(struct dia_port *port, uint8_t which)
{
    (void)port;
    (void)which;
    return any_status();
}

static inline enum dia_status port_planes_start(struct dia_port *port, uint8_t first_pin,
                                                uint8_t width, const uint8_t *planes,
                                                const uint32_t *lengths,
                                                const struct dia_pulse_timing *timing)
{
    (void)port;
    (void)first_pin;
    (void)timing;
    return sends(planes, lengths[width - 1u] ? 8u : 0);
}

static inline enum dia_status port_spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                             const uint8_t *bytes, uint32_t n)
{
    (void)port;
    (void)bus;
    (void)clock_hz;
    return sends(bytes, n);
}

static inline enum dia_status port_i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                             const uint8_t *bytes, uint32_t n)
{
    (void)port;
    (void)bus;
    (void)address;
    return sends(bytes, n);
}

static inline enum dia_status port_lines_shift(struct dia_port *port, uint8_t first_pin,
                                               uint8_t width, uint8_t clock_pin,
                                               const uint8_t *bytes, uint16_t n)
{
    (void)port;
    (void)first_pin;
    (void)width;
    (void)clock_pin;
    return sends(bytes, n);
}

static const struct dia_port_ops port_ops = {
    .now_us = port_now_us,
    .pin_write = port_pin_write,
    .pin_release = port_pin_release,
    .pin_read = port_pin_read,
    .wait_ns = port_wait_ns,
    .pulse_start = port_pulse_start,
    .pulse_poll = port_poll,
    .planes_start = port_planes_start,
    .spi_start = port_spi_start,
    .spi_poll = port_poll,
    .i2c_start = port_i2c_start,
    .i2c_poll = port_poll,
    .lines_shift = port_lines_shift,
};
static struct dia_port a_port = {&port_ops, 0, 0};

/* All that can be asked of a driver, in an order that begins anywhere. */
static inline void driven(struct dia_driver *driver, const uint8_t *levels, uint32_t lamps)
{
    struct dia_about about;
    uint32_t again_us;
    dia_driver_about(driver, &about);
    for (int turn = 0; turn < 2; turn++) {
        Frama_C_make_unknown((char *)driver->drawing, driver->drawing_bytes);
        dia_driver_master(driver, any_share());
        if (lamps && any(0, 1))
            dia_driver_levels(driver, levels, lamps, NULL);
        dia_driver_show(driver);
        dia_driver_poll(driver, &again_us);
        for (int tick = 0; tick < 3; tick++)
            dia_driver_tick(driver);
        dia_driver_poll(driver, NULL);
        if (any(0, 1))
            dia_driver_refresh(driver);
        if (any(0, 1))
            dia_driver_dark(driver);
    }
    dia_driver_wait(driver);
    dia_driver_clear(driver);
    dia_driver_show_and_wait(driver);
}

#endif
