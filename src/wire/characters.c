/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/characters.h>

#include "characters_bus.h"

/*
 * Nothing is queued: what is to be sent next is worked out from what is wanted and what the
 * display has been sent, so a transmission that fails loses nothing, and drawing over what has not
 * been sent costs nothing.
 */

/* Instructions. */
#define CLEAR    0x01
#define ENTRY    0x04
#define CONTROL  0x08
#define FUNCTION 0x20
#define GLYPHS   0x40
#define TEXT     0x80

#define DISPLAY_ON  4u
#define ENTRY_RIGHT 2u
#define NOT_KNOWN   0xffu
#define NOTHING     0xffffu
#define ASK_US      10u  /* between two looks at the busy flag: a choice */
#define I2C_US      100u /* between two looks at the bus: a byte takes 90 */

/* The wire between two entries. */
enum { POWER_UP, READY, SENDING, WAITING, ASKING };

/* What an entry is. */
enum { STEP, STATE, GLYPH, PLACE, CELL };

static struct dia_characters *characters_of(struct dia_driver *driver)
{
    return (struct dia_characters *)driver;
}

static uint8_t places(const struct dia_characters *c)
{
    return (uint8_t)(c->setup.columns * c->setup.rows);
}

/* Two rows or a split one have the second line at 0x40; the third and fourth go on behind them. */
static uint8_t address_of(const struct dia_characters_setup *setup, uint8_t column, uint8_t row)
{
    if (setup->split && column >= setup->columns / 2)
        return (uint8_t)(0x40 + column - setup->columns / 2);
    return (uint8_t)((row & 1u ? 0x40u : 0u) + (row & 2u ? setup->columns : 0u) + column);
}

static uint8_t cell_address(const struct dia_characters *c, uint8_t cell)
{
    return address_of(&c->setup, cell % c->setup.columns, cell / c->setup.columns);
}

/* ---- drawing -------------------------------------------------------------------------------- */

static uint8_t is_place(const struct dia_characters *c, uint8_t column, uint8_t row)
{
    return column < c->setup.columns && row < c->setup.rows;
}

enum dia_status dia_characters_text(struct dia_characters *c, uint8_t column, uint8_t row,
                                    const char *text, uint8_t n)
{
    if (!is_place(c, column, row) || n > c->setup.columns - column)
        return DIA_BAD_VALUE;
    memcpy(c->driver.drawing + row * c->setup.columns + column, text, n);
    return DIA_OK;
}

enum dia_status dia_characters_place(struct dia_characters *c, uint8_t column, uint8_t row)
{
    if (!is_place(c, column, row))
        return DIA_BAD_VALUE;
    c->pen_column = column;
    c->pen_row = row;
    return DIA_OK;
}

enum dia_status dia_characters_put(struct dia_characters *c, uint8_t code)
{
    c->driver.drawing[c->pen_row * c->setup.columns + c->pen_column] = code;
    if (++c->pen_column == c->setup.columns) {
        c->pen_column = 0;
        if (++c->pen_row == c->setup.rows)
            c->pen_row = 0;
    }
    return DIA_OK;
}

enum dia_status dia_characters_glyph(struct dia_characters *c, uint8_t code, const uint8_t rows[8])
{
    if (code > 15)
        return DIA_BAD_VALUE;
    memcpy(c->glyph[code & 7u], rows, 8);
    c->glyphs = (uint8_t)(c->glyphs | 1u << (code & 7u));
    c->glyphs_defined = (uint8_t)(c->glyphs_defined | c->glyphs);
    return DIA_OK;
}

enum dia_status dia_characters_cursor(struct dia_characters *c, uint8_t column, uint8_t row,
                                      uint8_t style)
{
    if (!is_place(c, column, row) || style > (DIA_CURSOR_BLOCK | DIA_CURSOR_UNDERLINE))
        return DIA_BAD_VALUE;
    c->cursor_column = column;
    c->cursor_row = row;
    c->cursor_style = style;
    return DIA_OK;
}

static void mark(struct dia_characters *c, uint8_t cell)
{
    c->unsent[cell >> 3] = (uint8_t)(c->unsent[cell >> 3] | 1u << (cell & 7u));
}

/* ---- what comes next ------------------------------------------------------------------------ */

/* The first three bring any chip to 8 lines: one that was in the middle of a pair takes the first
 * for the other half of it. */
#define STEPS      9u
#define SWITCH_OFF 5u
static uint16_t start_step(const struct dia_characters *c)
{
    uint8_t two_lines = c->setup.rows > 1 || c->setup.split ? 8 : 0;
    uint8_t eight = c->setup.bus == DIA_BUS_8_LINES;
    switch (c->start) {
    case 0:
        return HALF | WAITS_4100 | 0x30;
    case 1:
        return HALF | WAITS_100 | 0x30;
    case 2:
        return HALF | 0x30;
    case 3: /* of four lines only */
        return HALF | 0x20;
    case 4:
        return (uint16_t)(FUNCTION | (eight ? 0x10u : 0u) | two_lines);
    case SWITCH_OFF:
        return CONTROL;
    case 6:
        return WAITS_LONG | CLEAR;
    case 7:
        return ENTRY | ENTRY_RIGHT;
    default:
        return (uint16_t)(CONTROL | c->control);
    }
}

static uint8_t lowest_bit(uint8_t byte)
{
    uint8_t bit = 0;
    while (!((uint8_t)(byte >> bit) & 1u))
        bit++;
    return bit;
}

/* The first cell still to send; NOT_KNOWN: none. */
static uint8_t unsent_cell(const struct dia_characters *c)
{
    for (uint8_t k = 0; k < sizeof c->unsent; k++) {
        if (c->unsent[k])
            return (uint8_t)(8u * k + lowest_bit(c->unsent[k]));
    }
    return NOT_KNOWN;
}

static uint16_t glyph_entry(struct dia_characters *c)
{
    uint8_t number = lowest_bit(c->glyphs_unsent);
    c->what = GLYPH;
    c->which = number;
    if (c->glyph_row == 0)
        return (uint16_t)(GLYPHS | number << 3);
    return (uint16_t)(IS_DATA | (c->glyph[number][c->glyph_row - 1u] & 31u));
}

static uint16_t place_entry(struct dia_characters *c, uint8_t address)
{
    c->what = PLACE;
    c->which = address;
    return TEXT | address;
}

static uint16_t next_entry(struct dia_characters *c)
{
    uint8_t cell = unsent_cell(c);
    uint8_t cursor = address_of(&c->setup, c->cursor_column, c->cursor_row);
    if (c->start < STEPS) {
        c->what = STEP;
        return start_step(c);
    }
    if (c->control != c->control_sent || c->light_wanted != c->light_sent) {
        c->what = STATE;
        return (uint16_t)(CONTROL | c->control);
    }
    if (c->glyphs_unsent)
        return glyph_entry(c);
    if (cell != NOT_KNOWN) {
        uint8_t address = cell_address(c, cell);
        if (address != c->at)
            return place_entry(c, address);
        c->what = CELL;
        c->which = cell;
        return (uint16_t)(IS_DATA | c->taken[cell]);
    }
    /* a hidden cursor may stand anywhere, but not among the glyphs */
    if (c->at != cursor && (c->at == NOT_KNOWN || (c->control & ~DISPLAY_ON)))
        return place_entry(c, cursor);
    return NOTHING;
}

/* After its first start-up the display is blank; after a later one nobody knows what it has. */
static void start_is_done(struct dia_characters *c)
{
    c->control_sent = c->control;
    c->light_sent = c->light_wanted;
    c->at = c->started ? NOT_KNOWN : 0; /* where clear has put it */
    c->glyphs_unsent = c->glyphs_defined;
    c->glyph_row = 0;
    memset(c->unsent, 0, sizeof c->unsent);
    for (uint8_t cell = 0; cell < places(c); cell++) {
        if (c->started || c->taken[cell] != ' ')
            mark(c, cell);
    }
    c->started = 1;
}

/* The display has it. */
static void sent(struct dia_characters *c)
{
    uint8_t two_lines = c->setup.rows > 1 || c->setup.split;
    switch (c->what) {
    case STEP:
        c->start++;
        if (c->start == 3 && c->setup.bus == DIA_BUS_8_LINES)
            c->start++;
        if (c->start == SWITCH_OFF && c->started)
            c->start = SWITCH_OFF + 2; /* past clear */
        if (c->start == STEPS)
            start_is_done(c);
        break;
    case STATE:
        c->control_sent = c->control;
        c->light_sent = c->light_wanted;
        break;
    case GLYPH:
        c->at = NOT_KNOWN;
        if (c->glyph_row++ == 8) {
            c->glyph_row = 0;
            c->glyphs_unsent = (uint8_t)(c->glyphs_unsent & ~(1u << c->which));
        }
        break;
    case PLACE:
        c->at = c->which;
        break;
    default:
        c->unsent[c->which >> 3] = (uint8_t)(c->unsent[c->which >> 3] & ~(1u << (c->which & 7u)));
        /* to the right; at the end of a line of the memory it is placed anew */
        c->at = c->at == (two_lines ? 39 : 79) || c->at == 0x67 ? NOT_KNOWN : (uint8_t)(c->at + 1u);
    }
}

/* ---- sending it ----------------------------------------------------------------------------- */

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

static uint32_t now_us(const struct dia_characters *c)
{
    return c->driver.port->ops->now_us(c->driver.port);
}

/* What is left of a wait, in us; the port's clock may be coarse by 10 us. */
static uint32_t left_us(const struct dia_characters *c, uint32_t us)
{
    uint32_t gone = now_us(c) - c->since_us;
    return gone > us + 10u ? 0 : us + 11u - gone;
}

/* The display may have taken anything: it is started anew with the next show. */
static enum dia_status give_up(struct dia_characters *c)
{
    c->start = 0;
    c->active = 0;
    c->since_us = now_us(c);
    c->wait_us = slower(c, c->setup.part->long_us);
    c->state = WAITING;
    return DIA_PORT_FAILED;
}

/* A display that is busy for more than twice its longest time is not there. */
static enum dia_status ask(struct dia_characters *c, uint32_t *again_us)
{
    uint8_t busy = dia_characters_bus_busy(c);
    if (busy == 0)
        return DIA_OK;
    if (busy == 2 || left_us(c, 2u * c->wait_us) == 0)
        return give_up(c);
    *again_us = ASK_US;
    return DIA_BUSY;
}

/* Until the next entry may go. */
static enum dia_status wait_over(struct dia_characters *c, uint32_t *again_us)
{
    *again_us = 0;
    if (c->state == SENDING) {
        enum dia_status status = dia_characters_bus_poll(c);
        *again_us = I2C_US;
        if (status == DIA_BUSY)
            return DIA_BUSY;
        if (status != DIA_OK)
            return give_up(c);
        sent(c);
        c->since_us = now_us(c);
        c->state = WAITING;
    }
    if (c->state == ASKING)
        return ask(c, again_us);
    if (c->state == POWER_UP)
        *again_us = left_us(c, c->setup.part->power_ms * 1000ul);
    else if (c->state == WAITING)
        *again_us = left_us(c, c->wait_us);
    return *again_us ? DIA_BUSY : DIA_OK;
}

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_characters *c = characters_of(driver);
    uint8_t active = c->active;
    enum dia_status status = active || c->state == SENDING ? wait_over(c, again_us) : DIA_OK;
    if (status != DIA_OK)
        return status;
    *again_us = 0;
    if (!c->active)
        return DIA_OK;
    c->state = READY;
    uint16_t entry = next_entry(c);
    if (entry == NOTHING) {
        c->active = 0;
        return DIA_OK;
    }
    status = dia_characters_bus_send(c, entry);
    *again_us = I2C_US;
    if (status == DIA_BUSY)
        return DIA_BUSY; /* the bus is held by somebody else */
    if (status != DIA_OK)
        return give_up(c);
    c->wait_us = takes_us(c, entry);
    c->since_us = now_us(c);
    if (c->setup.bus == DIA_BUS_EXPANDER) {
        c->state = SENDING;
        return DIA_BUSY;
    }
    sent(c);
    /* the busy flag can be asked when the chip knows how many lines there are */
    c->state = c->setup.rw_pin != DIA_NO_PIN && !(entry & HALF) ? ASKING : WAITING;
    *again_us = c->state == ASKING ? ASK_US : c->wait_us + 11u;
    return DIA_BUSY;
}

static void take_state(struct dia_characters *c, uint8_t on)
{
    c->control = on ? (uint8_t)(DISPLAY_ON | c->cursor_style) : 0;
    c->light_wanted = on && c->light;
    c->active = 1;
}

static enum dia_status show(struct dia_driver *driver)
{
    struct dia_characters *c = characters_of(driver);
    uint32_t again_us;
    enum dia_status status = poll(driver, &again_us);
    if (status != DIA_OK)
        return status;
    for (uint8_t cell = 0; cell < places(c); cell++) {
        if (driver->drawing[cell] != c->taken[cell])
            mark(c, cell);
        c->taken[cell] = driver->drawing[cell];
    }
    c->glyphs_unsent = (uint8_t)(c->glyphs_unsent | c->glyphs);
    c->glyphs = 0;
    if (c->anew)
        c->start = 0;
    c->anew = 0;
    take_state(c, driver->master != 0);
    return DIA_OK;
}

static void refresh(struct dia_driver *driver)
{
    characters_of(driver)->anew = 1;
}

/* Display off, and the light of an expander. */
static enum dia_status dark(struct dia_driver *driver)
{
    struct dia_characters *c = characters_of(driver);
    driver->hold = 0;
    if (dia_driver_wait(driver) == DIA_BUSY)
        return DIA_BUSY;
    take_state(c, 0);
    c->control_sent = NOT_KNOWN;
    return dia_driver_wait(driver);
}

/* Its light. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    return driver->master && ((const struct dia_characters *)driver)->light ? lamp_ua : 0;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_characters *c = (const struct dia_characters *)driver;
    const struct dia_characters_setup *s = &c->setup;
    uint8_t expander = s->bus == DIA_BUS_EXPANDER, width = s->bus == DIA_BUS_8_LINES ? 8 : 4;
    /* each cell, its address at the worst, eight glyphs, the start-up */
    uint32_t entries = 2u * places(c) + 8u * 9u + STEPS + 2u;
    /* six bytes and the address at 100 kHz; or some us for the pins */
    uint32_t entry_us =
        slower(c, s->part->write_us) + 20u + (expander ? 10u * 9u * 7u + 150u : 100u);
    *about = (struct dia_about){
        .elements = places(c),
        .drawing_bytes = places(c),
        .private_bytes = places(c),
        .worst_us =
            s->part->power_ms * 1000u + 4100u + slower(c, s->part->long_us) + entries * entry_us,
        .element = DIA_CELLS,
        .route = expander ? DIA_ON_I2C : DIA_ON_PINS,
        .bus = (uint8_t)(expander ? s->i2c_bus : 0),
    };
    if (expander)
        return;
    about->pin[about->pins++] = s->rs_pin;
    about->pin[about->pins++] = s->e_pin;
    if (s->rw_pin != DIA_NO_PIN)
        about->pin[about->pins++] = s->rw_pin;
    for (uint8_t k = 0; k < width; k++)
        about->pin[about->pins++] = s->data_pin[k];
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .dark = dark,
    .refresh = refresh,
    .about = about,
    .asks_ua = asks_ua,
    .blank = ' ',
};

static uint8_t is_right(const struct dia_characters_setup *s)
{
    if (s->columns < 8 || s->columns > 40 || s->rows == 0 || s->rows > 4 || s->rows == 3 ||
        s->columns * s->rows > 80)
        return 0;
    if (s->split && (s->rows != 1 || s->columns % 2 != 0))
        return 0;
    if (s->oscillator_khz != 0 && s->oscillator_khz < 20)
        return 0; /* waits would not fit their 16 bits */
    return s->bus < DIA_BUS_EXPANDER || (s->bus == DIA_BUS_EXPANDER && s->address < 128);
}

enum dia_status dia_characters_init(struct dia_characters *c, struct dia_port *port,
                                    const struct dia_characters_setup *setup, uint8_t *cells,
                                    uint8_t *memory)
{
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    memset(c, 0, sizeof *c);
    c->driver = DIA_DRIVER(&ops, port, cells, (uint32_t)(setup->columns * setup->rows));
    c->setup = *setup;
    enum dia_status status = dia_characters_bus_init(c);
    if (status != DIA_OK)
        return status;
    memset(cells, ' ', places(c));
    memset(memory, ' ', places(c));
    c->taken = memory;
    c->light = 1;
    c->since_us = now_us(c);
    c->state = POWER_UP;
    return DIA_OK;
}
