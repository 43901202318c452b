/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FILM_PNG_H
#define DIA_HOST_FILM_PNG_H

#include "film_private.h"

/* Chunks of a PNG, and a frame of it by itself. */
struct png_chunk {
    uint32_t size;
    char type[5];
    off_t at; /* its data */
};

/* Where a frame lies, and what becomes of it: fcTL of the specification. */
struct png_control {
    struct film_part part;
    uint8_t dispose, over;
};

/* What the header and the chunks before the pictures say, as libpng is to get it. */
struct png_kept {
    uint8_t *bytes; /* size, type, data, sum */
    size_t size;
};
struct png_head {
    uint8_t header[13];
    struct png_kept palette, clear;
};

/* The next chunk from where the file stands, which is at its data then. */
enum dia_status dia_png_next(struct dia_film *film, int64_t number, struct png_chunk *chunk);

/* To what comes behind it. */
void dia_png_skip(struct dia_film *film, const struct png_chunk *chunk);

/*
 * A frame through libpng: columns by rows of r g b a, from the chunks of that type (IDAT or fdAT)
 * that come next. 0, or -1: it is damaged; -2: no memory.
 */
int dia_png_decode(struct dia_film *film, const struct png_head *head, const char *type,
                   uint32_t columns, uint32_t rows, uint8_t *rgba);

#endif
