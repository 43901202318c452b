/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "editor_private.h"
#include "host_private.h"

/* What is done to a drawing. Each change makes all frames anew, beside those that there are. */

const struct dia_dots *dia_editor_item(const struct dia_editor *editor)
{
    return dia_editor_current(editor);
}

static uint8_t *cell_of(const struct dia_dots *item, uint32_t frame, uint32_t row, uint32_t column)
{
    return item->cells + ((size_t)frame * item->rows + row) * item->columns + column;
}

uint8_t dia_editor_cell(const struct dia_editor *editor, uint32_t frame, uint32_t row,
                        uint32_t column)
{
    return *cell_of(dia_editor_current(editor), frame, row, column);
}

static enum dia_status no_memory(struct dia_diagnostic *wrong)
{
    dia_host_wrong(wrong, "out of memory");
    return DIA_PORT_FAILED;
}

/* ---- changes --------------------------------------------------------------------------------- */

/* The drawing is `now` from here on; the one before can be had back. */
static void become(struct dia_editor *editor, const struct dia_dots *now, uint32_t stroke)
{
    struct dia_dots *item = dia_editor_current(editor);
    editor->drawings.dots += (uint32_t)dia_editor_dots(now) - (uint32_t)dia_editor_dots(item);
    dia_editor_remember(editor, stroke);
    item->cells = now->cells;
    item->columns = now->columns;
    item->rows = now->rows;
    item->frames = now->frames;
    editor->changed[editor->item] = 1;
    if (editor->frame >= item->frames)
        editor->frame = (uint16_t)(item->frames - 1);
    if (editor->column >= item->columns)
        editor->column = (uint8_t)(item->columns - 1);
    if (editor->row >= item->rows)
        editor->row = (uint8_t)(item->rows - 1);
}

/* A dark drawing like the current one, of another size. */
static enum dia_status make(const struct dia_editor *editor, struct dia_dots *now, uint32_t columns,
                            uint32_t rows, uint32_t frames, struct dia_diagnostic *wrong)
{
    const struct dia_dots *item = dia_editor_current(editor);
    *now = *item;
    if (columns < 1 || rows < 1 || columns > DIA_DRAWING_SIDE || rows > DIA_DRAWING_SIDE)
        return dia_host_wrong(wrong, "a drawing is 1 to %d dots wide and high", DIA_DRAWING_SIDE);
    if (item->code && rows != item->rows)
        return dia_host_wrong(wrong, "all glyphs of the face %s are %u dots high",
                              editor->drawings.face, item->rows);
    if (editor->drawings.dots - dia_editor_dots(item) + (size_t)columns * rows * frames >
        DIA_DRAWING_DOTS)
        return dia_host_wrong(wrong, "all drawings of a file have at most %u dots together",
                              DIA_DRAWING_DOTS);
    now->columns = (uint8_t)columns;
    now->rows = (uint8_t)rows;
    now->frames = (uint16_t)frames;
    now->cells = calloc(dia_editor_dots(now), 1);
    return now->cells ? DIA_OK : no_memory(wrong);
}

static enum dia_status copy(const struct dia_editor *editor, struct dia_dots *now,
                            struct dia_diagnostic *wrong)
{
    const struct dia_dots *item = dia_editor_current(editor);
    enum dia_status status = make(editor, now, item->columns, item->rows, item->frames, wrong);
    if (status == DIA_OK)
        memcpy(now->cells, item->cells, dia_editor_dots(item));
    return status;
}

/* What all dots become that are alike and touch by a side. */
static enum dia_status fill(const struct dia_editor *editor, const struct dia_dots *now,
                            struct dia_diagnostic *wrong)
{
    uint8_t *cells = cell_of(now, editor->frame, 0, 0);
    uint32_t columns = now->columns, count = columns * now->rows, waiting = 0;
    uint32_t at = editor->row * columns + editor->column;
    uint8_t from = cells[at], to = from == editor->pen ? 0 : editor->pen;
    uint32_t *stack = malloc(count * sizeof *stack);
    if (!stack)
        return no_memory(wrong);
    cells[at] = to; /* each dot is put on the stack once, as it changes then */
    stack[waiting++] = at;
    while (waiting) {
        at = stack[--waiting];
        uint32_t beside[4], n = 0;
        if (at % columns)
            beside[n++] = at - 1;
        if ((at + 1) % columns)
            beside[n++] = at + 1;
        if (at >= columns)
            beside[n++] = at - columns;
        if (at + columns < count)
            beside[n++] = at + columns;
        for (uint32_t k = 0; k < n; k++) {
            if (cells[beside[k]] == from) {
                cells[beside[k]] = to;
                stack[waiting++] = beside[k];
            }
        }
    }
    free(stack);
    return DIA_OK;
}

/* Where a dot of the frame comes from. */
static uint8_t source(const struct dia_editor *editor, enum dia_edit what, uint32_t row,
                      uint32_t column)
{
    const struct dia_dots *item = dia_editor_current(editor);
    uint32_t columns = item->columns, rows = item->rows;
    switch (what) {
    case DIA_EDIT_SHIFT_LEFT:
        column = (column + 1) % columns;
        break;
    case DIA_EDIT_SHIFT_RIGHT:
        column = (column + columns - 1) % columns;
        break;
    case DIA_EDIT_SHIFT_UP:
        row = (row + 1) % rows;
        break;
    case DIA_EDIT_SHIFT_DOWN:
        row = (row + rows - 1) % rows;
        break;
    case DIA_EDIT_MIRROR:
        column = columns - 1 - column;
        break;
    case DIA_EDIT_FLIP:
        row = rows - 1 - row;
        break;
    default:
        break;
    }
    uint8_t cell = *cell_of(item, editor->frame, row, column);
    if (what == DIA_EDIT_INVERT)
        return cell ? 0 : editor->pen;
    return what == DIA_EDIT_CLEAR ? 0 : cell;
}

/* The current frame anew. */
static enum dia_status change_frame(struct dia_editor *editor, enum dia_edit what,
                                    struct dia_diagnostic *wrong)
{
    struct dia_dots now;
    enum dia_status status = copy(editor, &now, wrong);
    if (status != DIA_OK)
        return status;
    uint8_t *at = cell_of(&now, editor->frame, editor->row, editor->column);
    if (what == DIA_EDIT_TOGGLE)
        *at = *at == editor->pen ? 0 : editor->pen;
    else if (what == DIA_EDIT_FILL)
        status = fill(editor, &now, wrong);
    else
        for (uint32_t row = 0; row < now.rows; row++)
            for (uint32_t column = 0; column < now.columns; column++)
                *cell_of(&now, editor->frame, row, column) = source(editor, what, row, column);
    if (status == DIA_OK)
        become(editor, &now, 0);
    else
        free(now.cells);
    return status;
}

/* All frames in another size, or turned. */
static enum dia_status change_size(struct dia_editor *editor, enum dia_edit what,
                                   struct dia_diagnostic *wrong)
{
    const struct dia_dots *item = dia_editor_current(editor);
    uint32_t columns = item->columns, rows = item->rows;
    int turned = what == DIA_EDIT_TURN;
    columns += (uint32_t)((what == DIA_EDIT_WIDER) - (what == DIA_EDIT_NARROWER));
    rows += (uint32_t)((what == DIA_EDIT_HIGHER) - (what == DIA_EDIT_LOWER));
    struct dia_dots now;
    enum dia_status status =
        make(editor, &now, turned ? rows : columns, turned ? columns : rows, item->frames, wrong);
    if (status != DIA_OK)
        return status;
    for (uint32_t frame = 0; frame < now.frames; frame++)
        for (uint32_t row = 0; row < now.rows; row++)
            for (uint32_t column = 0; column < now.columns; column++) {
                uint32_t r = turned ? rows - 1 - column : row, c = turned ? row : column;
                if (r < item->rows && c < item->columns)
                    *cell_of(&now, frame, row, column) = *cell_of(item, frame, r, c);
            }
    become(editor, &now, 0);
    return DIA_OK;
}

/* A frame more, or less. */
static enum dia_status change_frames(struct dia_editor *editor, int more,
                                     struct dia_diagnostic *wrong)
{
    const struct dia_dots *item = dia_editor_current(editor);
    size_t one = (size_t)item->columns * item->rows, before = (editor->frame + 1u) * one;
    struct dia_dots now;
    if (item->code)
        return dia_host_wrong(wrong, "a glyph has one frame");
    if (more ? item->frames == 255 : item->frames == 1)
        return dia_host_wrong(wrong, "a drawing has 1 to 255 frames");
    enum dia_status status = make(editor, &now, item->columns, item->rows,
                                  more ? item->frames + 1u : item->frames - 1u, wrong);
    if (status != DIA_OK)
        return status;
    size_t keep = more ? before : before - one, from = more ? before - one : before;
    memcpy(now.cells, item->cells, keep);
    memcpy(now.cells + keep, item->cells + from, dia_editor_dots(&now) - keep);
    become(editor, &now, 0);
    editor->frame = (uint16_t)(editor->frame + (more ? 1 : 0));
    return DIA_OK;
}

enum dia_status dia_editor_put(struct dia_editor *editor, uint32_t column, uint32_t row,
                               uint8_t cell, uint32_t stroke, struct dia_diagnostic *wrong)
{
    struct dia_dots *item = dia_editor_current(editor), now;
    if (column >= item->columns || row >= item->rows || cell > editor->drawings.colour_count)
        return dia_host_wrong(wrong, "the drawing has no such dot or colour");
    editor->column = (uint8_t)column;
    editor->row = (uint8_t)row;
    uint8_t *at = cell_of(item, editor->frame, row, column);
    if (*at == cell)
        return DIA_OK;
    const struct dia_editor_step *last =
        editor->step_at ? &editor->steps[editor->step_at - 1] : NULL;
    if (last && stroke && last->stroke == stroke && last->item == editor->item &&
        editor->step_at == editor->step_count) {
        *at = cell;
        editor->changed[editor->item] = 1; /* it may have been saved meanwhile */
        return DIA_OK;
    }
    enum dia_status status = copy(editor, &now, wrong);
    if (status != DIA_OK)
        return status;
    *cell_of(&now, editor->frame, row, column) = cell;
    become(editor, &now, stroke);
    return DIA_OK;
}

/* ---- moving ---------------------------------------------------------------------------------- */

static enum dia_status another_drawing(struct dia_editor *editor, int back,
                                       struct dia_diagnostic *wrong)
{
    uint32_t count = editor->drawings.count;
    if (count == 1)
        return dia_host_wrong(wrong, "the file has no other drawing");
    editor->item = (editor->item + (back ? count - 1 : 1)) % count;
    editor->frame = 0;
    editor->column = editor->row = 0;
    return DIA_OK;
}

static enum dia_status another_frame(struct dia_editor *editor, int back,
                                     struct dia_diagnostic *wrong)
{
    uint16_t frames = dia_editor_current(editor)->frames;
    if (frames == 1)
        return dia_host_wrong(wrong, "the drawing has one frame");
    editor->frame = (uint16_t)((editor->frame + (back ? frames - 1 : 1)) % frames);
    return DIA_OK;
}

enum dia_status dia_editor_do(struct dia_editor *editor, enum dia_edit what,
                              struct dia_diagnostic *wrong)
{
    const struct dia_dots *item = dia_editor_current(editor);
    switch (what) {
    case DIA_EDIT_LEFT:
        editor->column = (uint8_t)(editor->column - (editor->column > 0));
        return DIA_OK;
    case DIA_EDIT_RIGHT:
        editor->column = (uint8_t)(editor->column + (editor->column + 1 < item->columns));
        return DIA_OK;
    case DIA_EDIT_UP:
        editor->row = (uint8_t)(editor->row - (editor->row > 0));
        return DIA_OK;
    case DIA_EDIT_DOWN:
        editor->row = (uint8_t)(editor->row + (editor->row + 1 < item->rows));
        return DIA_OK;
    case DIA_EDIT_TURN:
    case DIA_EDIT_WIDER:
    case DIA_EDIT_NARROWER:
    case DIA_EDIT_HIGHER:
    case DIA_EDIT_LOWER:
        return change_size(editor, what, wrong);
    case DIA_EDIT_ADD_FRAME:
    case DIA_EDIT_DROP_FRAME:
        return change_frames(editor, what == DIA_EDIT_ADD_FRAME, wrong);
    case DIA_EDIT_UNDO:
        return dia_editor_undo(editor, wrong);
    case DIA_EDIT_REDO:
        return dia_editor_redo(editor, wrong);
    case DIA_EDIT_NEXT_FRAME:
    case DIA_EDIT_PREVIOUS_FRAME:
        return another_frame(editor, what == DIA_EDIT_PREVIOUS_FRAME, wrong);
    case DIA_EDIT_NEXT:
    case DIA_EDIT_PREVIOUS:
        return another_drawing(editor, what == DIA_EDIT_PREVIOUS, wrong);
    case DIA_EDIT_PEN:
        if (editor->drawings.colour_count == 1)
            return dia_host_wrong(
                wrong, "the file has one colour; a line such as 'key r red' in it adds another");
        editor->pen = (uint8_t)(editor->pen % editor->drawings.colour_count + 1);
        return DIA_OK;
    default:
        return change_frame(editor, what, wrong);
    }
}
