/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/sim.h>

#include "family.h"
#include "rig_bus.h"

static uint8_t bus_wire(const struct dia_rig_device *device, uint8_t role)
{
    return device->family->wires ? device->family->wires[role] : FAMILY_NO_BUS;
}

/* The pin of a device that is this wire of a bus. */
static uint8_t pin_of(const struct dia_rig_device *device, enum family_wire wire)
{
    for (uint8_t role = 0; role < DIA_RIG_PINS; role++) {
        if (bus_wire(device, role) == wire)
            return device->pins[role];
    }
    return DIA_NO_PIN;
}

int dia_rig_may_share(const struct dia_rig *rig, uint32_t pin, const struct dia_rig_device *device,
                      uint8_t role)
{
    uint8_t wire = bus_wire(device, role);
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (strcmp(lane->node, device->node) != 0)
            continue;
        if (lane->pin == pin || (lane->part.family == DIA_CLOCKED && lane->clock_pin == pin))
            return 0;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        for (uint8_t k = 0; k < DIA_RIG_PINS; k++) {
            if (rig->devices[i].pins[k] == pin && bus_wire(&rig->devices[i], k) != wire &&
                strcmp(rig->devices[i].node, device->node) == 0)
                return 0;
        }
    }
    return wire != FAMILY_NO_BUS;
}

static enum dia_route route(const struct dia_rig_device *device)
{
    return device->family->route ? device->family->route(device) : DIA_ON_PINS;
}

static int by_i2c(const struct dia_rig_device *device)
{
    return route(device) == DIA_ON_I2C;
}

static int by_spi(const struct dia_rig_device *device)
{
    return route(device) == DIA_ON_SPI;
}

/* The device joins the bus of another: both wires are shared, and each is told apart. */
static enum dia_status join_bus(struct rig_reader *reader, const struct tree_node *node,
                                struct dia_rig_device *device, struct dia_rig_device *other)
{
    int i2c = by_i2c(device);
    uint8_t clock = pin_of(device, i2c ? FAMILY_I2C_CLOCK : FAMILY_SPI_CLOCK);
    uint8_t data = pin_of(device, i2c ? FAMILY_I2C_DATA : FAMILY_SPI_DATA);
    if (clock != pin_of(other, i2c ? FAMILY_I2C_CLOCK : FAMILY_SPI_CLOCK) ||
        data != pin_of(other, i2c ? FAMILY_I2C_DATA : FAMILY_SPI_DATA))
        return dia_rig_wrong_key(
            reader, node,
            "'%s' shares one wire of a bus with '%s'; give it the other one too, "
            "or pins of its own",
            device->name, other->name);
    if (!i2c && (!by_spi(device) || !by_spi(other)))
        return dia_rig_wrong_key(
            reader, node, "'%s' shares its bus, so it must go by SPI; write a 'clock' for it",
            by_spi(device) ? other->name : device->name);
    if (i2c && device->address == other->address)
        return dia_rig_wrong_key(
            reader, node,
            "'%s' and '%s' have the address 0x%02x on one bus; set another one by "
            "the solder pads of one of them",
            device->name, other->name, (unsigned)device->address);
    device->bus = other->bus;
    device->shares = other->shares = 1;
    return DIA_OK;
}

/* Whether two devices have any wire of a bus in common. */
static int have_wire_in_common(const struct dia_rig_device *a, const struct dia_rig_device *b)
{
    for (int wire = FAMILY_SPI_CLOCK; wire <= FAMILY_I2C_DATA; wire++) {
        uint8_t pin = pin_of(a, (enum family_wire)wire);
        if (pin != DIA_NO_PIN && pin == pin_of(b, (enum family_wire)wire))
            return 1;
    }
    return 0;
}

enum dia_status dia_rig_find_bus(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_rig *rig, struct dia_rig_device *device)
{
    uint32_t spi = 0, i2c = 0, joined = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++)
        spi += rig->lanes[i].part.family == DIA_CLOCKED &&
               strcmp(rig->lanes[i].node, device->node) == 0;
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct dia_rig_device *other = &rig->devices[i];
        uint32_t after = other->bus + 1u;
        if (strcmp(other->node, device->node) != 0)
            continue;
        if (by_spi(other))
            spi = after > spi ? after : spi;
        if (by_i2c(other))
            i2c = after > i2c ? after : i2c;
        if (!have_wire_in_common(device, other))
            continue;
        enum dia_status status = join_bus(reader, node, device, other);
        if (status != DIA_OK)
            return status;
        joined = 1;
    }
    if (joined)
        return DIA_OK;
    device->bus = (uint8_t)(by_i2c(device) ? i2c : spi);
    if (spi >= DIA_SIM_BUSES || i2c >= DIA_SIM_BUSES)
        return dia_rig_wrong_key(reader, node, "a rig has at most %d SPI buses", DIA_SIM_BUSES);
    return DIA_OK;
}
