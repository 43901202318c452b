/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "serve_private.h"
#include "tell.h"

/*
 * A file of drawings that is edited from the page: one at a time, by all who look. What is drawn
 * shows on the rig at once, in place of what the file has; the file is written when somebody saves.
 */

static const struct {
    const char *word;
    enum dia_edit what;
} edits[] = {{"fill", DIA_EDIT_FILL},
             {"shift-left", DIA_EDIT_SHIFT_LEFT},
             {"shift-right", DIA_EDIT_SHIFT_RIGHT},
             {"shift-up", DIA_EDIT_SHIFT_UP},
             {"shift-down", DIA_EDIT_SHIFT_DOWN},
             {"mirror", DIA_EDIT_MIRROR},
             {"flip", DIA_EDIT_FLIP},
             {"turn", DIA_EDIT_TURN},
             {"invert", DIA_EDIT_INVERT},
             {"clear", DIA_EDIT_CLEAR},
             {"wider", DIA_EDIT_WIDER},
             {"narrower", DIA_EDIT_NARROWER},
             {"higher", DIA_EDIT_HIGHER},
             {"lower", DIA_EDIT_LOWER},
             {"add-frame", DIA_EDIT_ADD_FRAME},
             {"drop-frame", DIA_EDIT_DROP_FRAME},
             {"next-frame", DIA_EDIT_NEXT_FRAME},
             {"previous-frame", DIA_EDIT_PREVIOUS_FRAME},
             {"undo", DIA_EDIT_UNDO},
             {"redo", DIA_EDIT_REDO}};
#define EDITS (sizeof edits / sizeof edits[0])

static enum dia_status no_file(struct dia_diagnostic *wrong)
{
    return dia_live_wrong(wrong, "no file of drawings is open; write 'open FILE' first");
}

/* Only what the show names can be opened. */
static enum dia_status find_file(const struct dia_serve *serve, const char *path,
                                 struct dia_diagnostic *wrong)
{
    const struct dia_drawing_files *files = &dia_live_show(serve->live)->drawings;
    for (uint32_t k = 0; k < files->count; k++) {
        if (strcmp(files->paths[k], path) == 0)
            return DIA_OK;
    }
    return dia_live_wrong(wrong, "the show names no file of drawings '%.60s'", path);
}

/* The show has what the file has; it stays open where the show needs what is not saved. */
static enum dia_status shut(struct dia_serve *serve, uint64_t ms, struct dia_diagnostic *wrong)
{
    if (!serve->draw_path[0])
        return DIA_OK;
    enum dia_status status = dia_live_instead(serve->live, "", NULL, 0, ms, wrong);
    if (status != DIA_OK)
        return status;
    dia_editor_free(&serve->editor);
    serve->draw_path[0] = 0;
    return DIA_OK;
}

static enum dia_status unsaved(const struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    uint32_t n = serve->draw_path[0] ? dia_editor_unsaved(&serve->editor) : 0;
    return n == 0 ? DIA_OK
                  : dia_live_wrong(wrong,
                                   "%u drawing%s of %s %s not saved; 'save' keeps what was drawn, "
                                   "'close' leaves it out",
                                   (unsigned)n, n == 1 ? "" : "s", serve->draw_path,
                                   n == 1 ? "is" : "are");
}

/* "open FILE [NAME]". */
static enum dia_status open_file(struct dia_serve *serve, const char *path, const char *name,
                                 uint64_t ms, struct dia_diagnostic *wrong)
{
    struct dia_editor editor;
    enum dia_status status = unsaved(serve, wrong);
    if (status == DIA_OK)
        status = find_file(serve, path, wrong);
    if (status == DIA_OK)
        status = dia_editor_open(&editor, path, name[0] ? name : NULL, NULL, wrong);
    if (status != DIA_OK)
        return status;
    status = shut(serve, ms, wrong);
    if (status != DIA_OK) {
        dia_editor_free(&editor);
        return status;
    }
    serve->editor = editor;
    snprintf(serve->draw_path, sizeof serve->draw_path, "%s", path);
    return DIA_OK;
}

/* "new NAME COLUMNS ROWS" in the file that is open. */
static enum dia_status make(struct dia_serve *serve, const char *name, long columns, long rows,
                            struct dia_diagnostic *wrong)
{
    struct dia_editor editor;
    if (columns < 1 || rows < 1 || columns > DIA_DRAWING_SIDE || rows > DIA_DRAWING_SIDE)
        return dia_live_wrong(wrong, "write 'new NAME COLUMNS ROWS', each 1 to %d",
                              DIA_DRAWING_SIDE);
    struct dia_editor_size size = {(uint8_t)columns, (uint8_t)rows};
    enum dia_status status = unsaved(serve, wrong);
    if (status == DIA_OK)
        status = dia_editor_open(&editor, serve->draw_path, name, &size, wrong);
    if (status != DIA_OK)
        return status;
    dia_editor_free(&serve->editor);
    serve->editor = editor;
    return DIA_OK;
}

static enum dia_status go_to(struct dia_serve *serve, const char *name,
                             struct dia_diagnostic *wrong)
{
    const struct dia_dots *item = dia_drawings_find(&serve->editor.drawings, name, wrong);
    if (!item)
        return DIA_BAD_VALUE;
    serve->editor.item = (uint32_t)(item - serve->editor.drawings.items);
    serve->editor.frame = 0;
    serve->editor.column = serve->editor.row = 0;
    return DIA_OK;
}

/* "dot COLUMN ROW CELL STROKE". */
static enum dia_status put_dot(struct dia_serve *serve, const char *at,
                               struct dia_diagnostic *wrong)
{
    unsigned column = 0, row = 0, cell = 0, stroke = 0;
    if (sscanf(at, "%u %u %u %u", &column, &row, &cell, &stroke) != 4 || cell > 255)
        return dia_live_wrong(wrong, "write 'dot COLUMN ROW CELL STROKE', each a number from 0");
    return dia_editor_put(&serve->editor, column, row, (uint8_t)cell, stroke, wrong);
}

static enum dia_status set_pen(struct dia_serve *serve, long pen, struct dia_diagnostic *wrong)
{
    if (pen < 1 || pen > (long)serve->editor.drawings.colour_count)
        return dia_live_wrong(wrong, "the file has colours 1 to %u",
                              (unsigned)serve->editor.drawings.colour_count);
    serve->editor.pen = (uint8_t)pen;
    return DIA_OK;
}

static enum dia_status save(struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    if (!serve->options.may_save)
        return dia_live_wrong(wrong, "drawings may not be saved from here; begin with 'diachrome "
                                     "serve --save'");
    return dia_editor_save(&serve->editor, wrong);
}

/* A word of the table, at a dot where it has one: "fill 3 4". */
static enum dia_status edit(struct dia_serve *serve, const char *word, const char *at,
                            struct dia_diagnostic *wrong)
{
    const char *words[EDITS + 9] = {"open", "new", "item", "pen", "dot", "save", "close", NULL};
    unsigned column, row;
    size_t n = 7;
    const struct dia_dots *item = dia_editor_item(&serve->editor);
    if (sscanf(at, "%u %u", &column, &row) == 2 && column < item->columns && row < item->rows) {
        serve->editor.column = (uint8_t)column;
        serve->editor.row = (uint8_t)row;
    }
    for (size_t k = 0; k < EDITS; k++) {
        if (strcmp(edits[k].word, word) == 0)
            return dia_editor_do(&serve->editor, edits[k].what, wrong);
        words[n++] = edits[k].word;
    }
    words[n] = NULL;
    const char *near = dia_nearest(word, words);
    return dia_live_wrong(wrong, "'%.40s' does nothing to a drawing%s%s%s", word,
                          near ? "; did you mean '" : "", near ? near : "", near ? "'?" : "");
}

/* What is drawn, in place of what the file has. */
static enum dia_status show_it(struct dia_serve *serve, uint64_t ms, struct dia_diagnostic *wrong)
{
    size_t size = 0;
    char *text = dia_editor_text(&serve->editor, &size, wrong);
    if (!text)
        return DIA_PORT_FAILED;
    enum dia_status status = dia_live_instead(serve->live, serve->draw_path, text, size, ms, wrong);
    free(text);
    serve->drawn = serve->live;
    return status;
}

enum dia_status dia_serve_draw(struct dia_serve *serve, const char *line, uint64_t ms,
                               struct dia_diagnostic *wrong)
{
    char word[20] = "", first[300] = "", second[300] = "";
    int used = 0;
    long columns = 0, rows = 0;
    sscanf(line, "%19s%n", word, &used);
    line += used;
    sscanf(line, "%299s %299s %ld", first, second, &rows);
    columns = strtol(second, NULL, 10);
    serve->draw_new = 1;
    if (strcmp(word, "open") == 0)
        return open_file(serve, first, second, ms, wrong);
    if (!serve->draw_path[0])
        return no_file(wrong);
    enum dia_status status = DIA_OK;
    if (strcmp(word, "close") == 0)
        return shut(serve, ms, wrong);
    if (strcmp(word, "item") == 0)
        return go_to(serve, first, wrong);
    if (strcmp(word, "pen") == 0)
        return set_pen(serve, strtol(first, NULL, 10), wrong);
    if (strcmp(word, "save") == 0)
        return save(serve, wrong);
    if (strcmp(word, "new") == 0)
        status = make(serve, first, columns, rows, wrong);
    else if (strcmp(word, "dot") == 0)
        status = put_dot(serve, line, wrong);
    else
        status = edit(serve, word, line, wrong);
    serve->draw_shows |= status == DIA_OK; /* once for all lines before a frame */
    return status;
}

/* Before a frame: what was drawn shows, and is told. 1: there is something new. */
int dia_serve_drawn(struct dia_serve *serve, uint64_t ms)
{
    struct dia_diagnostic wrong = {""};
    int is_open = serve->draw_path[0] != 0, is_new = serve->draw_new;
    if (is_open && (serve->draw_shows || (serve->drawn && serve->drawn != serve->live))) {
        enum dia_status status = show_it(serve, ms, &wrong);
        snprintf(serve->draw_trouble, sizeof serve->draw_trouble, "%s",
                 status == DIA_OK ? "" : wrong.text);
        is_new = 1;
    }
    if (!is_open) { /* the show may name other files now */
        serve->draw_trouble[0] = 0;
        is_new |= serve->frames == 0 || serve->draw_version != dia_live_version(serve->live);
    }
    serve->draw_version = dia_live_version(serve->live);
    serve->draw_shows = serve->draw_new = 0;
    if (!is_new)
        return 0;
    struct tell_drawing drawing = {.editor = is_open ? &serve->editor : NULL,
                                   .path = serve->draw_path,
                                   .files = &dia_live_show(serve->live)->drawings,
                                   .may_save = serve->options.may_save,
                                   .trouble = serve->draw_trouble};
    dia_hub_tell(&serve->hub, HUB_DRAWING, dia_tell_drawing(&drawing));
    return 1;
}

void dia_serve_draw_end(struct dia_serve *serve)
{
    if (serve->draw_path[0])
        dia_editor_free(&serve->editor);
}
