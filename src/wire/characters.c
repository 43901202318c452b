/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/characters.h>

#include "characters_bus.h"
#include "characters_next.h"

#define ASK_US 10u  /* between two looks at the busy flag: a choice */
#define I2C_US 100u /* between two looks at the bus: a byte takes 90 */

/* The wire between two entries. */
enum { POWER_UP, READY, SENDING, WAITING, ASKING };

static struct dia_characters *characters_of(struct dia_driver *driver)
{
    return (struct dia_characters *)driver;
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

/* A display that is busy for more than twice its longest time is not there. The time counts from
 * before the look: a program that was held up behind it looks once more. */
static enum dia_status ask(struct dia_characters *c, uint32_t *again_us)
{
    uint8_t is_late = left_us(c, 2u * c->wait_us) == 0, busy = dia_characters_bus_busy(c);
    if (busy == 0)
        return DIA_OK;
    if (busy == 2 || is_late)
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
        dia_characters_sent(c);
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
    uint16_t entry = dia_characters_next(c);
    if (entry == CHARACTERS_NOTHING) {
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
    dia_characters_sent(c);
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

/* 1: it is a glyph that gets other dots with the next frame. */
static uint8_t is_drawn_anew(const struct dia_characters *c, uint8_t code)
{
    return code < 16 && (uint8_t)(c->glyphs >> (code & 7u)) & 1u;
}

static enum dia_status show(struct dia_driver *driver)
{
    struct dia_characters *c = characters_of(driver);
    uint32_t again_us;
    enum dia_status status = poll(driver, &again_us);
    if (status != DIA_OK)
        return status;
    for (uint8_t cell = 0; cell < characters_places(c); cell++) {
        uint8_t was = c->taken[cell], is = driver->drawing[cell];
        if (is != was)
            dia_characters_mark(c, cell);
        if (is_drawn_anew(c, was) && is_drawn_anew(c, is) && ((was ^ is) & 7u))
            c->blank[cell >> 3] = (uint8_t)(c->blank[cell >> 3] | 1u << (cell & 7u));
        c->taken[cell] = is;
    }
    for (uint8_t k = 0; k < 8; k++) {
        if (c->glyphs >> k & 1)
            memcpy(c->glyph_taken[k], c->glyph[k], 8);
    }
    c->glyphs_defined = (uint8_t)(c->glyphs_defined | c->glyphs);
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
    uint32_t entries = 2u * characters_places(c) + 8u * 9u + CHARACTERS_STEPS + 2u;
    /* six bytes and the address at 100 kHz; or some us for the pins */
    uint32_t entry_us =
        slower(c, s->part->write_us) + 20u + (expander ? 10u * 9u * 7u + 150u : 100u);
    *about = (struct dia_about){
        .elements = characters_places(c),
        .drawing_bytes = characters_places(c),
        .private_bytes = characters_places(c),
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
    memset(cells, ' ', characters_places(c));
    memset(memory, ' ', characters_places(c));
    c->taken = memory;
    c->light = 1;
    c->since_us = now_us(c);
    c->state = POWER_UP;
    return DIA_OK;
}
