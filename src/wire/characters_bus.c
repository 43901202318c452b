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
    const DIA_ROM struct dia_port_ops *ops = c->port->ops;
    const struct dia_characters_setup *s = &c->setup;
    if (!ops->wait_ns || (s->rw_pin != DIA_NOT_WIRED && (!ops->pin_read || !ops->pin_release)))
        return DIA_UNSUPPORTED;
    enum dia_status status = ops->pin_write(c->port, s->e_pin, 0);
    if (status == DIA_OK)
        status = ops->pin_write(c->port, s->rs_pin, 0);
    if (status == DIA_OK && s->rw_pin != DIA_NOT_WIRED)
        status = ops->pin_write(c->port, s->rw_pin, 0);
    for (uint8_t k = 0; k < lines(c) && status == DIA_OK; k++)
        status = ops->pin_write(c->port, s->data_pin[k], 0);
    return status;
}

enum dia_status characters_bus_init(struct dia_characters *c)
{
    if (c->setup.bus != DIA_BUS_EXPANDER)
        return pins_init(c);
    return c->port->ops->i2c_start && c->port->ops->i2c_poll ? DIA_OK : DIA_UNSUPPORTED;
}

/* E goes high for long enough, and stays low for the rest of the cycle. */
static void pulse(struct dia_characters *c)
{
    const DIA_ROM struct dia_port_ops *ops = c->port->ops;
    const DIA_ROM struct dia_characters_part *part = c->setup.part;
    ops->pin_write(c->port, c->setup.e_pin, 1);
    ops->wait_ns(c->port, part->enable_ns);
    ops->pin_write(c->port, c->setup.e_pin, 0);
    ops->wait_ns(c->port, part->cycle_ns - part->enable_ns);
}

/* The upper `lines` bits of a byte; they stand before E rises, so long before it falls. */
static void put_bits(struct dia_characters *c, uint8_t byte)
{
    for (uint8_t k = lines(c); k-- != 0; byte = (uint8_t)(byte << 1))
        c->port->ops->pin_write(c->port, c->setup.data_pin[k], byte >> 7);
    pulse(c);
}

static void by_pins(struct dia_characters *c, uint16_t entry)
{
    const DIA_ROM struct dia_port_ops *ops = c->port->ops;
    ops->pin_write(c->port, c->setup.rs_pin, (entry & IS_DATA) != 0);
    ops->wait_ns(c->port, c->setup.part->address_ns);
    put_bits(c, (uint8_t)entry);
    if (lines(c) == 4 && !(entry & HALF))
        put_bits(c, (uint8_t)(entry << 4));
}

/* Each half with E and without; before them, if RS is to change, a byte that sets it, so that it
 * stands when E rises. */
static enum dia_status by_expander(struct dia_characters *c, uint16_t entry)
{
    uint8_t rs = entry & IS_DATA ? X_RS : 0, n = 0;
    uint8_t base = (uint8_t)(rs | (c->light ? X_LIGHT : 0));
    uint8_t high = (uint8_t)((entry & 0xf0u) | base);
    uint8_t low = (uint8_t)((uint8_t)(entry << 4) | base);
    if (rs != c->last_rs)
        c->bytes[n++] = high;
    c->bytes[n++] = (uint8_t)(high | X_E);
    c->bytes[n++] = high;
    if (!(entry & HALF)) {
        c->bytes[n++] = (uint8_t)(low | X_E);
        c->bytes[n++] = low;
    }
    enum dia_status status =
        c->port->ops->i2c_start(c->port, c->setup.i2c_bus, c->setup.address, c->bytes, n);
    if (status == DIA_OK)
        c->last_rs = rs;
    return status;
}

enum dia_status characters_bus_send(struct dia_characters *c, uint16_t entry)
{
    if (c->setup.bus == DIA_BUS_EXPANDER)
        return by_expander(c, entry);
    by_pins(c, entry);
    return DIA_OK;
}

/* D7 while E is high, with RS low and R/W high; with four lines a second pulse, which is the
 * lower half. */
uint8_t characters_bus_busy(struct dia_characters *c)
{
    const DIA_ROM struct dia_port_ops *ops = c->port->ops;
    const struct dia_characters_setup *s = &c->setup;
    uint8_t busy = 0;
    for (uint8_t k = 0; k < lines(c); k++)
        ops->pin_release(c->port, s->data_pin[k]);
    ops->pin_write(c->port, s->rs_pin, 0);
    ops->pin_write(c->port, s->rw_pin, 1);
    ops->wait_ns(c->port, s->part->address_ns);
    ops->pin_write(c->port, s->e_pin, 1);
    ops->wait_ns(c->port, s->part->enable_ns);
    ops->pin_read(c->port, s->data_pin[lines(c) - 1], &busy);
    ops->pin_write(c->port, s->e_pin, 0);
    ops->wait_ns(c->port, s->part->cycle_ns - s->part->enable_ns);
    if (lines(c) == 4)
        pulse(c);
    ops->pin_write(c->port, s->rw_pin, 0);
    for (uint8_t k = 0; k < lines(c); k++)
        ops->pin_write(c->port, s->data_pin[k], 0);
    return busy;
}

enum dia_status characters_bus_poll(struct dia_characters *c)
{
    return c->port->ops->i2c_poll(c->port, c->setup.i2c_bus);
}
