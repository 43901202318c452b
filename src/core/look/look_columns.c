/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "../noise.h"
#include "once.h"
#include "plane.h"
#include "../shade.h"

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

/* Down a column as along a chase; where in its way each column is, is random. */
void dia_columns_render(const struct dia_columns *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct plane plane;
    struct dia_ramp ramp;
    uint16_t levels[DIA_RUN];
    uint32_t places[DIA_RUN], column[DIA_RUN], spacing = (uint32_t)p->spacing_um;
    uint16_t tail = (uint16_t)(p->tail * 2 - (p->tail != 0));
    uint32_t slope = 0xffffffu / tail;
    int falls = p->speed_um_s >= 0;
    uint32_t slot = dia_noise_slot(0, (uint32_t)p->seed);
    uint16_t alone = 0; /* what is flat is one column */
    dia_plane_make(&plane, surface, (uint32_t)surface->pitch_um);
    dia_once_spaced(&ramp, &plane.down, spacing, 0u - dia_once_moved(p->speed_um_s, spacing, ms));
    if (plane.flat)
        alone = noise_random(slot, 0);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        if (!plane.flat)
            dia_plane_across(&plane, first, run, column);
        for (uint32_t i = 0; i < run && !plane.flat; i++)
            places[i] += (uint32_t)noise_random(slot, (column[i] + 0x8000u) >> 16) << 16;
        for (uint32_t i = 0; i < run; i++) {
            uint16_t place = (uint16_t)((places[i] >> 16) + alone);
            uint16_t behind = falls ? (uint16_t)(0u - place) : place;
            levels[i] = behind < tail ? (uint16_t)(65535u - (behind * slope >> 8)) : 0;
        }
        dia_shade_run(out, p->background, p->colour, levels, run);
        first += run;
        out += run;
        n -= run;
    }
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
