/* SPDX-License-Identifier: MIT */
#include <diachrome/path.h>

#include "../layout/polar.h"

/*
 * All is worked out from the first point, in units so large that what the points reach over fits 14
 * bits. A curve is eight straight pieces from point to point.
 */
#define PIECES 8u

struct place {
    int32_t x, y;
};

struct way {
    struct place points[DIA_PATH_POINTS];
    uint8_t last;  /* of them */
    uint8_t shift; /* a unit is 2^shift um */
    uint8_t pieces;
};

static uint32_t size_of(int32_t from, int32_t to)
{
    return from < to ? (uint32_t)to - (uint32_t)from : (uint32_t)from - (uint32_t)to;
}

static void begin(struct way *way, const struct dia_path *path)
{
    const struct dia_point *first = path->points;
    uint32_t most = 0;
    way->last = (uint8_t)((path->count < DIA_PATH_POINTS ? path->count : DIA_PATH_POINTS) - 1u);
    for (uint8_t k = 1; k <= way->last; k++) {
        uint32_t x = size_of(first->x_um, path->points[k].x_um),
                 y = size_of(first->y_um, path->points[k].y_um);
        most = x > most ? x : most;
        most = y > most ? y : most;
    }
    way->pieces = path->curved ? PIECES : 1;
    for (way->shift = 0; most >> way->shift > 16383u;)
        way->shift++;
    for (uint8_t k = 0; k <= way->last; k++) {
        int32_t unit = (int32_t)1 << way->shift;
        way->points[k].x = (path->points[k].x_um - first->x_um) / unit;
        way->points[k].y = (path->points[k].y_um - first->y_um) / unit;
    }
}

/* Catmull and Rom: through b and c, with the slopes of a to c and of b to d. t: 4096ths. */
static int32_t curve(int32_t a, int32_t b, int32_t c, int32_t d, int32_t t)
{
    int32_t cube = 3 * (b - c) + d - a, square = 2 * a - 5 * b + 4 * c - d, slope = c - a;
    int32_t sum = cube * t / 4096 + square;
    sum = sum * t / 4096 + slope;
    return b + sum * t / 8192;
}

/* The end of a piece, counted from 0 at the first point. Before the first and behind the last point
 * a curve goes on as if they were there twice. */
static struct place corner(const struct way *way, uint8_t number)
{
    uint8_t from = number / way->pieces, part = number % way->pieces;
    int32_t t = (int32_t)part * (int32_t)(4096u / PIECES);
    const struct place *b = &way->points[from < way->last ? from : way->last], *a, *c, *d;
    struct place at = *b;
    if (part == 0 || from >= way->last)
        return at;
    a = from ? b - 1 : b;
    c = b + 1;
    d = from + 1 < way->last ? b + 2 : c;
    at.x = curve(a->x, b->x, c->x, d->x, t);
    at.y = curve(a->y, b->y, c->y, d->y, t);
    return at;
}

static uint32_t between(const struct place *a, const struct place *b)
{
    int32_t x = b->x - a->x, y = b->y - a->y;
    return dia_polar_root((uint32_t)(x * x) + (uint32_t)(y * y));
}

static uint8_t corners_of(const struct way *way)
{
    return (uint8_t)(way->last * way->pieces);
}

static uint32_t length_of(const struct way *way)
{
    uint32_t sum = 0;
    uint8_t corners = corners_of(way);
    struct place a = corner(way, 0);
    for (uint8_t k = 1; k <= corners; k++) {
        struct place b = corner(way, k);
        sum += between(&a, &b);
        a = b;
    }
    return sum;
}

/* How far along it is at a time, of 65535. */
static uint16_t part_at(const struct dia_path *path, uint32_t ms)
{
    uint16_t part;
    if (path->end == DIA_PATH_STAYS && ms >= path->over_ms)
        part = 65535u;
    else if (path->end == DIA_PATH_BACK)
        part = (uint16_t)(dia_phase_there_and_back(dia_phase_at(ms, 2 * path->over_ms)) >> 16);
    else
        part = (uint16_t)(dia_phase_at(ms, path->over_ms) >> 16);
    return path->ease ? dia_ease_run(path->ease, part) : part;
}

struct dia_point dia_path_at(const struct dia_path *path, uint32_t ms)
{
    struct way way;
    struct dia_point at = path->points[0];
    uint16_t part = part_at(path, ms);
    begin(&way, path);
    uint32_t length = length_of(&way), left;
    /* length * part / 65536, which takes 40 bits */
    left = (length >> 16) * part + ((length & 0xffffu) * part >> 16);
    struct place a = corner(&way, 0), b = a;
    uint32_t piece = 0;
    for (uint8_t k = 1, corners = corners_of(&way); k <= corners; k++) {
        a = b;
        b = corner(&way, k);
        piece = between(&a, &b);
        if (left <= piece)
            break;
        left -= piece;
    }
    if (left > piece || part == 65535u)
        left = piece;
    if (piece) {
        a.x += (b.x - a.x) * (int32_t)left / (int32_t)piece;
        a.y += (b.y - a.y) * (int32_t)left / (int32_t)piece;
    }
    at.x_um += a.x * ((int32_t)1 << way.shift);
    at.y_um += a.y * ((int32_t)1 << way.shift);
    return at;
}

int32_t dia_path_length_um(const struct dia_path *path)
{
    struct way way;
    begin(&way, path);
    uint32_t length = length_of(&way), most = (uint32_t)INT32_MAX >> way.shift;
    return (int32_t)((length > most ? most : length) << way.shift);
}
