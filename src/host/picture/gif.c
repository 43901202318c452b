/* SPDX-License-Identifier: MIT */
#include <limits.h>
#include <math.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#include <gif_lib.h>

#include "gif.h"
#include "rows.h"

/*
 * A frame has 256 colours, chosen by halving boxes of colours, cut to 6 bits a
 * channel: always the one that is longest, weighed by the root of how many pixels are in it, so
 * that neither the few lights nor the large dark ground get all of them. Glows are dithered by a
 * pattern of 4 by 4, else they would lie in rings.
 *
 * Frames that follow share the colours as long as few of their pixels are in no box; those get the
 * colour that is nearest.
 */
#define COLOURS 256
#define CELLS   262144 /* 6 bits a channel */
#define STRAY   16     /* choice: one pixel in so many may be in no box, of all frames together */

struct gif {
    GifFileType *file;
    int width, height;
    GifByteType *row;
    uint32_t *moved, *dithered; /* a row, and some room behind it */
    uint32_t sum[CELLS][4];     /* red, green, blue and how many pixels */
    uint32_t cells[CELLS];      /* those there are */
    uint8_t index[CELLS];
    uint8_t known[CELLS]; /* 1: the cell has an index */
    GifColorType colours[COLOURS];
    int begun;       /* 1: there are colours */
    uint32_t strays; /* pixels in no box of theirs, since they were chosen */
};

static int put(GifFileType *file, const GifByteType *bytes, int n)
{
    return (int)fwrite(bytes, 1, (size_t)n, file->UserData);
}

struct gif *dia_gif_begin(FILE *file, int width, int height)
{
    static const GifByteType for_ever[3] = {1, 0, 0};
    struct gif *gif = calloc(1, sizeof *gif);
    int error;
    if (!gif)
        return NULL;
    gif->width = width;
    gif->height = height;
    gif->row = malloc((size_t)width);
    gif->moved = calloc(2 * ((size_t)width + 4), sizeof *gif->moved);
    gif->dithered = gif->moved ? gif->moved + width + 4 : NULL;
    gif->file = EGifOpen(file, put, &error);
    if (gif->row && gif->moved && gif->file) {
        EGifSetGifVersion(gif->file, true);
        if (EGifPutScreenDesc(gif->file, width, height, 8, 0, NULL) == GIF_OK &&
            EGifPutExtensionLeader(gif->file, APPLICATION_EXT_FUNC_CODE) == GIF_OK &&
            EGifPutExtensionBlock(gif->file, 11, "NETSCAPE2.0") == GIF_OK &&
            EGifPutExtensionBlock(gif->file, 3, for_ever) == GIF_OK &&
            EGifPutExtensionTrailer(gif->file) == GIF_OK)
            return gif;
    }
    dia_gif_end(gif);
    return NULL;
}

static uint32_t cell_of(uint32_t pixel)
{
    return (pixel >> 18 & 63) << 12 | (pixel >> 10 & 63) << 6 | (pixel >> 2 & 63);
}

/* Cells from first to last - 1 of a list, how far they reach, and what that counts. */
struct box {
    int first, last, longest, axis;
    double counts;
};

static int channel_of(uint32_t cell, int axis)
{
    return (int)(cell >> (12 - 6 * axis) & 63);
}

static void measure(const struct gif *gif, struct box *box, const uint32_t *cells)
{
    double pixels = 0;
    box->longest = -1;
    for (int k = box->first; k < box->last; k++)
        pixels += gif->sum[cells[k]][3];
    for (int axis = 0; axis < 3; axis++) {
        int low = 63, high = 0;
        for (int k = box->first; k < box->last; k++) {
            int value = channel_of(cells[k], axis);
            low = value < low ? value : low;
            high = value > high ? value : high;
        }
        if (high - low > box->longest) {
            box->longest = high - low;
            box->axis = axis;
        }
    }
    box->counts = box->longest * sqrt(pixels);
}

/* Those in the upper half of its longest axis go to the end. Returns where they begin. */
static int part(const struct box *box, uint32_t *cells)
{
    int low = 63, high = 0, at = box->first;
    for (int k = box->first; k < box->last; k++) {
        int value = channel_of(cells[k], box->axis);
        low = value < low ? value : low;
        high = value > high ? value : high;
    }
    for (int k = box->first; k < box->last; k++) {
        if (2 * channel_of(cells[k], box->axis) <= low + high) {
            uint32_t cell = cells[k];
            cells[k] = cells[at];
            cells[at++] = cell;
        }
    }
    return at;
}

static int choose_boxes(const struct gif *gif, struct box boxes[COLOURS], uint32_t *cells, int n)
{
    int count = 1;
    boxes[0] = (struct box){0, n, 0, 0, 0};
    measure(gif, &boxes[0], cells);
    while (count < COLOURS) {
        int widest = 0;
        for (int k = 1; k < count; k++)
            widest = boxes[k].counts > boxes[widest].counts ? k : widest;
        if (boxes[widest].longest <= 0)
            break;
        int middle = part(&boxes[widest], cells);
        boxes[count] = (struct box){middle, boxes[widest].last, 0, 0, 0};
        boxes[widest].last = middle;
        measure(gif, &boxes[widest], cells);
        measure(gif, &boxes[count++], cells);
    }
    return count;
}

static void count_colours(struct gif *gif, cairo_surface_t *picture)
{
    memset(gif->sum, 0, sizeof gif->sum);
    for (int y = 0; y < gif->height; y++) {
        const uint32_t *row = dia_row(picture, y);
        for (int x = 0; x < gif->width; x++) {
            uint32_t pixel = row[x], *sum = gif->sum[cell_of(pixel)];
            sum[0] += pixel >> 16 & 255;
            sum[1] += pixel >> 8 & 255;
            sum[2] += pixel & 255;
            sum[3]++;
        }
    }
}

/* The colours of a frame: the means of their boxes. */
static void choose(struct gif *gif)
{
    GifColorType *colours = gif->colours;
    uint32_t *cells = gif->cells;
    struct box boxes[COLOURS];
    int n = 0;
    for (uint32_t cell = 0; cell < CELLS; cell++) {
        if (gif->sum[cell][3])
            cells[n++] = cell;
    }
    int count = choose_boxes(gif, boxes, cells, n);
    memset(colours, 0, sizeof gif->colours);
    memset(gif->known, 0, sizeof gif->known);
    for (int b = 0; b < count; b++) {
        uint64_t sum[4] = {0, 0, 0, 0};
        for (int k = boxes[b].first; k < boxes[b].last; k++) {
            gif->index[cells[k]] = (uint8_t)b;
            gif->known[cells[k]] = 1;
            for (int c = 0; c < 4; c++)
                sum[c] += gif->sum[cells[k]][c];
        }
        colours[b].Red = (GifByteType)(sum[0] / sum[3]);
        colours[b].Green = (GifByteType)(sum[1] / sum[3]);
        colours[b].Blue = (GifByteType)(sum[2] / sum[3]);
    }
}

/* A row with the pattern added to its channels: sixteen bytes at a time, which become a vector. */
static void dither(const uint8_t *restrict row, uint32_t bytes, int y, uint8_t *restrict out)
{
    static const int8_t pattern[4][4] = {
        {-4, 0, -3, 1}, {2, -2, 3, -1}, {-3, 1, -4, 0}, {3, -1, 2, -2}};
    int16_t add[16];
    for (int k = 0; k < 16; k++)
        add[k] = pattern[y & 3][k / 4];
    for (uint32_t at = 0; at < bytes; at += 16) {
        for (uint32_t k = 0; k < 16; k++) {
            int16_t code = (int16_t)(row[at + k] + add[k]);
            code = code < 0 ? 0 : code;
            out[at + k] = (uint8_t)(code > 255 ? 255 : code);
        }
    }
}

/* The colours of a row, dithered where that leads to a colour there is. */
static void map_row(struct gif *gif, const uint32_t *row, int y)
{
    memcpy(gif->moved, row, (size_t)gif->width * sizeof *row);
    dither((const uint8_t *)gif->moved, (uint32_t)gif->width * 4, y, (uint8_t *)gif->dithered);
    for (int x = 0; x < gif->width; x++) {
        uint32_t cell = cell_of(gif->dithered[x]);
        gif->row[x] = gif->index[gif->known[cell] ? cell : cell_of(row[x])];
    }
}

static uint8_t nearest(const struct gif *gif, uint32_t pixel)
{
    int r = (int)(pixel >> 16 & 255), g = (int)(pixel >> 8 & 255), b = (int)(pixel & 255);
    int least = INT_MAX, found = 0;
    for (int k = 0; k < COLOURS; k++) {
        const GifColorType *c = &gif->colours[k];
        int dr = r - c->Red, dg = g - c->Green, db = b - c->Blue;
        int off = 2 * dr * dr + 4 * dg * dg + db * db; /* as eyes weigh them, roughly */
        if (off < least) {
            least = off;
            found = k;
        }
    }
    return (uint8_t)found;
}

/* 1: the colours there are do for a frame too. */
static int is_covered(struct gif *gif, cairo_surface_t *picture)
{
    uint32_t strays = gif->strays, most = (uint32_t)gif->width * (uint32_t)gif->height / STRAY;
    for (int y = 0; y < gif->height && gif->begun && strays <= most; y++) {
        const uint32_t *row = dia_row(picture, y);
        for (int x = 0; x < gif->width; x++)
            strays += !gif->known[cell_of(row[x])];
    }
    if (!gif->begun || strays > most)
        return 0;
    gif->strays = strays;
    for (int y = 0; y < gif->height && strays; y++) {
        const uint32_t *row = dia_row(picture, y);
        for (int x = 0; x < gif->width; x++) {
            uint32_t cell = cell_of(row[x]);
            if (!gif->known[cell]) {
                gif->index[cell] = nearest(gif, row[x]);
                gif->known[cell] = 1;
            }
        }
    }
    return 1;
}

int dia_gif_frame(struct gif *gif, cairo_surface_t *picture, unsigned hundredths)
{
    GraphicsControlBlock control = {DISPOSE_DO_NOT, false, (int)hundredths, NO_TRANSPARENT_COLOR};
    GifByteType block[4];
    cairo_surface_flush(picture);
    if (!is_covered(gif, picture)) {
        count_colours(gif, picture);
        choose(gif);
        gif->begun = 1;
        gif->strays = 0;
    }
    ColorMapObject *map = GifMakeMapObject(COLOURS, gif->colours);
    size_t size = EGifGCBToExtension(&control, block);
    int failed = !map ||
                 EGifPutExtension(gif->file, GRAPHICS_EXT_FUNC_CODE, (int)size, block) != GIF_OK ||
                 EGifPutImageDesc(gif->file, 0, 0, gif->width, gif->height, false, map) != GIF_OK;
    for (int y = 0; y < gif->height && !failed; y++) {
        const uint32_t *row = dia_row(picture, y);
        map_row(gif, row, y);
        failed = EGifPutLine(gif->file, gif->row, gif->width) != GIF_OK;
    }
    GifFreeMapObject(map);
    return failed ? -1 : 0;
}

int dia_gif_end(struct gif *gif)
{
    int error, failed = gif->file && EGifCloseFile(gif->file, &error) != GIF_OK;
    free(gif->row);
    free(gif->moved);
    free(gif);
    return failed ? -1 : 0;
}
