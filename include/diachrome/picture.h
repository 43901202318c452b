/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PICTURE_H
#define DIACHROME_PICTURE_H

#include <stdint.h>

#include "film.h"
#include "layout.h"
#include "linkage.h"
#include "look.h"

DIA_BEGIN

/*
 * Pictures and films on elements: the look `picture` of layers on a rig (rig_layer.h), on a desktop
 * alone. docs/pictures.md says what each parameter does.
 *
 * Cost: each source pixel is read once a frame where elements lie side by side; `make bench` prints
 * how many a second.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_picture_scale {
    DIA_PICTURE_FIT,
    DIA_PICTURE_FILL,
    DIA_PICTURE_STRETCH,
    DIA_PICTURE_PLACE
};
enum dia_picture_end { DIA_PICTURE_LOOP, DIA_PICTURE_BACK, DIA_PICTURE_STAY, DIA_PICTURE_DARK };
enum dia_picture_dither { DIA_DITHER_ORDERED, DIA_DITHER_SPREAD, DIA_DITHER_NONE };

struct dia_picture {
    int32_t rate;       /* frames a second of PNM and of numbered files, 1..1000 */
    int32_t scale;      /* enum dia_picture_scale */
    int32_t width_um;   /* where scale is `place`; 0: a pixel takes a pitch; 0..100000000 */
    int32_t x_um, y_um; /* of its upper left corner in `place`, else moved so far;
                           -100000000..100000000 */
    int32_t turn;       /* quarter turns clockwise, 0..3 */
    int32_t mirror;     /* 0 none, 1 x, 2 y, 3 both */
    int32_t speed_x_um_s, speed_y_um_s; /* -10000000..10000000; it scrolls, and comes again */
    int32_t gap_um; /* from its end to its next beginning, where it scrolls, 0..100000000 */
    int32_t pace;   /* dia_share, 32768 as fast as the file says, 0..327680 */
    int32_t end;    /* enum dia_picture_end: what comes when it has ended */
    int32_t dither; /* enum dia_picture_dither: on dots that are lit or not */
};

/* Its table of parameters. It is none of dia_looks: it has a file beside its values, and renders
 * nothing by itself. */
extern const struct dia_look dia_look_picture;
#define DIA_PARAM_BESIDE UINT16_MAX /* offset of its file */

/* Which time of the film shows after so many ms. 1: it has ended, and nothing shows. */
int dia_picture_time(const struct dia_picture *picture, uint64_t length_us, uint32_t ms,
                     uint64_t *us);

/*
 * Where a frame lies on a ground, which is a rectangle in micrometres. Elements are squares of a
 * pitch; what each shows is the mean, in linear light, of the part of the frame that it covers.
 */
struct dia_rectangle {
    int32_t left_um, top_um, width_um, height_um;
};
struct dia_picture_lie {
    struct dia_film_frame frame;
    double left, top, width, height; /* of the frame on the ground, um */
    double every_x, every_y;         /* from one copy to the next; 0: there is one */
    uint8_t turn, mirror;
    uint16_t light[256]; /* of each code */
};
void dia_picture_lay(struct dia_picture_lie *lie, const struct dia_picture *picture,
                     const struct dia_film_frame *frame, const struct dia_rectangle *ground,
                     int32_t pitch_um, uint32_t ms);

/* Elements whose middles are at n points of the ground, over what is in out. covered says of each
 * whether any of the frame is there; NULL: nobody asks. */
void dia_picture_points(const struct dia_picture_lie *lie, const struct dia_point *points,
                        uint32_t n, int32_t pitch_um, struct dia_rgb *out, uint8_t *covered);

/*
 * Dots that are lit or not, in their place: full white where light is to be, else black. Ordered:
 * a pattern of 8 by 8 that stays where it is, so nothing crawls. Spread: what a dot is too bright
 * or too dark goes on to its neighbours (Floyd and Steinberg), the whole grid at once.
 */
void dia_picture_dither(enum dia_picture_dither way, uint32_t columns, uint32_t rows,
                        struct dia_rgb *dots);

DIA_END

#endif
