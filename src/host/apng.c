/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>
#include <zlib.h>

#include "apng.h"
#include "big_endian.h"

static const uint8_t nothing[1];

/* A chunk of `head`, then `body`. */
static void chunk(FILE *file, const char *type, const uint8_t *head, uint32_t head_size,
                  const uint8_t *body, uint32_t size)
{
    uint8_t word[4];
    uLong crc = crc32(crc32(0, (const uint8_t *)type, 4), head, head_size);
    put32(word, head_size + size);
    fwrite(word, 1, 4, file);
    fwrite(type, 1, 4, file);
    fwrite(head, 1, head_size, file);
    fwrite(body, 1, size, file);
    put32(word, (uint32_t)crc32(crc, body, size));
    fwrite(word, 1, 4, file);
}

/* How the frame is to be shown: for its time, over all of the picture. */
static void frame_control(struct apng *apng, uint32_t ms)
{
    uint8_t head[26] = {0};
    uint32_t parts = ms > UINT16_MAX ? 1 : 1000; /* of a second; fields of 16 bits */
    uint32_t delay = parts == 1000 ? ms : ms / 1000 < UINT16_MAX ? (ms + 500) / 1000 : UINT16_MAX;
    put32(head, apng->sequence++);
    put32(head + 4, apng->width);
    put32(head + 8, apng->height);
    head[20] = (uint8_t)(delay >> 8);
    head[21] = (uint8_t)delay;
    head[22] = (uint8_t)(parts >> 8);
    head[23] = (uint8_t)parts;
    chunk(apng->file, "fcTL", head, sizeof head, nothing, 0);
}

/* 3 or 4 bytes for each dot: red, green, blue, and whether it is there. */
static void channels_of(const uint8_t *row, uint32_t width, unsigned channels, uint8_t *out)
{
    for (uint32_t x = 0; x < width; x++, out += channels) {
        uint32_t dot;
        memcpy(&dot, row + (size_t)4 * x, sizeof dot);
        out[0] = (uint8_t)(dot >> 16);
        out[1] = (uint8_t)(dot >> 8);
        out[2] = (uint8_t)dot;
        if (channels == 4)
            out[3] = (uint8_t)(dot >> 24);
    }
}

/* Rows as PNG has them: 2, then what differs from the row above ("up", which suits glows). */
static void rows_of(cairo_surface_t *surface, const struct apng *apng, unsigned channels,
                    uint8_t *rows)
{
    const uint8_t *data = cairo_image_surface_get_data(surface);
    size_t stride = (size_t)cairo_image_surface_get_stride(surface), n = channels * apng->width;
    for (uint32_t y = 0; y < apng->height; y++) {
        rows[y * (n + 1)] = 2;
        channels_of(data + y * stride, apng->width, channels, rows + y * (n + 1) + 1);
    }
    for (uint32_t y = apng->height - 1; y > 0; y--) {
        uint8_t *restrict row = rows + y * (n + 1) + 1;
        const uint8_t *above = row - (n + 1);
        for (size_t k = 0; k < n; k++)
            row[k] = (uint8_t)(row[k] - above[k]);
    }
}

int dia_apng_frame(struct apng *apng, cairo_surface_t *surface, uint32_t ms)
{
    int clear = cairo_image_surface_get_format(surface) == CAIRO_FORMAT_ARGB32;
    unsigned channels = clear ? 4 : 3;
    size_t size = (size_t)apng->height * (1 + (size_t)channels * apng->width);
    uLongf packed = compressBound((uLong)size);
    uint8_t *rows = malloc(size), *bytes = malloc(packed), head[13] = {0};
    cairo_surface_flush(surface);
    if (rows && bytes)
        rows_of(surface, apng, channels, rows);
    if (!rows || !bytes || compress2(bytes, &packed, rows, (uLong)size, 4) != Z_OK) {
        free(rows);
        free(bytes);
        return -1;
    }
    if (apng->written == 0) {
        fwrite("\x89PNG\r\n\x1a\n", 1, 8, apng->file);
        put32(head, apng->width);
        put32(head + 4, apng->height);
        head[8] = 8;             /* bits a channel */
        head[9] = clear ? 6 : 2; /* with alpha, without */
        chunk(apng->file, "IHDR", head, 13, nothing, 0);
        put32(head, apng->frames);
        put32(head + 4, 0); /* again and again */
        chunk(apng->file, "acTL", head, 8, nothing, 0);
    }
    frame_control(apng, ms);
    if (apng->written == 0) {
        chunk(apng->file, "IDAT", nothing, 0, bytes, (uint32_t)packed);
    } else {
        put32(head, apng->sequence++);
        chunk(apng->file, "fdAT", head, 4, bytes, (uint32_t)packed);
    }
    free(rows);
    free(bytes);
    if (++apng->written == apng->frames)
        chunk(apng->file, "IEND", nothing, 0, nothing, 0);
    return 0;
}
