/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/panel.h>

/* A frame is made of transmissions, each a command with what belongs to it. */
enum { SHOWN, DATA_COMMAND, DATA, LIGHT, KEYS };

#define WRITE_DATA 0x40
#define READ_KEYS  0x42
#define ADDRESS_0  0xc0
#define DARK       0x80
#define LIT        0x88

#define KEY_BYTES 4

static const DIA_ROM uint8_t duties[8] = {1, 2, 4, 10, 11, 12, 13, 14}; /* sixteenths */

static uint8_t has_strobe(const struct dia_panel *panel)
{
    return panel->part->strobe_ns != 0;
}

/* DIO low, or let go. */
static void dio(struct dia_panel *panel, uint8_t level)
{
    if (level)
        panel->port->ops->pin_release(panel->port, panel->dio_pin);
    else
        panel->port->ops->pin_write(panel->port, panel->dio_pin, 0);
}

static void clock(struct dia_panel *panel, uint8_t level)
{
    panel->port->ops->pin_write(panel->port, panel->clock_pin, level);
    panel->port->ops->wait_ns(panel->port, panel->part->period_ns / 2u);
}

/* With a strobe: it is low during a transmission. Without: DIO falls, and at the end rises, while
 * the clock is high. */
static void begin(struct dia_panel *panel)
{
    if (has_strobe(panel)) {
        panel->port->ops->pin_write(panel->port, panel->strobe_pin, 0);
    } else {
        dio(panel, 0);
        panel->port->ops->wait_ns(panel->port, panel->part->pulse_ns);
        clock(panel, 0);
    }
}

static void end(struct dia_panel *panel)
{
    if (has_strobe(panel)) {
        panel->port->ops->pin_write(panel->port, panel->strobe_pin, 1);
        panel->port->ops->wait_ns(panel->port, panel->part->strobe_ns);
    } else {
        dio(panel, 0);
        panel->port->ops->wait_ns(panel->port, panel->part->pulse_ns);
        clock(panel, 1);
        dio(panel, 1);
        panel->port->ops->wait_ns(panel->port, panel->part->period_ns / 2u);
    }
}

/* Lowest bit first; each is taken when the clock rises. A part without strobe answers each byte
 * by a low DIO in a ninth clock. */
static enum dia_status send(struct dia_panel *panel, uint8_t byte)
{
    uint8_t answer = 0;
    for (uint8_t k = 0; k < 8; k++, byte = (uint8_t)(byte >> 1)) {
        clock(panel, 0);
        dio(panel, byte & 1u);
        panel->port->ops->wait_ns(panel->port, panel->part->pulse_ns);
        clock(panel, 1);
    }
    if (has_strobe(panel))
        return DIA_OK;
    clock(panel, 0);
    dio(panel, 1);
    panel->port->ops->wait_ns(panel->port, panel->part->pulse_ns);
    clock(panel, 1);
    panel->port->ops->pin_read(panel->port, panel->dio_pin, &answer);
    clock(panel, 0);
    return answer ? DIA_PORT_FAILED : DIA_OK;
}

static uint8_t receive(struct dia_panel *panel)
{
    uint8_t byte = 0, level = 0;
    for (uint8_t mask = 1; mask != 0; mask = (uint8_t)(mask << 1)) {
        clock(panel, 0);
        panel->port->ops->pin_read(panel->port, panel->dio_pin, &level);
        if (level)
            byte |= mask;
        clock(panel, 1);
    }
    return byte;
}

enum dia_status dia_panel_init(struct dia_panel *panel, struct dia_port *port,
                               const DIA_ROM struct dia_panel_part *part, uint8_t strobe_pin,
                               uint8_t clock_pin, uint8_t dio_pin)
{
    const DIA_ROM struct dia_port_ops *ops = port->ops;
    if (!ops->pin_release || !ops->pin_read || !ops->wait_ns)
        return DIA_UNSUPPORTED;
    enum dia_status status = part->strobe_ns ? ops->pin_write(port, strobe_pin, 1) : DIA_OK;
    if (status == DIA_OK)
        status = ops->pin_write(port, clock_pin, 1);
    if (status == DIA_OK)
        status = ops->pin_release(port, dio_pin);
    if (status != DIA_OK)
        return status;
    ops->wait_ns(port, part->strobe_ns + 1u);
    memset(panel, 0, sizeof *panel);
    panel->port = port;
    panel->part = part;
    panel->strobe_pin = strobe_pin;
    panel->clock_pin = clock_pin;
    panel->dio_pin = dio_pin;
    panel->level = 8;
    dia_panel_refresh(panel);
    return DIA_OK;
}

void dia_panel_refresh(struct dia_panel *panel)
{
    for (uint8_t k = 0; k < 16; k++)
        panel->sent[k] = (uint8_t)~panel->wanted[k];
}

/* A TM1638 has digits on even addresses and single lamps on bit 0 of odd ones. */
enum dia_status dia_panel_digit(struct dia_panel *panel, uint8_t digit, uint8_t segments)
{
    if (digit >= panel->part->digits)
        return DIA_BAD_VALUE;
    panel->wanted[panel->part->lamps ? 2u * digit : digit] = segments;
    return DIA_OK;
}

enum dia_status dia_panel_lamp(struct dia_panel *panel, uint8_t lamp, uint8_t on)
{
    if (lamp >= panel->part->lamps)
        return DIA_BAD_VALUE;
    panel->wanted[2u * lamp + 1u] = on != 0;
    return DIA_OK;
}

void dia_panel_master(struct dia_panel *panel, dia_share master)
{
    uint16_t wanted = (uint16_t)((uint32_t)master * 28u >> 15); /* twice 14 sixteenths */
    panel->level = 0;
    if (master == 0)
        return;
    for (panel->level = 1; panel->level < 8; panel->level++) {
        if (wanted < duties[panel->level - 1u] + duties[panel->level])
            break;
    }
}

static uint8_t changed(const struct dia_panel *panel)
{
    return memcmp(panel->wanted, panel->sent, sizeof panel->sent) != 0;
}

/* The transmission after one, of those this frame has. */
static uint8_t next_frame(const struct dia_panel *panel, uint8_t frame)
{
    if (frame == SHOWN && changed(panel))
        return DATA_COMMAND;
    if (frame == DATA_COMMAND)
        return DATA;
    if (frame < LIGHT) /* always: a display that a disturbance has switched off comes back */
        return LIGHT;
    return frame < KEYS && panel->part->keys ? KEYS : SHOWN;
}

enum dia_status dia_panel_start(struct dia_panel *panel)
{
    enum dia_status status = dia_panel_poll(panel);
    if (status != DIA_OK)
        return status;
    panel->frame = next_frame(panel, SHOWN);
    panel->byte = 0;
    return DIA_OK;
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
    uint8_t byte = receive(panel), at = (uint8_t)(panel->byte - 1u);
    panel->read |= (uint8_t)((byte & 1u) << at | (byte >> 4 & 1u) << (at + 4u));
    if (panel->byte == KEY_BYTES)
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
        if (panel->byte == 0)
            return send(panel, ADDRESS_0);
        panel->sent[panel->byte - 1u] = panel->wanted[panel->byte - 1u];
        return send(panel, panel->sent[panel->byte - 1u]);
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
        panel->port->ops->wait_ns(panel->port, panel->part->read_ns);
        return DIA_OK;
    }
}

enum dia_status dia_panel_poll(struct dia_panel *panel)
{
    if (panel->frame == SHOWN)
        return DIA_OK;
    enum dia_status status = one_byte(panel);
    if (status != DIA_OK) {
        end(panel);
        dia_panel_refresh(panel);
        panel->frame = SHOWN;
        return status;
    }
    if (panel->byte++ == last_byte(panel)) {
        end(panel);
        /* digits beyond those of the part count as sent */
        if (panel->frame == DATA)
            memcpy(panel->sent, panel->wanted, sizeof panel->sent);
        panel->frame = next_frame(panel, panel->frame);
        panel->byte = 0;
    }
    return panel->frame == SHOWN ? DIA_OK : DIA_BUSY;
}
