/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/characters.h>

#include "characters_bus.h"

/* Instructions. */
#define CLEAR    0x01
#define HOME     0x02
#define ENTRY    0x04
#define CONTROL  0x08
#define SHIFT    0x10
#define FUNCTION 0x20
#define GLYPHS   0x40
#define TEXT     0x80

static void put(struct dia_characters *c, uint16_t entry)
{
    uint32_t at = (uint32_t)c->head + c->used++;
    c->queue[at >= c->room ? at - c->room : at] = entry;
}

uint16_t dia_characters_room(const struct dia_characters *c)
{
    return (uint16_t)(c->room - c->used);
}

/* Two rows or a split one have the second line at 0x40; the third and fourth go on behind them. */
static uint8_t address_of(const struct dia_characters_setup *setup, uint8_t column, uint8_t row)
{
    if (setup->split && column >= setup->columns / 2)
        return (uint8_t)(0x40 + column - setup->columns / 2);
    return (uint8_t)((row & 1u ? 0x40u : 0u) + (row & 2u ? setup->columns : 0u) + column);
}

static uint8_t is_right(const struct dia_characters_setup *s, uint16_t room)
{
    if (s->columns < 8 || s->columns > 40 || s->rows == 0 || s->rows > 4 || s->rows == 3 ||
        s->columns * s->rows > 80 || room < DIA_CHARACTERS_QUEUE)
        return 0;
    if (s->split && (s->rows != 1 || s->columns % 2 != 0))
        return 0;
    if (s->oscillator_khz != 0 && s->oscillator_khz < 20)
        return 0; /* waits would not fit their 16 bits */
    return s->bus < DIA_BUS_EXPANDER || (s->bus == DIA_BUS_EXPANDER && s->address < 128);
}

/* The first three bring any chip to 8 lines: one that was in the middle of a pair takes the first
 * for the other half of it. */
static void start_up(struct dia_characters *c)
{
    uint8_t lines = c->setup.rows > 1 || c->setup.split ? 8 : 0;
    put(c, HALF | WAITS_4100 | 0x30);
    put(c, HALF | WAITS_100 | 0x30);
    put(c, HALF | 0x30);
    if (c->setup.bus != DIA_BUS_8_LINES) {
        put(c, HALF | 0x20);
        put(c, (uint16_t)(FUNCTION | lines));
    } else {
        put(c, (uint16_t)(FUNCTION | 0x10u | lines));
    }
    put(c, CONTROL);
    put(c, WAITS_LONG | CLEAR);
    put(c, (uint16_t)(ENTRY | c->entry));
    put(c, (uint16_t)(CONTROL | c->control));
}

enum dia_status dia_characters_init(struct dia_characters *c, struct dia_port *port,
                                    const struct dia_characters_setup *setup, uint16_t *queue,
                                    uint16_t room)
{
    if (!is_right(setup, room))
        return DIA_BAD_VALUE;
    memset(c, 0, sizeof *c);
    c->port = port;
    c->setup = *setup;
    enum dia_status status = characters_bus_init(c);
    if (status != DIA_OK)
        return status;
    c->queue = queue;
    c->room = room;
    c->light = 1;
    c->control = 4;
    c->entry = 2;
    c->since_us = port->ops->now_us(port);
    c->state = STARTING;
    start_up(c);
    return DIA_OK;
}

enum dia_status dia_characters_place(struct dia_characters *c, uint8_t column, uint8_t row)
{
    if (column >= c->setup.columns || row >= c->setup.rows)
        return DIA_BAD_VALUE;
    if (dia_characters_room(c) < 1)
        return DIA_BUSY;
    c->at = address_of(&c->setup, column, row);
    put(c, TEXT | c->at);
    return DIA_OK;
}

/* The next address; a chip with two lines goes from the end of one to the start of the other. */
static uint8_t beside(const struct dia_characters *c, uint8_t at)
{
    uint8_t two = c->setup.rows > 1 || c->setup.split, right = c->entry & 2u;
    uint8_t first = two && at >= 0x40 ? 0x40 : 0, last = (uint8_t)(two ? first + 39u : 79u);
    if (right && at == last)
        return two && first == 0 ? 0x40 : 0;
    if (!right && at == first)
        return two ? (first ? 0x27 : 0x67) : 79;
    return (uint8_t)(right ? at + 1u : at - 1u);
}

enum dia_status dia_characters_write(struct dia_characters *c, uint8_t code)
{
    if (dia_characters_room(c) < 1)
        return DIA_BUSY;
    put(c, (uint16_t)(IS_DATA | code));
    c->at = beside(c, c->at);
    return DIA_OK;
}

/* A split row has its second half elsewhere. */
enum dia_status dia_characters_text(struct dia_characters *c, uint8_t column, uint8_t row,
                                    const char *text, uint8_t n)
{
    uint8_t half = c->setup.columns / 2;
    if (column >= c->setup.columns || row >= c->setup.rows || n > c->setup.columns - column)
        return DIA_BAD_VALUE;
    if (dia_characters_room(c) < n + 2u)
        return DIA_BUSY;
    dia_characters_place(c, column, row);
    for (uint8_t k = 0; k < n; k++) {
        if (c->setup.split && k != 0 && column + k == half)
            dia_characters_place(c, half, row);
        dia_characters_write(c, (uint8_t)text[k]);
    }
    return DIA_OK;
}

static enum dia_status one(struct dia_characters *c, uint16_t entry)
{
    if (dia_characters_room(c) < 1)
        return DIA_BUSY;
    put(c, entry);
    return DIA_OK;
}

enum dia_status dia_characters_clear(struct dia_characters *c)
{
    enum dia_status status = one(c, WAITS_LONG | CLEAR);
    if (status == DIA_OK) {
        c->at = 0;
        c->entry |= 2u; /* clear sets the direction to the right */
    }
    return status;
}

enum dia_status dia_characters_home(struct dia_characters *c)
{
    enum dia_status status = one(c, WAITS_LONG | HOME);
    if (status == DIA_OK)
        c->at = 0;
    return status;
}

enum dia_status dia_characters_show(struct dia_characters *c, uint8_t on, uint8_t underline,
                                    uint8_t block)
{
    uint8_t control = (uint8_t)((on ? 4 : 0) | (underline ? 2 : 0) | (block ? 1 : 0));
    enum dia_status status = one(c, (uint16_t)(CONTROL | control));
    if (status == DIA_OK)
        c->control = control;
    return status;
}

enum dia_status dia_characters_glyph(struct dia_characters *c, uint8_t code, const uint8_t rows[8])
{
    if (code > 15)
        return DIA_BAD_VALUE;
    if (dia_characters_room(c) < 10)
        return DIA_BUSY;
    uint8_t back = !(c->entry & 2u); /* then rows go in from the last */
    put(c, (uint16_t)(GLYPHS | (code & 7u) << 3 | (back ? 7u : 0u)));
    for (uint8_t k = 0; k < 8; k++)
        put(c, (uint16_t)(IS_DATA | (rows[back ? 7 - k : k] & 31u)));
    put(c, TEXT | c->at);
    return DIA_OK;
}

enum dia_status dia_characters_entry(struct dia_characters *c, uint8_t right, uint8_t shift)
{
    uint8_t entry = (uint8_t)((right ? 2 : 0) | (shift ? 1 : 0));
    enum dia_status status = one(c, (uint16_t)(ENTRY | entry));
    if (status == DIA_OK)
        c->entry = entry;
    return status;
}

enum dia_status dia_characters_shift(struct dia_characters *c, uint8_t text, uint8_t right)
{
    enum dia_status status = one(c, (uint16_t)(SHIFT | (text ? 8 : 0) | (right ? 4 : 0)));
    if (status == DIA_OK && !text) {
        uint8_t entry = c->entry;
        c->entry = right ? 2 : 0;
        c->at = beside(c, c->at);
        c->entry = entry;
    }
    return status;
}

/* The sheet's times are those at 190 kHz. */
static uint16_t slower(const struct dia_characters *c, uint16_t us)
{
    uint16_t khz = c->setup.oscillator_khz;
    return khz ? (uint16_t)((uint32_t)us * 190u / khz + 1u) : us;
}

static uint16_t takes_us(const struct dia_characters *c, uint16_t entry)
{
    switch (entry & WAITS) {
    case WAITS_LONG:
        return slower(c, c->setup.part->long_us);
    case WAITS_4100:
        return 4100;
    case WAITS_100:
        return slower(c, 100);
    default:
        return slower(c, entry & IS_DATA ? c->setup.part->write_us : c->setup.part->short_us);
    }
}

/* What is left of a wait, in us; the port's clock may be coarse by 10 us. */
static uint32_t left_us(const struct dia_characters *c, uint32_t us)
{
    uint32_t gone = c->port->ops->now_us(c->port) - c->since_us;
    return gone > us + 10u ? 0 : us + 11u - gone;
}

static uint32_t wait_over(struct dia_characters *c)
{
    if (c->state == STARTING)
        return left_us(c, c->setup.part->power_ms * 1000ul);
    if (c->state == SENDING) { /* on I2C */
        enum dia_status status = characters_bus_poll(c);
        if (status == DIA_BUSY)
            return 100;
        if (status != DIA_OK)
            c->failed++;
        c->since_us = c->port->ops->now_us(c->port);
        c->state = WAITING;
    }
    if (c->state == ASKING)
        return characters_bus_busy(c) ? 10 : 0;
    return c->state == WAITING ? left_us(c, c->wait_us) : 0;
}

uint32_t dia_characters_pump(struct dia_characters *c)
{
    uint32_t left = wait_over(c);
    if (left != 0)
        return left;
    c->state = READY;
    if (c->used == 0)
        return 0;
    uint16_t entry = c->queue[c->head];
    if (characters_bus_send(c, entry) != DIA_OK)
        return 100;
    c->head = (uint16_t)(c->head + 1u == c->room ? 0 : c->head + 1u);
    c->used--;
    c->wait_us = takes_us(c, entry);
    c->since_us = c->port->ops->now_us(c->port);
    if (c->setup.bus == DIA_BUS_EXPANDER)
        c->state = SENDING;
    else /* the busy flag can be asked when the chip knows how many lines there are */
        c->state = c->setup.rw_pin != DIA_NOT_WIRED && !(entry & HALF) ? ASKING : WAITING;
    return c->state == SENDING ? 100 : c->state == ASKING ? 10 : c->wait_us + 11u;
}
