/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "rig_layout.h"

/* What a layout says in quantities. */
struct said {
    int32_t start_um, pitch_um, diameter_um;
    uint32_t columns, rows;
};

/* clang-format off */
#define AT(field) offsetof(struct said, field)
static const struct field line_fields[] = {
    {"start",      HOLDS_QUANTITY, 0, DIA_LENGTH, -1000000000, 1000000000, AT(start_um),    "0 mm"},
    {"reversed",   HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {"pitch",      HOLDS_QUANTITY, 1, DIA_LENGTH, 100, 10000000,           AT(pitch_um),    "16.7 mm"},
    {0},
};
static const struct field ring_fields[] = {
    {"reversed",   HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {"diameter",   HOLDS_QUANTITY, 1, DIA_LENGTH, 1000, 100000000,         AT(diameter_um), "66 mm"},
    {0},
};
static const struct field grid_fields[] = {
    {"columns",    HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 65535,                AT(columns),     "16"},
    {"rows",       HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 65535,                AT(rows),        "8"},
    {"pitch",      HOLDS_QUANTITY, 1, DIA_LENGTH, 100, 10000000,           AT(pitch_um),    "10 mm"},
    {"runs",       HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "rows"},
    {"corner",     HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "top-left"},
    {"serpentine", HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {0},
};
#undef AT
/* clang-format on */

enum dia_status rig_read_choice(struct rig_reader *reader, const struct tree_node *node,
                                const char *what, const char *const *words, uint8_t *choice)
{
    char all[160] = "";
    if (!node)
        return DIA_OK;
    enum dia_status status = rig_must_be(reader, node, TREE_SCALAR, what);
    if (status != DIA_OK)
        return status;
    for (uint8_t k = 0; words[k]; k++) {
        if (strcmp(words[k], node->text) == 0) {
            *choice = k;
            return DIA_OK;
        }
        size_t used = strlen(all);
        snprintf(all + used, sizeof all - used, "%s%s", used ? ", " : "", words[k]);
    }
    return rig_wrong_value(reader, node, "%s is one of: %s; found '%.40s'", what, all, node->text);
}

static enum dia_status read_way(struct rig_reader *reader, const struct tree_node *grid,
                                uint8_t *way)
{
    static const char *const runs[] = {"rows", "columns", NULL};
    static const char *const serpentine[] = {"no", "yes", NULL};
    static const char *const corners[] = {"top-left", "top-right", "bottom-left", "bottom-right",
                                          NULL};
    uint8_t run = 0, snake = 0, corner = 0;
    enum dia_status status = rig_read_choice(reader, tree_get(grid, "runs"), "'runs'", runs, &run);
    if (status == DIA_OK)
        status = rig_read_choice(reader, tree_get(grid, "serpentine"), "'serpentine'", serpentine,
                                 &snake);
    if (status == DIA_OK)
        status = rig_read_choice(reader, tree_get(grid, "corner"), "'corner'", corners, &corner);
    *way = (uint8_t)((run ? DIA_GRID_BY_COLUMN : 0) | (snake ? DIA_GRID_SERPENTINE : 0) |
                     (corner & 1 ? DIA_GRID_RIGHT : 0) | (corner & 2 ? DIA_GRID_BOTTOM : 0));
    return status;
}

static enum dia_status read_grid(struct rig_reader *reader, const struct tree_node *node,
                                 const char *where, uint32_t count, const struct said *said,
                                 struct dia_rig_layout *layout)
{
    uint8_t way;
    enum dia_status status = read_way(reader, node, &way);
    if (status != DIA_OK)
        return status;
    if ((uint64_t)said->columns * said->rows != count)
        return rig_wrong_value(
            reader, node, "%u columns of %u are %llu pixels, but 'count' of %s is %u",
            (unsigned)said->columns, (unsigned)said->rows,
            (unsigned long long)said->columns * said->rows, where, (unsigned)count);
    dia_grid_init(&layout->grid, (uint16_t)said->columns, (uint16_t)said->rows, way);
    return DIA_OK;
}

/* A line from the right, a ring against the clock: a grid of one row whose chain goes back. */
static enum dia_status read_reversed(struct rig_reader *reader, const struct tree_node *node,
                                     uint32_t count, struct dia_rig_layout *layout)
{
    static const char *const no_yes[] = {"no", "yes", NULL};
    uint8_t reversed = 0;
    enum dia_status status =
        rig_read_choice(reader, tree_get(node, "reversed"), "'reversed'", no_yes, &reversed);
    if (status == DIA_OK)
        dia_grid_init(&layout->grid, (uint16_t)count, 1, reversed ? DIA_GRID_RIGHT : 0);
    return status;
}

enum dia_status rig_read_layout(struct rig_reader *reader, const struct tree_node *lane,
                                const char *where, uint32_t count, struct dia_rig_layout *layout)
{
    static const char *const names[] = {"line", "ring", "grid"};
    static const struct field *const fields[] = {line_fields, ring_fields, grid_fields};
    const struct tree_node *node = NULL;
    struct said said = {0, 0, 0, 0, 0};
    char inside[80];
    for (uint8_t k = 0; k < 3; k++) {
        const struct tree_node *found = tree_get(lane, names[k]);
        if (found && node)
            return rig_wrong_key(reader, found,
                                 "'%s' and '%s' both say how %s lies; keep one of them",
                                 names[layout->shape], names[k], where);
        if (found) {
            node = found;
            layout->shape = k;
        }
    }
    if (!node)
        return rig_wrong_key(reader, lane,
                             "%s has no 'line', 'ring' or 'grid'; write 'line: { pitch: 16.7 mm }'",
                             where);
    snprintf(inside, sizeof inside, "'%s' of %s", names[layout->shape], where);
    enum dia_status status = rig_read_fields(reader, node, fields[layout->shape], &said, inside);
    if (status == DIA_OK && layout->shape == DIA_SHAPE_GRID)
        status = read_grid(reader, node, where, count, &said, layout);
    if (status == DIA_OK && layout->shape != DIA_SHAPE_GRID)
        status = read_reversed(reader, node, count, layout);
    if (status != DIA_OK)
        return status;
    layout->start_um = said.start_um;
    layout->pitch_um = said.pitch_um;
    if (layout->shape == DIA_SHAPE_RING) /* along the circle; 355 / 113 is pi to 7 places */
        layout->pitch_um = (int32_t)((int64_t)said.diameter_um * 355 / 113 / count);
    layout->diameter_um = said.diameter_um;
    uint32_t places = layout->shape == DIA_SHAPE_GRID ? said.columns : count;
    if (dia_surface_line(&layout->surface, places, layout->start_um, layout->pitch_um) != DIA_OK)
        return rig_wrong_value(reader, node,
                               "%s is longer than 2147 m, or its pixels lie closer "
                               "than 1 um; check it and 'count'",
                               where);
    return DIA_OK;
}

uint32_t dia_rig_pixel_at(const struct dia_rig_lane *lane, uint32_t place)
{
    return dia_grid_element(&lane->layout.grid, (uint16_t)place, 0);
}

void dia_rig_lie(const struct dia_rig_lane *lane, struct dia_rig_lying *lying)
{
    const struct dia_rig_layout *layout = &lane->layout;
    lying->surface = layout->surface;
    if (layout->shape == DIA_SHAPE_RING) {
        lying->ring.diameter_um = layout->diameter_um;
        lying->ring.reversed = (layout->grid.way & DIA_GRID_RIGHT) != 0;
        dia_surface_ring(&lying->surface, &lying->ring, lane->count);
    } else if (layout->shape == DIA_SHAPE_GRID || layout->grid.way) {
        dia_surface_grid(&lying->surface, &layout->grid, layout->pitch_um);
    }
}
