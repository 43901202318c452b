/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_BLUR_H
#define DIA_HOST_BLUR_H

#include <stdint.h>
#include <stdlib.h>

/* The light of a pixel: red, green, blue and nothing, so that it is one vector. */
typedef float four __attribute__((vector_size(16)));

/* Room for n of them; free gives it back. NULL: no memory. */
static inline four *fours(size_t n)
{
    return aligned_alloc(sizeof(four), (n ? n : 1) * sizeof(four));
}

/*
 * Three boxes one after the other are nearly a Gaussian; of each a running sum goes along rows, and
 * then down columns.
 */
struct blur {
    int width, height, radius;
    int spans;     /* of BLUR_SPAN pixels, in a row */
    four *pixels;  /* what is blurred, in place */
    uint8_t *busy; /* height * spans: 1 where there may be light; after it, where there is glow.
                      Elsewhere nothing has been written */
    four *rows, *strips[2]; /* private */
    uint8_t *wide;
};
#define BLUR_SPAN 16

/* 0, or -1: no memory. */
int dia_blur_init(struct blur *blur, int width, int height, double sigma);
void dia_blur_free(struct blur *blur);

/* No light anywhere. */
void dia_blur_clear(struct blur *blur);
void dia_blur(struct blur *blur);

#endif
