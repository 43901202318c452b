/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/config.h>

#include "look_glue.h"
#include "../noise.h"
#include "once.h"
#include "../palette.h"

void dia_drift_defaults(struct dia_drift *p)
{
    static const DIA_ROM struct dia_rgb sea[] = {
        {4, 16, 72}, {0, 96, 128}, {40, 200, 160}, {230, 245, 200}};
    p->palette.placed = 0;
    p->palette.count = 4;
    for (uint8_t i = 0; i < DIA_PALETTE_MAX; i++)
        p->palette.colours[i] = sea[i < 4 ? i : 3];
    p->patch_um = 300000;
    p->change_ms = 8000;
    p->seed = 1;
}

/*
 * Two-dimensional smooth noise, one way along the surface, the other in time. The time side is
 * the same for all elements, so it is worked out once a frame; the lattice columns on either
 * side of an element change once a patch, so they are kept until they do.
 */
void dia_drift_render(const struct dia_drift *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct palette_light light;
    uint16_t values[DIA_RUN];
    struct noise_row row;
    dia_noise_row_at(&row, ms, (uint32_t)p->change_ms, (uint32_t)p->seed);
    struct dia_ramp ramp; /* lattice columns, 16 bits below the point */
    dia_ramp_init(&ramp, surface, dia_once_lengths(surface, (uint32_t)p->patch_um), 0);
    struct noise_columns pair = dia_noise_columns_at(&row, 0);
    uint32_t places[DIA_RUN];
    dia_palette_make(&light, &p->palette);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++) {
            uint16_t column = (uint16_t)(places[i] >> 16);
            if (column != pair.column)
                pair = dia_noise_columns_at(&row, column);
            values[i] = dia_noise_between(&pair, (uint16_t)places[i]);
        }
        dia_palette_run(&light, values, run, out);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_PALETTE(dia_drift, palette, "colours", "from the lowest to the highest noise"),
    PARAM_NUMBER(dia_drift, patch_um, "patch", "size of a patch of one colour", DIA_PARAM_LENGTH,
                 1000, 100000000),
    PARAM_NUMBER(dia_drift, change_ms, "change", "time for a patch to become another",
                 DIA_PARAM_TIME, 100, 3600000),
    PARAM_NUMBER(dia_drift, seed, "seed", "another seed, another picture", DIA_PARAM_COUNT, 0,
                 INT32_MAX),
};

LOOK_GLUE(dia_drift)

const DIA_ROM struct dia_look dia_look_drift = {
    .name = "drift",
    .help = "smooth noise, slowly changing, through a palette",
    LOOK_COMMON(dia_drift, params),
};
