/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_CHARACTERS_NEXT_H
#define DIA_WIRE_CHARACTERS_NEXT_H

#include <diachrome/characters.h>

/*
 * Nothing is queued: what is to be sent next is worked out from what is wanted and what the
 * display has been sent, so a transmission that fails loses nothing, and drawing over what has not
 * been sent costs nothing.
 */
#define CHARACTERS_NOTHING 0xffffu
#define CHARACTERS_STEPS   9u /* of the start-up */
#define DISPLAY_ON         4u /* in control */
#define NOT_KNOWN          0xffu

/* What goes next, as characters_bus.h has it; or CHARACTERS_NOTHING. */
uint16_t dia_characters_next(struct dia_characters *c);

/* The display has it. */
void dia_characters_sent(struct dia_characters *c);

/* A cell is to be sent. */
void dia_characters_mark(struct dia_characters *c, uint8_t cell);

/* Which glyphs so many cells as the display has show, a bit each. */
uint8_t dia_characters_shown(const struct dia_characters *c, const uint8_t *cells);

static inline uint8_t characters_places(const struct dia_characters *c)
{
    return (uint8_t)(c->setup.columns * c->setup.rows);
}

#endif
