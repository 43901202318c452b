/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>

#include "lengths.h"

/* How far along an element lies, in pitches. */
static uint32_t place_of(const struct dia_fold *fold, uint32_t i)
{
    return i < fold->there ? i : 2u * fold->there - 1u - i;
}

static void fold_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                        struct dia_point *out)
{
    const struct dia_fold *fold = (const struct dia_fold *)surface->of;
    for (uint32_t i = first; n != 0; n--, i++, out++) {
        out->x_um = pitches_um(place_of(fold, i), surface->pitch_um);
        out->y_um = i < fold->there ? 0 : fold->gap_um;
    }
}

static void fold_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    const struct dia_fold *fold = (const struct dia_fold *)surface->of;
    int32_t span = pitches_um(fold->there - 1u, surface->pitch_um);
    bounds->left_um = bounds->top_um = 0;
    bounds->width_um = bounds->length_um = lengths_um(span, surface->pitch_um);
    bounds->height_um = lengths_um(fold->gap_um, surface->pitch_um);
    bounds->middle_x_um = span / 2;
    bounds->middle_y_um = fold->gap_um / 2;
    bounds->reach_um = some_um(lengths_um(span, fold->gap_um) / 2); /* more than the diagonal */
}

static int fold_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                       uint32_t n, uint16_t *out)
{
    const struct dia_fold *fold = (const struct dia_fold *)surface->of;
    uint32_t step = UINT32_MAX / fold->there;
    if (axis != DIA_ALONG && axis != DIA_X && axis != DIA_SIDE)
        return 0;
    for (uint32_t i = first; n != 0; n--, i++) {
        uint16_t side = i < fold->there ? 0 : 32768u;
        *out++ = axis == DIA_SIDE ? side : (uint16_t)((place_of(fold, i) * step + 0x8000u) >> 16);
    }
    return 1;
}

static const DIA_ROM struct dia_layout layout = {fold_points, fold_bounds, fold_shares};

enum dia_status dia_surface_fold(struct dia_surface *surface, const struct dia_fold *fold,
                                 uint32_t count, int32_t pitch_um)
{
    struct dia_surface line;
    if (fold->there == 0 || fold->there > count || count - fold->there > fold->there ||
        fold->gap_um < 0 || dia_surface_line(&line, count, 0, pitch_um) != DIA_OK ||
        fold->gap_um > INT32_MAX / 2 - pitches_um(count - 1u, pitch_um) / 2 ||
        fold->gap_um > INT32_MAX - pitch_um)
        return DIA_BAD_VALUE;
    line.layout = &layout;
    line.of = fold;
    *surface = line;
    return DIA_OK;
}
