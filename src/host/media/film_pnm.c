/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#include "film_private.h"

/*
 * PBM, PGM and PPM, plain (P1 to P3) and raw (P4 to P6), as netpbm's pages define them. Raw ones
 * may follow each other in a file or stream: each is a frame.
 */
struct pnm {
    int kind; /* 1..6 */
    uint32_t columns, rows, most;
};
#define MOST_SPACE 65536 /* spaces and comments before a number */

static int is_plain(const struct pnm *pnm)
{
    return pnm->kind <= 3;
}

static uint32_t channels_of(const struct pnm *pnm)
{
    return pnm->kind % 3 == 0 ? 3 : 1;
}

static size_t row_bytes(const struct pnm *pnm)
{
    if (pnm->kind == 4)
        return (pnm->columns + 7) / 8;
    return (size_t)pnm->columns * channels_of(pnm) * (pnm->most > 255 ? 2 : 1);
}

/* Spaces and comments; what comes behind them, or EOF. */
static int skip_space(FILE *file)
{
    int c = getc(file), comment = 0;
    for (uint32_t n = 0; n < MOST_SPACE && c != EOF && (comment || c == '#' || isspace(c)); n++) {
        comment = c == '#' || (comment && c != '\n' && c != '\r');
        c = getc(file);
    }
    return c;
}

/* A number and the one character behind it. */
static enum dia_status read_number(struct dia_film *film, int64_t frame, const char *what,
                                   uint32_t most, uint32_t *number)
{
    int c = skip_space(film->file);
    uint64_t value = 0;
    if (c == EOF)
        return dia_film_wrong(film, frame, "ends too early");
    if (!isdigit(c))
        return dia_film_wrong(film, frame, "%s must be a number", what);
    for (; isdigit(c) && value <= most; c = getc(film->file))
        value = value * 10 + (uint32_t)(c - '0');
    if (value > most || (c != EOF && !isspace(c)))
        return dia_film_wrong(film, frame, "%s must be a number up to %u", what, (unsigned)most);
    *number = (uint32_t)value;
    return DIA_OK;
}

static enum dia_status read_header(struct dia_film *film, int64_t frame, struct pnm *pnm)
{
    int p = skip_space(film->file), kind = getc(film->file);
    pnm->most = 1;
    if (p != 'P' || kind < '1' || kind > '6')
        return dia_film_wrong(film, frame, "does not begin with P1 to P6");
    pnm->kind = kind - '0';
    enum dia_status status = read_number(film, frame, "the width", 1u << 30, &pnm->columns);
    if (status == DIA_OK)
        status = read_number(film, frame, "the height", 1u << 30, &pnm->rows);
    if (status == DIA_OK && pnm->kind % 3 != 1)
        status = read_number(film, frame, "the largest value", 65535, &pnm->most);
    if (status == DIA_OK && pnm->most == 0)
        return dia_film_wrong(film, frame, "the largest value must be at least 1");
    if (status == DIA_OK && film->pixels &&
        (pnm->columns != film->columns || pnm->rows != film->rows))
        return dia_film_wrong(film, frame,
                              "it is %u by %u pixels; all must be %u by %u, as the "
                              "first one is",
                              (unsigned)pnm->columns, (unsigned)pnm->rows, (unsigned)film->columns,
                              (unsigned)film->rows);
    return status;
}

/* Raw pictures one after the other: where each begins. */
static enum dia_status find_frames(struct dia_film *film)
{
    struct stat about;
    struct pnm pnm;
    enum dia_status status = DIA_OK;
    fstat(fileno(film->file), &about);
    for (int c = getc(film->file); status == DIA_OK && c != EOF; c = skip_space(film->file)) {
        ungetc(c, film->file);
        off_t at = ftello(film->file);
        status = read_header(film, film->frames, &pnm);
        if (status != DIA_OK)
            return status;
        if (is_plain(&pnm) && film->frames)
            return dia_film_wrong(film, film->frames, "plain pictures (P1 to P3) stand alone");
        off_t end = ftello(film->file) + (off_t)(row_bytes(&pnm) * pnm.rows);
        if (!is_plain(&pnm) && (end > about.st_size || fseeko(film->file, end, SEEK_SET) != 0))
            return dia_film_wrong(film, film->frames, "ends too early");
        status = dia_film_add(film, (uint64_t)at);
        if (is_plain(&pnm))
            return status;
    }
    return status;
}

static enum dia_status begin(struct dia_film *film)
{
    struct pnm pnm;
    film->opaque = 1;
    if (film->is_stream)
        return DIA_OK; /* the first frame tells the size */
    enum dia_status status = read_header(film, -1, &pnm);
    if (status == DIA_OK)
        status = dia_film_size(film, pnm.columns, pnm.rows);
    rewind(film->file);
    return status == DIA_OK ? find_frames(film) : status;
}

static enum dia_status plain_row(struct dia_film *film, uint32_t number, const struct pnm *pnm,
                                 uint16_t *values)
{
    uint32_t n = pnm->columns * channels_of(pnm), value;
    for (uint32_t k = 0; k < n; k++) {
        if (pnm->kind == 1) { /* bits need no space between */
            int c = skip_space(film->file);
            if (c != '0' && c != '1')
                return dia_film_wrong(film, number,
                                      c == EOF ? "ends too early" : "its dots must be 0 or 1");
            values[k] = (uint16_t)(c - '0');
            continue;
        }
        enum dia_status status = read_number(film, number, "a value", pnm->most, &value);
        if (status != DIA_OK)
            return status;
        values[k] = (uint16_t)value;
    }
    return DIA_OK;
}

static enum dia_status raw_row(struct dia_film *film, uint32_t number, const struct pnm *pnm,
                               uint8_t *bytes, uint16_t *values)
{
    uint32_t n = pnm->columns * channels_of(pnm);
    enum dia_status status = dia_film_bytes(film, number, bytes, row_bytes(pnm));
    for (uint32_t k = 0; status == DIA_OK && k < n; k++) {
        if (pnm->kind == 4)
            values[k] = bytes[k / 8] >> (7 - k % 8) & 1;
        else
            values[k] =
                pnm->most > 255 ? (uint16_t)(bytes[2 * k] << 8 | bytes[2 * k + 1]) : bytes[k];
        if (values[k] > pnm->most)
            return dia_film_wrong(film, number, "a value is %u; at most %u is said", values[k],
                                  (unsigned)pnm->most);
    }
    return status;
}

static void to_pixels(const struct pnm *pnm, const uint16_t *values, uint32_t *to)
{
    uint32_t channels = channels_of(pnm), half = pnm->most / 2;
    uint32_t other = pnm->kind % 3 == 1 ? 255 : 0; /* a bit of 1 is black */
    for (uint32_t x = 0; x < pnm->columns; x++) {
        uint32_t code[3];
        for (uint32_t c = 0; c < 3; c++) {
            uint32_t value = values[channels * x + (channels == 3 ? c : 0)];
            code[c] = ((value * 255 + half) / pnm->most) ^ other;
        }
        to[x] = DIA_FILM_PIXEL(code[0], code[1], code[2], 255);
    }
}

static enum dia_status read_rows(struct dia_film *film, uint32_t number, const struct pnm *pnm)
{
    uint8_t *bytes = malloc((size_t)pnm->columns * 6);
    uint16_t *values = malloc((size_t)pnm->columns * 3 * sizeof *values);
    enum dia_status status = bytes && values ? DIA_OK : dia_film_no_memory(film);
    for (uint32_t y = 0; status == DIA_OK && y < pnm->rows; y++) {
        status = is_plain(pnm) ? plain_row(film, number, pnm, values)
                               : raw_row(film, number, pnm, bytes, values);
        if (status == DIA_OK)
            to_pixels(pnm, values, film->pixels + (size_t)y * pnm->columns);
    }
    free(bytes);
    free(values);
    return status;
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    struct pnm pnm;
    if (!film->is_stream && fseeko(film->file, (off_t)film->at[number], SEEK_SET) != 0)
        return dia_film_wrong(film, number, "cannot be read");
    if (film->is_stream && number != 0) { /* it may have ended */
        int c = skip_space(film->file);
        if (c == EOF && !ferror(film->file)) {
            film->frames = number;
            return DIA_OK;
        }
        ungetc(c, film->file);
    }
    enum dia_status status = read_header(film, number, &pnm);
    if (status == DIA_OK && !film->pixels)
        status = dia_film_size(film, pnm.columns, pnm.rows);
    return status == DIA_OK ? read_rows(film, number, &pnm) : status;
}

const struct film_format dia_film_pnm = {"PNM", begin, frame, 1, NULL};
