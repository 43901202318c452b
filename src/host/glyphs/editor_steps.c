/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "editor_private.h"
#include "host_private.h"

/* What can be undone: drawings as they were, the oldest first. */

#define MOST_BYTES (32u << 20) /* of all steps */

static size_t bytes_of(const struct dia_editor_step *step)
{
    return (size_t)step->columns * step->rows * step->frames;
}

static void forget(struct dia_editor *editor, uint32_t k)
{
    editor->step_bytes -= bytes_of(&editor->steps[k]);
    free(editor->steps[k].cells);
}

static void forget_oldest(struct dia_editor *editor)
{
    forget(editor, 0);
    editor->step_count--;
    editor->step_at--;
    memmove(editor->steps, editor->steps + 1, editor->step_count * sizeof *editor->steps);
}

void dia_editor_steps_free(struct dia_editor *editor)
{
    for (uint32_t k = 0; k < editor->step_count; k++)
        forget(editor, k);
    free(editor->steps);
    editor->steps = NULL;
    editor->step_count = editor->step_at = 0;
}

void dia_editor_remember(struct dia_editor *editor, uint32_t stroke)
{
    const struct dia_dots *item = dia_editor_current(editor);
    while (editor->step_count > editor->step_at)
        forget(editor, --editor->step_count);
    if (editor->step_count == DIA_EDITOR_STEPS)
        forget_oldest(editor);
    editor->steps[editor->step_count++] = (struct dia_editor_step){
        .item = editor->item,
        .stroke = stroke,
        .frames = item->frames,
        .frame = editor->frame,
        .columns = item->columns,
        .rows = item->rows,
        .column = editor->column,
        .row = editor->row,
        .cells = item->cells,
    };
    editor->step_at = editor->step_count;
    editor->step_bytes += dia_editor_dots(item);
    while (editor->step_bytes > MOST_BYTES && editor->step_count > 1)
        forget_oldest(editor);
}

/* The current drawing and a step change places. */
static void swap(struct dia_editor *editor, struct dia_editor_step *step)
{
    editor->item = step->item;
    struct dia_dots *item = dia_editor_current(editor);
    struct dia_editor_step was = *step;
    editor->step_bytes += dia_editor_dots(item) - bytes_of(step);
    editor->drawings.dots += (uint32_t)bytes_of(step) - (uint32_t)dia_editor_dots(item);
    *step = (struct dia_editor_step){
        .item = was.item,
        .frames = item->frames,
        .frame = editor->frame,
        .columns = item->columns,
        .rows = item->rows,
        .column = editor->column,
        .row = editor->row,
        .cells = item->cells,
    };
    item->frames = was.frames;
    item->columns = was.columns;
    item->rows = was.rows;
    item->cells = was.cells;
    editor->frame = was.frame;
    editor->column = was.column;
    editor->row = was.row;
    editor->changed[editor->item] = 1;
}

enum dia_status dia_editor_undo(struct dia_editor *editor, struct dia_diagnostic *wrong)
{
    if (editor->step_at == 0)
        return dia_host_wrong(wrong, "there is nothing to undo");
    swap(editor, &editor->steps[--editor->step_at]);
    return DIA_OK;
}

enum dia_status dia_editor_redo(struct dia_editor *editor, struct dia_diagnostic *wrong)
{
    if (editor->step_at == editor->step_count)
        return dia_host_wrong(wrong, "nothing was undone");
    swap(editor, &editor->steps[editor->step_at++]);
    return DIA_OK;
}
