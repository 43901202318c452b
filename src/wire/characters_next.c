/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "characters_bus.h"
#include "characters_next.h"

/* Instructions. */
#define CLEAR    0x01
#define ENTRY    0x04
#define CONTROL  0x08
#define FUNCTION 0x20
#define GLYPHS   0x40
#define TEXT     0x80

#define ENTRY_RIGHT 2u

/* What an entry is. */
enum { STEP, STATE, GLYPH, PLACE, CELL };

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

void dia_characters_mark(struct dia_characters *c, uint8_t cell)
{
    c->unsent[cell >> 3] = (uint8_t)(c->unsent[cell >> 3] | 1u << (cell & 7u));
}

#define SWITCH_OFF 5u /* step */

/* The first three bring any chip to 8 lines: one that was in the middle of a pair takes the first
 * for the other half of it. */
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
    while (bit < 7 && !((uint8_t)(byte >> bit) & 1u))
        bit++;
    return bit;
}

/* 1: it shows a glyph that gets other dots, and waits for another: a space stands there meanwhile.
 */
static uint8_t is_blank_first(const struct dia_characters *c, uint8_t cell)
{
    return cell < 8u * sizeof c->blank && (uint8_t)(c->blank[cell >> 3] >> (cell & 7u)) & 1u;
}

/* 1: it is to show a glyph that the display does not have yet. */
static uint8_t waits_for_glyph(const struct dia_characters *c, uint8_t cell)
{
    return c->taken[cell] < 16 && (uint8_t)(c->glyphs_unsent >> (c->taken[cell] & 7u)) & 1u;
}

/*
 * The first cell still to send; NOT_KNOWN: none. Cells that wait for a glyph come behind the
 * others and the glyphs: so a cell that showed a glyph's old dots has something else before they
 * change, or is meant to show the new ones.
 */
static uint8_t unsent_cell(const struct dia_characters *c)
{
    for (uint8_t k = 0; k < sizeof c->unsent; k++) {
        for (uint8_t bits = c->unsent[k]; bits; bits = (uint8_t)(bits & (bits - 1u))) {
            uint8_t cell = (uint8_t)(8u * k + lowest_bit(bits));
            if (is_blank_first(c, cell) || !waits_for_glyph(c, cell))
                return cell;
        }
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
    return (uint16_t)(IS_DATA | (c->glyph_taken[number][c->glyph_row - 1u] & 31u));
}

static uint16_t place_entry(struct dia_characters *c, uint8_t address)
{
    c->what = PLACE;
    c->which = address;
    return TEXT | address;
}

uint16_t dia_characters_next(struct dia_characters *c)
{
    uint8_t cell = unsent_cell(c);
    uint8_t cursor = address_of(&c->setup, c->cursor_column, c->cursor_row);
    if (c->start < CHARACTERS_STEPS) {
        c->what = STEP;
        return start_step(c);
    }
    if (c->control != c->control_sent || c->light_wanted != c->light_sent) {
        c->what = STATE;
        return (uint16_t)(CONTROL | c->control);
    }
    if (c->glyph_row != 0 || (cell == NOT_KNOWN && c->glyphs_unsent))
        return glyph_entry(c);
    if (cell != NOT_KNOWN) {
        uint8_t address = cell_address(c, cell);
        if (address != c->at)
            return place_entry(c, address);
        c->what = CELL;
        c->which = cell;
        return (uint16_t)(IS_DATA | (is_blank_first(c, cell) ? (uint8_t)' ' : c->taken[cell]));
    }
    /* a hidden cursor may stand anywhere, but not among the glyphs */
    if (c->at != cursor && (c->at == NOT_KNOWN || (c->control & ~DISPLAY_ON)))
        return place_entry(c, cursor);
    return CHARACTERS_NOTHING;
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
    memset(c->blank, 0, sizeof c->blank);
    for (uint8_t cell = 0; cell < characters_places(c); cell++) {
        if (c->started || c->taken[cell] != ' ')
            dia_characters_mark(c, cell);
    }
    c->started = 1;
}

void dia_characters_sent(struct dia_characters *c)
{
    uint8_t two_lines = c->setup.rows > 1 || c->setup.split;
    switch (c->what) {
    case STEP:
        c->start++;
        if (c->start == 3 && c->setup.bus == DIA_BUS_8_LINES)
            c->start++;
        if (c->start == SWITCH_OFF && c->started)
            c->start = SWITCH_OFF + 2; /* past clear */
        if (c->start == CHARACTERS_STEPS)
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
            c->glyphs_unsent = (uint8_t)(c->glyphs_unsent & ~(1u << (c->which & 7u)));
        }
        break;
    case PLACE:
        c->at = c->which;
        break;
    default:
        if (is_blank_first(c, c->which))
            c->blank[c->which >> 3] = (uint8_t)(c->blank[c->which >> 3] & ~(1u << (c->which & 7u)));
        else
            c->unsent[c->which >> 3] =
                (uint8_t)(c->unsent[c->which >> 3] & ~(1u << (c->which & 7u)));
        /* to the right; at the end of a line of the memory it is placed anew */
        c->at = c->at == (two_lines ? 39 : 79) || c->at == 0x67 ? NOT_KNOWN : (uint8_t)(c->at + 1u);
    }
}
