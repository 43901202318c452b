/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>

#include <cjson/cJSON.h>

#include "tell.h"

#define MOST_ITEMS 1000 /* names of drawings that are told */

static void tell_items(cJSON *json, const struct dia_drawings *drawings)
{
    char sign[8];
    cJSON *items = cJSON_AddArrayToObject(json, "items");
    for (uint32_t k = 0; k < drawings->count && k < MOST_ITEMS; k++) {
        const struct dia_dots *item = &drawings->items[k];
        const char *name = item->code ? dia_sign_text(item->code, sign) : item->name;
        cJSON_AddItemToArray(items, cJSON_CreateString(name));
    }
}

/* Row after row, two digits a dot: 00 is dark, 01 the first colour. */
static void tell_cells(cJSON *json, const struct dia_editor *editor, const struct dia_dots *item)
{
    char row[2 * DIA_DRAWING_SIDE + 1];
    cJSON *rows = cJSON_AddArrayToObject(json, "cells");
    for (uint32_t r = 0; r < item->rows; r++) {
        for (uint32_t c = 0; c < item->columns; c++)
            snprintf(row + 2 * c, 3, "%02x", dia_editor_cell(editor, editor->frame, r, c));
        cJSON_AddItemToArray(rows, cJSON_CreateString(row));
    }
}

static void tell_open(cJSON *json, const struct tell_drawing *of)
{
    const struct dia_editor *editor = of->editor;
    const struct dia_dots *item = dia_editor_item(editor);
    char text[8];
    cJSON_AddStringToObject(json, "file", of->path);
    cJSON_AddStringToObject(json, "item",
                            item->code ? dia_sign_text(item->code, text) : item->name);
    cJSON_AddBoolToObject(json, "glyph", item->code != 0);
    cJSON_AddNumberToObject(json, "columns", item->columns);
    cJSON_AddNumberToObject(json, "rows", item->rows);
    cJSON_AddNumberToObject(json, "frame", editor->frame + 1);
    cJSON_AddNumberToObject(json, "frames", item->frames);
    cJSON_AddNumberToObject(json, "pen", editor->pen);
    cJSON_AddNumberToObject(json, "unsaved", dia_editor_unsaved(editor));
    cJSON_AddNumberToObject(json, "undo", editor->step_at);
    cJSON_AddNumberToObject(json, "redo", editor->step_count - editor->step_at);
    cJSON *colours = cJSON_AddArrayToObject(json, "colours");
    for (uint32_t k = 0; k < editor->drawings.colour_count; k++) {
        struct dia_rgb c = editor->drawings.colours[k];
        char colour[8];
        snprintf(colour, sizeof colour, "#%02x%02x%02x", c.r, c.g, c.b);
        cJSON_AddItemToArray(colours, cJSON_CreateString(colour));
    }
    tell_cells(json, editor, item);
    tell_items(json, &editor->drawings);
}

char *dia_tell_drawing(const struct tell_drawing *of)
{
    cJSON *json = cJSON_CreateObject();
    cJSON_AddStringToObject(json, "kind", "drawing");
    cJSON *files = cJSON_AddArrayToObject(json, "files");
    for (uint32_t k = 0; k < of->files->count; k++)
        cJSON_AddItemToArray(files, cJSON_CreateString(of->files->paths[k]));
    cJSON_AddBoolToObject(json, "may_save", of->may_save);
    cJSON_AddStringToObject(json, "trouble", of->trouble);
    if (of->editor)
        tell_open(json, of);
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    return text;
}
