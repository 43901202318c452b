/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_FIGURE_H
#define DIA_CORE_FIGURE_H

#include <diachrome/draw.h>
#include <diachrome/surface.h>

/*
 * A figure made ready for many elements: moved to its middle, and in units that make products fit
 * 32 bits. Its whole size is 14 bits of them, so edges are right to a 16384th of its size.
 */
struct figure_edge {
    int16_t x, y;   /* where it begins */
    int16_t ux, uy; /* its direction, 16384 long */
    int16_t length;
};
struct figure {
    const struct dia_figure *of;
    int32_t left, top, right, bottom; /* um; beyond them it covers nothing */
    int32_t x, y;                     /* its middle, um */
    uint8_t shift;                    /* um >> shift are its units */
    int16_t half_x, half_y;           /* of a rectangle or line; of a disc, its radius */
    int16_t ux, uy;                   /* direction of a line */
    int16_t width, pitch, soft;
    uint32_t slope;         /* 2^24 / soft */
    int32_t margin_um;      /* how far from an edge it covers a part of an element, or more */
    struct dia_point every; /* how large a copy is; 0: there is one */
    uint8_t edge_count;     /* of a polygon */
    union {
        struct figure_edge edge[DIA_CORNERS_MAX];
        struct {
            int32_t cell_um, width_um, height_um;
            int32_t element_um;   /* how much of it an element looks at */
            uint32_t per_unit;    /* cells a unit */
            uint32_t per_element; /* 2^31 / element_um */
        } sprite;
    };
};

void dia_figure_make(struct figure *figure, const struct dia_figure *of,
                     const struct dia_surface *surface, struct dia_point every);

/* How much of an element at a place is covered, 0..65535; not of a sprite. */
uint16_t dia_figure_cover(const struct figure *figure, int32_t x_um, int32_t y_um);

/* What covers an element, of all that was added: linear light times parts, which are 65536ths. */
struct cover {
    uint32_t r, g, b, part;
};

/* So many of its cells as end within 1.5 km: no sum is more than 31 bits. */
int32_t dia_sprite_within_reach(int32_t size_um, int32_t cells);
void dia_sprite_make(struct figure *figure, int32_t width_um, int32_t height_um, int32_t pitch_um);

/* Adds the cells of a sprite that lie on the element at a place. */
void dia_sprite_cover(const struct figure *figure, uint32_t ms, int32_t x_um, int32_t y_um,
                      struct cover *cover);

#endif
