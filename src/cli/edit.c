/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <time.h>

#include "cli.h"
#include "edit.h"
#include "terminal.h"

struct session {
    struct dia_editor editor;
    struct edit_view view;
    struct canvas canvas;
    char path[4200];  /* where work goes that was not saved */
    uint32_t stroke;  /* of the mouse */
    uint8_t painting; /* the cell that it sets */
    int asked;        /* whether to leave without saving */
    int left;         /* by somebody who knows what is not saved */
};

static const struct {
    int key;
    enum dia_edit what;
} ways[] = {
    {TERMINAL_LEFT, DIA_EDIT_LEFT}, {TERMINAL_RIGHT, DIA_EDIT_RIGHT},
    {TERMINAL_UP, DIA_EDIT_UP},     {TERMINAL_DOWN, DIA_EDIT_DOWN},
    {' ', DIA_EDIT_TOGGLE},         {'f', DIA_EDIT_FILL},
    {'<', DIA_EDIT_SHIFT_LEFT},     {'>', DIA_EDIT_SHIFT_RIGHT},
    {'^', DIA_EDIT_SHIFT_UP},       {'v', DIA_EDIT_SHIFT_DOWN},
    {'m', DIA_EDIT_MIRROR},         {'M', DIA_EDIT_FLIP},
    {'t', DIA_EDIT_TURN},           {'i', DIA_EDIT_INVERT},
    {'e', DIA_EDIT_CLEAR},          {']', DIA_EDIT_WIDER},
    {'[', DIA_EDIT_NARROWER},       {'}', DIA_EDIT_HIGHER},
    {'{', DIA_EDIT_LOWER},          {'c', DIA_EDIT_PEN},
    {'u', DIA_EDIT_UNDO},           {'r', DIA_EDIT_REDO},
    {'n', DIA_EDIT_NEXT},           {'p', DIA_EDIT_PREVIOUS},
    {'.', DIA_EDIT_NEXT_FRAME},     {',', DIA_EDIT_PREVIOUS_FRAME},
    {'+', DIA_EDIT_ADD_FRAME},      {'-', DIA_EDIT_DROP_FRAME},
};

static void note(struct session *s, const char *text)
{
    snprintf(s->view.note, sizeof s->view.note, "%s", text);
}

static void save(struct session *s)
{
    struct dia_diagnostic wrong = {""};
    char text[160];
    if (dia_editor_save(&s->editor, &wrong) == DIA_OK) {
        snprintf(text, sizeof text, "%.120s is saved", s->view.path);
        note(s, text);
    } else {
        note(s, wrong.text);
    }
}

/* 1: leave. */
static int leaves(struct session *s)
{
    uint32_t unsaved = dia_editor_unsaved(&s->editor);
    char text[120];
    s->left = unsaved == 0 || s->asked;
    if (s->left)
        return 1;
    s->asked = 1;
    if (unsaved == 1)
        snprintf(text, sizeof text, "a drawing is not saved: s saves, q again leaves without");
    else
        snprintf(text, sizeof text, "%u drawings are not saved: s saves, q again leaves without",
                 unsaved);
    note(s, text);
    return 0;
}

static void click(struct session *s, const struct terminal_event *event)
{
    struct dia_diagnostic wrong = {""};
    uint32_t column, row;
    if (event->kind == TERMINAL_RELEASED ||
        !edit_dot_at(&s->canvas, &s->editor, &s->view, event->row, event->column, &column, &row))
        return;
    uint8_t cell = dia_editor_cell(&s->editor, s->editor.frame, row, column);
    if (event->kind == TERMINAL_PRESSED) {
        s->stroke++;
        s->painting = cell == s->editor.pen ? 0 : s->editor.pen;
    } else if (s->stroke == 0) {
        return; /* it was pressed outside of the drawing */
    }
    if (dia_editor_put(&s->editor, column, row, s->painting, s->stroke, &wrong) != DIA_OK)
        note(s, wrong.text);
}

/* 1: leave. */
static int take(struct session *s, const struct terminal_event *event)
{
    static const int shifts[] = {'^', 'v', '>', '<'}; /* in the order of the arrows */
    struct dia_diagnostic wrong = {""};
    int key = event->kind, asked = s->asked;
    if (event->kind == 0)
        return 0;
    s->view.note[0] = 0;
    s->asked = 0;
    if (s->view.help && key > 0) {
        s->view.help = 0;
        return 0;
    }
    if (event->with_shift && key >= TERMINAL_UP && key <= TERMINAL_LEFT)
        key = shifts[key - TERMINAL_UP];
    if (key >= TERMINAL_PRESSED && key <= TERMINAL_RELEASED) {
        click(s, event);
        return 0;
    }
    for (size_t k = 0; k < sizeof ways / sizeof ways[0]; k++) {
        if (ways[k].key == key && dia_editor_do(&s->editor, ways[k].what, &wrong) != DIA_OK)
            note(s, wrong.text);
    }
    if (key == 'o')
        s->view.onion = !s->view.onion;
    if (key == '?')
        s->view.help = 1;
    if (key == 's')
        save(s);
    if (key == 'q' || key == 'Q') {
        s->asked = asked;
        return leaves(s);
    }
    return key == -1;
}

static uint32_t ms_now(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (uint32_t)((uint64_t)now.tv_sec * 1000u + (uint64_t)now.tv_nsec / 1000000u);
}

static int draw(struct session *s)
{
    struct dia_diagnostic wrong = {""};
    int columns, rows, in_colour = !(getenv("NO_COLOR") && getenv("NO_COLOR")[0]);
    terminal_size(&columns, &rows);
    if (terminal_was_cleared())
        canvas_forget(&s->canvas);
    if (s->view.as && as_show(s->view.as, &s->editor.drawings, dia_editor_item(&s->editor),
                              s->view.ms, &wrong) != CLI_FINE)
        note(s, wrong.text);
    if (canvas_begin(&s->canvas, columns, rows, in_colour) != 0)
        return -1;
    edit_draw(&s->canvas, &s->editor, &s->view);
    if (canvas_finish(&s->canvas, 1) != 0)
        return -1;
    terminal_write(s->canvas.text, s->canvas.length);
    return 0;
}

static int loop(struct session *s)
{
    uint32_t begun = ms_now();
    struct terminal_event event = {0, 0, 0, 0};
    do {
        s->view.ms = ms_now() - begun;
        if (draw(s) != 0)
            return cli_fail(CLI_MACHINE, "glyphs", "out of memory");
        if (terminal_asked_to_end())
            return CLI_FINE;
        const struct dia_dots *item = dia_editor_item(&s->editor);
        event = terminal_event(item->frames > 1 && item->each_ms < 200 ? item->each_ms : 200);
    } while (!take(s, &event));
    return CLI_FINE;
}

/* Somebody ended it from outside, or the terminal is gone: what was drawn is kept. */
static int keep(const struct session *s)
{
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_editor_save_beside(&s->editor, s->path, &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    return cli_fail(CLI_BAD_INPUT, "glyphs", "ended before it was saved; what was drawn is in %s",
                    s->path);
}

/* Where work goes that is not saved: what is there is left alone, and told if it is newer. */
static void find_left(struct session *s)
{
    struct stat of, left;
    char number[12] = "";
    int stem = (int)(strlen(s->view.path) - strlen(".drawings"));
    int is_there = stat(s->view.path, &of) == 0;
    for (unsigned k = 2;; k++) {
        snprintf(s->path, sizeof s->path, "%.*s.unsaved%s.drawings", stem < 4000 ? stem : 4000,
                 s->view.path, number);
        if (stat(s->path, &left) != 0)
            return;
        if (!is_there || left.st_mtim.tv_sec > of.st_mtim.tv_sec ||
            (left.st_mtim.tv_sec == of.st_mtim.tv_sec && left.st_mtim.tv_nsec > of.st_mtim.tv_nsec))
            snprintf(s->view.note, sizeof s->view.note, "%.150s has work that was not saved",
                     s->path);
        snprintf(number, sizeof number, "-%u", k);
    }
}

int edit_run(const char *path, const char *name, const struct dia_editor_size *size, struct as *as)
{
    static struct session s;
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_editor_open(&s.editor, path, name, size, &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    s.view.path = path;
    s.view.as = as;
    find_left(&s);
    terminal_takes_clicks();
    int code = CLI_FINE;
    if (terminal_begin() != 0) {
        code = cli_fail(CLI_BAD_INPUT, "glyphs",
                        "--edit needs a terminal that can move its cursor; a file of drawings is "
                        "text, which any editor changes too");
    } else {
        code = loop(&s);
        int leaves_work = !s.left && dia_editor_unsaved(&s.editor);
        terminal_end();
        if (code != CLI_FINE || leaves_work) {
            int kept = dia_editor_unsaved(&s.editor) ? keep(&s) : CLI_FINE;
            code = code != CLI_FINE ? code : kept;
        }
    }
    canvas_free(&s.canvas);
    dia_editor_free(&s.editor);
    return code;
}
