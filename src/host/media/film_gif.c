/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <gif_lib.h>

#include "film_private.h"

/* GIF 87a and 89a through giflib, one picture at a time. */
struct decoder {
    GifFileType *gif;
    struct film_part part; /* of the picture decoded last */
    int dispose;
    uint32_t *region, *kept;
    GifByteType *line;
    size_t line_room;
    /* of the picture that comes */
    int clear, next_dispose;
    unsigned delay;
};
#define NO_COLOUR (-1)

static int get(GifFileType *gif, GifByteType *bytes, int n)
{
    struct dia_film *film = gif->UserData;
    return (int)fread(bytes, 1, (size_t)n, film->file);
}

static enum dia_status damaged(struct dia_film *film, int64_t number)
{
    return dia_film_wrong(film, number, "is damaged, or ends too early");
}

static enum dia_status reopen(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    int error = 0;
    if (d->gif)
        DGifCloseFile(d->gif, &error);
    rewind(film->file);
    d->gif = DGifOpen(film, get, &error);
    if (!d->gif)
        return error == D_GIF_ERR_NOT_ENOUGH_MEM ? dia_film_no_memory(film) : damaged(film, -1);
    return DIA_OK;
}

/* What is said of the picture that comes. */
static int take_extension(struct decoder *d)
{
    int code;
    GifByteType *bytes;
    GraphicsControlBlock control;
    if (DGifGetExtension(d->gif, &code, &bytes) != GIF_OK)
        return -1;
    if (bytes && code == GRAPHICS_EXT_FUNC_CODE &&
        DGifExtensionToGCB(bytes[0], bytes + 1, &control) == GIF_OK) {
        d->clear = control.TransparentColor;
        d->delay = (unsigned)control.DelayTime;
        d->next_dispose = control.DisposalMode;
    }
    while (bytes) {
        if (DGifGetExtensionNext(d->gif, &bytes) != GIF_OK)
            return -1;
    }
    return 0;
}

/* Goes to the next picture: 1, or 0 at the end, or -1. */
static int next_picture(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    GifRecordType type;
    d->clear = NO_COLOUR;
    d->delay = 0;
    d->next_dispose = DISPOSAL_UNSPECIFIED;
    for (;;) {
        if (DGifGetRecordType(d->gif, &type) != GIF_OK)
            return -1;
        if (type == TERMINATE_RECORD_TYPE)
            return 0;
        if (type == IMAGE_DESC_RECORD_TYPE)
            return DGifGetImageDesc(d->gif) == GIF_OK ? 1 : -1;
        if (type == EXTENSION_RECORD_TYPE && take_extension(d) != 0)
            return -1;
    }
}

/* giflib keeps what is said of each picture in a list, which would grow with the file. */
static void forget(GifFileType *gif)
{
    for (int k = 0; k < gif->ImageCount; k++)
        GifFreeMapObject(gif->SavedImages[k].ImageDesc.ColorMap);
    free(gif->SavedImages);
    gif->SavedImages = NULL;
    gif->ImageCount = 0;
}

static enum dia_status scan(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    int code, more;
    GifByteType *block;
    uint64_t end_us = 0;
    while ((more = next_picture(film)) > 0) {
        if (DGifGetCode(d->gif, &code, &block) != GIF_OK)
            return damaged(film, film->frames);
        while (block) {
            if (DGifGetCodeNext(d->gif, &block) != GIF_OK)
                return damaged(film, film->frames);
        }
        end_us += d->delay ? d->delay * 10000u : 100000u; /* 0: a tenth of a second */
        enum dia_status status = dia_film_add(film, end_us);
        forget(d->gif);
        if (status != DIA_OK)
            return status;
    }
    if (more < 0)
        return damaged(film, film->frames);
    return film->frames ? DIA_OK : dia_film_wrong(film, -1, "there is no picture in it");
}

static enum dia_status begin(struct dia_film *film)
{
    struct decoder *d = calloc(1, sizeof *d);
    film->decoder = d;
    film->rate = 0;
    if (!d)
        return dia_film_no_memory(film);
    enum dia_status status = reopen(film);
    if (status == DIA_OK)
        status = dia_film_size(film, (uint64_t)d->gif->SWidth, (uint64_t)d->gif->SHeight);
    if (status == DIA_OK)
        status = scan(film);
    if (status == DIA_OK) {
        d->region = malloc((size_t)film->columns * film->rows * sizeof *d->region);
        d->line = malloc(65536);
        if (!d->region || !d->line)
            return dia_film_no_memory(film);
    }
    return status;
}

static void dispose(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    if (d->dispose == DISPOSE_BACKGROUND)
        dia_film_clear(film, &d->part);
    if (d->dispose == DISPOSE_PREVIOUS && d->kept)
        memcpy(film->pixels, d->kept, (size_t)film->columns * film->rows * sizeof *d->kept);
}

static void take_line(struct decoder *d, const ColorMapObject *map, uint32_t y)
{
    uint32_t *to = d->region + (size_t)y * d->part.columns;
    for (uint32_t x = 0; x < d->part.columns; x++) {
        int index = d->line[x];
        const GifColorType *colour = &map->Colors[index < map->ColorCount ? index : 0];
        to[x] = index == d->clear || index >= map->ColorCount
                    ? 0
                    : DIA_FILM_PIXEL(colour->Red, colour->Green, colour->Blue, 255);
    }
}

static int take_lines(struct decoder *d, const ColorMapObject *map)
{
    static const uint8_t from[4] = {0, 4, 2, 1}, step[4] = {8, 8, 4, 2};
    int passes = d->gif->Image.Interlace ? 4 : 1;
    for (int pass = 0; pass < passes; pass++) {
        uint32_t y = passes == 4 ? from[pass] : 0, by = passes == 4 ? step[pass] : 1;
        for (; y < d->part.rows; y += by) {
            if (DGifGetLine(d->gif, d->line, (int)d->part.columns) != GIF_OK)
                return -1;
            take_line(d, map, y);
        }
    }
    return 0;
}

/* Where the picture lies, inside the screen. */
static int take_place(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    const GifImageDesc *image = &d->gif->Image;
    d->part = (struct film_part){(uint32_t)image->Left, (uint32_t)image->Top,
                                 (uint32_t)image->Width, (uint32_t)image->Height, d->region};
    return image->Width > 0 && image->Height > 0 && d->part.x + d->part.columns <= film->columns &&
                   d->part.y + d->part.rows <= film->rows
               ? 0
               : -1;
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    struct decoder *d = film->decoder;
    size_t size = (size_t)film->columns * film->rows * sizeof *d->kept;
    if (number == 0) {
        enum dia_status status = reopen(film);
        if (status != DIA_OK)
            return status;
        memset(film->pixels, 0, size);
    } else {
        dispose(film);
    }
    if (next_picture(film) <= 0)
        return damaged(film, number);
    if (take_place(film) != 0)
        return dia_film_wrong(film, number, "is damaged: it does not lie in the picture");
    d->dispose = d->next_dispose;
    if (d->dispose == DISPOSE_PREVIOUS) {
        if (!d->kept && !(d->kept = malloc(size)))
            return dia_film_no_memory(film);
        memcpy(d->kept, film->pixels, size);
    }
    const ColorMapObject *map = d->gif->Image.ColorMap ? d->gif->Image.ColorMap : d->gif->SColorMap;
    if (!map)
        return dia_film_wrong(film, number, "is damaged: it has no colours");
    int failed = take_lines(d, map) != 0;
    forget(d->gif);
    if (failed)
        return damaged(film, number);
    dia_film_lay(film, &d->part, 1);
    film->opaque = dia_film_is_opaque(film);
    return DIA_OK;
}

static void end(struct dia_film *film)
{
    struct decoder *d = film->decoder;
    int error;
    if (!d)
        return;
    if (d->gif)
        DGifCloseFile(d->gif, &error);
    free(d->region);
    free(d->kept);
    free(d->line);
    free(d);
}

const struct film_format dia_film_gif = {"GIF", begin, frame, 0, end};
