/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <zlib.h>

#include "big_endian.h"
#include "film_png.h"

/*
 * PNG, and APNG as the third edition of the PNG specification has it. The chunks are read and their
 * sums checked here.
 */
struct decoder {
    struct png_head head;
    int is_animated, default_counts; /* the picture for viewers of stills is a frame too */
    off_t data;                      /* where the frames begin */
    struct png_control now;          /* of the frame decoded last */
    uint8_t *region;                 /* a frame by itself, r g b a */
    uint32_t *pixels, *kept;         /* the same; what was below it */
};
enum { DISPOSE_NONE, DISPOSE_CLEAR, DISPOSE_PREVIOUS };
#define MOST_SMALL 4096 /* bytes of a palette or a list of clear colours, and to spare */

/* ---- chunks ---------------------------------------------------------------------------------- */

/* The whole of it, without keeping it: a sum that is wrong is damage. */
static enum dia_status check_sum(struct dia_film *film, const struct png_chunk *chunk)
{
    uint8_t bytes[16384], sum[4];
    uLong crc = crc32(crc32(0, NULL, 0), (const Bytef *)chunk->type, 4);
    enum dia_status status = DIA_OK;
    for (uint32_t left = chunk->size; left && status == DIA_OK;) {
        uint32_t n = left < sizeof bytes ? left : (uint32_t)sizeof bytes;
        status = dia_film_bytes(film, -1, bytes, n);
        if (status == DIA_OK)
            crc = crc32(crc, bytes, n);
        left -= n;
    }
    if (status == DIA_OK)
        status = dia_film_bytes(film, -1, sum, 4);
    if (status == DIA_OK && get32(sum) != crc)
        return dia_film_wrong(film, -1, "is damaged in its chunk %.4s at byte %lld", chunk->type,
                              (long long)chunk->at);
    return status;
}

/* All of a small chunk, as it is handed to libpng. */
static enum dia_status keep(struct dia_film *film, const struct png_chunk *chunk,
                            struct png_kept *to)
{
    if (chunk->size > MOST_SMALL)
        return dia_film_wrong(film, -1, "is damaged: its chunk %.4s is too long", chunk->type);
    free(to->bytes);
    to->size = chunk->size + 12;
    to->bytes = malloc(to->size);
    if (!to->bytes)
        return dia_film_no_memory(film);
    put32(to->bytes, chunk->size);
    memcpy(to->bytes + 4, chunk->type, 4);
    fseeko(film->file, chunk->at, SEEK_SET);
    return dia_film_bytes(film, -1, to->bytes + 8, chunk->size + 4);
}

static enum dia_status take_fctl(struct dia_film *film, int64_t number,
                                 const struct png_chunk *chunk, struct png_control *to,
                                 uint64_t *us)
{
    uint8_t data[26];
    if (chunk->size != sizeof data)
        return dia_film_wrong(film, number, "is damaged: its chunk fcTL is %u bytes long, not 26",
                              (unsigned)chunk->size);
    fseeko(film->file, chunk->at, SEEK_SET);
    enum dia_status status = dia_film_bytes(film, number, data, sizeof data);
    if (status != DIA_OK)
        return status;
    to->part = (struct film_part){get32(data + 12), get32(data + 16), get32(data + 4),
                                  get32(data + 8), NULL};
    const struct film_part *part = &to->part;
    uint32_t time = (uint32_t)data[20] << 8 | data[21], per = (uint32_t)data[22] << 8 | data[23];
    *us = (uint64_t)time * 1000000u / (per ? per : 100);
    to->dispose = data[24];
    to->over = data[25] == 1;
    if (part->columns == 0 || part->rows == 0 || part->columns > film->columns ||
        part->rows > film->rows || part->x > film->columns - part->columns ||
        part->y > film->rows - part->rows || to->dispose > 2)
        return dia_film_wrong(film, number, "is damaged: it does not lie in the picture");
    return DIA_OK;
}

/* Where frames and their times are, up to IEND. */
static enum dia_status scan(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    struct png_chunk chunk;
    struct png_control control;
    uint64_t us, end_us = 0;
    int datas = 0;
    enum dia_status status;
    do {
        status = dia_png_next(film, -1, &chunk);
        if (status == DIA_OK)
            status = check_sum(film, &chunk);
        if (status == DIA_OK && strcmp(chunk.type, "PLTE") == 0)
            status = keep(film, &chunk, &d->head.palette);
        else if (status == DIA_OK && strcmp(chunk.type, "tRNS") == 0)
            status = keep(film, &chunk, &d->head.clear);
        else if (status == DIA_OK && strcmp(chunk.type, "acTL") == 0 && !datas)
            d->is_animated = 1;
        else if (status == DIA_OK && strcmp(chunk.type, "fcTL") == 0 && d->is_animated) {
            status = take_fctl(film, film->frames, &chunk, &control, &us);
            d->default_counts |= !datas;
            end_us += us ? us : 100000;
            if (status == DIA_OK)
                status = dia_film_add(film, end_us);
        }
        if (strcmp(chunk.type, "IDAT") == 0 || strcmp(chunk.type, "fcTL") == 0)
            d->data = d->data ? d->data : chunk.at - 8;
        datas += strcmp(chunk.type, "IDAT") == 0;
        if (status == DIA_OK)
            dia_png_skip(film, &chunk);
    } while (status == DIA_OK && strcmp(chunk.type, "IEND") != 0);
    if (status == DIA_OK && !datas)
        return dia_film_wrong(film, -1, "is damaged: there is no picture in it");
    if (status == DIA_OK && film->frames == 0) { /* a still */
        d->is_animated = 0;
        film->rate = 1;
        film->per = 1;
        film->frames = 1;
    }
    return status;
}

static enum dia_status begin(struct dia_film *film)
{
    struct decoder *d = calloc(1, sizeof *d);
    struct png_chunk chunk;
    film->decoder = d;
    film->rate = 0;
    if (!d)
        return dia_film_no_memory(film);
    fseeko(film->file, 8, SEEK_SET);
    enum dia_status status = dia_png_next(film, -1, &chunk);
    if (status == DIA_OK && (strcmp(chunk.type, "IHDR") != 0 || chunk.size != 13))
        return dia_film_wrong(film, -1, "is damaged: its header is missing");
    if (status == DIA_OK)
        status = dia_film_bytes(film, -1, d->head.header, sizeof d->head.header);
    if (status == DIA_OK)
        status = dia_film_size(film, get32(d->head.header), get32(d->head.header + 4));
    if (status == DIA_OK) {
        fseeko(film->file, chunk.at, SEEK_SET);
        status = check_sum(film, &chunk);
    }
    if (status == DIA_OK)
        status = scan(film);
    if (status == DIA_OK) {
        d->region = malloc((size_t)film->columns * film->rows * 4);
        d->pixels = malloc((size_t)film->columns * film->rows * sizeof *d->pixels);
        if (!d->region || !d->pixels)
            return dia_film_no_memory(film);
    }
    return status;
}

/* ---- frames over each other ------------------------------------------------------------------ */

/* What the frame before leaves when its time is over. */
static void dispose(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    if (d->now.dispose == DISPOSE_CLEAR)
        dia_film_clear(film, &d->now.part);
    if (d->now.dispose == DISPOSE_PREVIOUS && d->kept)
        memcpy(film->pixels, d->kept, (size_t)film->columns * film->rows * sizeof *d->kept);
}

static enum dia_status next_fctl(struct dia_film *film, uint32_t number)
{
    struct decoder *d = film->decoder;
    struct png_chunk chunk = {0, "", 0};
    uint64_t us;
    enum dia_status status = dia_png_next(film, number, &chunk);
    while (status == DIA_OK && strcmp(chunk.type, "fcTL") != 0) {
        dia_png_skip(film, &chunk);
        status = dia_png_next(film, number, &chunk);
    }
    if (status == DIA_OK)
        status = take_fctl(film, number, &chunk, &d->now, &us);
    dia_png_skip(film, &chunk);
    return status;
}

/* Before a frame that gives back what was below it. */
static enum dia_status keep_below(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    size_t size = (size_t)film->columns * film->rows * sizeof *d->kept;
    if (d->now.dispose != DISPOSE_PREVIOUS)
        return DIA_OK;
    if (!d->kept && !(d->kept = malloc(size)))
        return dia_film_no_memory(film);
    memcpy(d->kept, film->pixels, size);
    return DIA_OK;
}

/* The picture by itself, into d->pixels. */
static enum dia_status decode(struct dia_film *film, uint32_t number, const char *type)
{
    struct decoder *d = film->decoder;
    size_t n = (size_t)d->now.part.columns * d->now.part.rows;
    int failed =
        dia_png_decode(film, &d->head, type, d->now.part.columns, d->now.part.rows, d->region);
    if (failed)
        return failed == -2 ? dia_film_no_memory(film)
                            : dia_film_wrong(film, film->frames > 1 ? (int64_t)number : -1,
                                             "the picture is damaged");
    for (size_t k = 0; k < n; k++) {
        const uint8_t *rgba = d->region + 4 * k;
        d->pixels[k] = DIA_FILM_PIXEL(rgba[0], rgba[1], rgba[2], rgba[3]);
    }
    d->now.part.pixels = d->pixels;
    return DIA_OK;
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    struct decoder *d = film->decoder;
    enum dia_status status = DIA_OK;
    if (number == 0) {
        fseeko(film->file, d->data, SEEK_SET);
        memset(film->pixels, 0, (size_t)film->columns * film->rows * sizeof *film->pixels);
        d->now = (struct png_control){{0, 0, film->columns, film->rows, NULL}, DISPOSE_NONE, 0};
    } else {
        dispose(film);
    }
    if (d->is_animated)
        status = next_fctl(film, number);
    if (status == DIA_OK)
        status = keep_below(film);
    const char *type = d->is_animated && !(number == 0 && d->default_counts) ? "fdAT" : "IDAT";
    if (status == DIA_OK)
        status = decode(film, number, type);
    if (status != DIA_OK)
        return status;
    dia_film_lay(film, &d->now.part, d->now.over);
    film->opaque = dia_film_is_opaque(film);
    return DIA_OK;
}

static void end(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    if (!d)
        return;
    free(d->head.palette.bytes);
    free(d->head.clear.bytes);
    free(d->region);
    free(d->pixels);
    free(d->kept);
    free(d);
}

const struct film_format dia_film_png = {"PNG", begin, frame, 0, end};
