/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "family.h"
#include "host_private.h"
#include "outlet_private.h"

/* ---- what the rig lacks ---------------------------------------------------------------------- */

static enum dia_status lane_lacks(const struct dia_rig *rig, const struct dia_rig_lane *lane,
                                  struct dia_diagnostic *wrong)
{
    if (lane->group)
        return dia_host_wrong(
            wrong,
            "%s: lane '%s' is in group '%s', and this computer cannot set pins so "
            "exactly; take 'group' out and give each lane a 'spi' of its own",
            rig->path, lane->name, rig->groups[lane->group - 1]);
    if (lane->part.family == DIA_ONEWIRE && lane->spi[0] == 0)
        return dia_host_wrong(wrong,
                              "%s: lane '%s' names no device of this computer; connect it to the "
                              "data line of an SPI bus and write 'spi: /dev/spidev0.0'",
                              rig->path, lane->name);
    return DIA_OK;
}

static enum dia_route route_of(const struct dia_rig_device *device)
{
    return device->family->route ? device->family->route(device) : DIA_ON_PINS;
}

static enum dia_status device_lacks(const struct dia_rig *rig, const struct dia_rig_device *device,
                                    struct dia_diagnostic *wrong)
{
    if (route_of(device) == DIA_ON_I2C && device->i2c[0] == 0)
        return dia_host_wrong(wrong,
                              "%s: device '%s' names no I2C bus of this computer; write 'i2c: "
                              "/dev/i2c-1'",
                              rig->path, device->name);
    return DIA_OK;
}

/* ---- pins ------------------------------------------------------------------------------------ */

/* 1: a wire of a bus that a device of Linux drives. */
static int is_of_a_bus(const struct dia_rig_device *device, uint8_t role)
{
    uint8_t wire = device->family->wires ? device->family->wires[role] : FAMILY_NO_BUS;
    if (wire == FAMILY_I2C_CLOCK || wire == FAMILY_I2C_DATA)
        return device->i2c[0] != 0;
    return wire != FAMILY_NO_BUS && device->spi[0] != 0;
}

static uint64_t pins_of(const struct dia_rig *rig)
{
    uint64_t pins = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (lane->part.family == DIA_CLOCKED && lane->spi[0] == 0)
            pins |= (uint64_t)1 << lane->pin | (uint64_t)1 << lane->clock_pin;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        for (uint8_t role = 0; role < DIA_RIG_PINS; role++) {
            uint8_t pin = rig->devices[i].pins[role];
            if (pin != DIA_NO_PIN && !is_of_a_bus(&rig->devices[i], role))
                pins |= (uint64_t)1 << pin;
        }
    }
    for (uint32_t i = 0; i < rig->button_count; i++)
        pins |= (uint64_t)1 << rig->buttons[i].pin;
    return pins;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

static enum dia_status no_memory(struct dia_diagnostic *wrong)
{
    errno = ENOMEM;
    dia_host_failed(wrong, "outlet", "the parts cannot be driven");
    return DIA_PORT_FAILED;
}

/* What the port said of the lane or device that was being connected. */
static enum dia_status refused(struct dia_outlet *outlet, struct dia_diagnostic *wrong)
{
    const char *name = outlet->drives.connecting;
    if (!outlet->computer.why[0])
        return no_memory(wrong);
    dia_host_wrong(wrong, "%s: %s%s%s", outlet->drives.rig->path, name ? name : "",
                   name ? ": " : "", outlet->computer.why);
    return DIA_PORT_FAILED;
}

/* A frame of such parts ends when the clock rests, so it goes out in one piece or not at all. */
static enum dia_status pieces_fit(struct dia_outlet *outlet, struct dia_diagnostic *wrong)
{
    const struct dia_rig *rig = outlet->drives.rig;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (lane->part.family != DIA_CLOCKED || lane->part.clock.framing != DIA_FRAME_PAUSE)
            continue;
        uint32_t bytes = dia_clocked_bytes(&lane->part, lane->count);
        uint32_t room = dia_linux_spi_room(&outlet->computer, lane->bus);
        if (room && bytes > room) {
            dia_host_wrong(wrong,
                           "%s: %s: a frame is a transfer of %u bytes, and the kernel's buffer has "
                           "%u: start Linux with spidev.bufsiz=%u",
                           rig->path, lane->name, (unsigned)bytes, (unsigned)room,
                           (unsigned)(bytes + 4095) / 4096 * 4096);
            return DIA_PORT_FAILED;
        }
    }
    return DIA_OK;
}

static int make_part(struct dia_outlet *outlet, uint32_t i)
{
    struct outlet_part *part = &outlet->parts[i];
    const struct dia_rig *rig = outlet->drives.rig;
    part->driver = outlet->drives.members[i].driver;
    part->drawing = calloc(part->driver->drawing_bytes + 1u, 1);
    part->master = part->driver->master;
    if (i < rig->device_count) {
        const struct dia_rig_device *device = &rig->devices[i];
        part->name = device->name;
        part->family = device->family;
        part->is_cells = outlet->drives.devices[i].is_cells;
        part->state = calloc(1, device->family->driver_bytes);
        return part->drawing && part->state ? 0 : -1;
    }
    part->name = rig->lanes[i - rig->device_count].name;
    part->strip = &outlet->drives.lanes[i - rig->device_count].strip;
    return part->drawing ? 0 : -1;
}

/* Cells are driven by themselves; what lights them is set aside for good. */
static int make_set(struct dia_outlet *outlet)
{
    const struct dia_rig *rig = outlet->drives.rig;
    struct dia_set_supply *supplies = outlet->drives.set_supplies;
    uint8_t n = 0;
    for (uint32_t k = 0; k < rig->supply_count; k++)
        supplies[k].given_ua = rig->supplies[k].current_ua - rig->supplies[k].reserve_ua;
    for (uint32_t i = 0; i < outlet->count; i++) {
        struct dia_set_member *member = &outlet->drives.members[i];
        uint32_t *given_ua = &supplies[member->supply].given_ua;
        if (outlet->parts[i].is_cells) {
            *given_ua -= member->lamp_ua < *given_ua ? member->lamp_ua : *given_ua;
            continue;
        }
        outlet->part_of[n] = (uint8_t)i;
        outlet->members[n++] = *member;
    }
    return n == 0 || dia_set_init(&outlet->set, supplies, (uint8_t)rig->supply_count,
                                  outlet->members, n) == DIA_OK
               ? 0
               : -1;
}

static enum dia_status build(struct dia_outlet *outlet, struct dia_diagnostic *wrong)
{
    struct dia_player *drives = &outlet->drives;
    const struct dia_rig *rig = drives->rig;
    uint64_t pins = pins_of(rig);
    enum dia_status status = DIA_OK;
    for (uint32_t i = 0; i < rig->lane_count && status == DIA_OK; i++)
        status = lane_lacks(rig, &rig->lanes[i], wrong);
    for (uint32_t i = 0; i < rig->device_count && status == DIA_OK; i++)
        status = device_lacks(rig, &rig->devices[i], wrong);
    if (status != DIA_OK)
        return status;
    if (pins && rig->controller.gpio[0] == 0)
        return dia_host_wrong(wrong,
                              "%s: the controller names no pins of this computer; write "
                              "'controller: linux', or 'gpio: /dev/gpiochip0' with its other keys",
                              rig->path);
    if (pins && dia_linux_gpio(&outlet->computer, rig->controller.gpio, pins) != DIA_OK)
        return refused(outlet, wrong);
    for (uint32_t i = 0; i < rig->button_count; i++) {
        if (outlet->computer.port.ops->pin_release(&outlet->computer.port,
                                                   (uint8_t)rig->buttons[i].pin) != DIA_OK)
            return refused(outlet, wrong);
    }
    if (dia_play_lanes_connect(drives) != 0 || dia_play_devices_connect(drives) != 0)
        return refused(outlet, wrong);
    status = pieces_fit(outlet, wrong);
    if (status != DIA_OK)
        return status;
    outlet->count = rig->device_count + rig->lane_count;
    for (uint32_t i = 0; i < outlet->count; i++) {
        if (make_part(outlet, i) != 0)
            return no_memory(wrong);
    }
    return make_set(outlet) == 0 ? DIA_OK : no_memory(wrong);
}

struct dia_outlet *dia_outlet_open(const struct dia_rig *rig, int *failed,
                                   struct dia_diagnostic *wrong)
{
    if (dia_play_has_nodes(rig)) {
        dia_host_wrong(wrong, "%s: the rig is driven by nodes; take one at a time", rig->path);
        if (failed)
            *failed = 0;
        return NULL;
    }
    struct dia_outlet *outlet = calloc(1, sizeof *outlet);
    struct dia_desk *desk = calloc(1, sizeof *desk);
    enum dia_status status = DIA_PORT_FAILED;
    if (outlet && desk) {
        pthread_condattr_t by_monotonic;
        outlet->desk = desk;
        pthread_mutex_init(&outlet->mutex, NULL);
        pthread_condattr_init(&by_monotonic);
        pthread_condattr_setclock(&by_monotonic, CLOCK_MONOTONIC);
        pthread_cond_init(&outlet->wake, &by_monotonic);
        pthread_cond_init(&outlet->done, &by_monotonic);
        pthread_condattr_destroy(&by_monotonic);
        dia_linux_init(&outlet->computer);
        dia_desk_init(desk, rig);
        outlet->drives.rig = rig;
        outlet->drives.desk = desk;
        outlet->drives.master = rig->master;
        outlet->drives.computer = &outlet->computer;
        outlet->drives.port = &outlet->computer.port;
        status = build(outlet, wrong);
        if (status == DIA_OK)
            return outlet;
        dia_outlet_close(outlet);
    } else {
        free(outlet);
        free(desk);
        no_memory(wrong);
    }
    if (failed)
        *failed = status == DIA_PORT_FAILED;
    return NULL;
}

void dia_outlet_close(struct dia_outlet *outlet)
{
    if (!outlet)
        return;
    if (outlet->has_thread) {
        pthread_mutex_lock(&outlet->mutex);
        outlet->ends = 1;
        pthread_cond_signal(&outlet->wake);
        pthread_mutex_unlock(&outlet->mutex);
        pthread_join(outlet->thread, NULL);
    }
    dia_linux_close(&outlet->computer);
    dia_play_lanes_free(&outlet->drives);
    dia_play_devices_free(&outlet->drives);
    for (uint32_t i = 0; i < OUTLET_PARTS; i++) {
        free(outlet->parts[i].drawing);
        free(outlet->parts[i].state);
    }
    pthread_cond_destroy(&outlet->wake);
    pthread_cond_destroy(&outlet->done);
    pthread_mutex_destroy(&outlet->mutex);
    free(outlet->desk);
    free(outlet);
}

/* ---- what goes by what ----------------------------------------------------------------------- */

static void lane_line(const struct dia_outlet *outlet, const struct dia_rig_lane *lane, char *text,
                      size_t size)
{
    struct dia_linux_pulse_facts facts;
    struct dia_words hz;
    if (dia_linux_pulse_facts(&outlet->computer, (uint8_t)lane->pin, &facts))
        snprintf(text, size, "%s: %u x %s, %s at %s, %u bits a bit, %u of %u bytes a frame",
                 lane->name, (unsigned)lane->count, lane->part.name, lane->spi,
                 dia_quantity_as(facts.clock_hz / 1000 * 1000, DIA_CLOCK, &hz),
                 (unsigned)facts.bits, (unsigned)facts.bytes, (unsigned)facts.room);
    else if (lane->spi[0])
        snprintf(text, size, "%s: %u x %s, %s at %s", lane->name, (unsigned)lane->count,
                 lane->part.name, lane->spi, dia_quantity_as(lane->clock_hz, DIA_CLOCK, &hz));
    else
        snprintf(text, size, "%s: %u x %s, lines %u and %u of %s, one bit after the other",
                 lane->name, (unsigned)lane->count, lane->part.name, (unsigned)lane->clock_pin,
                 (unsigned)lane->pin, outlet->drives.rig->controller.gpio);
}

static void device_line(const struct dia_rig *rig, const struct dia_rig_device *device, char *text,
                        size_t size)
{
    char title[120];
    struct dia_words hz;
    dia_rig_title(device, title, sizeof title);
    if (device->spi[0])
        snprintf(text, size, "%s, %s at %s", title, device->spi,
                 dia_quantity_as(device->clock_hz, DIA_CLOCK, &hz));
    else if (device->i2c[0])
        snprintf(text, size, "%s, %s, address 0x%02x", title, device->i2c,
                 (unsigned)device->address);
    else
        snprintf(text, size, "%s, lines of %s", title, rig->controller.gpio);
}

int dia_outlet_line(const struct dia_outlet *outlet, uint32_t k, char *text, size_t size)
{
    const struct dia_rig *rig = outlet->drives.rig;
    if (k < rig->lane_count)
        lane_line(outlet, &rig->lanes[k], text, size);
    else if ((k -= rig->lane_count) < rig->device_count)
        device_line(rig, &rig->devices[k], text, size);
    else if ((k -= rig->device_count) < rig->button_count)
        snprintf(text, size, "%s: button, line %u of %s", rig->buttons[k].name,
                 (unsigned)rig->buttons[k].pin, rig->controller.gpio);
    else
        return 0;
    return 1;
}
