/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include "characters.h"

/*
 * HD44780. Sheet, bus timing at 4.5 to 5.5 V: RS and R/W 40 ns before E rises, E high 230 ns, cycle
 * 500 ns, data 80 ns before E falls and 10 ns after it, read data 160 ns after E rises.
 * Instructions 37 us, a character 4 us more, clear and home 1.52 ms at 270 kHz; before the first
 * one 15 ms from power-up. While it is busy it takes nothing but a question for the busy flag.
 *
 * Contrast pin of a 5 V part: from 0.2 V to 1 V all is right, above nothing is to be seen, below
 * all dots are dark.
 */
#define POWER_UP_NS 15000000u

static uint64_t takes_ns(const struct characters *c, uint32_t us)
{
    uint32_t khz = c->glass.oscillator_khz ? c->glass.oscillator_khz : 270;
    return (uint64_t)us * 1000 * 270 / khz;
}

static uint32_t line_length(const struct characters *c)
{
    return c->two_lines ? 40 : 80;
}

/* The next address of the text; lines are rings behind one another. */
static uint8_t next(const struct characters *c, uint8_t address, int forward)
{
    if (!c->two_lines)
        return (uint8_t)((address + (forward ? 1u : 79u)) % 80u);
    uint32_t line = address >> 6, at = address & 63u;
    if (forward)
        return (uint8_t)(at >= 39 ? (line ? 0 : 0x40) : address + 1);
    return (uint8_t)(at == 0 ? (line ? 0x27 : 0x67) : address - 1);
}

static void move_text(struct characters *c, int right)
{
    int length = (int)line_length(c);
    c->shift = (c->shift + (right ? length - 1 : 1)) % length;
}

static void write_data(struct characters *c, uint8_t byte)
{
    if (c->in_glyphs) {
        c->cgram[c->address & 63] = byte;
        c->address = (uint8_t)((c->address + (c->forward ? 1u : 63u)) & 63u);
        return;
    }
    c->ddram[c->address] = byte;
    c->address = next(c, c->address, c->forward);
    if (c->moves_text)
        move_text(c, !c->forward);
}

static void set_address(struct characters *c, uint8_t address, uint64_t t)
{
    if (c->two_lines ? (address & 63) > 39 : address > 79)
        dia_device_finds(&c->device, "command", t, "%02x is no place in the text", address);
    else
        c->address = address;
    c->in_glyphs = 0;
}

static void clear(struct characters *c)
{
    memset(c->ddram, ' ', sizeof c->ddram);
    c->address = 0;
    c->in_glyphs = 0;
    c->shift = 0;
    c->forward = 1;
}

static void function_set(struct characters *c, uint8_t byte)
{
    c->eight_lines = byte >> 4 & 1;
    c->has_half = 0;
    c->two_lines = byte >> 3 & 1;
    c->set_up = 1;
}

static uint32_t instruction(struct characters *c, uint8_t byte, uint64_t t)
{
    if (byte & 0x80) {
        set_address(c, byte & 0x7f, t);
    } else if (byte & 0x40) {
        c->address = byte & 0x3f;
        c->in_glyphs = 1;
    } else if (byte & 0x20) {
        function_set(c, byte);
    } else if (byte & 0x10) {
        if (byte & 8)
            move_text(c, byte & 4);
        else
            c->address = next(c, c->address, byte & 4);
    } else if (byte & 8) {
        c->cells.on = byte >> 2 & 1;
        c->cells.underline = byte >> 1 & 1;
        c->cells.block = byte & 1;
    } else if (byte & 4) {
        c->forward = byte >> 1 & 1;
        c->moves_text = byte & 1;
    } else if (byte & 2) {
        c->address = 0;
        c->in_glyphs = 0;
        c->shift = 0;
        return 1520;
    } else if (byte & 1) {
        clear(c);
        return 1520;
    }
    return 37;
}

static void take(struct characters *c, uint8_t byte, uint64_t t)
{
    if (t < c->busy_until) {
        dia_device_finds(&c->device, c->busy_until == POWER_UP_NS ? "power-up" : "busy", t,
                         "%02x came %" PRIu64 " us too early, and was lost; the chip was busy",
                         byte, (c->busy_until - t + 999) / 1000);
        return;
    }
    uint32_t us = 41;
    if (c->rs)
        write_data(c, byte);
    else
        us = instruction(c, byte, t);
    c->busy_until = t + takes_ns(c, us);
    c->cells.frames++;
    c->cells.latched_ns = t;
}

/* With four lines the upper half comes first; a chip that still has eight takes the rest as 0. */
static void written(struct characters *c, uint64_t t)
{
    if (c->eight_lines) {
        take(c, c->data, t);
    } else if (!c->has_half) {
        c->half = c->data & 0xf0;
        c->has_half = 1;
    } else {
        c->has_half = 0;
        take(c, (uint8_t)(c->half | c->data >> 4), t);
    }
}

/* The busy flag and the address, or with RS high what stands there (not modelled: 0). */
static void read(struct characters *c, uint64_t t)
{
    uint8_t byte = (uint8_t)(c->rs ? 0 : (t < c->busy_until ? 0x80 : 0) | (c->address & 0x7f));
    uint8_t low = !c->eight_lines && c->read_low;
    for (uint8_t k = 0; k < 8; k++) {
        uint8_t bit = low ? (uint8_t)(byte << 4) >> k & 1 : byte >> k & 1;
        dia_device_drive(&c->device, t + 160, (uint8_t)(DIA_CHARACTERS_D0 + k), bit);
    }
    c->read_low = !c->eight_lines && !c->read_low;
}

static void let_go(struct characters *c, uint64_t t)
{
    for (uint8_t k = 0; k < 8; k++)
        dia_device_drive(&c->device, t + 5, (uint8_t)(DIA_CHARACTERS_D0 + k), 2);
}

static void enable_changes(struct characters *c, uint64_t t, uint8_t e)
{
    struct device *device = &c->device;
    if (e) {
        dia_device_lasts(device, "set-up-short", "RS before the rising E", c->rs_changed, t, 40);
        dia_device_lasts(device, "cycle-short", "a cycle of E", c->rise, t, 500);
        c->rise = t;
        if (c->rw)
            read(c, t);
        return;
    }
    dia_device_lasts(device, "pulse-short", "a high of E", c->rise, t, 230);
    c->fall = t;
    if (c->rw) {
        let_go(c, t);
        return;
    }
    dia_device_lasts(device, "set-up-short", "data before the falling E", c->data_changed, t, 80);
    written(c, t);
}

/* Through an expander all lines change at once; RS must then stand since before. */
static void take_lines(struct characters *c, uint64_t t, uint8_t rs, uint8_t rw, uint8_t e,
                       uint8_t data)
{
    if (rs != c->rs || rw != c->rw) {
        dia_device_lasts(&c->device, "hold-short", "RS after the falling E", c->fall, t, 10);
        c->rs_changed = t;
        if (rw != c->rw && c->read_low) { /* its count of halves is one for both ways */
            c->read_low = 0;
            c->half = 0;
            c->has_half = 1;
        }
    }
    if (data != c->data && !rw) {
        dia_device_lasts(&c->device, "hold-short", "data after the falling E", c->fall, t, 10);
        c->data_changed = t;
    }
    c->rs = rs;
    c->rw = rw;
    c->data = data;
    if (e != c->e) {
        c->e = e;
        enable_changes(c, t, e);
    }
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    struct characters *c = (struct characters *)device;
    if (role >= DIA_CHARACTERS_SCL) {
        int out = dia_expander_edge(c, t, role, level);
        if (out >= 0)
            take_lines(c, t, out & 1, out >> 1 & 1, out >> 2 & 1, (uint8_t)(out & 0xf0));
        return;
    }
    uint8_t data = 0;
    for (uint8_t k = 0; k < 8; k++)
        data |= (uint8_t)(device->level[DIA_CHARACTERS_D0 + k] << k);
    take_lines(c, t, device->level[DIA_CHARACTERS_RS], device->level[DIA_CHARACTERS_RW],
               device->level[DIA_CHARACTERS_E], data);
}

/* Which address of the text a place of the glass shows, before the text is moved. */
static uint32_t address_of(const struct characters *c, uint32_t column, uint32_t row)
{
    if (c->glass.split)
        return column < c->glass.columns / 2u ? column : 0x40 + column - c->glass.columns / 2u;
    return (row % 2 ? 0x40u : 0u) + (row / 2) * c->glass.columns + column;
}

static void settle(struct device *device, uint64_t t)
{
    struct characters *c = (struct characters *)device;
    struct dia_cells_shown *cells = &c->cells;
    (void)t;
    cells->cursor_column = cells->cursor_row = 255;
    for (uint32_t row = 0; row < cells->rows; row++) {
        for (uint32_t column = 0; column < cells->columns; column++) {
            uint32_t at = address_of(c, column, row), line = at & 0x40u, length = line_length(c);
            at = line +
                 ((at & 0x3fu) + (c->two_lines ? 0 : at & 0x40u) + (uint32_t)c->shift) % length;
            if (!c->two_lines && line)
                at = 0xff; /* a chip of one line does not drive this row */
            cells->code[row][column] = at < sizeof c->ddram ? c->ddram[at] : ' ';
            if (at == c->address && !c->in_glyphs) {
                cells->cursor_column = (uint8_t)column;
                cells->cursor_row = (uint8_t)row;
            }
        }
    }
    for (uint32_t k = 0; k < 64; k++)
        cells->glyph[k / 8][k % 8] = c->cgram[k] & 31;
    cells->blocks = !c->set_up;
    int contrast = 500 + c->glass.contrast_off_mv;
    cells->contrast = contrast < 200    ? DIA_CONTRAST_DARK
                      : contrast > 1000 ? DIA_CONTRAST_FAINT
                                        : DIA_CONTRAST_GOOD;
}

static void free_characters(struct device *device)
{
    free(device);
}

static const struct dia_cells_shown *cells(const struct device *device)
{
    return &((const struct characters *)device)->cells;
}

static const struct device_class class = {
    .edge = edge, .settle = settle, .free = free_characters, .cells = cells};

int dia_bench_characters(struct dia_bench *bench, const struct dia_device_setup *setup,
                         const struct dia_glass *glass)
{
    if (strcmp(setup->part, "HD44780") != 0 || glass->columns == 0 || glass->columns > 40 ||
        glass->rows == 0 || glass->rows > 4)
        return -1;
    struct characters *c = calloc(1, sizeof *c);
    if (!c)
        return -1;
    c->device.of = &class;
    c->device.sheet = "HD44780U sheet, bus timing at 5 V; instruction table";
    c->device.bus_roles = 1u << DIA_CHARACTERS_SCL | 1u << DIA_CHARACTERS_SDA;
    c->glass = *glass;
    c->cells.columns = glass->columns;
    c->cells.rows = glass->rows;
    memcpy(c->device.pins, setup->pins, DIA_CHARACTERS_PINS);
    memset(c->device.pins + DIA_CHARACTERS_PINS, DIA_NO_PIN, DEVICE_PINS - DIA_CHARACTERS_PINS);
    c->eight_lines = 1;
    c->busy_until = POWER_UP_NS;
    clear(c);
    if (glass->half) { /* the controller was reset, the display was not */
        c->eight_lines = 0;
        c->has_half = 1;
        c->half = 0x40;
        c->two_lines = c->set_up = c->cells.on = 1;
        c->busy_until = 0;
        memset(c->ddram, '#', sizeof c->ddram);
    }
    return dia_bench_add(bench, &c->device, setup);
}
