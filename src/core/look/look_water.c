/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "../noise.h"
#include "once.h"
#include "../palette.h"
#include "plane.h"

void dia_water_defaults(struct dia_water *p)
{
    static const DIA_ROM struct dia_rgb colours[] = {
        {0, 6, 30}, {0, 40, 110}, {0, 120, 170}, {60, 200, 200}, {230, 255, 250}};
    p->palette.placed = 0;
    p->palette.count = 5;
    for (uint8_t i = 0; i < DIA_PALETTE_MAX; i++)
        p->palette.colours[i] = colours[i < 5 ? i : 4];
    p->wave_um = 60000;
    p->speed_um_s = 50000;
    p->change_ms = 2500;
    p->seed = 1;
}

/* Where crests of both sheets meet, the light does. */
void dia_water_render(const struct dia_water *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct plane plane;
    struct palette_light light;
    uint16_t values[DIA_RUN] = {0}, others[DIA_RUN] = {0};
    struct noise_row row, other;
    struct noise_cell cell = {0}, second = {0};
    struct noise_line line, against;
    uint32_t across[DIA_RUN], down[DIA_RUN], wave = (uint32_t)p->wave_um;
    dia_plane_make(&plane, surface, wave);
    uint32_t here = dia_once_cells(p->speed_um_s, wave, ms);
    uint32_t there = dia_once_cells(p->speed_um_s / 3 * 2, wave, ms);
    dia_noise_row_at(&row, ms, (uint32_t)p->change_ms, (uint32_t)p->seed);
    dia_noise_row_at(&other, ms, (uint32_t)p->change_ms, ~(uint32_t)p->seed);
    dia_noise_line_at(&line, 0u - here);
    dia_noise_line_at(&against, there);
    dia_palette_make(&light, &p->palette);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        if (plane.even) {
            uint32_t y = plane.y.start + first * plane.y.step, step = plane.y.step;
            dia_noise_line_run(&row, &line, y, step, (uint16_t)run, values);
            dia_noise_line_run(&other, &against, y + 0x8000u, step, (uint16_t)run, others);
        } else {
            dia_plane_down(&plane, first, run, down);
            dia_plane_across(&plane, first, run, across);
            for (uint32_t i = 0; i < run; i++)
                across[i] -= here;
            dia_noise_plane_run(&row, &cell, across, down, run, values);
            for (uint32_t i = 0; i < run; i++) {
                across[i] += here + there;
                down[i] += 0x8000u;
            }
            dia_noise_plane_run(&other, &second, across, down, run, others);
        }
        for (uint16_t i = 0; i < run; i++)
            values[i] = (uint16_t)(((uint32_t)values[i] + others[i]) >> 1);
        dia_palette_run(&light, values, run, out);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_PALETTE(dia_water, palette, "colours", "from trough to crest"),
    PARAM_NUMBER(dia_water, wave_um, "wave", "size of a wave", DIA_PARAM_LENGTH, 1000, 100000000),
    PARAM_NUMBER(dia_water, speed_um_s, "speed", "of one sheet; the other goes against it",
                 DIA_PARAM_SPEED, -10000000, 10000000),
    PARAM_NUMBER(dia_water, change_ms, "change", "time for a wave to become another",
                 DIA_PARAM_TIME, 100, 3600000),
    PARAM_NUMBER(dia_water, seed, "seed", "another seed, another picture", DIA_PARAM_COUNT, 0,
                 INT32_MAX),
};

LOOK_GLUE(dia_water)

const DIA_ROM struct dia_look dia_look_water = {
    .name = "water",
    .help = "two sheets of noise that pass each other",
    LOOK_COMMON(dia_water, params),
};
