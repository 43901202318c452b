/* SPDX-License-Identifier: MIT */
#include "characters_bus.h"

/* Bits of the expander. */
#define X_RS    1u
#define X_E     4u
#define X_LIGHT 8u

static uint8_t lines(const struct dia_characters *c)
{
    return c->setup.bus == DIA_BUS_8_LINES ? 8 : 4;
}

static enum dia_status pins_init(struct dia_characters *c)
{
    const DIA_ROM struct dia_port_ops *ops = c->driver.port->ops;
    const struct dia_characters_setup *s = &c->setup;
    if (!ops->pin_write || !ops->wait_ns ||
        (s->rw_pin != DIA_NO_PIN && (!ops->pin_read || !ops->pin_release)))
        return DIA_UNSUPPORTED;
    enum dia_status status = ops->pin_write(c->driver.port, s->e_pin, 0);
    if (status == DIA_OK)
        status = ops->pin_write(c->driver.port, s->rs_pin, 0);
    if (status == DIA_OK && s->rw_pin != DIA_NO_PIN)
        status = ops->pin_write(c->driver.port, s->rw_pin, 0);
    for (uint8_t k = 0; k < lines(c) && status == DIA_OK; k++)
        status = ops->pin_write(c->driver.port, s->data_pin[k], 0);
    return status;
}

enum dia_status dia_characters_bus_init(struct dia_characters *c)
{
    if (c->setup.bus != DIA_BUS_EXPANDER)
        return pins_init(c);
    return c->driver.port->ops->i2c_start && c->driver.port->ops->i2c_poll ? DIA_OK
                                                                           : DIA_UNSUPPORTED;
}

/* Writes a pin; 1 when the port refuses. */
static uint8_t refuses(struct dia_characters *c, uint8_t pin, uint8_t level)
{
    return c->driver.port->ops->pin_write(c->driver.port, pin, level) != DIA_OK;
}

static void wait(struct dia_characters *c, uint16_t ns)
{
    c->driver.port->ops->wait_ns(c->driver.port, ns);
}

/* E goes high for long enough, and stays low for the rest of the cycle. */
static uint8_t pulse(struct dia_characters *c)
{
    const DIA_ROM struct dia_characters_part *part = c->setup.part;
    uint8_t refused = refuses(c, c->setup.e_pin, 1);
    wait(c, part->enable_ns);
    refused |= refuses(c, c->setup.e_pin, 0);
    wait(c, part->cycle_ns - part->enable_ns);
    return refused;
}

/* The upper `lines` bits of a byte; they stand before E rises, so long before it falls. */
static uint8_t put_bits(struct dia_characters *c, uint8_t byte)
{
    uint8_t refused = 0;
    for (uint8_t k = lines(c); k-- != 0; byte = (uint8_t)(byte << 1))
        refused |= refuses(c, c->setup.data_pin[k], byte >> 7);
    return refused || pulse(c); /* wrong bits are not taken */
}

static enum dia_status by_pins(struct dia_characters *c, uint16_t entry)
{
    uint8_t refused = refuses(c, c->setup.rs_pin, (entry & IS_DATA) != 0);
    wait(c, c->setup.part->address_ns);
    if (!refused)
        refused = put_bits(c, (uint8_t)entry);
    if (!refused && lines(c) == 4 && !(entry & HALF))
        refused = put_bits(c, (uint8_t)(entry << 4));
    return refused ? DIA_PORT_FAILED : DIA_OK;
}

/* Each half with E and without; before them, if RS is to change, a byte that sets it, so that it
 * stands when E rises. */
static enum dia_status by_expander(struct dia_characters *c, uint16_t entry)
{
    struct dia_port *port = c->driver.port;
    uint8_t rs = entry & IS_DATA ? X_RS : 0, n = 0;
    uint8_t base = (uint8_t)(rs | (c->light_wanted ? X_LIGHT : 0));
    uint8_t high = (uint8_t)((entry & 0xf0u) | base);
    uint8_t low = (uint8_t)((uint8_t)(entry << 4) | base);
    if (dia_port_claim_i2c(port, c->setup.i2c_bus) != DIA_OK)
        return DIA_BUSY;
    if (rs != c->last_rs)
        c->bytes[n++] = high;
    c->bytes[n++] = (uint8_t)(high | X_E);
    c->bytes[n++] = high;
    if (!(entry & HALF)) {
        c->bytes[n++] = (uint8_t)(low | X_E);
        c->bytes[n++] = low;
    }
    enum dia_status status =
        port->ops->i2c_start(port, c->setup.i2c_bus, c->setup.address, c->bytes, n);
    if (status == DIA_OK)
        c->last_rs = rs;
    else
        dia_port_release_i2c(port, c->setup.i2c_bus);
    return status;
}

enum dia_status dia_characters_bus_send(struct dia_characters *c, uint16_t entry)
{
    return c->setup.bus == DIA_BUS_EXPANDER ? by_expander(c, entry) : by_pins(c, entry);
}

/* D7 while E is high, with RS low and R/W high; with four lines a second pulse, which is the
 * lower half. */
uint8_t dia_characters_bus_busy(struct dia_characters *c)
{
    struct dia_port *port = c->driver.port;
    const DIA_ROM struct dia_port_ops *ops = port->ops;
    const struct dia_characters_setup *s = &c->setup;
    uint8_t busy = 0, refused = 0;
    for (uint8_t k = 0; k < lines(c); k++)
        refused = ops->pin_release(port, s->data_pin[k]) != DIA_OK || refused;
    refused |= refuses(c, s->rs_pin, 0);
    refused |= refuses(c, s->rw_pin, 1);
    wait(c, s->part->address_ns);
    if (!refused) {
        refused |= refuses(c, s->e_pin, 1);
        wait(c, s->part->enable_ns);
        refused = ops->pin_read(port, s->data_pin[lines(c) - 1], &busy) != DIA_OK || refused;
        refused |= refuses(c, s->e_pin, 0);
        wait(c, s->part->cycle_ns - s->part->enable_ns);
        if (lines(c) == 4)
            refused |= pulse(c);
    }
    refused |= refuses(c, s->rw_pin, 0);
    for (uint8_t k = 0; k < lines(c); k++)
        refused |= refuses(c, s->data_pin[k], 0);
    return refused ? 2 : busy;
}

enum dia_status dia_characters_bus_poll(struct dia_characters *c)
{
    struct dia_port *port = c->driver.port;
    enum dia_status status = port->ops->i2c_poll(port, c->setup.i2c_bus);
    if (status != DIA_BUSY)
        dia_port_release_i2c(port, c->setup.i2c_bus);
    return status;
}
