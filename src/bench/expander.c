/* SPDX-License-Identifier: MIT */
#include "characters.h"

/*
 * PCF8574: an I2C slave with eight outputs, which take each byte written to it. A start is a fall
 * of SDA while SCL is high, a stop a rise; bits are taken when SCL rises; the answer to a byte is
 * a low SDA in the ninth clock. Outputs here: RS, R/W, E and light on bits 0..3, D4..D7 on 4..7.
 *
 * Sheet (standard mode): SCL low 4.7 us, high 4 us.
 */
static void clock_rises(struct characters *c, uint64_t t)
{
    struct device *device = &c->device;
    dia_device_lasts(device, "pulse-short", "a low of SCL", device->changed[DIA_CHARACTERS_SCL], t,
                     4700);
    if (c->i2c.bits < 8)
        c->i2c.byte = (uint8_t)(c->i2c.byte << 1 | device->level[DIA_CHARACTERS_SDA]);
    c->i2c.bits++;
}

/* A byte has come in: what the outputs are from now on, or -1. */
static int take(struct characters *c, uint64_t t)
{
    uint8_t byte = c->i2c.byte;
    int to_outputs = !c->i2c.first && c->i2c.selected;
    if (c->i2c.first) {
        c->i2c.first = 0;
        c->i2c.selected = byte >> 1 == c->glass.address && !(byte & 1);
    }
    if (c->i2c.selected)
        dia_device_drive(&c->device, t + 300, DIA_CHARACTERS_SDA, 0);
    return to_outputs ? byte : -1;
}

int dia_expander_edge(struct characters *c, uint64_t t, uint8_t role, uint8_t level)
{
    struct device *device = &c->device;
    if (role == DIA_CHARACTERS_SDA) {
        if (device->level[DIA_CHARACTERS_SCL] && !level) {
            c->i2c.first = 1;
            c->i2c.bits = 0;
        } else if (device->level[DIA_CHARACTERS_SCL]) {
            c->i2c.selected = 0;
        }
    } else if (level) {
        clock_rises(c, t);
    } else {
        dia_device_lasts(device, "pulse-short", "a high of SCL", device->changed[role], t, 4000);
        if (c->i2c.bits == 8)
            return take(c, t);
        if (c->i2c.bits == 9) {
            dia_device_drive(device, t + 300, DIA_CHARACTERS_SDA, 2);
            c->i2c.bits = 0;
        }
    }
    return -1;
}
