/* SPDX-License-Identifier: MIT */
#include <diachrome/signal.h>

#include "../layout/polar.h"
#include "figure.h"

#define MOST       8191      /* units from the middle to either side */
#define UNIT       16384     /* length of a direction */
#define MOST_PITCH 300000000 /* um; beyond it, as with it, so that no sum is more than 31 bits */

static int32_t larger(int32_t a, int32_t b)
{
    return a > b ? a : b;
}

static int32_t size_of(int32_t a)
{
    return a < 0 ? -a : a;
}

/* ---- making ready ---------------------------------------------------------------------------- */

static void box(struct figure *figure, struct dia_point a, struct dia_point b)
{
    figure->left = a.x_um < b.x_um ? a.x_um : b.x_um;
    figure->right = larger(a.x_um, b.x_um);
    figure->top = a.y_um < b.y_um ? a.y_um : b.y_um;
    figure->bottom = larger(a.y_um, b.y_um);
}

static void box_of_corners(struct figure *figure, const struct dia_figure *of)
{
    box(figure, of->corners[0], of->corners[0]);
    for (uint8_t k = 1; k < figure->edge_count; k++) {
        struct dia_point corner = of->corners[k];
        figure->left = corner.x_um < figure->left ? corner.x_um : figure->left;
        figure->right = larger(corner.x_um, figure->right);
        figure->top = corner.y_um < figure->top ? corner.y_um : figure->top;
        figure->bottom = larger(corner.y_um, figure->bottom);
    }
}

/* The direction from a to b in units, and how long that is. */
static int16_t direction(int32_t dx, int32_t dy, int16_t *ux, int16_t *uy)
{
    int32_t length = dia_polar_root((uint32_t)(dx * dx + dy * dy));
    if (length == 0) {
        *ux = UNIT;
        *uy = 0;
        return 0;
    }
    *ux = (int16_t)(dx * UNIT / length);
    *uy = (int16_t)(dy * UNIT / length);
    return (int16_t)length;
}

static void make_edges(struct figure *figure, const struct dia_figure *of)
{
    for (uint8_t k = 0; k < figure->edge_count; k++) {
        struct figure_edge *edge = &figure->edge[k];
        edge->x = (int16_t)((of->corners[k].x_um - figure->x) >> figure->shift);
        edge->y = (int16_t)((of->corners[k].y_um - figure->y) >> figure->shift);
    }
    for (uint8_t k = 0; k < figure->edge_count; k++) {
        struct figure_edge *edge = &figure->edge[k],
                           *next = &figure->edge[k + 1u < figure->edge_count ? k + 1u : 0];
        edge->length =
            direction(next->x - (int32_t)edge->x, next->y - (int32_t)edge->y, &edge->ux, &edge->uy);
    }
}

static int16_t units(const struct figure *figure, int32_t um)
{
    int32_t size = um >> figure->shift;
    return (int16_t)(size > 32767 ? 32767 : size);
}

/* What it is around, before its width and soft edge; and how far those go beyond. */
static int32_t outline(struct figure *figure, const struct dia_figure *of, int32_t pitch_um)
{
    struct dia_point a = of->at, b = of->at;
    int32_t beyond = 0, reach = pitch_um / 2, size = of->size_um ? of->size_um : pitch_um;
    figure->edge_count = 0;
    switch (of->kind) {
    case DIA_FIGURE_LINE:
        beyond = of->width_um ? of->width_um : pitch_um; /* slanted, more than half of it */
        b = of->to;
        break;
    case DIA_FIGURE_RECTANGLE:
        b = of->to;
        break;
    case DIA_FIGURE_POLYGON:
        figure->edge_count = of->corner_count;
        box_of_corners(figure, of);
        return 0;
    case DIA_FIGURE_SPRITE:
        b.x_um += size * dia_sprite_within_reach(size, of->sprite->columns);
        b.y_um += size * dia_sprite_within_reach(size, of->sprite->rows);
        break;
    case DIA_FIGURE_DISC:
        reach = of->size_um;
        /* fall through */
    default: /* the cell around a point */
        a.x_um -= reach;
        a.y_um -= reach;
        b.x_um += reach;
        b.y_um += reach;
        break;
    }
    box(figure, a, b);
    return beyond;
}

/* How wide an edge is: a whole number of pitches, over which all elements together keep their light
 * wherever it lies. */
static int32_t in_pitches(int32_t soft_um, int32_t pitch_um)
{
    int32_t pitches = soft_um / pitch_um + (soft_um % pitch_um >= pitch_um - pitch_um / 2);
    return pitch_um * (pitches ? pitches : 1);
}

void dia_figure_make(struct figure *figure, const struct dia_figure *of,
                     const struct dia_surface *surface, struct dia_point every)
{
    int32_t pitch_um = surface->pitch_um < MOST_PITCH ? surface->pitch_um : MOST_PITCH;
    int32_t soft_um = of->hard ? 0 : in_pitches(of->soft_um, pitch_um);
    figure->of = of;
    figure->every = every;
    figure->margin_um = soft_um;
    int32_t beyond = outline(figure, of, pitch_um) + soft_um + soft_um / 2 + 1;
    int32_t width = figure->right - figure->left, height = figure->bottom - figure->top;
    figure->x = figure->left + width / 2;
    figure->y = figure->top + height / 2;
    int32_t reach = larger(width, height) / 2 + beyond;
    figure->shift = 0;
    while (reach >> figure->shift > MOST)
        figure->shift++;
    figure->left -= beyond;
    figure->right += beyond;
    figure->top -= beyond;
    figure->bottom += beyond;
    figure->half_x = units(figure, width / 2);
    figure->half_y = units(figure, height / 2);
    figure->width = units(figure, of->width_um ? of->width_um : pitch_um);
    figure->pitch = units(figure, pitch_um);
    figure->soft = units(figure, soft_um);
    if (of->kind == DIA_FIGURE_LINE) {
        int32_t dx = (of->to.x_um - of->at.x_um) >> figure->shift;
        int32_t dy = (of->to.y_um - of->at.y_um) >> figure->shift;
        figure->half_x = (int16_t)(direction(dx, dy, &figure->ux, &figure->uy) / 2);
        figure->half_y = figure->width / 2;
        /* an element looks wider from there: half of that keeps both its light and its shape */
        int32_t wide = (UNIT + size_of(figure->ux) + size_of(figure->uy)) / 2;
        figure->soft = (int16_t)(wide * figure->soft / UNIT);
    } else if (of->kind == DIA_FIGURE_POLYGON) {
        make_edges(figure, of);
    } else if (of->kind == DIA_FIGURE_SPRITE) {
        dia_sprite_make(figure, width, height, pitch_um);
    }
    figure->slope = figure->soft ? 0x1000000u / (uint32_t)figure->soft : 0;
}

/* r times the cosine of a phase: the sine of signal.h is (1 - cos) / 2. */
static int32_t cosine_of(int32_t r, dia_phase phase)
{
    int32_t c = 32767 - (int32_t)dia_signal_sine(phase);
    return (r >> 15) * c + ((r & 32767) * c >> 15);
}

void dia_corners_regular(struct dia_point *corners, uint8_t n, struct dia_point middle,
                         int32_t radius_um, dia_phase turned)
{
    for (uint8_t k = 0; k < n; k++) {
        dia_phase phase = turned + k * (UINT32_MAX / n);
        corners[k].x_um = middle.x_um + cosine_of(radius_um, phase - 0x40000000u);
        corners[k].y_um = middle.y_um - cosine_of(radius_um, phase);
    }
}

/* ---- one element ----------------------------------------------------------------------------- */

/* How much of an edge that goes from nothing to all is covered, so far inside it. */
static uint16_t inside(const struct figure *figure, int32_t in)
{
    int32_t half = figure->soft / 2;
    if (in >= half)
        return in > 0 ? 65535u : 0; /* with a hard edge, what is just on it is not covered */
    if (in <= -half)
        return 0;
    int32_t level = 32768 + (in * (int32_t)figure->slope >> 8);
    return level > 65535 ? 65535u : level < 0 ? 0 : (uint16_t)level;
}

/* Between two edges, each so far from the middle. */
static uint16_t between(const struct figure *figure, int32_t off, int32_t half)
{
    uint32_t both =
        (uint32_t)inside(figure, half - size_of(off)) + inside(figure, half + size_of(off));
    return both > 65535u ? (uint16_t)(both - 65535u) : 0;
}

static uint16_t in_box(const struct figure *figure, int32_t x, int32_t y, int32_t half_x,
                       int32_t half_y)
{
    if (half_x <= 0 || half_y <= 0)
        return 0;
    uint32_t across = between(figure, x, half_x), down = between(figure, y, half_y);
    return (uint16_t)((across * down + 65535u) >> 16);
}

/* An element and a disc that is not much larger: the mean of 8 chords, of smaller ones up to 32. */
static uint16_t in_chords(const struct figure *figure, int32_t x, int32_t y, int32_t radius)
{
    int32_t pitch = figure->pitch, top = y - pitch / 2, bottom = top + pitch, sum = 0;
    uint8_t bits = radius < pitch / 2 ? 5 : radius < pitch ? 4 : 3;
    for (int32_t k = 1 - (1 << bits); k < 1 << bits; k += 2) {
        int32_t off = x + (k * pitch >> (bits + 1)), left = radius * radius - off * off;
        if (left <= 0)
            continue;
        int32_t half = dia_polar_root((uint32_t)left);
        int32_t low = larger(top, -half), high = bottom < half ? bottom : half;
        sum += high > low ? high - low : 0;
    }
    uint32_t level = (uint32_t)sum * (figure->slope >> 4) >> (bits + 4);
    return level > 65535u ? 65535u : (uint16_t)level;
}

static uint16_t in_disc(const struct figure *figure, int32_t x, int32_t y, int32_t radius)
{
    if (radius <= 0)
        return 0;
    int32_t off = dia_polar_root((uint32_t)(x * x + y * y)), pitch = figure->pitch;
    if (figure->soft != pitch || radius >= 3 * pitch || off >= radius + pitch ||
        off <= radius - pitch)
        return between(figure, off, radius);
    return in_chords(figure, x, y, radius);
}

/* How far a place is outside (below 0: inside) of a polygon. */
static int32_t off_polygon(const struct figure *figure, int32_t x, int32_t y)
{
    uint32_t least = UINT32_MAX;
    uint8_t odd = 0;
    for (uint8_t k = 0; k < figure->edge_count; k++) {
        const struct figure_edge *a = &figure->edge[k],
                                 *b = &figure->edge[k + 1u < figure->edge_count ? k + 1u : 0];
        int32_t dx = x - a->x, dy = y - a->y;
        int32_t along = (dx * a->ux + dy * a->uy) / UNIT, across = (dx * a->uy - dy * a->ux) / UNIT;
        if (along < 0)
            across = dia_polar_root((uint32_t)(dx * dx + dy * dy));
        uint32_t square = (uint32_t)(across * across);
        if (along <= a->length && square < least)
            least = square;
        /* a ray to the right crosses this edge: both products below 2^29 */
        if ((a->y > y) != (b->y > y)) {
            int32_t side = (b->x - (int32_t)a->x) * dy - (b->y - (int32_t)a->y) * dx;
            if ((side > 0) == (b->y > a->y))
                odd = !odd;
        }
    }
    int32_t off = dia_polar_root(least);
    return odd ? -off : off;
}

/* All of it, or what is so far inside its edge. */
static uint16_t cover(const struct figure *figure, int32_t x, int32_t y, int16_t less)
{
    uint8_t kind = figure->of->kind;
    if (kind == DIA_FIGURE_DISC)
        return in_disc(figure, x, y, figure->half_x - less);
    if (kind == DIA_FIGURE_POLYGON)
        return inside(figure, -off_polygon(figure, x, y) - less);
    if (kind == DIA_FIGURE_LINE) { /* turned to lie along x */
        int32_t along = (x * figure->ux + y * figure->uy) / UNIT;
        y = (x * figure->uy - y * figure->ux) / UNIT;
        x = along;
    }
    return in_box(figure, x, y, figure->half_x - less, figure->half_y - less);
}

uint16_t dia_figure_cover(const struct figure *figure, int32_t x_um, int32_t y_um)
{
    if (x_um < figure->left || x_um > figure->right || y_um < figure->top || y_um > figure->bottom)
        return 0;
    int32_t x = (x_um - figure->x) >> figure->shift, y = (y_um - figure->y) >> figure->shift;
    uint16_t all = cover(figure, x, y, 0);
    if (all == 0 || figure->of->filled || figure->of->kind < DIA_FIGURE_RECTANGLE)
        return all;
    uint16_t hole = cover(figure, x, y, figure->width);
    return hole < all ? (uint16_t)(all - hole) : 0;
}
