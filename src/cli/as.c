/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/reel.h>

#include "as.h"
#include "cli.h"

/* A lane or device that shows a drawing: dots and pixels as the look `draw`, cells as a glyph. */

/* 0: the rig has nothing of that name. */
static int find(struct as *as, const char *name)
{
    for (uint32_t k = 0; k < as->rig.lane_count; k++) {
        if (strcmp(as->rig.lanes[k].name, name) == 0) {
            as->number = k;
            return 1;
        }
    }
    for (uint32_t k = 0; k < as->rig.device_count; k++) {
        if (strcmp(as->rig.devices[k].name, name) == 0) {
            as->number = k;
            as->is_device = 1;
            as->is_cells = as->rig.devices[k].columns != 0;
            return 1;
        }
    }
    return 0;
}

static int no_such(const struct as *as, const char *name)
{
    char all[400] = "";
    for (uint32_t k = 0; k < as->rig.lane_count + as->rig.device_count; k++) {
        size_t used = strlen(all);
        const char *is = k < as->rig.lane_count ? as->rig.lanes[k].name
                                                : as->rig.devices[k - as->rig.lane_count].name;
        snprintf(all + used, sizeof all - used, "%s%s", used ? ", " : "", is);
    }
    return cli_fail(CLI_BAD_INPUT, as->command, "--as %s: the rig has no '%s'; it has %s", name,
                    name, all);
}

int as_open(struct as *as, const char *command, const char *rig_path, const char *name)
{
    struct dia_diagnostic wrong = {""};
    char text[160];
    memset(as, 0, sizeof *as);
    as->command = command;
    enum dia_status status = cli_read_rig(&as->rig, rig_path, &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    if (!find(as, name))
        return no_such(as, name);
    if (as->is_device && as->rig.devices[as->number].digits)
        return cli_fail(CLI_BAD_INPUT, command,
                        "--as %s: digits show no drawings; take dots, pixels or cells", name);
    snprintf(text, sizeof text, as->is_cells ? "text says=x on %s" : "draw x=0mm y=0mm on %s",
             name);
    status = dia_rig_layer_read(&as->layer, &as->rig, text, &wrong);
    if (status == DIA_OK && as->is_cells)
        dia_utf8_of(DIA_DRAWING_SIGN, as->layer.says);
    as->layer.files = &as->files;
    as->files.drawings[0] = &as->one;
    as->files.count = 1;
    as->player = status == DIA_OK ? dia_player_new(&as->rig, &wrong) : NULL;
    return as->player ? CLI_FINE
                      : cli_fail_with(status == DIA_OK ? DIA_PORT_FAILED : status, &wrong);
}

void as_free(struct as *as)
{
    dia_rig_layer_free(&as->layer);
    dia_player_free(as->player);
    dia_rig_free(&as->rig);
}

int as_show(struct as *as, const struct dia_drawings *of, const struct dia_dots *item, uint32_t ms,
            struct dia_diagnostic *wrong)
{
    as->one = *of; /* with nothing else, and only to be looked at */
    as->one.items = (struct dia_dots *)item;
    as->one.count = 1;
    as->layer.drawn = (struct dia_rig_drawn){item, of};
    if (as->is_cells) {
        uint8_t rows[8];
        if (!dia_dots_cell(item, 0, rows)) {
            snprintf(wrong->text, sizeof wrong->text,
                     "a cell of %s has 5 by 8 dots; this drawing has %u by %u",
                     as->rig.devices[as->number].name, item->columns, item->rows);
            return CLI_BAD_INPUT;
        }
        as->layer.drawn = (struct dia_rig_drawn){NULL, NULL};
    }
    if (dia_player_show_layers(as->player, &as->layer, 1, ms, 0, NULL) == DIA_OK)
        return CLI_FINE;
    snprintf(wrong->text, sizeof wrong->text, "the simulated port failed");
    return CLI_MACHINE;
}

#define CELL_ROWS 4 /* two rows of dots in each */

void as_measure(struct as *as, int most_columns, int in_colour)
{
    const struct dia_rig *desk = dia_player_desk(as->player);
    if (as->is_device)
        tile_of_device(&as->tile, desk, as->player, as->number, most_columns, in_colour);
    else
        tile_of_lane(&as->tile, desk, as->player, as->number, most_columns, in_colour);
    if (as->is_cells) { /* its dots, which a terminal has no letter for */
        as->tile.width = 5;
        as->tile.height = in_colour ? CELL_ROWS : 2 * CELL_ROWS;
    }
}

/* The first cell, dot by dot as the model of the display has it. */
static void draw_cell(const struct as *as, struct canvas *canvas, int row, int column)
{
    const struct dia_rig_device *device = &as->rig.devices[as->number];
    const struct dia_cells_shown *cells = dia_player_cells(as->player, as->number);
    struct dia_rgb ground = dia_lamp_seen(device, 30000), ink = {10, 14, 10};
    const uint8_t *rows = cells->glyph[cells->code[0][0] & 7];
    for (int y = 0; y < 8; y += canvas->in_colour ? 2 : 1) {
        for (int x = 0; x < 5; x++) {
            int upper = rows[y] >> (4 - x) & 1, lower = rows[y + canvas->in_colour] >> (4 - x) & 1;
            if (canvas->in_colour)
                canvas_lights(canvas, row + y / 2, column + x, upper ? ink : ground,
                              lower ? ink : ground);
            else
                canvas_say(canvas, row + y, column + x, 0, upper ? "#" : ".");
        }
    }
}

void as_draw(const struct as *as, struct canvas *canvas, int row, int column)
{
    if (as->is_cells)
        draw_cell(as, canvas, row, column);
    else
        tile_draw(&as->tile, canvas, row, column);
}
