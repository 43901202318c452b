/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "apng.h"
#include "gif.h"
#include "host_private.h"
#include "picture.h"
#include "rows.h"

/* One frame after the other, each a whole picture. */
struct moving {
    const struct dia_reel *reel;
    FILE *file;
    uint32_t width, height, frames;
    uint32_t written; /* frames so far */
    uint8_t *planes;  /* of YUV4MPEG2 */
    struct gif *gif;
    struct apng apng;
};

/* Frames a second as a ratio of whole numbers. A single frame stands for a second. */
static void rate(const struct dia_reel *reel, uint32_t *frames, uint32_t *seconds_1000)
{
    uint64_t us = reel->frames > 1 ? reel->time_us[reel->frames - 1] - reel->time_us[0] : 1000000;
    uint32_t steps = reel->frames > 1 ? reel->frames - 1 : 1;
    *frames = steps;
    *seconds_1000 = (uint32_t)((us + 500) / 1000);
}

/* ---- APNG and GIF ---------------------------------------------------------------------------- */

static int write_apng(struct moving *moving, cairo_surface_t *surface)
{
    uint32_t frames, ms;
    rate(moving->reel, &frames, &ms);
    moving->apng.file = moving->file;
    moving->apng.width = moving->width;
    moving->apng.height = moving->height;
    moving->apng.frames = moving->frames;
    return dia_apng_frame(&moving->apng, surface, (ms + frames / 2) / frames);
}

/* Hundredths of a second, so that the whole comes out right however short each frame is. */
static int write_gif(struct moving *moving, cairo_surface_t *surface)
{
    uint32_t frames, ms, k = moving->written;
    rate(moving->reel, &frames, &ms);
    uint64_t from = (uint64_t)ms * k / frames / 10, to = (uint64_t)ms * (k + 1) / frames / 10;
    if (k == 0)
        moving->gif = dia_gif_begin(moving->file, (int)moving->width, (int)moving->height);
    return !moving->gif || dia_gif_frame(moving->gif, surface, (unsigned)(to - from)) != 0;
}

/* ---- PPM (one P6 picture after the other) and YUV4MPEG2 ------------------------------------- */

static int write_ppm(struct moving *moving, cairo_surface_t *surface)
{
    if (!moving->planes)
        moving->planes = malloc(3 * (size_t)moving->width);
    if (!moving->planes)
        return -1;
    fprintf(moving->file, "P6\n%u %u\n255\n", (unsigned)moving->width, (unsigned)moving->height);
    for (uint32_t y = 0; y < moving->height; y++) {
        const uint32_t *pixels = dia_row(surface, (int)y);
        for (uint32_t x = 0; x < moving->width; x++) {
            moving->planes[3 * x] = (uint8_t)(pixels[x] >> 16);
            moving->planes[3 * x + 1] = (uint8_t)(pixels[x] >> 8);
            moving->planes[3 * x + 2] = (uint8_t)pixels[x];
        }
        fwrite(moving->planes, 3, moving->width, moving->file);
    }
    return 0;
}

/* A row by ITU-R BT.601, 16 to 235 and 240, in 65536ths. */
static void to_yuv(const uint32_t *restrict pixels, uint32_t n, uint8_t *restrict luma,
                   uint8_t *restrict u, uint8_t *restrict v)
{
    for (uint32_t x = 0; x < n; x++) {
        int r = (int)(pixels[x] >> 16 & 255), g = (int)(pixels[x] >> 8 & 255),
            b = (int)(pixels[x] & 255);
        luma[x] = (uint8_t)((16829 * r + 33039 * g + 6416 * b + (16 << 16) + 32768) >> 16);
        u[x] = (uint8_t)((-9714 * r - 19070 * g + 28784 * b + (128 << 16) + 32768) >> 16);
        v[x] = (uint8_t)((28784 * r - 24103 * g - 4681 * b + (128 << 16) + 32768) >> 16);
    }
}

static int write_y4m(struct moving *moving, cairo_surface_t *surface)
{
    size_t all = (size_t)moving->width * moving->height;
    uint32_t frames, ms;
    if (!moving->planes)
        moving->planes = malloc(3 * all);
    if (!moving->planes)
        return -1;
    rate(moving->reel, &frames, &ms);
    if (moving->written == 0)
        fprintf(moving->file, "YUV4MPEG2 W%u H%u F%llu:%u Ip A1:1 C444\n", (unsigned)moving->width,
                (unsigned)moving->height, 1000ull * frames, (unsigned)ms);
    for (uint32_t y = 0; y < moving->height; y++) {
        uint8_t *luma = moving->planes + (size_t)y * moving->width;
        to_yuv(dia_row(surface, (int)y), moving->width, luma, luma + all, luma + 2 * all);
    }
    fputs("FRAME\n", moving->file);
    fwrite(moving->planes, 1, 3 * all, moving->file);
    return 0;
}

typedef int write_frame(struct moving *moving, cairo_surface_t *surface);

/* The next one; of the desk by the painter. */
static cairo_surface_t *frame_of(const struct moving *moving, struct dia_painter *painter)
{
    if (!painter)
        return dia_picture_of_frame(moving->reel, moving->written);
    struct dia_reel one = dia_picture_one(moving->reel, moving->written);
    cairo_surface_t *surface = dia_painter_paint(painter, &one);
    return surface ? cairo_surface_reference(surface) : NULL;
}

static int write_all(struct moving *moving, write_frame *write)
{
    int is_desk = moving->reel->view == DIA_VIEW_DESK;
    struct dia_painter *painter =
        is_desk ? dia_painter_new(moving->reel->rig, (int)moving->reel->width, 1) : NULL;
    int failed = is_desk && !painter;
    while (moving->written < moving->frames && !failed) {
        cairo_surface_t *surface = frame_of(moving, painter);
        if (!surface)
            failed = 1;
        if (failed)
            break;
        moving->width = (uint32_t)cairo_image_surface_get_width(surface);
        moving->height = (uint32_t)cairo_image_surface_get_height(surface);
        failed = write(moving, surface) || ferror(moving->file);
        cairo_surface_destroy(surface);
        moving->written++;
        if (moving->reel->progress)
            moving->reel->progress(moving->written, moving->frames);
    }
    dia_painter_free(painter);
    if (moving->gif)
        failed |= dia_gif_end(moving->gif) != 0;
    return failed;
}

enum dia_status dia_reel_write_moving(const struct dia_reel *reel, enum dia_moving format,
                                      const char *path, struct dia_diagnostic *wrong)
{
    static write_frame *const writers[] = {write_apng, write_y4m, write_ppm, write_gif};
    struct moving moving = {.reel = reel, .file = stdout, .frames = reel->frames};
    struct host_output out;
    enum dia_status status;
    if (path) {
        status = dia_host_output_open(&out, path, wrong);
        if (status != DIA_OK)
            return status;
        moving.file = out.file;
    }
    int failed = write_all(&moving, writers[format]);
    free(moving.planes);
    if (failed || (!path && !dia_host_is_out(stdout))) {
        if (dia_host_is_out(moving.file))
            errno = ENOMEM; /* all else that can fail is memory */
        status = dia_host_failed(wrong, path ? path : "stdout", "cannot be written");
        if (path)
            dia_host_output_discard(&out);
        return status;
    }
    return path ? dia_host_output_close(&out, wrong) : DIA_OK;
}
