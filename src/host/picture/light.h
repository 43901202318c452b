/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_LIGHT_H
#define DIA_HOST_LIGHT_H

#include <cairo.h>
#include <stdint.h>

#include <diachrome/colour.h>

/*
 * Light over a ground, frame after frame: what is lit, and its glow, which is what the air, the
 * glass and the ground around a lamp give back. All of it is linear light; 1 is as bright as a
 * picture can show. Pictures are in RGB24 and of one size.
 *
 *   shine = dia_shine_new(1280, 600, glows);
 *   dia_shine_ground(shine, ground);                   what does not change
 *   for each frame:
 *       dia_shine_dark(shine);
 *       dia_shine_light(shine, &lamp, colour);         for each lamp that is lit
 *       dia_shine_draw(shine, picture);
 */
struct shine;

/* A glow spreads like a Gaussian of sigma pixels, and gives so much of the light. */
struct shine_glow {
    double sigma, gain;
};
#define SHINE_GLOWS 3

/* NULL: no memory. */
struct shine *dia_shine_new(int width, int height, const struct shine_glow glows[SHINE_GLOWS]);
void dia_shine_free(struct shine *shine);

/* What is there without light, until it is given anew. */
void dia_shine_ground(struct shine *shine, cairo_surface_t *ground);

/* The pixels that a lamp covers, row after row counted through, and how much of each, of 255. */
struct shine_lamp {
    const uint32_t *pixels;
    const uint8_t *covers;
    uint32_t count;
};

/* Nothing is lit; then one lamp over the others. */
void dia_shine_dark(struct shine *shine);
void dia_shine_light(struct shine *shine, const struct shine_lamp *lamp, struct dia_rgb colour);

/* The same, in a colour for each row. */
void dia_shine_light_rows(struct shine *shine, const struct shine_lamp *lamp,
                          struct dia_rgb (*colour)(const void *self, int y), const void *self);

/*
 * The ground, what is lit and its glow together. What is too bright keeps its hue as far as it can:
 * what does not fit a channel goes to the others in part. Costs less where less is lit, and the
 * same for any sigma.
 */
void dia_shine_draw(struct shine *shine, cairo_surface_t *picture);

#endif
