/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/film.h>
#include <diachrome/lamp.h>

#include "glyphs_private.h"
#include "host_private.h"

/*
 * A picture or film as a drawing, and a drawing as PNM. What is clear is dark; where nothing is
 * clear, black is; of a PBM, what is white, as it has ink.
 */
struct taking {
    struct dia_drawings *to;
    const char *path;
    int clear_is_dark, is_ink;
    uint32_t last;     /* the pixel before, */
    uint8_t last_cell; /* and what it became */
};

/* Characters for colours, after '#'. */
static uint32_t key_of(uint32_t number)
{
    static const char keys[] = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789";
    return number < sizeof keys - 1 ? (uint32_t)keys[number]
                                    : 0x100u + (number - (uint32_t)sizeof keys + 1);
}

static int cell_of(struct taking *t, uint32_t pixel, uint8_t *cell, struct dia_diagnostic *wrong)
{
    struct dia_drawings *to = t->to;
    struct dia_rgb colour = {(uint8_t)pixel, (uint8_t)(pixel >> 8), (uint8_t)(pixel >> 16)};
    int is_black = (pixel & 0xffffff) == 0;
    uint32_t k = 0;
    *cell = t->last_cell;
    if (pixel == t->last)
        return 0;
    t->last = pixel;
    if (t->is_ink) {
        *cell = t->last_cell = is_black ? 1 : 0;
        return 0;
    }
    if (t->clear_is_dark ? pixel >> 24 < 128 : is_black) {
        *cell = t->last_cell = 0;
        return 0;
    }
    while (k < to->colour_count && memcmp(&to->colours[k], &colour, sizeof colour) != 0)
        k++;
    if (k == 255)
        return dia_host_wrong(wrong, "%s: a drawing has at most 255 colours; this has more",
                              t->path) != DIA_OK;
    if (k == to->colour_count) {
        to->keys[k] = key_of(k - 1);
        to->colours[to->colour_count++] = colour;
    }
    *cell = t->last_cell = (uint8_t)(k + 1);
    return 0;
}

/* The name of the file, without folder and ending, with '-' for what a name cannot have. */
static void name_of(const char *path, char name[DIA_DRAWING_NAME])
{
    const char *slash = strrchr(path, '/'), *from = slash ? slash + 1 : path;
    const char *bracket = strchr(from, '['), *end = bracket ? bracket : strrchr(from, '.');
    size_t length = end && end > from ? (size_t)(end - from) : strlen(from), n = 0;
    for (size_t k = 0; k < length && n < DIA_DRAWING_NAME - 1; k++) {
        int fits = isalnum((unsigned char)from[k]) || from[k] == '_';
        if (fits || (n && k + 1 < length))
            name[n++] = fits ? from[k] : '-';
    }
    while (n && name[n - 1] == '-')
        n--;
    snprintf(name + n, DIA_DRAWING_NAME - n, "%s", n ? "" : "picture");
}

static int begins_as_bits(const char *path)
{
    FILE *file = fopen(path, "rb");
    int p = file ? getc(file) : EOF, kind = file ? getc(file) : EOF;
    if (file)
        fclose(file);
    return p == 'P' && (kind == '1' || kind == '4');
}

static enum dia_status take(struct taking *t, struct dia_film *film, struct dia_diagnostic *wrong)
{
    struct dia_film_frame frame;
    uint32_t frames = dia_film_frames(film);
    uint64_t all_us = dia_film_length_us(film);
    enum dia_status status = dia_film_at(film, 0, &frame, wrong);
    if (status != DIA_OK)
        return status;
    if (frame.columns > DIA_DRAWING_SIDE || frame.rows > DIA_DRAWING_SIDE || frames > 255)
        return dia_host_wrong(wrong,
                              "%s: a drawing has at most %d by %d dots and 255 frames; this has %u "
                              "by %u and %u",
                              t->path, DIA_DRAWING_SIDE, DIA_DRAWING_SIDE, (unsigned)frame.columns,
                              (unsigned)frame.rows, (unsigned)frames);
    uint64_t each_us = frames > 1 ? all_us / frames : 0;
    struct dia_dots like = {.columns = (uint8_t)frame.columns,
                            .rows = (uint8_t)frame.rows,
                            .frames = (uint16_t)frames,
                            .each_ms = (uint16_t)((each_us + 500) / 1000)};
    name_of(t->path, like.name);
    status = dia_drawings_add(t->to, t->path, like, wrong);
    uint32_t dots = frame.columns * frame.rows;
    t->clear_is_dark = !frame.opaque;
    for (uint32_t k = 0; status == DIA_OK && k < frames; k++) {
        status = dia_film_at(film, all_us * k / frames + (k ? 1 : 0), &frame, wrong);
        uint8_t *cells = t->to->items[0].cells + (size_t)k * dots;
        for (uint32_t i = 0; status == DIA_OK && i < dots; i++) {
            if (cell_of(t, frame.pixels[i], &cells[i], wrong) != 0)
                status = DIA_BAD_VALUE;
        }
    }
    return status;
}

enum dia_status dia_drawings_film_read(struct dia_drawings *drawings, const char *path,
                                       struct dia_diagnostic *wrong)
{
    struct taking t = {.to = drawings, .path = path, .is_ink = begins_as_bits(path)};
    struct dia_film *film;
    enum dia_status status = dia_film_open(&film, path, 10000, wrong);
    if (status == DIA_OK)
        status = take(&t, film, wrong);
    dia_film_close(film);
    if (status != DIA_OK)
        dia_drawings_free(drawings);
    return status;
}

int dia_drawings_is_film(const char *path)
{
    static const char *const ends[] = {".png", ".apng", ".gif", ".pbm",
                                       ".pgm", ".ppm",  ".pnm", NULL};
    for (int k = 0; ends[k]; k++) {
        if (dia_host_ends(path, ends[k]))
            return 1;
    }
    return 0;
}

/* ---- out ------------------------------------------------------------------------------------- */

static void put_frame(const struct dia_drawings *drawings, const struct dia_dots *item,
                      const uint8_t *cells, char kind, FILE *out)
{
    fprintf(out, "P%c\n%u %u\n%s", kind, item->columns, item->rows, kind == '4' ? "" : "255\n");
    for (uint32_t y = 0; y < item->rows; y++, cells += item->columns) {
        unsigned bits = 0;
        for (uint32_t x = 0; x < item->columns; x++) {
            struct dia_rgb c =
                cells[x] ? drawings->colours[cells[x] - 1] : (struct dia_rgb){0, 0, 0};
            bits = bits << 1 | (cells[x] != 0);
            if (kind == '6')
                fwrite(&c, 1, 3, out);
            else if (kind == '5')
                putc(dia_lamp_of(c), out);
            else if (x % 8 == 7 || x + 1 == item->columns)
                putc((int)(bits << (7 - x % 8) & 255), out);
        }
    }
}

enum dia_status dia_drawings_pnm_write(const struct dia_drawings *drawings, const char *path,
                                       struct dia_diagnostic *wrong)
{
    struct host_output out;
    char kind = dia_host_ends(path, ".pbm") ? '4' : dia_host_ends(path, ".pgm") ? '5' : '6';
    if (drawings->count != 1)
        return dia_host_wrong(wrong, "%s: a picture is of one drawing, and these are %u; say which",
                              path, (unsigned)drawings->count);
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    const struct dia_dots *item = &drawings->items[0];
    for (uint32_t k = 0; k < item->frames; k++)
        put_frame(drawings, item, item->cells + (size_t)k * item->columns * item->rows, kind,
                  out.file);
    return dia_host_output_close(&out, wrong);
}
