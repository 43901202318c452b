/* SPDX-License-Identifier: MIT */
#include <stdlib.h>

#include "film_private.h"

/*
 * Raw frames in a stream: a line "RGB COLUMNS ROWS", then frames of three bytes a pixel, red, green
 * and blue as sRGB codes, row after row, with nothing between them.
 */
#define MOST_LINE 40

static enum dia_status begin(struct dia_film *film)
{
    char line[MOST_LINE];
    unsigned columns, rows;
    int end = 0;
    film->opaque = 1;
    if (!fgets(line, sizeof line, film->file) ||
        sscanf(line, "RGB %9u %9u %n", &columns, &rows, &end) != 2 || line[end] != 0)
        return dia_film_wrong(film, -1, "raw frames begin with a line such as 'RGB 60 8'");
    enum dia_status status = dia_film_size(film, columns, rows);
    if (status != DIA_OK)
        return status;
    film->decoder = malloc((size_t)columns * rows * 3);
    return film->decoder ? DIA_OK : dia_film_no_memory(film);
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    const uint8_t *from = film->decoder;
    size_t n = (size_t)film->columns * film->rows;
    int next = getc(film->file);
    if (next == EOF && !ferror(film->file)) {
        if (number == 0)
            return dia_film_wrong(film, -1, "there is no frame in it");
        film->frames = number;
        return DIA_OK;
    }
    ungetc(next, film->file);
    enum dia_status status = dia_film_bytes(film, number, film->decoder, n * 3);
    for (size_t k = 0; k < n && status == DIA_OK; k++, from += 3)
        film->pixels[k] = DIA_FILM_PIXEL(from[0], from[1], from[2], 255);
    return status;
}

static void end(struct dia_film *film)
{
    free(film->decoder);
}

const struct film_format dia_film_raw = {"raw", begin, frame, 0, end};
