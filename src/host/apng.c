/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "apng.h"
#include "big_endian.h"

static uint32_t crc_of(uint32_t crc, const uint8_t *bytes, size_t n)
{
    for (; n; n--) {
        crc ^= *bytes++;
        for (int bit = 0; bit < 8; bit++)
            crc = crc & 1 ? crc >> 1 ^ 0xedb88320u : crc >> 1;
    }
    return crc;
}

static const uint8_t nothing[1];

/* A chunk of `head`, then `body`. */
static void chunk(FILE *file, const char *type, const uint8_t *head, uint32_t head_size,
                  const uint8_t *body, uint32_t size)
{
    uint8_t word[4];
    uint32_t crc = crc_of(0xffffffffu, (const uint8_t *)type, 4);
    crc = crc_of(crc_of(crc, head, head_size), body, size);
    put32(word, head_size + size);
    fwrite(word, 1, 4, file);
    fwrite(type, 1, 4, file);
    fwrite(head, 1, head_size, file);
    fwrite(body, 1, size, file);
    put32(word, ~crc);
    fwrite(word, 1, 4, file);
}

struct bytes {
    uint8_t *at;
    size_t size, room;
};

static cairo_status_t keep(void *self, const unsigned char *more, unsigned int n)
{
    struct bytes *bytes = self;
    if (bytes->size + n > bytes->room) {
        size_t room = (bytes->size + n) * 2;
        uint8_t *larger = realloc(bytes->at, room);
        if (!larger)
            return CAIRO_STATUS_NO_MEMORY;
        bytes->at = larger;
        bytes->room = room;
    }
    memcpy(bytes->at + bytes->size, more, n);
    bytes->size += n;
    return CAIRO_STATUS_SUCCESS;
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

int dia_apng_frame(struct apng *apng, cairo_surface_t *surface, uint32_t ms)
{
    struct bytes png = {NULL, 0, 0};
    uint8_t head[8];
    int failed = cairo_surface_write_to_png_stream(surface, keep, &png) != CAIRO_STATUS_SUCCESS;
    if (!failed && apng->written == 0)
        fwrite(png.at, 1, 8, apng->file); /* the signature */
    for (size_t at = 8; !failed && at + 12 <= png.size;) {
        uint32_t size = get32(png.at + at);
        const uint8_t *type = png.at + at + 4, *body = png.at + at + 8;
        if (memcmp(type, "IHDR", 4) == 0 && apng->written == 0) {
            chunk(apng->file, "IHDR", nothing, 0, body, size);
            put32(head, apng->frames);
            put32(head + 4, 0); /* again and again */
            chunk(apng->file, "acTL", head, 8, nothing, 0);
        }
        if (memcmp(type, "IHDR", 4) == 0)
            frame_control(apng, ms);
        if (memcmp(type, "IDAT", 4) == 0 && apng->written == 0)
            chunk(apng->file, "IDAT", nothing, 0, body, size);
        else if (memcmp(type, "IDAT", 4) == 0) {
            put32(head, apng->sequence++);
            chunk(apng->file, "fdAT", head, 4, body, size);
        }
        at += 12 + size;
    }
    free(png.at);
    if (!failed && ++apng->written == apng->frames)
        chunk(apng->file, "IEND", nothing, 0, nothing, 0);
    return failed ? -1 : 0;
}
