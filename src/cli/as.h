/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_AS_H
#define DIA_CLI_AS_H

#include <diachrome/drawings.h>
#include <diachrome/rig_layer.h>

#include "tile.h"

/* A lane or a device of a rig that shows a drawing. */
struct as {
    const char *command;
    struct dia_rig rig;
    struct dia_player *player;
    struct dia_rig_layer layer;
    struct dia_drawings one; /* the drawing that it shows; the caller's */
    struct dia_drawing_files files;
    struct tile tile;
    uint32_t number;
    int is_device, is_cells;
};

/* Opens it on the lane or device of that name. CLI_FINE or the exit code, said. */
int as_open(struct as *as, const char *command, const char *rig_path, const char *name);
void as_free(struct as *as);

/* Shows a drawing there at a time. CLI_FINE, or the exit code and why in wrong. */
int as_show(struct as *as, const struct dia_drawings *of, const struct dia_dots *item, uint32_t ms,
            struct dia_diagnostic *wrong);

/* How it looks, as high and wide as it says, from a place on. */
void as_measure(struct as *as, int most_columns, int in_colour);
void as_draw(const struct as *as, struct canvas *canvas, int row, int column);

#endif
