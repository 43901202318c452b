/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/reel.h>

#include "tile.h"

#define MOST_ROWS 32 /* of a tile that is no grid */

static struct dia_rgb pixel(const struct tile *tile, uint32_t i)
{
    return dia_player_seen(tile->player, tile->number, i);
}

static struct dia_rgb lamp(const struct tile *tile, uint32_t i)
{
    return dia_player_lamp_seen(tile->player, tile->number, i);
}

/* In rows of one length; lines of two rows where there are few. */
static void draw_line(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    uint32_t count = tile->rig->lanes[tile->number].count;
    for (uint32_t i = 0; i < count; i++)
        canvas_light(canvas, row + (int)i / tile->width, column + (int)i % tile->width,
                     pixel(tile, dia_rig_pixel_at(&tile->rig->lanes[tile->number], i)));
}

static void draw_lamps(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    const struct dia_rig_device *device = &tile->rig->devices[tile->number];
    for (uint32_t i = 0; i < device->lamps; i++)
        canvas_light(canvas, row + (int)i / tile->width, column + (int)i % tile->width,
                     lamp(tile, i));
}

/* Two rows of a grid in one row of the screen, or one by one without colours. */
static void draw_grid(const struct tile *tile, struct canvas *canvas, int row, int column,
                      struct dia_rgb (*at)(const struct tile *tile, int x, int y), int rows)
{
    static const struct dia_rgb none = {0, 0, 0};
    for (int y = 0; y < tile->height; y++) {
        for (int x = 0; x < tile->width; x++) {
            if (!canvas->in_colour)
                canvas_light(canvas, row + y, column + x, at(tile, x, y));
            else
                canvas_lights(canvas, row + y, column + x, at(tile, x, 2 * y),
                              2 * y + 1 < rows ? at(tile, x, 2 * y + 1) : none);
        }
    }
}

static struct dia_rgb pixel_at(const struct tile *tile, int x, int y)
{
    const struct dia_grid *grid = &tile->rig->lanes[tile->number].layout.grid;
    return pixel(tile, dia_grid_element(grid, (uint16_t)x, (uint16_t)y));
}

static void draw_pixels(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    draw_grid(tile, canvas, row, column, pixel_at, tile->rig->lanes[tile->number].layout.grid.rows);
}

/* Which pixel lies in a cell of the tile, of those whose places make no grid; none: dark. */
static struct dia_rgb point_at(const struct tile *tile, int x, int y)
{
    const struct dia_rig_lane *lane = &tile->rig->lanes[tile->number];
    struct dia_rig_lying lying;
    struct dia_bounds bounds;
    uint32_t element = 0, gap = 0;
    dia_rig_lie(tile->rig, lane, &lying);
    dia_surface_bounds(&lying.surface, &bounds);
    for (uint32_t i = 0; i < lane->count; i++) {
        if (gap < lane->layout.gap_count && lane->layout.gaps[gap] == i) {
            gap++;
            continue;
        }
        struct dia_point at = dia_surface_point(&lying.surface, element++);
        if ((int64_t)(at.x_um - bounds.left_um) * tile->width / bounds.width_um == x &&
            (int64_t)(at.y_um - bounds.top_um) * tile->rows / bounds.height_um == y)
            return pixel(tile, i);
    }
    return (struct dia_rgb){0, 0, 0};
}

static void draw_points(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    draw_grid(tile, canvas, row, column, point_at, tile->rows);
}

/* As many columns and rows as there are pitches from one side to the other, if they fit. */
static void fit_points(struct tile *tile, const struct dia_rig_lane *lane, int most, int in_colour)
{
    struct dia_rig_lying lying;
    struct dia_bounds bounds;
    dia_rig_lie(tile->rig, lane, &lying);
    dia_surface_bounds(&lying.surface, &bounds);
    int columns = bounds.width_um / lying.surface.pitch_um;
    int rows = lane->layout.shape == DIA_SHAPE_FOLD ? 2 : bounds.height_um / lying.surface.pitch_um;
    tile->width = columns > most ? most : columns < 1 ? 1 : columns;
    tile->rows = rows > MOST_ROWS ? MOST_ROWS : rows < 1 ? 1 : rows;
    tile->height = in_colour ? (tile->rows + 1) / 2 : tile->rows;
    tile->draw = draw_points;
}

static struct dia_rgb dot_at(const struct tile *tile, int x, int y)
{
    return lamp(tile, (uint32_t)y * tile->rig->devices[tile->number].surface.count + (uint32_t)x);
}

static void draw_dots(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    const struct dia_rig_device *device = &tile->rig->devices[tile->number];
    draw_grid(tile, canvas, row, column, dot_at, (int)(device->lamps / device->surface.count));
}

/* Strokes of a digit in characters, by segments; of 7 in three rows, else in five. */
struct stroke {
    int row, column;
    const char *text;
};
static const struct stroke strokes_7[] = {{0, 1, "_"}, {1, 2, "|"}, {2, 2, "|"}, {2, 1, "_"},
                                          {2, 0, "|"}, {1, 0, "|"}, {1, 1, "_"}, {2, 3, "."}};
static const struct stroke strokes_14[] = {{0, 1, "---"}, {1, 4, "|"},  {3, 4, "|"}, {4, 1, "---"},
                                           {3, 0, "|"},   {1, 0, "|"},  {2, 1, "-"}, {2, 3, "-"},
                                           {1, 1, "\\"},  {1, 2, "|"},  {1, 3, "/"}, {3, 1, "/"},
                                           {3, 2, "|"},   {3, 3, "\\"}, {4, 5, "."}};
static const struct stroke strokes_16[] = {
    {0, 1, "-"}, {0, 3, "-"}, {1, 4, "|"}, {3, 4, "|"},  {4, 1, "-"},  {4, 3, "-"},
    {3, 0, "|"}, {1, 0, "|"}, {2, 1, "-"}, {2, 3, "-"},  {1, 1, "\\"}, {1, 2, "|"},
    {1, 3, "/"}, {3, 1, "/"}, {3, 2, "|"}, {3, 3, "\\"}, {4, 5, "."}};

/* Columns and rows of a digit. */
static int wide_of(const struct dia_rig_device *device)
{
    return device->per_digit == 8 ? 4 : 7;
}

static int high_of(const struct dia_rig_device *device)
{
    return device->per_digit == 8 ? 3 : 5;
}

static void draw_stroke(const struct tile *tile, struct canvas *canvas, int row, int column,
                        const struct stroke *stroke, uint32_t i)
{
    for (int k = 0; stroke->text[k]; k++) {
        const char text[2] = {stroke->text[k], 0};
        canvas_mark(canvas, row + stroke->row, column + stroke->column + k, text, lamp(tile, i),
                    NULL);
    }
}

/* Single lamps above the digits. */
static void draw_digits(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    const struct dia_rig_device *device = &tile->rig->devices[tile->number];
    const struct stroke *strokes = device->per_digit == 15   ? strokes_14
                                   : device->per_digit == 17 ? strokes_16
                                                             : strokes_7;
    uint32_t first = device->digits * device->per_digit;
    int wide = wide_of(device);
    for (uint32_t i = first; i < device->lamps; i++)
        canvas_mark(canvas, row, column + (int)(i - first) * wide + 1,
                    dia_player_lamp(tile->player, tile->number, i) ? "o" : " ", lamp(tile, i),
                    NULL);
    row += device->lamps > first;
    for (uint32_t i = 0; i < first; i++) {
        if (dia_player_lamp(tile->player, tile->number, i))
            draw_stroke(tile, canvas, row, column + (int)(i / device->per_digit) * wide,
                        &strokes[i % device->per_digit], i);
    }
}

static void draw_cells(const struct tile *tile, struct canvas *canvas, int row, int column)
{
    static const struct dia_rgb ink = {10, 14, 10};
    const struct dia_rig_device *device = &tile->rig->devices[tile->number];
    const struct dia_cells_shown *cells = dia_player_cells(tile->player, tile->number);
    struct dia_rgb ground = dia_lamp_seen(device, 30000);
    for (int y = 0; y < cells->rows; y++) {
        for (int x = 0; x < cells->columns; x++) {
            char room[8];
            const char *text = dia_utf8_of(
                dia_player_cell(tile->player, tile->number, (uint8_t)y, (uint8_t)x), room);
            int off = !cells->on || cells->contrast == DIA_CONTRAST_FAINT;
            if (cells->contrast == DIA_CONTRAST_DARK || (cells->blocks && y % 2 == 0))
                text = "#";
            else if (off)
                text = " ";
            else if (x == cells->cursor_column && y == cells->cursor_row &&
                     (cells->block || (cells->underline && strcmp(text, " ") == 0)))
                text = cells->block ? "\342\226\210" : "_";
            canvas_mark(canvas, row + y, column + x, text, ink, &ground);
        }
    }
}

static int split(struct tile *tile, uint32_t count, int most)
{
    int rows = most > 0 ? ((int)count + most - 1) / most : 1;
    tile->width = ((int)count + rows - 1) / rows;
    tile->height = rows;
    return rows;
}

static void begin(struct tile *tile, const struct dia_rig *rig, const struct dia_player *player,
                  uint32_t number)
{
    memset(tile, 0, sizeof *tile);
    tile->rig = rig;
    tile->player = player;
    tile->number = number;
}

void tile_of_lane(struct tile *tile, const struct dia_rig *rig, const struct dia_player *player,
                  uint32_t number, int most, int in_colour)
{
    const struct dia_rig_lane *lane = &rig->lanes[number];
    begin(tile, rig, player, number);
    snprintf(tile->title, sizeof tile->title, "%s  %" PRIu32 " x %s", lane->name, lane->count,
             lane->part.name);
    tile->draw = draw_line;
    split(tile, lane->count, most);
    if (lane->layout.shape > DIA_SHAPE_GRID)
        fit_points(tile, lane, most, in_colour);
    if (lane->layout.shape == DIA_SHAPE_GRID && lane->layout.grid.columns <= most) {
        tile->draw = draw_pixels;
        tile->width = lane->layout.grid.columns;
        tile->height = in_colour ? (lane->layout.grid.rows + 1) / 2 : lane->layout.grid.rows;
    }
}

void tile_of_device(struct tile *tile, const struct dia_rig *rig, const struct dia_player *player,
                    uint32_t number, int most, int in_colour)
{
    const struct dia_rig_device *device = &rig->devices[number];
    begin(tile, rig, player, number);
    snprintf(tile->title, sizeof tile->title, "%s  %s", device->name, device->chip);
    enum dia_lies lies = dia_rig_lies(device);
    if (lies == DIA_LIES_CELLS) {
        tile->draw = draw_cells;
        tile->width = device->columns;
        tile->height = device->rows;
    } else if (lies == DIA_LIES_DIGITS) {
        tile->draw = draw_digits;
        tile->width = (int)device->digits * wide_of(device);
        tile->height = high_of(device) + (device->lamps > device->digits * device->per_digit);
    } else if (lies == DIA_LIES_DOTS && (int)device->surface.count <= most) {
        tile->draw = draw_dots;
        tile->width = (int)device->surface.count;
        int rows = (int)(device->lamps / device->surface.count);
        tile->height = in_colour ? (rows + 1) / 2 : rows;
    } else {
        tile->draw = draw_lamps;
        split(tile, device->lamps, most);
    }
}
