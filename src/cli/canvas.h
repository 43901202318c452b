/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_CANVAS_H
#define DIA_CLI_CANVAS_H

#include <stddef.h>

#include <diachrome/colour.h>

/* A screenful of characters, each with its colours, to be drawn in any order and written at once.
 */
enum { MARK_FRONT = 1, MARK_BACK = 2, MARK_BOLD = 4, MARK_DIM = 8, MARK_RED = 16 };
struct mark {
    char text[4]; /* one character, UTF-8; 0: a space */
    unsigned char how;
    struct dia_rgb front, back;
};
struct canvas {
    struct mark *marks, *shown; /* what it is to show; what is on the screen already */
    int knows;                  /* whether that is known */
    int columns, rows, in_colour;
    int ascii;  /* the locale has no UTF-8 */
    char *text; /* what to write, after canvas_finish */
    size_t length, room;
};

/* Empty, of that size. 0, or -1: no memory. */
int canvas_begin(struct canvas *canvas, int columns, int rows, int in_colour);

/* Text from a place on, cut at the right edge; how it looks is 0 or MARK_BOLD, _DIM or _RED. */
void canvas_say(struct canvas *canvas, int row, int column, unsigned char how, const char *text);

/* A place lit in a colour; without colours, a character for how bright it is. */
void canvas_light(struct canvas *canvas, int row, int column, struct dia_rgb colour);

/* Two lights one above the other, in one place. */
void canvas_lights(struct canvas *canvas, int row, int column, struct dia_rgb upper,
                   struct dia_rgb lower);

/* A character (of up to 3 bytes of UTF-8) in a colour, on another if ground is not NULL. */
void canvas_mark(struct canvas *canvas, int row, int column, const char *text,
                 struct dia_rgb colour, const struct dia_rgb *ground);

/* All of it as text: for a screen, what has changed on it, each row at its place; else line after
 * line. 0, or -1: no memory. */
int canvas_finish(struct canvas *canvas, int on_screen);
/* Nobody knows what is on the screen: the next canvas_finish has all of it. */
void canvas_forget(struct canvas *canvas);
void canvas_free(struct canvas *canvas);

#endif
