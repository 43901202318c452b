/* SPDX-License-Identifier: MIT */
#include <diachrome/signal.h>

#include "figure.h"

#define CELL_BITS 23 /* of a part of a cell: 255 cells fit 32 bits */

int32_t dia_sprite_within_reach(int32_t size_um, int32_t cells)
{
    while (cells > 1 && size_um > 1500000000 / cells)
        cells--;
    return cells;
}

void dia_sprite_make(struct figure *figure, int32_t width_um, int32_t height_um, int32_t pitch_um)
{
    const struct dia_figure *of = figure->of;
    uint32_t units = (uint32_t)(width_um >> figure->shift);
    figure->sprite.cell_um = of->size_um ? of->size_um : pitch_um;
    figure->sprite.width_um = width_um;
    figure->sprite.height_um = height_um;
    figure->sprite.element_um = of->hard ? 1 : pitch_um;
    figure->sprite.per_element = 0x80000000u / (uint32_t)figure->sprite.element_um;
    uint32_t cells = (uint32_t)(width_um / figure->sprite.cell_um);
    figure->sprite.per_unit = units ? (cells << CELL_BITS) / units : 0;
}

/* Along one axis: what lies on the element, from and to within the sprite, and the cell there. */
struct along {
    int32_t start, from, to; /* start: where the element begins */
    int32_t cell;
};

static int along_make(struct along *along, const struct figure *figure, int32_t place_um,
                      int32_t at_um, int32_t size, int32_t every_um)
{
    int32_t place = place_um - at_um;
    int32_t element = figure->sprite.element_um, cell_um = figure->sprite.cell_um;
    along->start = place - element / 2;
    along->from = along->start > 0 ? along->start : 0;
    along->to = size - along->start < element ? size : along->start + element;
    if (every_um != 0) { /* what is beyond the end of its copy is cut off */
        along->from = along->from > -at_um ? along->from : -at_um;
        along->to = along->to < every_um - at_um ? along->to : every_um - at_um;
    }
    if (along->to <= along->from)
        return 0;
    int32_t cell =
        (int32_t)((uint32_t)(along->from >> figure->shift) * figure->sprite.per_unit >> CELL_BITS);
    while (cell * cell_um > along->from) /* it is the one or its neighbour */
        cell--;
    while (along->from - cell * cell_um >= cell_um)
        cell++;
    along->cell = cell;
    return 1;
}

/* The part of the element up to a place, in 256ths; the next part begins there. */
static uint32_t part_to(const struct figure *figure, const struct along *along, int32_t place)
{
    uint32_t way = (uint32_t)((place < along->to ? place : along->to) - along->start);
    return (way * figure->sprite.per_element + 0x400000u) >> 23;
}

static const DIA_ROM uint8_t *picture_at(const struct dia_sprite *sprite, uint32_t ms)
{
    uint32_t picture = 0;
    if (sprite->pictures > 1 && sprite->each_ms) {
        dia_phase turn = dia_phase_at(ms, (uint32_t)sprite->pictures * sprite->each_ms);
        picture = (turn >> 16) * sprite->pictures >> 16;
    }
    return sprite->cells + picture * sprite->columns * sprite->rows;
}

static void add(struct cover *cover, const DIA_ROM struct dia_rgb *colour, uint32_t part)
{
    cover->r += dia_light_of(colour->r) * part;
    cover->g += dia_light_of(colour->g) * part;
    cover->b += dia_light_of(colour->b) * part;
    cover->part += part;
}

void dia_sprite_cover(const struct figure *figure, uint32_t ms, int32_t x_um, int32_t y_um,
                      struct cover *cover)
{
    const struct dia_sprite *sprite = figure->of->sprite;
    struct along across, down;
    if (x_um < figure->left || x_um > figure->right || y_um < figure->top || y_um > figure->bottom)
        return;
    const struct dia_point *at = &figure->of->at;
    if (!along_make(&across, figure, x_um, at->x_um, figure->sprite.width_um, figure->every.x_um) ||
        !along_make(&down, figure, y_um, at->y_um, figure->sprite.height_um, figure->every.y_um))
        return;
    const DIA_ROM uint8_t *cells = picture_at(sprite, ms);
    uint32_t above = part_to(figure, &down, down.from);
    for (int32_t row = down.cell, y = row; y < down.to; row++) {
        y = (row + 1) * figure->sprite.cell_um;
        uint32_t below = part_to(figure, &down, y), left = part_to(figure, &across, across.from);
        for (int32_t column = across.cell, x = column; x < across.to; column++) {
            x = (column + 1) * figure->sprite.cell_um;
            uint32_t right = part_to(figure, &across, x);
            uint8_t colour = cells[row * sprite->columns + column];
            if (colour)
                add(cover, &sprite->colours[colour - 1], (right - left) * (below - above));
            left = right;
        }
        above = below;
    }
}
