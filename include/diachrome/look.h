/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LOOK_H
#define DIACHROME_LOOK_H

#include <stdint.h>

#include "colour.h"
#include "frame.h"
#include "rom.h"
#include "surface.h"

/*
 * Looks: named, parametric animations.
 *
 * A look is a pure function of (parameters, surface, time): it keeps nothing between calls, so
 * any moment can be sought, in any order, on any processor, with the same bytes. Time is in
 * milliseconds and wraps at 2^32 without a jump.
 *
 * Each look has a plain struct of parameters, a function that sets the defaults, and a function
 * that renders elements first .. first + n - 1 into out (n colours). Stay inside the ranges that
 * the comments state: dia_look_check() tells; a render call does not look again.
 */

/* ---- steady: every element one colour ---------------------------------------------------- */
struct dia_steady {
    struct dia_rgb colour;
};
void dia_steady_defaults(struct dia_steady *p);
void dia_steady_render(const struct dia_steady *p, const struct dia_surface *surface, uint32_t ms,
                       uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- hue-sweep: the hue circle along the surface, moving --------------------------------- */
struct dia_hue_sweep {
    int32_t turns;      /* whole hue circles on the surface, 1..100; they always fit */
    int32_t speed_um_s; /* -10000000..10000000; positive moves away from the start */
    int32_t saturation; /* dia_share 0..32768: 0 white, 32768 pure hue */
    int32_t level;      /* dia_share 0..32768 of the sRGB code: 0 black, 32768 full */
};
void dia_hue_sweep_defaults(struct dia_hue_sweep *p);
void dia_hue_sweep_render(const struct dia_hue_sweep *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- drift: smooth noise, slowly changing, through a palette ----------------------------- */
#define DIA_PALETTE_MAX 8
struct dia_palette {
    uint8_t count; /* colours used, 1..DIA_PALETTE_MAX */
    struct dia_rgb colours[DIA_PALETTE_MAX];
};
struct dia_drift {
    struct dia_palette palette; /* from lowest to highest noise, mixed in linear light */
    int32_t patch_um;           /* size of a patch of one colour, 1000..100000000 */
    int32_t change_ms;          /* time for a patch to become another, 100..3600000 */
    int32_t seed;               /* any: another seed, another picture, 0..2147483647 */
};
void dia_drift_defaults(struct dia_drift *p);
void dia_drift_render(const struct dia_drift *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- breathe: every element one colour, rising and falling ------------------------------- */
struct dia_breathe {
    struct dia_rgb colour; /* at its brightest */
    int32_t low;           /* dia_share 0..32768 of the sRGB code at its darkest */
    int32_t period_ms;     /* from one breath to the next, 100..3600000 */
};
void dia_breathe_defaults(struct dia_breathe *p);
void dia_breathe_render(const struct dia_breathe *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- blink: every element one of two colours, in turns ----------------------------------- */
struct dia_blink {
    struct dia_rgb colour, other; /* colour comes first in each period */
    int32_t duty;                 /* dia_share 0..32768 of the period that colour shows */
    int32_t period_ms;            /* 20..3600000 */
};
void dia_blink_defaults(struct dia_blink *p);
void dia_blink_render(const struct dia_blink *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- chase: lights at even distances, travelling, each with a tail ------------------------ */
struct dia_chase {
    struct dia_rgb colour, background;
    int32_t lights;     /* on the surface, 1..100; they always fit */
    int32_t tail;       /* dia_share 328..32768 of the distance between two that a light and its
                           tail take; the tail fades in sRGB codes */
    int32_t speed_um_s; /* -10000000..10000000; positive moves away from the start */
};
void dia_chase_defaults(struct dia_chase *p);
void dia_chase_render(const struct dia_chase *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- bounce: one light that goes to the end and back --------------------------------------- */
struct dia_bounce {
    struct dia_rgb colour, background;
    int32_t width_um;  /* of the light, 1000..100000000; no more than the surface */
    int32_t period_ms; /* there and back, 100..3600000 */
};
void dia_bounce_defaults(struct dia_bounce *p);
void dia_bounce_render(const struct dia_bounce *p, const struct dia_surface *surface, uint32_t ms,
                       uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- glimmer: every element by itself gets brighter and darker, at random ------------------- */
struct dia_glimmer {
    struct dia_rgb colour; /* at its brightest */
    int32_t depth;         /* dia_share 0..32768: how far it goes down */
    int32_t change_ms;     /* from one random level to the next, 20..3600000 */
    int32_t seed;          /* 0..2147483647 */
};
void dia_glimmer_defaults(struct dia_glimmer *p);
void dia_glimmer_render(const struct dia_glimmer *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- what there is, for programs that let a person choose -------------------------------- */
enum dia_param_kind {
    DIA_PARAM_COLOUR,  /* struct dia_rgb */
    DIA_PARAM_PALETTE, /* struct dia_palette */
    DIA_PARAM_COUNT,   /* int32_t, no unit */
    DIA_PARAM_SHARE,   /* int32_t, a dia_share, written in % */
    DIA_PARAM_LENGTH,  /* int32_t micrometres, written in mm */
    DIA_PARAM_SPEED,   /* int32_t micrometres a second, written in mm/s */
    DIA_PARAM_TIME     /* int32_t milliseconds, written in s */
};
struct dia_param {
    char key[16];
    char help[64]; /* one line */
    enum dia_param_kind kind;
    int32_t min, max; /* of the int32_t kinds, in the unit of the kind; 0, 0 for the others */
    uint16_t offset;  /* of the field in the look's struct, bytes */
};
struct dia_look {
    char name[16];
    char help[64]; /* one line */
    const DIA_ROM struct dia_param *params;
    uint8_t param_count;
    uint16_t size; /* of the look's struct, at most sizeof(union dia_look_values) */
    void (*defaults)(void *values);
    void (*render)(const void *values, const struct dia_surface *surface, uint32_t ms,
                   uint32_t first, uint32_t n, struct dia_rgb *out);
};

/* Room for the parameters of any look. */
union dia_look_values {
    struct dia_steady steady;
    struct dia_hue_sweep hue_sweep;
    struct dia_drift drift;
    struct dia_breathe breathe;
    struct dia_blink blink;
    struct dia_chase chase;
    struct dia_bounce bounce;
    struct dia_glimmer glimmer;
};

extern const DIA_ROM struct dia_look dia_look_steady, dia_look_breathe, dia_look_blink,
    dia_look_hue_sweep, dia_look_chase, dia_look_bounce, dia_look_drift, dia_look_glimmer;

/* All looks, in the order in which they are listed to people; NULL after the last. */
extern const DIA_ROM struct dia_look *const dia_looks[];

/* The look of that name, or NULL. */
const DIA_ROM struct dia_look *dia_look_find(const char *name);

/*
 * NULL when every parameter is in its range; else the first that is not. Palettes must hold 1 to
 * DIA_PALETTE_MAX colours.
 */
const DIA_ROM struct dia_param *dia_look_check(const DIA_ROM struct dia_look *look,
                                               const void *values);

#endif
