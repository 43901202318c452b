/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>

#include "view.h"

static void ring(struct view *view, const struct dia_rig_lane *lane)
{
    float pitch = (float)lane->layout.pitch_um / 1000,
          radius = (float)lane->layout.diameter_um / 2000;
    float middle = radius + pitch / 2;
    view->width = view->height = 2 * middle;
    for (uint32_t i = 0; i < view->count; i++) {
        double turn = 2 * acos(-1.0) * i / view->count;
        view->elements[i] = (struct view_element){middle + radius * (float)sin(turn),
                                                  middle - radius * (float)cos(turn), pitch * 0.5f,
                                                  pitch * 0.5f, VIEW_SQUARE};
    }
}

static void grid(struct view *view, const struct dia_rig_lane *lane)
{
    float pitch = (float)lane->layout.pitch_um / 1000;
    view->width = pitch * lane->layout.grid.columns;
    view->height = pitch * lane->layout.grid.rows;
    for (uint32_t i = 0; i < view->count; i++) {
        struct dia_cell cell = dia_grid_cell(&lane->layout.grid, (uint16_t)i);
        view->elements[i] = (struct view_element){pitch * ((float)cell.column + 0.5f),
                                                  pitch * ((float)cell.row + 0.5f), pitch * 0.5f,
                                                  pitch * 0.5f, VIEW_SQUARE};
    }
}

void view_of_lane(struct view *view, const struct dia_rig_lane *lane)
{
    view->count = lane->count;
    view->elements = calloc(view->count, sizeof *view->elements);
    if (!view->elements)
        return;
    if (lane->layout.shape == DIA_SHAPE_RING)
        ring(view, lane);
    else
        grid(view, lane);
}

void view_free(struct view *view)
{
    free(view->elements);
    view->elements = NULL;
}
