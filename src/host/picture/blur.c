/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "blur.h"

int dia_blur_init(struct blur *blur, int width, int height, double sigma)
{
    size_t all = (size_t)width * (size_t)height;
    memset(blur, 0, sizeof *blur);
    blur->width = width;
    blur->height = height;
    blur->spans = (width + BLUR_SPAN - 1) / BLUR_SPAN;
    /* three boxes of 2 r + 1 have a variance of ((2 r + 1)^2 - 1) / 4 */
    blur->radius = (int)lround((sqrt(4 * sigma * sigma + 1) - 1) / 2);
    blur->pixels = fours(all);
    blur->busy = malloc((size_t)blur->spans * (size_t)height);
    blur->wide = malloc((size_t)blur->spans * (size_t)height);
    blur->rows = fours((size_t)width * 2);
    for (int k = 0; k < 2; k++) {
        blur->strips[k] = fours((size_t)height * BLUR_SPAN);
        if (blur->strips[k]) /* the last strip may be narrower than the others */
            memset(blur->strips[k], 0, (size_t)height * BLUR_SPAN * sizeof(four));
    }
    return blur->pixels && blur->busy && blur->wide && blur->rows && blur->strips[0] &&
                   blur->strips[1]
               ? 0
               : -1;
}

void dia_blur_free(struct blur *blur)
{
    free(blur->pixels);
    free(blur->busy);
    free(blur->wide);
    free(blur->rows);
    free(blur->strips[0]);
    free(blur->strips[1]);
}

void dia_blur_clear(struct blur *blur)
{
    memset(blur->busy, 0, (size_t)blur->spans * (size_t)blur->height);
}

/* Means of 2 * radius + 1 pixels along n of them; beyond both ends it is dark. */
static void box_row(const four *from, four *to, int n, int radius)
{
    four sum = {0, 0, 0, 0};
    float scale = 1.0f / (float)(2 * radius + 1);
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

/* The same down n rows of a strip, all of its columns at once. */
static void box_strip(const four *restrict from, four *restrict to, int n, int radius)
{
    four sum[BLUR_SPAN] = {{0}};
    float scale = 1.0f / (float)(2 * radius + 1);
    for (int i = 0; i < radius && i < n; i++)
        for (int x = 0; x < BLUR_SPAN; x++)
            sum[x] += from[i * BLUR_SPAN + x];
    for (int i = 0; i < n; i++) {
        if (i + radius < n)
            for (int x = 0; x < BLUR_SPAN; x++)
                sum[x] += from[(i + radius) * BLUR_SPAN + x];
        for (int x = 0; x < BLUR_SPAN; x++)
            to[i * BLUR_SPAN + x] = sum[x] * scale;
        if (i >= radius)
            for (int x = 0; x < BLUR_SPAN; x++)
                sum[x] -= from[(i - radius) * BLUR_SPAN + x];
    }
}

/* Ones within `reach` of a one, along n of them that are `step` apart. */
static void widen(const uint8_t *from, uint8_t *to, int n, int step, int reach)
{
    int until = -1; /* the last that is reached from the left */
    for (int i = 0; i < n; i++) {
        if (from[i * step]) {
            for (int k = i - reach > until ? i - reach : until + 1; k < i; k++)
                if (k >= 0)
                    to[k * step] = 1;
            until = i + reach;
        }
        to[i * step] = i <= until;
    }
}

/* What three boxes reach. */
static int reach_of(const struct blur *blur)
{
    return 3 * blur->radius;
}

static int span_end(const struct blur *blur, int span)
{
    int end = span * BLUR_SPAN;
    return end < blur->width ? end : blur->width;
}

/* A row, in those spans that its light reaches; dark pixels there become 0. */
static void along(struct blur *blur, int y)
{
    const uint8_t *busy = blur->busy + (size_t)y * (size_t)blur->spans;
    uint8_t *wide = blur->wide + (size_t)y * (size_t)blur->spans;
    four *row = blur->pixels + (size_t)y * (size_t)blur->width, *other = blur->rows;
    widen(busy, wide, blur->spans, 1, (reach_of(blur) + BLUR_SPAN - 1) / BLUR_SPAN);
    for (int first = 0, last; first < blur->spans; first = last) {
        last = first + 1;
        if (!wide[first])
            continue;
        while (last < blur->spans && wide[last])
            last++;
        int from = first * BLUR_SPAN, n = span_end(blur, last) - from;
        for (int k = first; k < last; k++)
            if (!busy[k])
                memset(row + k * BLUR_SPAN, 0,
                       (size_t)(span_end(blur, k + 1) - k * BLUR_SPAN) * sizeof *row);
        four *at = row + from;
        box_row(at, other, n, blur->radius);
        box_row(other, other + blur->width, n, blur->radius);
        box_row(other + blur->width, at, n, blur->radius);
    }
}

static size_t place(const struct blur *blur, int x, int y)
{
    return (size_t)y * (size_t)blur->width + (size_t)x;
}

/* n rows of a strip from y on, of which some have no light. */
static void down(struct blur *blur, int span, int y, int n)
{
    four *a = blur->strips[0], *b = blur->strips[1];
    int x = span * BLUR_SPAN;
    size_t bytes = (size_t)(span_end(blur, span + 1) - x) * sizeof(four);
    for (int i = 0; i < n; i++) {
        if (blur->wide[(size_t)(y + i) * (size_t)blur->spans + (size_t)span])
            memcpy(a + i * BLUR_SPAN, blur->pixels + place(blur, x, y + i), bytes);
        else
            memset(a + i * BLUR_SPAN, 0, bytes);
    }
    box_strip(a, b, n, blur->radius);
    box_strip(b, a, n, blur->radius);
    box_strip(a, b, n, blur->radius);
    for (int i = 0; i < n; i++)
        memcpy(blur->pixels + place(blur, x, y + i), b + i * BLUR_SPAN, bytes);
}

void dia_blur(struct blur *blur)
{
    for (int y = 0; y < blur->height; y++)
        along(blur, y);
    for (int span = 0; span < blur->spans; span++) {
        widen(blur->wide + span, blur->busy + span, blur->height, blur->spans, reach_of(blur));
        for (int y = 0, end; y < blur->height; y = end) {
            end = y + 1;
            if (!blur->busy[(size_t)y * (size_t)blur->spans + (size_t)span])
                continue;
            while (end < blur->height &&
                   blur->busy[(size_t)end * (size_t)blur->spans + (size_t)span])
                end++;
            down(blur, span, y, end - y);
        }
    }
}
