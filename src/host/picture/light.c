/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/colour.h>

#include "light.h"

static int make(struct light *light, int width, int height)
{
    size_t all = (size_t)width * (size_t)height;
    light->width = width;
    light->height = height;
    light->plane[0] = calloc(3 * all, sizeof(float));
    if (!light->plane[0])
        return -1;
    light->plane[1] = light->plane[0] + all;
    light->plane[2] = light->plane[1] + all;
    return 0;
}

void dia_light_free(struct light *light)
{
    free(light->plane[0]);
    light->plane[0] = NULL;
}

int dia_light_take(struct light *light, cairo_surface_t *picture)
{
    float linear[256];
    if (make(light, cairo_image_surface_get_width(picture),
             cairo_image_surface_get_height(picture)) != 0)
        return -1;
    for (int code = 0; code < 256; code++)
        linear[code] = (float)dia_light_of((uint8_t)code) / 65535.0f;
    cairo_surface_flush(picture);
    const uint8_t *rows = cairo_image_surface_get_data(picture);
    size_t stride = (size_t)cairo_image_surface_get_stride(picture), at = 0;
    for (int y = 0; y < light->height; y++) {
        const uint8_t *row = rows + stride * (size_t)y;
        for (int x = 0; x < light->width; x++, at++) {
            uint32_t pixel;
            memcpy(&pixel, row + 4 * x, 4);
            light->plane[0][at] = linear[pixel >> 16 & 255];
            light->plane[1][at] = linear[pixel >> 8 & 255];
            light->plane[2][at] = linear[pixel & 255];
        }
    }
    return 0;
}

void dia_light_add(struct light *light, const struct light *other)
{
    size_t all = 3 * (size_t)light->width * (size_t)light->height;
    for (size_t i = 0; i < all; i++)
        light->plane[0][i] += other->plane[0][i];
}

/* ---- glow: three boxes one after the other are nearly a Gaussian ----------------------------- */

/* Means of 2 * radius + 1 along a row; beyond its ends it is dark. */
static void box_row(const float *from, float *to, int n, int radius)
{
    float sum = 0, scale = 1.0f / (float)(2 * radius + 1);
    for (int i = 0; i < radius && i < n; i++)
        sum += from[i];
    for (int i = 0; i < n; i++) {
        if (i + radius < n)
            sum += from[i + radius];
        to[i] = sum * scale;
        if (i >= radius)
            sum -= from[i - radius];
    }
}

static void transpose(const float *from, float *to, int width, int height)
{
    for (int y0 = 0; y0 < height; y0 += 16)
        for (int x0 = 0; x0 < width; x0 += 16)
            for (int y = y0; y < y0 + 16 && y < height; y++)
                for (int x = x0; x < x0 + 16 && x < width; x++)
                    to[x * height + y] = from[y * width + x];
}

/* A plane blurred along its rows three times, then turned; done twice, it is as it was. */
static void blur_rows(float *plane, float *spare, int width, int height, int radius)
{
    for (int y = 0; y < height; y++) {
        float *row = plane + (size_t)y * (size_t)width, *other = spare + (size_t)y * (size_t)width;
        box_row(row, other, width, radius);
        box_row(other, row, width, radius);
        box_row(row, other, width, radius);
    }
    transpose(spare, plane, width, height);
}

/* Every `by` pixels in both directions become one: their mean. */
static void smaller(const struct light *from, struct light *to, int by)
{
    float scale = 1.0f / (float)(by * by);
    for (int c = 0; c < 3; c++) {
        for (int y = 0; y < from->height; y++) {
            const float *row = from->plane[c] + (size_t)y * (size_t)from->width;
            float *out = to->plane[c] + (size_t)(y / by) * (size_t)to->width;
            for (int x = 0; x < from->width; x++)
                out[x / by] += row[x] * scale;
        }
    }
}

/* Adds a smaller one, between whose pixels there are straight ways. */
static void add_larger(struct light *light, const struct light *small, int by, float gain)
{
    for (int y = 0; y < light->height; y++) {
        float v = ((float)y + 0.5f) / (float)by - 0.5f;
        int y0 = v < 0 ? 0 : (int)v, y1 = y0 + 1 < small->height ? y0 + 1 : y0;
        float fy = v < 0 ? 0 : v - (float)y0;
        for (int c = 0; c < 3; c++) {
            const float *a = small->plane[c] + (size_t)y0 * (size_t)small->width;
            const float *b = small->plane[c] + (size_t)y1 * (size_t)small->width;
            float *out = light->plane[c] + (size_t)y * (size_t)light->width;
            for (int x = 0; x < light->width; x++) {
                float u = ((float)x + 0.5f) / (float)by - 0.5f;
                int x0 = u < 0 ? 0 : (int)u, x1 = x0 + 1 < small->width ? x0 + 1 : x0;
                float fx = u < 0 ? 0 : u - (float)x0;
                float upper = a[x0] + (a[x1] - a[x0]) * fx, lower = b[x0] + (b[x1] - b[x0]) * fx;
                out[x] += (upper + (lower - upper) * fy) * gain;
            }
        }
    }
}

int dia_light_add_glow(struct light *light, const struct light *from, double sigma, double gain)
{
    struct light small, spare;
    int by = 1;
    while (sigma / by > 5)
        by *= 2;
    /* three boxes of 2 r + 1 have a variance of ((2 r + 1)^2 - 1) / 4 */
    int radius = (int)lround((sqrt(4 * sigma * sigma / (by * by) + 1) - 1) / 2);
    int width = (from->width + by - 1) / by, height = (from->height + by - 1) / by;
    if (make(&small, width, height) != 0)
        return -1;
    if (make(&spare, width, height) != 0) {
        dia_light_free(&small);
        return -1;
    }
    smaller(from, &small, by);
    for (int c = 0; c < 3 && radius > 0; c++) {
        blur_rows(small.plane[c], spare.plane[c], width, height, radius);
        blur_rows(small.plane[c], spare.plane[c], height, width, radius);
    }
    add_larger(light, &small, by, (float)gain);
    dia_light_free(&small);
    dia_light_free(&spare);
    return 0;
}

/* ---- back to codes --------------------------------------------------------------------------- */

#define STEPS 4096

/* A channel that is too bright turns white, as it does to an eye and to a camera. */
static void spill(float rgb[3])
{
    float over = 0;
    for (int c = 0; c < 3; c++) {
        over += rgb[c] > 1 ? (rgb[c] - 1) * 0.25f : 0;
        rgb[c] = rgb[c] > 1 ? 1 : rgb[c];
    }
    for (int c = 0; c < 3 && over > 0; c++)
        rgb[c] = rgb[c] + over > 1 ? 1 : rgb[c] + over;
}

void dia_light_put(const struct light *light, cairo_surface_t *picture)
{
    uint8_t codes[STEPS + 1];
    uint8_t *rows = cairo_image_surface_get_data(picture);
    size_t stride = (size_t)cairo_image_surface_get_stride(picture), at = 0;
    for (int i = 0; i <= STEPS; i++) /* finer where the eye is: by the square root */
        codes[i] = dia_code_of((dia_light)(65535.0 * i / STEPS * i / STEPS + 0.5));
    cairo_surface_flush(picture);
    for (int y = 0; y < light->height; y++) {
        for (int x = 0; x < light->width; x++, at++) {
            float rgb[3] = {light->plane[0][at], light->plane[1][at], light->plane[2][at]};
            uint32_t pixel = 0xff;
            spill(rgb);
            for (int c = 0; c < 3; c++)
                pixel = pixel << 8 | codes[(int)(sqrtf(rgb[c] < 0 ? 0 : rgb[c]) * STEPS + 0.5f)];
            memcpy(rows + stride * (size_t)y + 4 * x, &pixel, 4);
        }
    }
    cairo_surface_mark_dirty(picture);
}
