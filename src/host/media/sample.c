/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <string.h>

#include <diachrome/picture.h>

/*
 * An element shows the mean of the part of a frame that it covers, in linear light. Rows are summed
 * in whole numbers (a pixel counts 65536), rows and copies in floating point.
 */
#define PIXEL 65536u

static int32_t wrap(int64_t value, int64_t every)
{
    int64_t rest = value % every;
    return (int32_t)(rest < 0 ? rest + every : rest);
}

/* How much it is moved by scrolling, um, below the distance of its copies. */
static double scrolled(int32_t speed_um_s, uint32_t ms, double every)
{
    return (double)wrap((int64_t)speed_um_s * ms / 1000, (int64_t)fmax(every, 1));
}

void dia_picture_lay(struct dia_picture_lie *lie, const struct dia_picture *picture,
                     const struct dia_film_frame *frame, const struct dia_rectangle *ground,
                     int32_t pitch_um, uint32_t ms)
{
    int turned = picture->turn % 2;
    double columns = turned ? frame->rows : frame->columns,
           rows = turned ? frame->columns : frame->rows;
    double over_x = ground->width_um / columns, over_y = ground->height_um / rows, x = over_x,
           y = over_y;
    if (picture->scale == DIA_PICTURE_FIT)
        x = y = fmin(over_x, over_y);
    else if (picture->scale == DIA_PICTURE_FILL)
        x = y = fmax(over_x, over_y);
    else if (picture->scale == DIA_PICTURE_PLACE)
        x = y = picture->width_um ? picture->width_um / columns : pitch_um;
    memset(lie, 0, sizeof *lie);
    lie->frame = *frame;
    lie->turn = (uint8_t)picture->turn;
    lie->mirror = (uint8_t)picture->mirror;
    lie->width = columns * x;
    lie->height = rows * y;
    lie->left = ground->left_um + picture->x_um;
    lie->top = ground->top_um + picture->y_um;
    if (picture->scale != DIA_PICTURE_PLACE) { /* in the middle */
        lie->left += (ground->width_um - lie->width) / 2;
        lie->top += (ground->height_um - lie->height) / 2;
    }
    if (picture->speed_x_um_s) {
        lie->every_x = lie->width + picture->gap_um;
        lie->left += scrolled(picture->speed_x_um_s, ms, lie->every_x);
    }
    if (picture->speed_y_um_s) {
        lie->every_y = lie->height + picture->gap_um;
        lie->top += scrolled(picture->speed_y_um_s, ms, lie->every_y);
    }
    for (unsigned code = 0; code < 256; code++)
        lie->light[code] = dia_light_of((uint8_t)code);
}

/* ---- a part of a frame ----------------------------------------------------------------------- */

/* Light of the three channels and how much is covered, each times an area in pixels. */
struct sum {
    double light[3], cover;
};

/* From a to b in pixels: whole ones from first to last - 1, and parts at both ends. */
struct span {
    uint32_t first, last;
    uint32_t before, behind; /* 65536ths of the pixel before first, and of pixel last */
};

/* 0 <= a < b <= n */
static struct span span_of(double a, double b, uint32_t n)
{
    struct span span = {(uint32_t)ceil(a), (uint32_t)b, 0, 0};
    if (span.first > span.last) { /* within one pixel */
        span.before = (uint32_t)((b - a) * PIXEL + 0.5);
        span.last = span.first;
        return span;
    }
    span.before = (uint32_t)((span.first - a) * PIXEL + 0.5);
    span.behind = span.last < n ? (uint32_t)((b - span.last) * PIXEL + 0.5) : 0;
    return span;
}

struct row {
    uint64_t light[3], cover;
};

/* Parts of pixels at both ends are multiplied; whole ones between are added, and multiplied once.
 */
static void add_opaque(struct row *row, const uint16_t *light, const uint32_t *pixels,
                       const struct span *x)
{
    uint64_t r = 0, g = 0, b = 0;
    for (uint32_t k = x->first; k < x->last; k++) {
        uint32_t pixel = pixels[k];
        r += light[pixel & 255];
        g += light[pixel >> 8 & 255];
        b += light[pixel >> 16 & 255];
    }
    r *= PIXEL;
    g *= PIXEL;
    b *= PIXEL;
    if (x->before) {
        uint32_t pixel = pixels[x->first - 1];
        r += (uint64_t)light[pixel & 255] * x->before;
        g += (uint64_t)light[pixel >> 8 & 255] * x->before;
        b += (uint64_t)light[pixel >> 16 & 255] * x->before;
    }
    if (x->behind) {
        uint32_t pixel = pixels[x->last];
        r += (uint64_t)light[pixel & 255] * x->behind;
        g += (uint64_t)light[pixel >> 8 & 255] * x->behind;
        b += (uint64_t)light[pixel >> 16 & 255] * x->behind;
    }
    row->light[0] += r;
    row->light[1] += g;
    row->light[2] += b;
    row->cover += (uint64_t)(x->last - x->first) * PIXEL + x->before + x->behind;
}

/* A pixel, counted so much of 65536 and by how opaque it is. */
static void add_pixel(struct row *row, const uint16_t *light, uint32_t pixel, uint32_t weight)
{
    uint64_t w = ((uint64_t)weight * (pixel >> 24) + 127) / 255;
    row->light[0] += light[pixel & 255] * w;
    row->light[1] += light[pixel >> 8 & 255] * w;
    row->light[2] += light[pixel >> 16 & 255] * w;
    row->cover += w;
}

static void add_clear(struct row *row, const uint16_t *light, const uint32_t *pixels,
                      const struct span *x)
{
    if (x->before)
        add_pixel(row, light, pixels[x->first - 1], x->before);
    for (uint32_t k = x->first; k < x->last; k++)
        add_pixel(row, light, pixels[k], PIXEL);
    if (x->behind)
        add_pixel(row, light, pixels[x->last], x->behind);
}

/* Rows first to last - 1, which all count the same. A frame has at most 2^25 pixels, so that the
 * sums stay below 2^57. */
static void add_rows(const struct dia_picture_lie *lie, uint32_t first, uint32_t last,
                     const struct span *x, double weight, struct sum *sum)
{
    const uint32_t *pixels = lie->frame.pixels + (size_t)first * lie->frame.columns;
    struct row row = {{0, 0, 0}, 0};
    for (uint32_t y = first; y < last; y++, pixels += lie->frame.columns) {
        if (lie->frame.opaque)
            add_opaque(&row, lie->light, pixels, x);
        else
            add_clear(&row, lie->light, pixels, x);
    }
    for (int c = 0; c < 3; c++)
        sum->light[c] += (double)row.light[c] * (weight / PIXEL);
    sum->cover += (double)row.cover * (weight / PIXEL);
}

/* A rectangle of the frame in pixels, all of it inside. */
static void add_area(const struct dia_picture_lie *lie, double left, double top, double right,
                     double bottom, struct sum *sum)
{
    struct span x = span_of(left, right, lie->frame.columns),
                y = span_of(top, bottom, lie->frame.rows);
    if (y.before)
        add_rows(lie, y.first - 1, y.first, &x, (double)y.before / PIXEL, sum);
    if (y.first < y.last)
        add_rows(lie, y.first, y.last, &x, 1, sum);
    if (y.behind)
        add_rows(lie, y.last, y.last + 1, &x, (double)y.behind / PIXEL, sum);
}

/* ---- an element ------------------------------------------------------------------------------ */

static double clamp(double value)
{
    return value < 0 ? 0 : value > 1 ? 1 : value;
}

/* A rectangle in shares of the frame as it lies, turned and mirrored. */
static void add_shares(const struct dia_picture_lie *lie, double a0, double b0, double a1,
                       double b1, struct sum *sum)
{
    double u0 = a0, u1 = a1, v0 = b0, v1 = b1;
    if (lie->turn == 1) {
        u0 = b0, u1 = b1, v0 = 1 - a1, v1 = 1 - a0;
    } else if (lie->turn == 2) {
        u0 = 1 - a1, u1 = 1 - a0, v0 = 1 - b1, v1 = 1 - b0;
    } else if (lie->turn == 3) {
        u0 = 1 - b1, u1 = 1 - b0, v0 = a0, v1 = a1;
    }
    if (lie->mirror & 1) {
        double other = 1 - u1;
        u1 = 1 - u0;
        u0 = other;
    }
    if (lie->mirror & 2) {
        double other = 1 - v1;
        v1 = 1 - v0;
        v0 = other;
    }
    add_area(lie, u0 * lie->frame.columns, v0 * lie->frame.rows, u1 * lie->frame.columns,
             v1 * lie->frame.rows, sum);
}

/* The first copy that an element from a on may reach: how far its left edge is moved. */
static double first_copy(double a, double left, double every)
{
    return every > 0 ? floor((a - left) / every) * every : 0;
}

static struct sum seen_by(const struct dia_picture_lie *lie, double left, double top, double right,
                          double bottom)
{
    struct sum sum = {{0, 0, 0}, 0};
    double x = lie->left + first_copy(left, lie->left, lie->every_x);
    double from_y = lie->top + first_copy(top, lie->top, lie->every_y);
    for (int across = 0; across < 2 && x < right; across++, x += lie->every_x) {
        double a0 = clamp((left - x) / lie->width), a1 = clamp((right - x) / lie->width);
        double y = from_y;
        for (int down = 0; down < 2 && y < bottom && a0 < a1; down++, y += lie->every_y) {
            double b0 = clamp((top - y) / lie->height), b1 = clamp((bottom - y) / lie->height);
            if (b0 < b1)
                add_shares(lie, a0, b0, a1, b1, &sum);
            if (lie->every_y <= 0)
                break;
        }
        if (lie->every_x <= 0)
            break;
    }
    return sum;
}

/* As wide as the element; one that is wider than a copy and its gap sees all copies alike. */
static double reach(double pitch, double every)
{
    return every > 0 && every < pitch ? every : pitch;
}

static uint8_t code_over(double light, double cover, uint8_t below)
{
    double all = light + (cover < 1 ? (1 - cover) * dia_light_of(below) : 0);
    return dia_code_of((dia_light)(all >= 65535 ? 65535 : all + 0.5));
}

void dia_picture_points(const struct dia_picture_lie *lie, const struct dia_point *points,
                        uint32_t n, int32_t pitch_um, struct dia_rgb *out, uint8_t *covered)
{
    double wide = reach(pitch_um, lie->every_x), high = reach(pitch_um, lie->every_y);
    int turned = lie->turn % 2;
    double um_x = lie->width / (turned ? lie->frame.rows : lie->frame.columns),
           um_y = lie->height / (turned ? lie->frame.columns : lie->frame.rows);
    double area = wide / um_x * (high / um_y); /* of an element, in pixels */
    for (uint32_t i = 0; i < n; i++) {
        double left = points[i].x_um - wide / 2, top = points[i].y_um - high / 2;
        struct sum sum = seen_by(lie, left, top, left + wide, top + high);
        double cover = sum.cover / area;
        if (covered)
            covered[i] = cover > 0;
        if (cover <= 0)
            continue;
        out[i].r = code_over(sum.light[0] / area, cover, out[i].r);
        out[i].g = code_over(sum.light[1] / area, cover, out[i].g);
        out[i].b = code_over(sum.light[2] / area, cover, out[i].b);
    }
}

/* ---- dots that are lit or not ---------------------------------------------------------------- */

/* Bayer's pattern of 8 by 8: neighbours in the order of turns are as far apart as can be. */
static unsigned turn_of(uint32_t x, uint32_t y)
{
    unsigned turn = 0;
    for (unsigned bit = 0; bit < 3; bit++) {
        unsigned ones = (x ^ y) >> bit & 1, rows = y >> bit & 1;
        turn = turn << 2 | ones << 1 | rows;
    }
    return turn;
}

static int32_t luminance(struct dia_rgb colour)
{
    return (int32_t)(((uint32_t)dia_light_of(colour.r) * 13933u + dia_light_of(colour.g) * 46871u +
                      dia_light_of(colour.b) * 4732u) >>
                     16);
}

static void dot(struct dia_rgb *to, int lit)
{
    memset(to, lit ? 255 : 0, sizeof *to);
}

#define MOST_COLUMNS 2048

static void spread(uint32_t columns, uint32_t rows, struct dia_rgb *dots)
{
    int32_t errors[2][MOST_COLUMNS + 2] = {{0}}; /* 16ths, of this row and the next */
    for (uint32_t y = 0; y < rows; y++) {
        int32_t *here = errors[y & 1] + 1, *next = errors[~y & 1] + 1;
        memset(errors[~y & 1], 0, sizeof errors[0]);
        int back = y & 1; /* there and back, so that nothing leans */
        for (uint32_t k = 0; k < columns; k++) {
            uint32_t x = back ? columns - 1 - k : k;
            int32_t step = back ? -1 : 1, wanted = luminance(dots[y * columns + x]) + here[x] / 16;
            int lit = wanted >= 32768;
            int32_t error = wanted - (lit ? 65535 : 0), at = (int32_t)x;
            dot(&dots[y * columns + x], lit);
            /* at the edges what would go outside goes on too, so that no light is lost */
            int ends = k + 1 == columns, lowest = y + 1 == rows;
            here[at + step] += (lowest ? 16 : 7) * error;
            if (lowest)
                continue;
            next[at - step] += k ? 3 * error : 0;
            next[at] += (5 + (k ? 0 : 3) + (ends ? 8 : 0)) * error;
            next[at + step] += ends ? 0 : error;
        }
    }
}

void dia_picture_dither(enum dia_picture_dither way, uint32_t columns, uint32_t rows,
                        struct dia_rgb *dots)
{
    if (way == DIA_DITHER_SPREAD && columns <= MOST_COLUMNS) {
        spread(columns, rows, dots);
        return;
    }
    for (uint32_t i = 0; i < columns * rows; i++) {
        int32_t least = way == DIA_DITHER_NONE
                            ? 32768
                            : (int32_t)turn_of(i % columns, i / columns) * 1024 + 512;
        dot(&dots[i], luminance(dots[i]) >= least);
    }
}
