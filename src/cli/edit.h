/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_EDIT_H
#define DIA_CLI_EDIT_H

#include <diachrome/editor.h>

#include "as.h"
#include "canvas.h"

/* What the screen of the editor shows beside the drawing. */
struct edit_view {
    const char *path;
    char note[200]; /* the last line; "": which keys there are */
    int onion;      /* 1: the frame before shows through */
    int help;       /* 1: all keys instead of the drawing */
    int left, top;  /* the first dot that is on the screen; edit_draw moves them */
    uint32_t ms;    /* since it began: frames of the small picture take turns */
    struct as *as;  /* the device beside it; NULL: the drawing, small */
};

/* Draws all of it on a canvas that has begun. */
void edit_draw(struct canvas *canvas, const struct dia_editor *editor, struct edit_view *view);

/* The dot at a place of the screen as edit_draw drew it: 1, or 0. */
int edit_dot_at(const struct canvas *canvas, const struct dia_editor *editor,
                const struct edit_view *view, int row, int column, uint32_t *dot_column,
                uint32_t *dot_row);

/* The editor in a terminal, until somebody leaves it. The exit code; what is wrong has been said.
 * `as` may be NULL. */
int edit_run(const char *path, const char *name, const struct dia_editor_size *size, struct as *as);

#endif
