/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/panel.h>

#include "bits.h"

/* A frame is made of transmissions, each a command with what belongs to it. */
enum { SHOWN, DATA_COMMAND, DATA, LIGHT, KEYS };

#define WRITE_DATA 0x40
#define READ_KEYS  0x42
#define ADDRESS_0  0xc0
#define DARK       0x80
#define LIT        0x88

#define KEY_BYTES 4

static const DIA_ROM uint8_t duties[8] = {1, 2, 4, 10, 11, 12, 13, 14}; /* sixteenths */

static struct dia_panel *panel_of(struct dia_driver *driver)
{
    return (struct dia_panel *)driver;
}

static uint8_t has_strobe(const struct dia_panel *panel)
{
    return panel->part->strobe_ns != 0;
}

static void write_pin(struct dia_panel *panel, uint8_t pin, uint8_t level)
{
    struct dia_port *port = panel->driver.port;
    if (port->ops->pin_write(port, pin, level) != DIA_OK)
        panel->refused = 1;
}

static void wait(struct dia_panel *panel, uint16_t ns)
{
    struct dia_port *port = panel->driver.port;
    port->ops->wait_ns(port, ns);
}

/* DIO low, or let go. */
static void dio(struct dia_panel *panel, uint8_t level)
{
    struct dia_port *port = panel->driver.port;
    if (!level)
        write_pin(panel, panel->dio_pin, 0);
    else if (port->ops->pin_release(port, panel->dio_pin) != DIA_OK)
        panel->refused = 1;
}

static uint8_t read_dio(struct dia_panel *panel)
{
    struct dia_port *port = panel->driver.port;
    uint8_t level = 0;
    if (port->ops->pin_read(port, panel->dio_pin, &level) != DIA_OK)
        panel->refused = 1;
    return level;
}

static void clock(struct dia_panel *panel, uint8_t level)
{
    write_pin(panel, panel->clock_pin, level);
    wait(panel, panel->part->period_ns / 2u);
}

/* With a strobe: it is low during a transmission. Without: DIO falls, and at the end rises, while
 * the clock is high. */
static void begin(struct dia_panel *panel)
{
    if (has_strobe(panel)) {
        write_pin(panel, panel->strobe_pin, 0);
    } else {
        dio(panel, 0);
        wait(panel, panel->part->pulse_ns);
        clock(panel, 0);
    }
}

static void end(struct dia_panel *panel)
{
    if (has_strobe(panel)) { /* as long after the last clock as it is high then */
        wait(panel, (uint16_t)(panel->part->strobe_ns - panel->part->period_ns / 2u));
        write_pin(panel, panel->strobe_pin, 1);
        wait(panel, panel->part->strobe_ns);
    } else {
        dio(panel, 0);
        wait(panel, panel->part->pulse_ns);
        clock(panel, 1);
        dio(panel, 1);
        wait(panel, panel->part->period_ns / 2u);
    }
}

/* Lowest bit first; each is taken when the clock rises. A part without strobe answers each byte
 * by a low DIO in a ninth clock. */
static enum dia_status send(struct dia_panel *panel, uint8_t byte)
{
    for (uint8_t k = 0; k < 8; k++, byte = (uint8_t)(byte >> 1)) {
        clock(panel, 0);
        dio(panel, byte & 1u);
        wait(panel, panel->part->pulse_ns);
        clock(panel, 1);
    }
    if (has_strobe(panel))
        return DIA_OK;
    clock(panel, 0);
    dio(panel, 1);
    wait(panel, panel->part->pulse_ns);
    clock(panel, 1);
    uint8_t answer = read_dio(panel);
    clock(panel, 0);
    return answer ? DIA_PORT_FAILED : DIA_OK;
}

static uint8_t receive(struct dia_panel *panel)
{
    uint8_t byte = 0;
    for (uint8_t mask = 1; mask != 0; mask = (uint8_t)(mask << 1)) {
        clock(panel, 0);
        if (read_dio(panel))
            byte |= mask;
        clock(panel, 1);
    }
    return byte;
}

/* A TM1638 has digits on even addresses and single lamps on bit 0 of odd ones. */
enum dia_status dia_panel_digit(struct dia_panel *panel, uint8_t digit, uint8_t segments)
{
    if (digit >= panel->part->digits)
        return DIA_BAD_VALUE;
    panel->driver.drawing[panel->part->lamps ? 2u * digit : digit] = segments;
    return DIA_OK;
}

enum dia_status dia_panel_lamp(struct dia_panel *panel, uint8_t lamp, uint8_t on)
{
    if (lamp >= panel->part->lamps)
        return DIA_BAD_VALUE;
    panel->driver.drawing[2u * lamp + 1u] = on != 0;
    return DIA_OK;
}

static void refresh(struct dia_driver *driver)
{
    panel_of(driver)->changed = 1;
}

static uint8_t level_of(dia_share master)
{
    uint16_t wanted = (uint16_t)((uint32_t)master * 28u >> 15); /* twice 14 sixteenths */
    uint8_t level = 1;
    if (master == 0)
        return 0;
    while (level < 8 && wanted >= duties[level - 1u] + duties[level])
        level++;
    return level;
}

/* The transmission after one, of those this frame has. */
static uint8_t next_frame(const struct dia_panel *panel, uint8_t frame)
{
    if (frame == SHOWN && panel->changed)
        return DATA_COMMAND;
    if (frame == DATA_COMMAND)
        return DATA;
    if (frame < LIGHT) /* always: a display that a disturbance has switched off comes back */
        return LIGHT;
    return frame < KEYS && panel->part->keys ? KEYS : SHOWN;
}

static uint8_t last_byte(const struct dia_panel *panel)
{
    if (panel->frame == KEYS)
        return KEY_BYTES;
    return panel->frame != DATA ? 0 : panel->part->lamps ? 16 : panel->part->digits;
}

/* Eight keys: four on bit 0 of the bytes, four on bit 4. */
static void read_keys(struct dia_panel *panel)
{
    uint8_t byte = receive(panel), at = (uint8_t)((panel->byte - 1u) & 3u);
    panel->read |= (uint8_t)((byte & 1u) << at | (byte >> 4 & 1u) << (at + 4u));
    if (panel->byte == KEY_BYTES && !panel->refused)
        panel->keys = panel->read;
}

static enum dia_status one_byte(struct dia_panel *panel)
{
    if (panel->byte == 0)
        begin(panel);
    switch (panel->frame) {
    case DATA_COMMAND:
        return send(panel, WRITE_DATA);
    case DATA:
        return send(panel, panel->byte == 0 ? ADDRESS_0 : panel->taken[panel->byte - 1u]);
    case LIGHT:
        return send(panel, panel->level ? (uint8_t)(LIT - 1 + panel->level) : DARK);
    default:
        if (panel->byte != 0) {
            read_keys(panel);
            return DIA_OK;
        }
        panel->read = 0;
        send(panel, READ_KEYS);
        dio(panel, 1);
        wait(panel, panel->part->read_ns);
        return DIA_OK;
    }
}

/* What the chip has is not known: the next show sends all. */
static enum dia_status give_up(struct dia_panel *panel)
{
    end(panel);
    panel->changed = 1;
    panel->frame = SHOWN;
    return DIA_PORT_FAILED;
}

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_panel *panel = panel_of(driver);
    *again_us = 0;
    if (panel->frame == SHOWN)
        return DIA_OK;
    panel->refused = 0;
    if (one_byte(panel) != DIA_OK || panel->refused)
        return give_up(panel);
    if (panel->byte++ == last_byte(panel)) {
        end(panel);
        if (panel->refused)
            return give_up(panel);
        if (panel->frame == DATA)
            panel->changed = 0;
        panel->frame = next_frame(panel, panel->frame);
        panel->byte = 0;
    }
    return panel->frame == SHOWN ? DIA_OK : DIA_BUSY;
}

static void begin_frame(struct dia_panel *panel, dia_share master)
{
    panel->level = level_of(master);
    panel->frame = next_frame(panel, SHOWN);
    panel->byte = 0;
}

static enum dia_status show(struct dia_driver *driver)
{
    struct dia_panel *panel = panel_of(driver);
    if (panel->frame != SHOWN)
        return DIA_BUSY;
    if (memcmp(panel->taken, driver->drawing, sizeof panel->taken) != 0)
        panel->changed = 1;
    memcpy(panel->taken, driver->drawing, sizeof panel->taken);
    begin_frame(panel, driver->master);
    return DIA_OK;
}

static enum dia_status dark(struct dia_driver *driver)
{
    struct dia_panel *panel = panel_of(driver);
    if (dia_driver_wait(driver) == DIA_BUSY)
        return DIA_BUSY;
    begin_frame(panel, 0);
    return dia_driver_wait(driver);
}

/* Rounded up. Bits that no lamp of the part hangs on do not count. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    const struct dia_panel *panel = (const struct dia_panel *)driver;
    uint8_t level = level_of(driver->master);
    uint32_t lit = 0;
    for (uint8_t at = 0; at < (panel->part->lamps ? 16 : panel->part->digits); at++) {
        uint8_t wired = panel->part->lamps && at & 1u ? 1 : 0xff;
        uint8_t bits = driver->drawing[at] & wired;
        lit += bits_set(&bits, 1);
    }
    return level ? (lit * lamp_ua * duties[level - 1u] + 15u) / 16u : 0;
}

/* Bytes of the longest frame: 0x40; 0xc0 and the data; the light; 0x42 and four bytes of keys. */
#define MOST_BYTES 24u

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_panel *panel = (const struct dia_panel *)driver;
    *about = (struct dia_about){
        .elements = panel->part->digits * 8u + panel->part->lamps,
        .drawing_bytes = DIA_PANEL_DRAWING,
        /* nine clocks a byte with their half, and as much again for calls of a slow controller */
        .worst_us = MOST_BYTES * (panel->part->period_ns * 27u / 1000u + 100u),
        .element = DIA_LAMPS,
        .route = DIA_ON_PINS,
        .pins = 2,
        .pin = {panel->clock_pin, panel->dio_pin},
    };
    if (has_strobe(panel))
        about->pin[about->pins++] = panel->strobe_pin;
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .dark = dark,
    .refresh = refresh,
    .levels = bits_levels,
    .about = about,
    .asks_ua = asks_ua,
};

enum dia_status dia_panel_init(struct dia_panel *panel, struct dia_port *port,
                               const DIA_ROM struct dia_panel_part *part, uint8_t strobe_pin,
                               uint8_t clock_pin, uint8_t dio_pin, uint8_t *drawing)
{
    const DIA_ROM struct dia_port_ops *port_ops = port->ops;
    if (!port_ops->pin_write || !port_ops->pin_release || !port_ops->pin_read || !port_ops->wait_ns)
        return DIA_UNSUPPORTED;
    enum dia_status status = part->strobe_ns ? port_ops->pin_write(port, strobe_pin, 1) : DIA_OK;
    if (status == DIA_OK)
        status = port_ops->pin_write(port, clock_pin, 1);
    if (status == DIA_OK)
        status = port_ops->pin_release(port, dio_pin);
    if (status != DIA_OK)
        return status;
    port_ops->wait_ns(port, part->strobe_ns + 1u);
    memset(drawing, 0, DIA_PANEL_DRAWING);
    memset(panel, 0, sizeof *panel);
    panel->driver = DIA_DRIVER(&ops, port, drawing, DIA_PANEL_DRAWING);
    panel->part = part;
    panel->strobe_pin = strobe_pin;
    panel->clock_pin = clock_pin;
    panel->dio_pin = dio_pin;
    panel->changed = 1;
    return DIA_OK;
}
