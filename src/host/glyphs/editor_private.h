/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_EDITOR_PRIVATE_H
#define DIA_HOST_EDITOR_PRIVATE_H

#include <diachrome/editor.h>

/* A drawing as it was, or as it was before that was undone. */
struct dia_editor_step {
    uint32_t item, stroke;
    uint16_t frames, frame;
    uint8_t columns, rows, column, row;
    uint8_t *cells;
};

/* All of the text of a file, to be freed; NULL, *status and a diagnostic when it cannot be read. */
char *dia_drawings_read_all(const char *path, size_t *size, struct dia_diagnostic *wrong,
                            enum dia_status *status);

void dia_editor_steps_free(struct dia_editor *editor);

static inline struct dia_dots *dia_editor_current(const struct dia_editor *editor)
{
    return &editor->drawings.items[editor->item];
}

/* Dots of all frames. */
static inline size_t dia_editor_dots(const struct dia_dots *item)
{
    return (size_t)item->columns * item->rows * item->frames;
}

/* The drawing as it is now becomes the last step; its cells go over to it. */
void dia_editor_remember(struct dia_editor *editor, uint32_t stroke);
enum dia_status dia_editor_undo(struct dia_editor *editor, struct dia_diagnostic *wrong);
enum dia_status dia_editor_redo(struct dia_editor *editor, struct dia_diagnostic *wrong);

#endif
