/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_LIGHT_H
#define DIA_HOST_LIGHT_H

#include <cairo.h>

/* A picture as linear light, three planes of floats; 1 is as bright as a picture can show. */
struct light {
    int width, height;
    float *plane[3]; /* on the heap; rows of width */
};

/* From the codes of a picture in RGB24. 0, or -1 when memory ran out. */
int dia_light_take(struct light *light, cairo_surface_t *picture);

/*
 * Adds `from`, spread out by a Gaussian of sigma pixels, times gain: what the air, the glass and
 * the ground around a lamp give back. Costs the same for any sigma. 0, or -1 when memory ran out.
 */
int dia_light_add_glow(struct light *light, const struct light *from, double sigma, double gain);

/* Adds all of another of the same size. */
void dia_light_add(struct light *light, const struct light *other);

/* Into the codes of a picture of the same size; what is too bright keeps its hue as far as it can:
 * what does not fit a channel goes to the others in part. */
void dia_light_put(const struct light *light, cairo_surface_t *picture);

void dia_light_free(struct light *light);

#endif
