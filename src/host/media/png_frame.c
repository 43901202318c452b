/* SPDX-License-Identifier: MIT */
#include <setjmp.h>
#include <string.h>

#include <png.h>
#include <zlib.h>

#include "big_endian.h"
#include "film_png.h"

/*
 * Each frame is handed to libpng as if it were a file of its own: the same header but for its size,
 * the same palette, its data. So an animation needs no other library.
 */
struct reader {
    png_structp png;
    png_infop info;
    jmp_buf failed;
    uint32_t columns, rows;
    uint8_t *rgba;
    int any;      /* data has been handed on */
    int passes;   /* of libpng */
    int complete; /* all rows are there */
};

enum dia_status dia_png_next(struct dia_film *film, int64_t number, struct png_chunk *chunk)
{
    uint8_t head[8];
    enum dia_status status = dia_film_bytes(film, number, head, sizeof head);
    if (status != DIA_OK)
        return status;
    chunk->size = get32(head);
    memcpy(chunk->type, head + 4, 4);
    chunk->type[4] = 0;
    chunk->at = ftello(film->file);
    if (chunk->size > 0x7fffffffu)
        return dia_film_wrong(film, number, "is damaged: a chunk is longer than it may be");
    return DIA_OK;
}

void dia_png_skip(struct dia_film *film, const struct png_chunk *chunk)
{
    fseeko(film->file, chunk->at + (off_t)chunk->size + 4, SEEK_SET); /* its sum too */
}

static void on_error(png_structp png, png_const_charp why)
{
    struct reader *r = png_get_error_ptr(png);
    (void)why;
    longjmp(r->failed, 1);
}

static void on_warning(png_structp png, png_const_charp why)
{
    (void)png;
    (void)why;
}

static void on_info(png_structp png, png_infop info)
{
    struct reader *r = png_get_progressive_ptr(png);
    png_set_expand(png);
    png_set_scale_16(png);
    png_set_gray_to_rgb(png);
    png_set_add_alpha(png, 255, PNG_FILLER_AFTER);
    r->passes = png_set_interlace_handling(png);
    png_read_update_info(png, info);
}

static void on_row(png_structp png, png_bytep row, png_uint_32 y, int pass)
{
    struct reader *r = png_get_progressive_ptr(png);
    r->complete |= pass == r->passes - 1 && y == r->rows - 1;
    if (row && y < r->rows)
        png_progressive_combine_row(png, r->rgba + (size_t)y * r->columns * 4, row);
}

static void feed(struct reader *r, uint8_t *bytes, size_t n)
{
    png_process_data(r->png, r->info, bytes, n);
}

static void feed_head(struct reader *r, const struct png_head *head)
{
    static const uint8_t signature[8] = {0x89, 'P', 'N', 'G', 13, 10, 26, 10};
    uint8_t bytes[8 + 25], *ihdr = bytes + 8;
    memcpy(bytes, signature, 8);
    put32(ihdr, 13);
    memcpy(ihdr + 4, "IHDR", 4);
    memcpy(ihdr + 8, head->header, 13);
    put32(ihdr + 8, r->columns);
    put32(ihdr + 12, r->rows);
    put32(ihdr + 21, (uint32_t)crc32(crc32(0, NULL, 0), ihdr + 4, 17));
    feed(r, bytes, sizeof bytes);
    if (head->palette.bytes)
        feed(r, head->palette.bytes, head->palette.size);
    if (head->clear.bytes)
        feed(r, head->clear.bytes, head->clear.size);
}

/* The data of a chunk, as an IDAT; sums have been checked, and libpng does not look. */
static int feed_data(struct dia_film *film, struct reader *r, const struct png_chunk *chunk)
{
    uint32_t skip = chunk->type[0] == 'f' ? 4 : 0, left = chunk->size - skip; /* its number */
    uint8_t bytes[16384];
    if (chunk->size < skip)
        return -1;
    fseeko(film->file, chunk->at + (off_t)skip, SEEK_SET);
    put32(bytes, left);
    memcpy(bytes + 4, "IDAT", 4);
    feed(r, bytes, 8);
    while (left) {
        uint32_t n = left < sizeof bytes ? left : (uint32_t)sizeof bytes;
        if (fread(bytes, 1, n, film->file) != n)
            return -1;
        feed(r, bytes, n);
        left -= n;
    }
    memset(bytes, 0, 4);
    feed(r, bytes, 4);
    dia_png_skip(film, chunk);
    return 0;
}

/* From where the file stands, up to what is not of this frame. */
static int feed_frame(struct dia_film *film, struct reader *r, const struct png_head *head,
                      const char *type)
{
    static const uint8_t iend[12] = {0, 0, 0, 0, 'I', 'E', 'N', 'D', 0xae, 0x42, 0x60, 0x82};
    uint8_t end[sizeof iend];
    struct png_chunk chunk;
    if (setjmp(r->failed))
        return -1;
    feed_head(r, head);
    for (;;) {
        off_t at = ftello(film->file);
        if (dia_png_next(film, -1, &chunk) != DIA_OK)
            return -1;
        if (strcmp(chunk.type, type) == 0) {
            if (feed_data(film, r, &chunk) != 0)
                return -1;
            r->any = 1;
        } else if (r->any || strcmp(chunk.type, "IEND") == 0) {
            fseeko(film->file, at, SEEK_SET);
            memcpy(end, iend, sizeof end);
            feed(r, end, sizeof end);
            return r->complete ? 0 : -1;
        } else {
            dia_png_skip(film, &chunk);
        }
    }
}

int dia_png_decode(struct dia_film *film, const struct png_head *head, const char *type,
                   uint32_t columns, uint32_t rows, uint8_t *rgba)
{
    struct reader r = {.columns = columns, .rows = rows, .rgba = rgba};
    memset(rgba, 0, (size_t)columns * rows * 4);
    r.png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &r, on_error, on_warning);
    r.info = r.png ? png_create_info_struct(r.png) : NULL;
    if (!r.info) {
        png_destroy_read_struct(&r.png, NULL, NULL);
        return -2;
    }
    png_set_crc_action(r.png, PNG_CRC_QUIET_USE, PNG_CRC_QUIET_USE);
    png_set_user_limits(r.png, DIA_FILM_PIXELS, DIA_FILM_PIXELS);
    png_set_progressive_read_fn(r.png, &r, on_info, on_row, NULL);
    int failed = feed_frame(film, &r, head, type);
    png_destroy_read_struct(&r.png, &r.info, NULL);
    return failed;
}
