/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "../noise.h"
#include "once.h"
#include "plane.h"
#include "../mix.h"
#include "tail.h"

void dia_columns_defaults(struct dia_columns *p)
{
    p->colour.r = 150;
    p->colour.g = 255;
    p->colour.b = 170;
    p->background.r = 0;
    p->background.g = 6;
    p->background.b = 4;
    p->spacing_um = 150000;
    p->tail = DIA_SHARE_ONE / 2;
    p->speed_um_s = 150000;
    p->seed = 1;
}

struct columns {
    struct plane plane;
    struct dia_ramp ramp;
    struct tail tail;
    uint32_t slot;
    int falls;
};

static void levels_of(const void *of, uint32_t first, uint32_t n, uint16_t *levels)
{
    const struct columns *columns = (const struct columns *)of;
    uint32_t places[DIA_RUN], column[DIA_RUN];
    dia_ramp_run(&columns->ramp, first, n, places);
    if (!columns->plane.flat) {
        dia_plane_across(&columns->plane, first, n, column);
        for (uint32_t i = 0; i < n; i++)
            places[i] += (uint32_t)noise_random(columns->slot, (column[i] + 0x8000u) >> 16) << 16;
    }
    dia_tail_turn_run(&columns->tail, columns->falls, places, n, levels);
}

/* Down a column as along a chase; where in its way each column is, is random. */
void dia_columns_render(const struct dia_columns *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct columns columns;
    uint32_t spacing = (uint32_t)p->spacing_um;
    columns.falls = p->speed_um_s >= 0;
    columns.slot = dia_noise_slot(0, (uint32_t)p->seed);
    dia_plane_make(&columns.plane, surface, (uint32_t)surface->pitch_um);
    dia_tail_make_turn(&columns.tail, (uint32_t)surface->pitch_um, 1, spacing, (dia_share)p->tail);
    dia_phase start = 0u - dia_once_moved(p->speed_um_s, spacing, ms);
    if (columns.plane.flat) /* it is one column */
        start += (uint32_t)noise_random(columns.slot, 0) << 16;
    dia_once_spaced(&columns.ramp, &columns.plane.down, spacing, start);
    dia_mix_run(out, p->background, p->colour, levels_of, &columns, first, n);
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_columns, colour, "colour", "of the lights"),
    PARAM_COLOUR(dia_columns, background, "background", "between them"),
    PARAM_NUMBER(dia_columns, spacing_um, "spacing", "from light to light in a column",
                 DIA_PARAM_LENGTH, 1000, 100000000),
    PARAM_NUMBER(dia_columns, tail, "tail", "share of the spacing that a light and its tail take",
                 DIA_PARAM_SHARE, 328, DIA_SHARE_ONE),
    PARAM_NUMBER(dia_columns, speed_um_s, "speed", "how fast they fall; negative: they rise",
                 DIA_PARAM_SPEED, -10000000, 10000000),
    PARAM_NUMBER(dia_columns, seed, "seed", "another seed, another picture", DIA_PARAM_COUNT, 0,
                 INT32_MAX),
};

LOOK_GLUE(dia_columns)

const DIA_ROM struct dia_look dia_look_columns = {
    .name = "columns",
    .help = "lights that fall or rise, in each column at another time",
    LOOK_COMMON(dia_columns, params),
};
