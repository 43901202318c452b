/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LOOK_H
#define DIACHROME_LOOK_H

#include <stdint.h>

#include "colour.h"
#include "frame.h"
#include "gradient.h"
#include "config.h"
#include "linkage.h"
#include "surface.h"
#include "text.h"

DIA_BEGIN

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
 *
 * Cost: a look takes a few thousand cycles a frame on an ATmega328P (chase 17,000) and 10 to 900 a
 * pixel, water 1,000 (build/tests/look-cycles lists them); some nanoseconds a pixel on a desktop.
 * Stack: about 10 * DIA_RUN bytes, on a desktop 2 KB.
 * Context: any; threads may work at once on objects of their own.
 */

/*
 * Colours for looks that go through several, mixed in linear light. Value 0 is the first, 65535 the
 * last, the others at even distances between. If `placed` is 1 each has a place of its own, and
 * these rise; values before the first place show the first colour, those behind the last place the
 * last.
 */
#define DIA_PALETTE_MAX 16
struct dia_palette {
    uint8_t count; /* colours used, 1..DIA_PALETTE_MAX */
    struct dia_rgb colours[DIA_PALETTE_MAX];
    uint8_t placed;                   /* 1: at `places`; 0: these do not count */
    uint16_t places[DIA_PALETTE_MAX]; /* 0..65535, each more than the one before */
};
struct dia_rgb dia_palette_at(const struct dia_palette *palette, uint16_t value);

/* The stops of a gradient (gradient.h) at their places. A gradient
 * that is even to the eye gets more of them, DIA_PALETTE_MAX in all, each in the middle of the
 * longest stretch: a palette itself mixes in linear light. */
void dia_palette_of(struct dia_palette *palette, const struct dia_gradient *gradient);

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
                           tail take: an element fully lit, then less and less */
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

/* ---- wipe: one colour goes over another from one side, then the other over it --------------- */
enum dia_from { DIA_FROM_START, DIA_FROM_END, DIA_FROM_MIDDLE, DIA_FROM_SIDES };
struct dia_wipe {
    struct dia_rgb colour, background;
    int32_t from;      /* enum dia_from */
    int32_t soft_um;   /* width of the edge, 0..100000000 */
    int32_t period_ms; /* of both wipes together, 100..3600000 */
};
void dia_wipe_defaults(struct dia_wipe *p);
void dia_wipe_render(const struct dia_wipe *p, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out);
/* Of the first wipe, ms: the way of DIA_ACT_THERE_AND_BACK (see cue.h). */
uint32_t dia_wipe_way_ms(const struct dia_wipe *p, const struct dia_surface *surface);

/* ---- reveal: lights up element by element, stays, and goes out again ------------------------ */
enum dia_retreat { DIA_RETREAT_BACK, DIA_RETREAT_ON, DIA_RETREAT_AT_ONCE };
struct dia_reveal {
    struct dia_rgb colour, background;
    int32_t from;     /* enum dia_from: where it begins */
    int32_t step;     /* elements a step, 1..1000; from the middle or both sides on each of them */
    int32_t every_ms; /* from step to step, 10..3600000; less where all steps would take more than
                         24 days */
    int32_t hold_ms;  /* all of it lit, and later none of it, 0..3600000 */
    int32_t retreat;  /* enum dia_retreat: back the same way, on in the same direction, at once */
};
void dia_reveal_defaults(struct dia_reveal *p);
void dia_reveal_render(const struct dia_reveal *p, const struct dia_surface *surface, uint32_t ms,
                       uint32_t first, uint32_t n, struct dia_rgb *out);
/* From nothing lit to all of it, ms: the way of DIA_ACT_THERE_AND_BACK (see cue.h). */
uint32_t dia_reveal_way_ms(const struct dia_reveal *p, const struct dia_surface *surface);

/* ---- alternate: stretches of two colours that change places ---------------------------------- */
struct dia_alternate {
    struct dia_rgb colour, other;
    int32_t stretch;   /* elements of one colour, 1..1000 */
    int32_t period_ms; /* until each is as it was, 20..3600000 */
};
void dia_alternate_defaults(struct dia_alternate *p);
void dia_alternate_render(const struct dia_alternate *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- waves: red, green and blue each a sine wave along the surface --------------------------- */
struct dia_waves {
    int32_t red_turns, green_turns, blue_turns; /* whole waves on the surface, 0..100 */
    int32_t shift;                              /* dia_share of a wave from red to green to blue */
    int32_t level;                              /* dia_share 0..32768 of the code at a crest */
    int32_t speed_um_s; /* of one wave on the surface, -10000000..10000000; of more, as much less */
};
void dia_waves_defaults(struct dia_waves *p);
void dia_waves_render(const struct dia_waves *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- pulse: one light with a tail that runs along, and comes again after a rest ---------------
 */
struct dia_pulse {
    struct dia_rgb colour, background;
    int32_t head_um;    /* 1000..100000000 */
    int32_t tail_um;    /* 0..100000000 */
    int32_t speed_um_s; /* 1000..10000000 */
    int32_t rest_ms;    /* until it comes again, 0..3600000 */
    int32_t from;       /* enum dia_from; from the middle or both sides there are two */
};
void dia_pulse_defaults(struct dia_pulse *p);
void dia_pulse_render(const struct dia_pulse *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- scatter: every element a colour of the palette at random, and soon another ---------------
 */
struct dia_scatter {
    struct dia_palette palette;
    int32_t every_ms; /* how long an element keeps a colour, 20..3600000 */
    int32_t change;   /* 0: all at once, 1: one by one */
    int32_t seed;     /* 0..2147483647 */
};
void dia_scatter_defaults(struct dia_scatter *p);
void dia_scatter_render(const struct dia_scatter *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- rings: waves that spread from the middle of a surface ------------------------------------
 */
struct dia_rings {
    struct dia_rgb colour, background;
    int32_t spacing_um; /* from ring to ring, 1000..100000000 */
    int32_t speed_um_s; /* -10000000..10000000; negative: towards the middle */
};
void dia_rings_defaults(struct dia_rings *p);
void dia_rings_render(const struct dia_rings *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- beam: light that turns round the middle of a surface --------------------------------------
 */
struct dia_beam {
    struct dia_rgb colour, background;
    int32_t beams;     /* at even angles, 1..16 */
    int32_t width;     /* dia_share of a turn that a beam takes, 328..32768 / beams */
    int32_t period_ms; /* of a turn, 100..3600000 */
    int32_t way;       /* 0: clockwise, 1: anticlockwise */
};
void dia_beam_defaults(struct dia_beam *p);
void dia_beam_render(const struct dia_beam *p, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- columns: lights that fall or rise, in each column at another time -------------------------
 */
struct dia_columns {
    struct dia_rgb colour, background;
    int32_t spacing_um; /* from one light to the next in a column, 1000..100000000 */
    int32_t tail;       /* dia_share 328..32768 of the spacing */
    int32_t speed_um_s; /* -10000000..10000000; positive falls */
    int32_t seed;       /* 0..2147483647 */
};
void dia_columns_defaults(struct dia_columns *p);
void dia_columns_render(const struct dia_columns *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- flame: noise that rises through a palette, and fades with height ---------------------------
 */
struct dia_flame {
    struct dia_palette palette; /* from cold to hot */
    int32_t tongue_um;          /* size of a tongue, 1000..100000000 */
    int32_t speed_um_s;         /* how fast it rises, 0..10000000 */
    int32_t change_ms;          /* time for a tongue to become another, 20..3600000 */
    int32_t seed;               /* 0..2147483647 */
};
void dia_flame_defaults(struct dia_flame *p);
void dia_flame_render(const struct dia_flame *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- water: two sheets of noise that pass each other
 * ---------------------------------------------- */
struct dia_water {
    struct dia_palette palette; /* from trough to crest */
    int32_t wave_um;            /* 1000..100000000 */
    int32_t speed_um_s;         /* of one sheet; the other goes against it at two thirds of that,
                                   -10000000..10000000 */
    int32_t change_ms;          /* 100..3600000 */
    int32_t seed;               /* 0..2147483647 */
};
void dia_water_defaults(struct dia_water *p);
void dia_water_render(const struct dia_water *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- draw: a figure over what out shows already (see draw.h) ------------------------------- */
struct dia_draw {
    struct dia_rgb colour;
    int32_t figure;            /* 0 point, 1 line, 2 rectangle, 3 disc, 4 regular polygon */
    int32_t x_um, y_um;        /* -100000000..100000000, these four */
    int32_t to_x_um, to_y_um;  /* of a line or rectangle */
    int32_t corners, turn;     /* of a polygon: 3..16; dia_share 0..32768 of a turn */
    int32_t size_um;           /* radius of a disc or polygon; 0..100000000, as the next two */
    int32_t width_um, soft_um; /* as in draw.h */
    int32_t fill, edge;        /* 0 all, 1 outline; 0 smooth, 1 hard */
    int32_t speed_x_um_s, speed_y_um_s; /* -10000000..10000000 */
    int32_t every_x_um, every_y_um;     /* 0..100000000 */
    int32_t mirror;                     /* 0 none, 1 x, 2 y, 3 both */
};
void dia_draw_defaults(struct dia_draw *p);
void dia_draw_render(const struct dia_draw *p, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- text: a text over what out shows already (see text.h) ---------------------------------- */
struct dia_lettering {
    struct dia_text text; /* a dot is a pitch of the surface; along DIA_ANGLE it goes round the
                             middle */
    struct dia_palette palette;
    int32_t gradient; /* of several colours: 0 across the surface, 1 down */
};
void dia_lettering_defaults(struct dia_lettering *p);
void dia_lettering_render(const struct dia_lettering *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out);

/* ---- what there is, for programs that let a person choose -------------------------------- */
enum dia_param_kind {
    DIA_PARAM_COLOUR,  /* struct dia_rgb */
    DIA_PARAM_PALETTE, /* struct dia_palette */
    DIA_PARAM_COUNT,   /* int32_t, no unit */
    DIA_PARAM_SHARE,   /* int32_t, a dia_share, written in % */
    DIA_PARAM_LENGTH,  /* int32_t micrometres, written in mm */
    DIA_PARAM_SPEED,   /* int32_t micrometres a second, written in mm/s */
    DIA_PARAM_TIME,    /* int32_t milliseconds, written in s */
    DIA_PARAM_CHOICE,  /* int32_t, which of `words`, from 0 */
    DIA_PARAM_TEXT,    /* const char *, UTF-8 */
    DIA_PARAM_FACE     /* const DIA_ROM struct dia_face * */
};
struct dia_param {
    char key[16];
    char help[64]; /* one line */
    enum dia_param_kind kind;
    int32_t min, max; /* of the int32_t kinds, in the unit of the kind; 0, 0 for the others */
    uint16_t offset;  /* of the field in the look's struct, bytes */
    const DIA_ROM char *words; /* of a choice, with spaces between; NULL for the others */
};
/* What renders elements first .. first + n - 1 of a surface: a look, or a drawing of one's own. */
typedef void dia_render(const void *values, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out);
struct dia_look {
    char name[16];
    char help[64]; /* one line */
    uint8_t draws; /* 1: renders over what is in out, as drawings do; 0: fills out */
    const DIA_ROM struct dia_param *params;
    uint8_t param_count;
    uint16_t size; /* of the look's struct, at most sizeof(union dia_look_values) */
    void (*defaults)(void *values);
    dia_render *render;
    /* how long a look takes that goes a way and can come back on it, ms; NULL: it goes on and on */
    uint32_t (*way_ms)(const void *values, const struct dia_surface *surface);
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
    struct dia_wipe wipe;
    struct dia_reveal reveal;
    struct dia_alternate alternate;
    struct dia_waves waves;
    struct dia_pulse pulse;
    struct dia_scatter scatter;
    struct dia_rings rings;
    struct dia_beam beam;
    struct dia_columns columns;
    struct dia_flame flame;
    struct dia_water water;
    struct dia_draw draw;
    struct dia_lettering lettering;
};

extern const DIA_ROM struct dia_look dia_look_steady, dia_look_breathe, dia_look_blink,
    dia_look_alternate, dia_look_wipe, dia_look_reveal, dia_look_hue_sweep, dia_look_waves,
    dia_look_chase, dia_look_pulse, dia_look_bounce, dia_look_rings, dia_look_beam,
    dia_look_columns, dia_look_drift, dia_look_scatter, dia_look_glimmer, dia_look_flame,
    dia_look_water, dia_look_draw, dia_look_text;

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

DIA_END

#endif
