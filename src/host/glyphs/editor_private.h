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

#endif
