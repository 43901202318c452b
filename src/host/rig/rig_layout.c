/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stddef.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>
#include <diachrome/points_file.h>

#include "rig_layout.h"

/* What a layout says in quantities. */
struct said {
    int32_t start_um, pitch_um, diameter_um, gap_um;
    uint32_t columns, rows, there, across, down;
};

/* clang-format off */
#define AT(field) offsetof(struct said, field)
static const struct field line_fields[] = {
    {"start",      HOLDS_QUANTITY, 0, DIA_LENGTH, -1000000000, 1000000000, AT(start_um),    "0 mm"},
    {"reversed",   HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {"pitch",      HOLDS_QUANTITY, 0, DIA_LENGTH, 100, 10000000,           AT(pitch_um),    "16.7 mm"},
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
    {"pitch",      HOLDS_QUANTITY, 0, DIA_LENGTH, 100, 10000000,           AT(pitch_um),    "10 mm"},
    {"runs",       HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "rows"},
    {"corner",     HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "top-left"},
    {"serpentine", HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {"turn",       HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "90"},
    {"mirrored",   HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {0},
};
static const struct field fold_fields[] = {
    {"pitch",      HOLDS_QUANTITY, 0, DIA_LENGTH, 100, 10000000,           AT(pitch_um),    "16.7 mm"},
    {"there",      HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 65535,                AT(there),       "60"},
    {"gap",        HOLDS_QUANTITY, 0, DIA_LENGTH, 0, 100000000,            AT(gap_um),      "40 mm"},
    {0},
};
static const struct field panels_fields[] = {
    {"columns",    HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 255,                  AT(columns),     "8"},
    {"rows",       HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 255,                  AT(rows),        "8"},
    {"pitch",      HOLDS_QUANTITY, 0, DIA_LENGTH, 100, 10000000,           AT(pitch_um),    "10 mm"},
    {"across",     HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 255,                  AT(across),      "2"},
    {"down",       HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 255,                  AT(down),        "2"},
    {"runs",       HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "rows"},
    {"corner",     HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "top-left"},
    {"serpentine", HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "yes"},
    {"order",      HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                    0,               "[1 1, 2 1 turned 90]"},
    {0},
};
#undef AT
/* clang-format on */

enum dia_status dia_rig_read_choice(struct rig_reader *reader, const struct tree_node *node,
                                    const char *what, const char *const *words, uint8_t *choice)
{
    char all[160] = "";
    if (!node)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, what);
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
    return dia_rig_wrong_value(reader, node, "%s is one of: %s; found '%.40s'", what, all,
                               node->text);
}

static enum dia_status read_wiring(struct rig_reader *reader, const struct tree_node *grid,
                                   struct dia_wiring *wiring)
{
    static const char *const runs[] = {"rows", "columns", NULL};
    static const char *const serpentine[] = {"no", "yes", NULL};
    static const char *const corners[] = {"top-left", "top-right", "bottom-left", "bottom-right",
                                          NULL};
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(grid, "runs"), "'runs'", runs,
                                                 &wiring->along_columns);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(grid, "serpentine"), "'serpentine'",
                                     serpentine, &wiring->back_and_forth);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(grid, "corner"), "'corner'", corners,
                                     &wiring->first);
    return status;
}

static enum dia_status turn_grid(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_grid *grid)
{
    static const char *const turns[] = {"0", "90", "180", "270", NULL};
    static const char *const no_yes[] = {"no", "yes", NULL};
    uint8_t turn = 0, mirrored = 0;
    enum dia_status status =
        dia_rig_read_choice(reader, dia_tree_get(node, "turn"), "'turn'", turns, &turn);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(node, "mirrored"), "'mirrored'", no_yes,
                                     &mirrored);
    if (mirrored)
        *grid = dia_grid_mirrored(grid);
    for (; turn; turn--)
        *grid = dia_grid_turned(grid);
    return status;
}

static enum dia_status read_grid(struct rig_reader *reader, const struct tree_node *node,
                                 const char *where, uint32_t count, const struct said *said,
                                 struct dia_rig_layout *layout)
{
    struct dia_wiring wiring = {DIA_TOP_LEFT, 0, 0};
    enum dia_status status = read_wiring(reader, node, &wiring);
    if (status != DIA_OK)
        return status;
    if ((uint64_t)said->columns * said->rows != count)
        return dia_rig_wrong_value(
            reader, node, "%u columns of %u are %llu pixels, but 'count' of %s is %u",
            (unsigned)said->columns, (unsigned)said->rows,
            (unsigned long long)said->columns * said->rows, where, (unsigned)count);
    dia_grid_init(&layout->grid, (uint16_t)said->columns, (uint16_t)said->rows);
    layout->grid.wiring = wiring;
    return turn_grid(reader, node, &layout->grid);
}

static enum dia_status read_panels(struct rig_reader *reader, const struct tree_node *node,
                                   const char *where, uint32_t count, const struct said *said,
                                   struct dia_rig_layout *layout)
{
    struct dia_wiring wiring = {DIA_TOP_LEFT, 0, 0};
    uint64_t panels = (uint64_t)said->across * said->down;
    enum dia_status status = read_wiring(reader, node, &wiring);
    if (status != DIA_OK)
        return status;
    if (panels > DIA_RIG_PANELS)
        return dia_rig_wrong_value(reader, node, "at most %d panels; these are %u", DIA_RIG_PANELS,
                                   (unsigned)panels);
    if (panels * said->columns * said->rows != count)
        return dia_rig_wrong_value(
            reader, node, "%u panels of %u by %u are %u pixels, but %s has %u", (unsigned)panels,
            (unsigned)said->columns, (unsigned)said->rows,
            (unsigned)(panels * said->columns * said->rows), where, (unsigned)count);
    dia_grid_init(&layout->wall.panel, (uint16_t)said->columns, (uint16_t)said->rows);
    layout->wall.panel.wiring = wiring;
    layout->wall.columns = (uint8_t)said->across;
    layout->wall.rows = (uint8_t)said->down;
    layout->wall.count = (uint8_t)panels;
    return dia_rig_read_order(reader, dia_tree_get(node, "order"), layout);
}

static enum dia_status read_fold(struct rig_reader *reader, const struct tree_node *node,
                                 uint32_t count, const struct said *said,
                                 struct dia_rig_layout *layout)
{
    layout->fold.there = said->there ? said->there : (count + 1) / 2;
    layout->fold.gap_um = said->gap_um;
    if (layout->fold.there > count)
        return dia_rig_wrong_value(reader, node, "of %u pixels 'there' takes %u; it is %u to %u",
                                   (unsigned)count, (unsigned)layout->fold.there,
                                   (unsigned)(count + 1) / 2, (unsigned)count);
    if (count - layout->fold.there > layout->fold.there)
        return dia_rig_wrong_value(
            reader, node, "of %u pixels 'there' takes %u, so %u would come back; it is %u to %u",
            (unsigned)count, (unsigned)layout->fold.there, (unsigned)(count - layout->fold.there),
            (unsigned)(count + 1) / 2, (unsigned)count);
    return DIA_OK;
}

/* A file beside the rig file, unless its path begins at the root. */
static enum dia_status read_points(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig *rig, uint32_t count,
                                   struct dia_rig_layout *layout)
{
    struct dia_diagnostic why = {""};
    char path[4096];
    const char *slash = strrchr(reader->path, '/');
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "'points'");
    if (status != DIA_OK)
        return status;
    if (count > DIA_RIG_POINTS - rig->point_count)
        return dia_rig_wrong_value(reader, node, "a rig has at most %d points", DIA_RIG_POINTS);
    int folder = slash && node->text[0] != '/' ? (int)(slash - reader->path) + 1 : 0;
    if (snprintf(path, sizeof path, "%.*s%s", folder, reader->path, node->text) >= (int)sizeof path)
        return dia_rig_wrong_value(reader, node, "the path is too long");
    layout->first_point = rig->point_count;
    status = dia_points_read(path, rig->points + rig->point_count, count, &why);
    if (status == DIA_OK)
        rig->point_count += count;
    return status == DIA_OK ? status : dia_rig_wrong_value(reader, node, "%s", why.text);
}

/* A line from the right, a ring against the clock: a grid of one row whose chain goes back. */
static enum dia_status read_reversed(struct rig_reader *reader, const struct tree_node *node,
                                     uint32_t count, struct dia_rig_layout *layout)
{
    static const char *const no_yes[] = {"no", "yes", NULL};
    uint8_t reversed = 0;
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "reversed"),
                                                 "'reversed'", no_yes, &reversed);
    if (status == DIA_OK)
        dia_grid_init(&layout->grid, (uint16_t)count, 1);
    if (status == DIA_OK && reversed)
        layout->grid.wiring.first = DIA_TOP_RIGHT;
    return status;
}

/* A mean distance for points: of the first to the second, or 10 mm. */
static int32_t pitch_of(const struct dia_rig *rig, const struct dia_rig_layout *layout,
                        uint32_t count)
{
    const struct dia_point *p = rig->points + layout->first_point;
    double far = count > 1 ? hypot(p[1].x_um - p[0].x_um, p[1].y_um - p[0].y_um) : 0;
    return far >= 100 && far <= 1e7 ? (int32_t)far : 10000;
}

/* Which key says how a lane lies; without one it is a line. */
static enum dia_status find_shape(struct rig_reader *reader, const struct tree_node *lane,
                                  const char *where, const char *const *names,
                                  const struct tree_node **node, uint8_t *shape)
{
    for (uint8_t k = 0; names[k]; k++) {
        const struct tree_node *found = dia_tree_get(lane, names[k]);
        if (found && *node)
            return dia_rig_wrong_key(reader, found,
                                     "'%s' and '%s' both say how %s lies; keep one of them",
                                     names[*shape], names[k], where);
        if (found) {
            *node = found;
            *shape = k;
        }
    }
    return DIA_OK;
}

static enum dia_status read_shape(struct rig_reader *reader, const struct tree_node *node,
                                  const char *where, uint32_t count, struct dia_rig *rig,
                                  const struct said *said, struct dia_rig_layout *layout)
{
    switch (layout->shape) {
    case DIA_SHAPE_GRID:
        return read_grid(reader, node, where, count, said, layout);
    case DIA_SHAPE_FOLD:
        return read_fold(reader, node, count, said, layout);
    case DIA_SHAPE_PANELS:
        return read_panels(reader, node, where, count, said, layout);
    case DIA_SHAPE_POINTS:
        return read_points(reader, node, rig, count, layout);
    default:
        return read_reversed(reader, node, count, layout);
    }
}

enum dia_status dia_rig_read_layout(struct rig_reader *reader, const struct tree_node *lane,
                                    const char *where, uint32_t count, struct dia_rig *rig,
                                    struct dia_rig_layout *layout)
{
    static const char *const names[] = {"line", "ring", "grid", "fold", "panels", "points", NULL};
    static const struct field *const fields[] = {line_fields, ring_fields,   grid_fields,
                                                 fold_fields, panels_fields, NULL};
    const struct tree_node *node = NULL;
    struct said said;
    struct dia_rig_lane whole;
    struct dia_rig_lying lying;
    char inside[80];
    memset(&said, 0, sizeof said);
    enum dia_status status = find_shape(reader, lane, where, names, &node, &layout->shape);
    if (status != DIA_OK)
        return status;
    snprintf(inside, sizeof inside, "'%s' of %s", names[layout->shape], where);
    said.pitch_um = layout->shape == DIA_SHAPE_GRID || layout->shape == DIA_SHAPE_PANELS
                        ? 10000  /* as of common panels */
                        : 16700; /* 60 on a metre, as of common strips */
    if (node && fields[layout->shape])
        status = dia_rig_read_fields(reader, node, fields[layout->shape], &said, inside);
    if (status == DIA_OK)
        status = dia_rig_read_gaps(reader, dia_tree_get(lane, "gaps"), count, layout);
    uint32_t placed = count - layout->gap_count;
    if (status == DIA_OK && node)
        status = read_shape(reader, node, where, placed, rig, &said, layout);
    else if (status == DIA_OK)
        status = dia_grid_init(&layout->grid, (uint16_t)placed, 1);
    node = node ? node : lane;
    if (status != DIA_OK)
        return status;
    layout->start_um = said.start_um;
    layout->pitch_um = said.pitch_um;
    if (layout->shape == DIA_SHAPE_RING) /* along the circle; 355 / 113 is pi to 7 places */
        layout->pitch_um = (int32_t)((int64_t)said.diameter_um * 355 / 113 / placed);
    if (layout->shape == DIA_SHAPE_POINTS)
        layout->pitch_um = pitch_of(rig, layout, placed);
    layout->diameter_um = said.diameter_um;
    uint32_t places = layout->shape == DIA_SHAPE_GRID ? layout->grid.columns : count;
    memset(&whole, 0, sizeof whole);
    memset(&lying, 0, sizeof lying);
    whole.count = count;
    if (dia_surface_line(&layout->surface, places, layout->start_um, layout->pitch_um) == DIA_OK) {
        whole.layout = *layout;
        dia_rig_lie(rig, &whole, &lying);
    }
    if (lying.surface.count != placed)
        return dia_rig_wrong_value(reader, node,
                                   "%s is longer than 2147 m, or its pixels lie closer "
                                   "than 1 um; check it and 'count'",
                                   where);
    return DIA_OK;
}

uint32_t dia_rig_pixel_at(const struct dia_rig_lane *lane, uint32_t place)
{
    return dia_grid_element(&lane->layout.grid, (uint16_t)place, 0);
}

void dia_rig_lie(const struct dia_rig *rig, const struct dia_rig_lane *lane,
                 struct dia_rig_lying *lying)
{
    const struct dia_rig_layout *layout = &lane->layout;
    struct dia_surface *surface = &lying->surface;
    uint32_t count = lane->count - layout->gap_count;
    switch (layout->shape) {
    case DIA_SHAPE_RING:
        lying->ring.diameter_um = layout->diameter_um;
        lying->ring.reversed = layout->grid.wiring.first == DIA_TOP_RIGHT;
        dia_surface_ring(surface, &lying->ring, count);
        break;
    case DIA_SHAPE_FOLD:
        dia_surface_fold(surface, &layout->fold, count, layout->pitch_um);
        break;
    case DIA_SHAPE_PANELS:
        lying->wall = layout->wall;
        lying->wall.places = layout->places;
        dia_surface_wall(surface, &lying->wall, layout->pitch_um);
        break;
    case DIA_SHAPE_POINTS:
        dia_surface_places(surface, &lying->places, rig->points + layout->first_point, count,
                           layout->pitch_um);
        break;
    default:
        if (layout->shape == DIA_SHAPE_GRID || layout->grid.wiring.first != DIA_TOP_LEFT)
            dia_surface_grid(surface, &layout->grid, layout->pitch_um);
        else
            dia_surface_line(surface, count, layout->start_um, layout->pitch_um);
    }
}

/* Thousandths of a pitch from the middle of its digit: a..g and the point; of 14 and 16 segments as
 * lamp.h has them. */
static const int16_t segment_places[8][2] = {{0, -550},   {250, -280},  {250, 280}, {0, 550},
                                             {-250, 280}, {-250, -280}, {0, 0},     {410, 550}};
static const int16_t places_14[15][2] = {{0, -550},    {250, -280},  {250, 280},  {0, 550},
                                         {-250, 280},  {-250, -280}, {-125, 0},   {125, 0},
                                         {-125, -280}, {0, -280},    {125, -280}, {-125, 280},
                                         {0, 280},     {125, 280},   {410, 550}};
static const int16_t places_16[17][2] = {
    {-125, -550}, {125, -550},  {250, -280}, {250, 280}, {-125, 550},  {125, 550},
    {-250, 280},  {-250, -280}, {-125, 0},   {125, 0},   {-125, -280}, {0, -280},
    {125, -280},  {-125, 280},  {0, 280},    {125, 280}, {410, 550}};

struct dia_point dia_rig_segment(const struct dia_rig_device *device, uint32_t lamp)
{
    int32_t thousandth = device->pitch_um / 1000;
    uint32_t of = lamp % device->per_digit;
    const int16_t *place = device->per_digit == 15   ? places_14[of]
                           : device->per_digit == 17 ? places_16[of]
                                                     : segment_places[of];
    return (struct dia_point){(int32_t)(lamp / device->per_digit) * device->pitch_um +
                                  thousandth * (480 + place[0]),
                              thousandth * (850 + place[1])};
}
