/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/colour.h>

#include "blur.h"
#include "light.h"
#include "rows.h"

/*
 * A glow that spreads far is blurred on a picture that is made smaller by a power of two, and drawn
 * larger again with straight ways between its pixels. All is put together row by row, while the row
 * is in the nearest cache.
 */
struct glow {
    struct blur blur;
    int by; /* so many pixels in both directions are one of it */
    float gain;
};
#define MOST_BY 256

/* From light to codes: steps of 2^-9 of each power of two, down to 2^-13, which is below code 1. */
#define LEAST      (114 << 9) /* of the bits of a float, shifted: 2^-13 */
#define CODE_STEPS ((127 << 9) - LEAST + 1)

struct shine {
    int width, height, spans;
    uint16_t *ground; /* four a pixel, in 65535ths */
    uint32_t *pixels; /* codes of what is lit, and black */
    four *light;      /* of the same, where `lit` says so */
    uint8_t *lit;     /* by rows and spans */
    four *row, *small;
    struct glow glows[SHINE_GLOWS];
    float linear[256];
    uint8_t codes[CODE_STEPS];
};

static void tables(struct shine *shine)
{
    for (int code = 0; code < 256; code++)
        shine->linear[code] = (float)dia_light_of((uint8_t)code) / 65535.0f;
    for (int32_t k = 0; k < CODE_STEPS; k++) {
        int32_t bits = (LEAST + k) << 14 | 1 << 13; /* the middle of the step */
        float light;
        memcpy(&light, &bits, sizeof light);
        shine->codes[k] = dia_code_of((dia_light)(light >= 1 ? 65535 : light * 65535.0f + 0.5f));
    }
    shine->codes[0] = 0;
}

struct shine *dia_shine_new(int width, int height, const struct shine_glow glows[SHINE_GLOWS])
{
    struct shine *shine = calloc(1, sizeof *shine);
    size_t all = (size_t)width * (size_t)height;
    if (!shine)
        return NULL;
    shine->width = width;
    shine->height = height;
    shine->spans = (width + BLUR_SPAN - 1) / BLUR_SPAN;
    shine->ground = malloc(all * 4 * sizeof *shine->ground);
    shine->pixels = calloc(all, sizeof *shine->pixels);
    shine->light = fours(all);
    shine->lit = calloc((size_t)shine->spans * (size_t)height, 1);
    shine->row = fours((size_t)width + 2 * MOST_BY);
    shine->small = fours((size_t)width);
    int failed = !shine->ground || !shine->pixels || !shine->light || !shine->lit || !shine->row ||
                 !shine->small;
    for (int k = 0; k < SHINE_GLOWS; k++) {
        struct glow *glow = &shine->glows[k];
        for (glow->by = 1; glows[k].sigma / glow->by > 5 && glow->by < MOST_BY;)
            glow->by *= 2;
        glow->gain = (float)glows[k].gain;
        failed |= dia_blur_init(&glow->blur, (width + glow->by - 1) / glow->by,
                                (height + glow->by - 1) / glow->by, glows[k].sigma / glow->by) != 0;
    }
    tables(shine);
    if (!failed)
        return shine;
    dia_shine_free(shine);
    return NULL;
}

void dia_shine_free(struct shine *shine)
{
    if (!shine)
        return;
    for (int k = 0; k < SHINE_GLOWS; k++)
        dia_blur_free(&shine->glows[k].blur);
    free(shine->ground);
    free(shine->light);
    free(shine->pixels);
    free(shine->lit);
    free(shine->row);
    free(shine->small);
    free(shine);
}

/* ---- from codes ------------------------------------------------------------------------------ */

void dia_shine_ground(struct shine *shine, cairo_surface_t *ground)
{
    cairo_surface_flush(ground);
    for (int y = 0; y < shine->height; y++) {
        const uint32_t *pixels = dia_row(ground, y);
        uint16_t *to = shine->ground + (size_t)y * (size_t)shine->width * 4;
        for (int x = 0; x < shine->width; x++) {
            to[4 * x] = dia_light_of((uint8_t)(pixels[x] >> 16));
            to[4 * x + 1] = dia_light_of((uint8_t)(pixels[x] >> 8));
            to[4 * x + 2] = dia_light_of((uint8_t)pixels[x]);
            to[4 * x + 3] = 0;
        }
    }
}

static int span_pixels(const struct shine *shine, int span)
{
    int left = shine->width - span * BLUR_SPAN;
    return left < BLUR_SPAN ? left : BLUR_SPAN;
}

/* Only what was lit is made dark. */
void dia_shine_dark(struct shine *shine)
{
    for (int y = 0; y < shine->height; y++) {
        uint32_t *pixels = shine->pixels + (size_t)y * (size_t)shine->width;
        uint8_t *is_lit = shine->lit + (size_t)y * (size_t)shine->spans;
        for (int span = 0; span < shine->spans; span++) {
            if (is_lit[span])
                memset(pixels + span * BLUR_SPAN, 0,
                       (size_t)span_pixels(shine, span) * sizeof *pixels);
            is_lit[span] = 0;
        }
    }
}

/* A channel of a colour over another, by how much it covers. */
static uint32_t covered(uint32_t upper, uint32_t lower, uint32_t cover, int shift)
{
    uint32_t a = upper >> shift & 255, b = lower >> shift & 255;
    return (a * cover + b * (255 - cover) + 127) / 255 << shift;
}

void dia_shine_light(struct shine *shine, const struct shine_lamp *lamp, struct dia_rgb colour)
{
    uint32_t full = (uint32_t)colour.r << 16 | (uint32_t)colour.g << 8 | colour.b;
    uint32_t width = (uint32_t)shine->width;
    for (uint32_t k = 0; k < lamp->count; k++) {
        uint32_t at = lamp->pixels[k], cover = lamp->covers[k], *pixel = &shine->pixels[at];
        *pixel = cover == 255 ? full
                              : covered(full, *pixel, cover, 16) | covered(full, *pixel, cover, 8) |
                                    covered(full, *pixel, cover, 0);
        shine->lit[at / width * (uint32_t)shine->spans + at % width / BLUR_SPAN] = 1;
    }
}

void dia_shine_light_rows(struct shine *shine, const struct shine_lamp *lamp,
                          struct dia_rgb (*colour)(const void *self, int y), const void *self)
{
    uint32_t width = (uint32_t)shine->width;
    for (uint32_t k = 0; k < lamp->count;) {
        uint32_t row = lamp->pixels[k] / width, first = k;
        while (k < lamp->count && lamp->pixels[k] / width == row)
            k++;
        struct shine_lamp part = {lamp->pixels + first, lamp->covers + first, k - first};
        struct dia_rgb seen = colour(self, (int)row);
        if (seen.r | seen.g | seen.b)
            dia_shine_light(shine, &part, seen);
    }
}

static void take_light(struct shine *shine)
{
    for (int y = 0; y < shine->height; y++) {
        size_t row = (size_t)y * (size_t)shine->width;
        for (int span = 0; span < shine->spans; span++) {
            size_t at = row + (size_t)(span * BLUR_SPAN);
            int n = span_pixels(shine, span);
            if (!shine->lit[(size_t)y * (size_t)shine->spans + (size_t)span])
                continue;
            for (int x = 0; x < n; x++) {
                uint32_t pixel = shine->pixels[at + (size_t)x];
                shine->light[at + (size_t)x] =
                    (four){shine->linear[pixel >> 16 & 255], shine->linear[pixel >> 8 & 255],
                           shine->linear[pixel & 255], 0};
            }
        }
    }
}

/* ---- glows ----------------------------------------------------------------------------------- */

/* A span of light into a picture that is smaller: each of its pixels is the mean of by * by. */
static void add_smaller(struct glow *glow, const four *light, int x, int y, int n)
{
    struct blur *blur = &glow->blur;
    int by = glow->by, span = x / by / BLUR_SPAN;
    size_t at = (size_t)(y / by);
    uint8_t *busy = blur->busy + at * (size_t)blur->spans + span;
    four *row = blur->pixels + at * (size_t)blur->width;
    float scale = 1.0f / (float)(by * by);
    if (by == 1)
        memcpy(row + x, light, (size_t)n * sizeof *row);
    else if (!*busy) { /* spans are no narrower than `by`, so all of it lies in one */
        int from = span * BLUR_SPAN;
        int end = from + BLUR_SPAN < blur->width ? from + BLUR_SPAN : blur->width;
        memset(row + from, 0, (size_t)(end - from) * sizeof *row);
    }
    *busy = 1;
    for (int i = 0, to = x / by; by > 1 && i < n; to++) {
        four sum = {0, 0, 0, 0};
        for (int last = (to + 1) * by - x; i < last && i < n; i++)
            sum += light[i];
        row[to] += sum * scale;
    }
}

static void spread(struct shine *shine)
{
    for (int k = 0; k < SHINE_GLOWS; k++)
        dia_blur_clear(&shine->glows[k].blur);
    for (int y = 0; y < shine->height; y++) {
        for (int span = 0; span < shine->spans; span++) {
            int x = span * BLUR_SPAN;
            const four *light = shine->light + (size_t)y * (size_t)shine->width + (size_t)x;
            if (!shine->lit[(size_t)y * (size_t)shine->spans + (size_t)span])
                continue;
            for (int k = 0; k < SHINE_GLOWS; k++)
                add_smaller(&shine->glows[k], light, x, y, span_pixels(shine, span));
        }
    }
    for (int k = 0; k < SHINE_GLOWS; k++) {
        if (shine->glows[k].blur.radius > 0)
            dia_blur(&shine->glows[k].blur);
    }
}

static void add_spans(four *restrict row, const uint8_t *busy, int spans, int width,
                      const four *restrict from, float gain)
{
    for (int span = 0; span < spans; span++) {
        int end = (span + 1) * BLUR_SPAN < width ? (span + 1) * BLUR_SPAN : width;
        for (int x = span * BLUR_SPAN; busy[span] && x < end; x++)
            row[x] += from[x] * gain;
    }
}

/* A row of a glow, or nothing where it has none. */
static void glow_row(const struct blur *blur, int y, float share, four *to)
{
    add_spans(to, blur->busy + (size_t)y * (size_t)blur->spans, blur->spans, blur->width,
              blur->pixels + (size_t)y * (size_t)blur->width, share);
}

/* Straight ways from a pixel of the small row to the next, over `by` pixels each, an even number.
 * The row has room for them beyond its end. */
static void add_wide(four *restrict row, const four *restrict small, int by, int width, int n)
{
    float step = 1.0f / (float)by;
    int x = 0;
    for (; x < by / 2; x++)
        row[x] += small[0];
    for (int k = 0; k < n && x < width; k++) {
        four way = (small[k + 1 < n ? k + 1 : k] - small[k]) * step;
        four at = small[k] + way * 0.5f, next = at + way, two = way * 2.0f;
        for (int end = x + by; x < end; x += 2, at += two, next += two) {
            row[x] += at;
            row[x + 1] += next;
        }
    }
}

static void add_glow(struct shine *shine, const struct glow *glow, int y)
{
    const struct blur *blur = &glow->blur;
    float v = ((float)y + 0.5f) / (float)glow->by - 0.5f;
    int y0 = v < 0 ? 0 : (int)v, y1 = y0 + 1 < blur->height ? y0 + 1 : y0;
    float share = v < 0 ? 0 : v - (float)y0;
    if (glow->by == 1) {
        glow_row(blur, y, glow->gain, shine->row);
        return;
    }
    memset(shine->small, 0, (size_t)blur->width * sizeof(four));
    glow_row(blur, y0, (1 - share) * glow->gain, shine->small);
    glow_row(blur, y1, share * glow->gain, shine->small);
    add_wide(shine->row, shine->small, glow->by, shine->width, blur->width);
}

static void to_row(const uint16_t *restrict ground, int n, float *restrict row)
{
    for (int i = 0; i < n; i++)
        row[i] = (float)ground[i] * (1 / 65535.0f);
}

/* All of a row: the ground, what is lit, and its glows. */
static void put_together(struct shine *shine, int y)
{
    size_t at = (size_t)y * (size_t)shine->width;
    to_row(shine->ground + 4 * at, 4 * shine->width, (float *)shine->row);
    add_spans(shine->row, shine->lit + (size_t)y * (size_t)shine->spans, shine->spans, shine->width,
              shine->light + at, 1);
    for (int k = 0; k < SHINE_GLOWS; k++)
        add_glow(shine, &shine->glows[k], y);
}

/* ---- back to codes --------------------------------------------------------------------------- */

/* A channel that is too bright turns white, as it does to an eye and to a camera. */
static four spill(four light)
{
    float over = 0;
    for (int c = 0; c < 3; c++) {
        over += light[c] > 1 ? (light[c] - 1) * 0.25f : 0;
        light[c] = light[c] > 1 ? 1 : light[c];
    }
    for (int c = 0; c < 3; c++)
        light[c] = light[c] + over > 1 ? 1 : light[c] + over;
    return light;
}

typedef int32_t four_numbers __attribute__((vector_size(16)));

/* Which steps of the codes; more light is a larger number, and less than none is below 0. */
static four_numbers steps_of(four light)
{
    four_numbers steps = ((four_numbers)light >> 14) - LEAST;
    return steps & (steps > 0);
}

/* A span at a time: its steps go through memory, which is quicker than out of vectors. */
static void span_codes(const struct shine *shine, const four *row, int n, uint32_t *to)
{
    four_numbers steps[BLUR_SPAN], any = {0, 0, 0, 0};
    const uint8_t *codes = shine->codes;
    for (int x = 0; x < n; x++) {
        steps[x] = steps_of(row[x]);
        any |= steps[x] >= CODE_STEPS;
    }
    for (int x = 0; x < n && (any[0] | any[1] | any[2]); x++)
        steps[x] = steps_of(spill(row[x]));
    const int32_t *step = (const int32_t *)steps;
    for (int x = 0; x < n; x++, step += 4)
        to[x] = 0xff000000u | (uint32_t)codes[step[0]] << 16 | (uint32_t)codes[step[1]] << 8 |
                codes[step[2]];
}

static void to_codes(const struct shine *shine, const four *row, uint32_t *to)
{
    for (int x = 0; x < shine->width; x += BLUR_SPAN)
        span_codes(shine, row + x, span_pixels(shine, x / BLUR_SPAN), to + x);
}

void dia_shine_draw(struct shine *shine, cairo_surface_t *picture)
{
    take_light(shine);
    spread(shine);
    cairo_surface_flush(picture);
    for (int y = 0; y < shine->height; y++) {
        put_together(shine, y);
        to_codes(shine, shine->row, dia_row(picture, y));
    }
    cairo_surface_mark_dirty(picture);
}
