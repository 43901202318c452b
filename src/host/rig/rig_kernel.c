/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "family.h"
#include "rig_kernel.h"

enum dia_status dia_rig_is_device(struct rig_reader *reader, const struct tree_node *node,
                                  const char *key, const char *example)
{
    const struct tree_node *value = dia_tree_get(node, key);
    if (!value || value->kind != TREE_SCALAR || strncmp(value->text, "/dev/", 5) == 0)
        return DIA_OK; /* what is no text is told as such */
    return dia_rig_wrong_value(reader, value,
                               "'%s' is a device of Linux, such as %s; found '%.40s'", key, example,
                               value->text);
}

/* The first lane or device of a node that has this for its SPI; *device is it, where it is one. */
static const char *has_spi(const struct dia_rig *rig, const char *of, const char *path,
                           const struct dia_rig_device **device)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (strcmp(rig->lanes[i].spi, path) == 0 && strcmp(rig->lanes[i].node, of) == 0)
            return rig->lanes[i].name;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        if (strcmp(rig->devices[i].spi, path) != 0 || strcmp(rig->devices[i].node, of) != 0)
            continue;
        *device = &rig->devices[i];
        return rig->devices[i].name;
    }
    return NULL;
}

enum dia_status dia_rig_lane_kernel(struct rig_reader *reader, const struct tree_node *node,
                                    const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    const struct dia_rig_device *device;
    const struct tree_node *spi = dia_tree_get(node, "spi");
    enum dia_status status = dia_rig_is_device(reader, node, "spi", "/dev/spidev0.0");
    if (status != DIA_OK || !spi || lane->spi[0] == 0)
        return status;
    const char *taken = has_spi(rig, lane->node, lane->spi, &device);
    if (taken)
        return dia_rig_wrong_value(reader, spi, "%s is that of '%s' already; each lane has its own",
                                   lane->spi, taken);
    if (dia_tree_get(node, "group"))
        return dia_rig_wrong_key(
            reader, spi,
            "lanes of a group are sent at once, by pins; 'spi' sends one: keep "
            "'group' or 'spi'");
    return DIA_OK;
}

static int on_one_bus(const struct dia_rig_device *a, const struct dia_rig_device *b, int by_i2c)
{
    enum dia_route way = by_i2c ? DIA_ON_I2C : DIA_ON_SPI;
    return a->family->route && b->family->route && a->family->route(a) == way &&
           b->family->route(b) == way && a->bus == b->bus;
}

enum dia_status dia_rig_device_kernel(struct rig_reader *reader, const struct tree_node *node,
                                      const struct dia_rig *rig,
                                      const struct dia_rig_device *device)
{
    enum dia_route way = device->family->route ? device->family->route(device) : DIA_ON_PINS;
    const struct tree_node *spi = dia_tree_get(node, "spi"), *i2c = dia_tree_get(node, "i2c");
    enum dia_status status = dia_rig_is_device(reader, node, "spi", "/dev/spidev0.0");
    status = dia_rig_both(status, dia_rig_is_device(reader, node, "i2c", "/dev/i2c-1"));
    if (status != DIA_OK)
        return status;
    if ((spi && way != DIA_ON_SPI) || (i2c && way != DIA_ON_I2C))
        return dia_rig_wrong_key(reader, spi && way != DIA_ON_SPI ? spi : i2c,
                                 "'%s' does not go by %s as it is described here; leave '%s' out",
                                 device->name, spi && way != DIA_ON_SPI ? "SPI" : "I2C",
                                 spi && way != DIA_ON_SPI ? "spi" : "i2c");
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *other = &rig->devices[i];
        if (strcmp(other->node, device->node) != 0)
            continue;
        int by_i2c = way == DIA_ON_I2C;
        const char *mine = by_i2c ? device->i2c : device->spi;
        const char *its = by_i2c ? other->i2c : other->spi;
        int shares = on_one_bus(device, other, by_i2c), same = strcmp(mine, its) == 0;
        if (way != DIA_ON_PINS && shares && !same)
            return dia_rig_wrong_key(reader,
                                     spi   ? spi
                                     : i2c ? i2c
                                           : node,
                                     "'%s' shares the bus of '%s'; write the same '%s' for both",
                                     device->name, other->name, by_i2c ? "i2c" : "spi");
        if (way != DIA_ON_PINS && !shares && same && mine[0])
            return dia_rig_wrong_key(reader, spi ? spi : i2c,
                                     "%s is that of '%s', which is on other pins; two on one bus "
                                     "have the same pins for clock and data",
                                     mine, other->name);
    }
    const struct dia_rig_device *is_device = NULL;
    const char *taken = spi ? has_spi(rig, device->node, device->spi, &is_device) : NULL;
    if (taken && !is_device)
        return dia_rig_wrong_value(reader, spi, "%s is that of lane '%s'; pixels share with nobody",
                                   device->spi, taken);
    return DIA_OK;
}
