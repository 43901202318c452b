/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/rom.h>

#include "look_glue.h"
#include "noise.h"
#include "once.h"

void dia_drift_defaults(struct dia_drift *p)
{
    static const DIA_ROM struct dia_rgb sea[] = {
        {4, 16, 72}, {0, 96, 128}, {40, 200, 160}, {230, 245, 200}};
    p->palette.count = 4;
    for (uint8_t i = 0; i < DIA_PALETTE_MAX; i++)
        p->palette.colours[i] = sea[i < 4 ? i : 3];
    p->patch_um = 300000;
    p->change_ms = 8000;
    p->seed = 1;
}

/* value 0..65535 over the colours of the palette */
static struct dia_rgb palette_at(const struct dia_palette *palette, uint16_t value)
{
    uint32_t place = (uint32_t)value * (uint8_t)(palette->count - 1); /* 16 bits below the point */
    uint8_t below = (uint8_t)(place >> 16);
    uint8_t above = (uint8_t)(below + 1 < palette->count ? below + 1 : below);
    return dia_rgb_mix(palette->colours[below], palette->colours[above],
                       (dia_share)((uint16_t)place >> 1));
}

/*
 * Two-dimensional smooth noise, one way along the surface, the other in time. The time side is
 * the same for all elements, so it is worked out once a frame; the lattice columns on either
 * side of an element change once a patch, so they are kept until they do.
 */
void dia_drift_render(const struct dia_drift *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct noise_row row;
    noise_row_at(&row, ms, (uint32_t)p->change_ms, (uint32_t)p->seed);
    struct dia_ramp ramp; /* lattice columns, 16 bits below the point */
    dia_ramp_init(&ramp, surface, once_lengths(surface, (uint32_t)p->patch_um), 0);
    struct noise_columns pair = noise_columns_at(&row, 0);
    uint32_t places[DIA_RUN];
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++) {
            uint16_t column = (uint16_t)(places[i] >> 16);
            if (column != pair.column)
                pair = noise_columns_at(&row, column);
            out[i] = palette_at(&p->palette, noise_between(&pair, (uint16_t)places[i]));
        }
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    {.key = "colours",
     .help = "from the lowest to the highest noise",
     .kind = DIA_PARAM_PALETTE,
     .offset = offsetof(struct dia_drift, palette)},
    {.key = "patch",
     .help = "size of a patch of one colour",
     .kind = DIA_PARAM_LENGTH,
     .min = 1000,
     .max = 100000000,
     .offset = offsetof(struct dia_drift, patch_um)},
    {.key = "change",
     .help = "time for a patch to become another",
     .kind = DIA_PARAM_TIME,
     .min = 100,
     .max = 3600000,
     .offset = offsetof(struct dia_drift, change_ms)},
    {.key = "seed",
     .help = "another seed, another picture",
     .kind = DIA_PARAM_COUNT,
     .min = 0,
     .max = INT32_MAX,
     .offset = offsetof(struct dia_drift, seed)},
};

LOOK_GLUE(dia_drift)

const DIA_ROM struct dia_look dia_look_drift = {
    .name = "drift",
    .help = "smooth noise, slowly changing, through a palette",
    LOOK_COMMON(dia_drift, params),
};
