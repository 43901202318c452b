/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_EDITOR_H
#define DIACHROME_EDITOR_H

#include "diagnostic.h"
#include "drawings.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * A file of drawings being edited: what a screen or a page with dots to touch is made on.
 *
 *   dia_editor_open(&editor, "signs.drawings", "tick", NULL, &wrong);
 *   dia_editor_do(&editor, DIA_EDIT_TOGGLE, &wrong);          the dot at the cursor
 *   dia_editor_do(&editor, DIA_EDIT_UNDO, &wrong);
 *   dia_editor_save(&editor, &wrong);
 *   dia_editor_free(&editor);
 *
 * Saving replaces the lines of those drawings that were changed. Comments, keys and all other
 * drawings of the file stay as they were.
 *
 * Memory: the file, its drawings, and what can be undone: the last 1000 steps in at most 32 MB.
 * Cost: a step copies the drawing it changes. Context: one thread at a time for an object.
 */
#define DIA_EDITOR_STEPS 1000

/* What can be done. Those that change dots can be undone, each in one step. */
enum dia_edit {
    DIA_EDIT_LEFT, /* the cursor */
    DIA_EDIT_RIGHT,
    DIA_EDIT_UP,
    DIA_EDIT_DOWN,
    DIA_EDIT_TOGGLE,      /* the dot at the cursor: dark, or the colour of the pen */
    DIA_EDIT_FILL,        /* all dots like it that it touches by a side */
    DIA_EDIT_SHIFT_LEFT,  /* the frame by a dot; what leaves at one side comes in at the other */
    DIA_EDIT_SHIFT_RIGHT, /* */
    DIA_EDIT_SHIFT_UP,
    DIA_EDIT_SHIFT_DOWN,
    DIA_EDIT_MIRROR,    /* the frame: left becomes right */
    DIA_EDIT_FLIP,      /* the frame: up becomes down */
    DIA_EDIT_TURN,      /* all frames by a quarter, clockwise */
    DIA_EDIT_INVERT,    /* the frame: lit dots dark, dark ones in the colour of the pen */
    DIA_EDIT_CLEAR,     /* the frame: all dark */
    DIA_EDIT_WIDER,     /* all frames: a dark column more at the right */
    DIA_EDIT_NARROWER,  /* all frames: without the column at the right */
    DIA_EDIT_HIGHER,    /* all frames: a dark row more below */
    DIA_EDIT_LOWER,     /* all frames: without the lowest row */
    DIA_EDIT_ADD_FRAME, /* a copy of this one behind it, which is the current one then */
    DIA_EDIT_DROP_FRAME,
    DIA_EDIT_UNDO,
    DIA_EDIT_REDO,
    DIA_EDIT_NEXT_FRAME,
    DIA_EDIT_PREVIOUS_FRAME,
    DIA_EDIT_NEXT,     /* drawing of the file */
    DIA_EDIT_PREVIOUS, /* */
    DIA_EDIT_PEN       /* the next colour of the file */
};

/* The size of a new drawing, in dots. */
struct dia_editor_size {
    uint8_t columns, rows; /* 1..DIA_DRAWING_SIDE */
};

struct dia_editor_step;

struct dia_editor {
    struct dia_drawings drawings;
    uint32_t item;       /* the drawing that is edited, of drawings.items */
    uint16_t frame;      /* and its frame, from 0 */
    uint8_t column, row; /* the cursor */
    uint8_t pen;         /* colour of dots that are set: 1..drawings.colour_count */
    /* private */
    char *path, *source;           /* the file, and its text as it was read or saved */
    size_t size;                   /* of source, bytes */
    uint8_t *changed;              /* of each item: 1 it is not as the file has it */
    struct dia_editor_step *steps; /* DIA_EDITOR_STEPS, the oldest first */
    uint32_t step_count, step_at;  /* those from step_at on were undone */
    size_t step_bytes;             /* of all of them */
    uint32_t stroke;               /* dots that dia_editor_put set with this number are one step */
};

/*
 * Reads a file (our format, docs/drawings.md) and begins with the drawing or glyph `name`; NULL:
 * the first. With `size` it must not be there yet: a dark one of that size is made at the end of
 * the file, and the file too where there is none; a glyph is as high as its face whatever `size`
 * says. DIA_BAD_VALUE and a diagnostic: something of this is not so. DIA_PORT_FAILED: memory ran
 * out. The editor is empty then.
 */
enum dia_status dia_editor_open(struct dia_editor *editor, const char *path, const char *name,
                                const struct dia_editor_size *size, struct dia_diagnostic *wrong);
void dia_editor_free(struct dia_editor *editor);

/* The drawing that is edited. */
const struct dia_dots *dia_editor_item(const struct dia_editor *editor);

/* Cell of a frame of it: 0 dark, k colour k - 1. */
uint8_t dia_editor_cell(const struct dia_editor *editor, uint32_t frame, uint32_t row,
                        uint32_t column);

/* DIA_BAD_VALUE, a diagnostic and nothing changed: it cannot be done here ("there is nothing to
 * undo"). DIA_PORT_FAILED: memory ran out, nothing changed. The cursor stays inside. */
enum dia_status dia_editor_do(struct dia_editor *editor, enum dia_edit what,
                              struct dia_diagnostic *wrong);

/* Sets a dot to a cell, and the cursor on it. All calls with the same number of a stroke are one
 * step; take another number for each new stroke, and not 0. */
enum dia_status dia_editor_put(struct dia_editor *editor, uint32_t column, uint32_t row,
                               uint8_t cell, uint32_t stroke, struct dia_diagnostic *wrong);

/* The file as it would be saved now, on the heap, freed with free(), and its size. NULL: memory ran
 * out, and a diagnostic. */
char *dia_editor_text(const struct dia_editor *editor, size_t *size, struct dia_diagnostic *wrong);

/* How many drawings are not as the file has them. */
uint32_t dia_editor_unsaved(const struct dia_editor *editor);

/* Writes the file, whole or not at all. DIA_BAD_VALUE and a diagnostic: somebody else changed the
 * file since it was read. */
enum dia_status dia_editor_save(struct dia_editor *editor, struct dia_diagnostic *wrong);

/* Writes what dia_editor_save would, under another name; the file stays unsaved. */
enum dia_status dia_editor_save_beside(const struct dia_editor *editor, const char *path,
                                       struct dia_diagnostic *wrong);

DIA_END

#endif
