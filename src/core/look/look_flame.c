/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "../noise.h"
#include "once.h"
#include "../palette.h"
#include "plane.h"

void dia_flame_defaults(struct dia_flame *p)
{
    static const DIA_ROM struct dia_rgb colours[] = {
        {0, 0, 0}, {110, 8, 0}, {230, 70, 0}, {255, 170, 30}, {255, 240, 170}};
    p->palette.placed = 0;
    p->palette.count = 5;
    for (uint8_t i = 0; i < DIA_PALETTE_MAX; i++)
        p->palette.colours[i] = colours[i < 5 ? i : 4];
    p->tongue_um = 40000;
    p->speed_um_s = 120000;
    p->change_ms = 500;
    p->seed = 1;
}

/* From the top to the bottom, 16 bits below the point. */
#define HOTTEST 0x80000000u

/* The higher, the more is taken from the noise: half of it at the top. */
void dia_flame_render(const struct dia_flame *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct plane plane;
    struct palette_light light;
    uint16_t values[DIA_RUN] = {0};
    struct noise_row row;
    struct noise_cell cell = {0};
    struct noise_line line;
    uint32_t across[DIA_RUN], down[DIA_RUN], heat[DIA_RUN], tongue = (uint32_t)p->tongue_um;
    struct dia_ramp height;
    dia_plane_make(&plane, surface, tongue);
    uint32_t risen = dia_once_cells(p->speed_um_s, tongue, ms);
    dia_ramp_init(&height, &plane.down, HOTTEST, 0);
    dia_noise_row_at(&row, ms, (uint32_t)p->change_ms, (uint32_t)p->seed);
    dia_noise_line_at(&line, 0);
    dia_palette_make(&light, &p->palette);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        if (plane.even) {
            uint32_t y = plane.y.start + first * plane.y.step + risen;
            dia_noise_line_run(&row, &line, y, plane.y.step, (uint16_t)run, values);
            for (uint16_t i = 0; i < run; i++)
                values[i] = (uint16_t)(values[i] >> 1 | 32768u);
        } else {
            dia_plane_down(&plane, first, run, down);
            dia_plane_across(&plane, first, run, across);
            if (!plane.flat)
                dia_ramp_run(&height, first, run, heat);
            for (uint32_t i = 0; i < run; i++)
                down[i] += risen;
            dia_noise_plane_run(&row, &cell, across, down, run, values);
            for (uint32_t i = 0; i < run; i++) /* both halves at most 32767 */
                values[i] = (uint16_t)((values[i] >> 1) + (plane.flat ? 32768u : heat[i] >> 16));
        }
        dia_palette_run(&light, values, run, out);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_PALETTE(dia_flame, palette, "colours", "from cold to hot"),
    PARAM_NUMBER(dia_flame, tongue_um, "tongue", "size of a tongue", DIA_PARAM_LENGTH, 1000,
                 100000000),
    PARAM_NUMBER(dia_flame, speed_um_s, "speed", "how fast it rises", DIA_PARAM_SPEED, 0, 10000000),
    PARAM_NUMBER(dia_flame, change_ms, "change", "time for a tongue to become another",
                 DIA_PARAM_TIME, 20, 3600000),
    PARAM_NUMBER(dia_flame, seed, "seed", "another seed, another picture", DIA_PARAM_COUNT, 0,
                 INT32_MAX),
};

LOOK_GLUE(dia_flame)

const DIA_ROM struct dia_look dia_look_flame = {
    .name = "flame",
    .help = "noise that rises through a palette, colder with height",
    LOOK_COMMON(dia_flame, params),
};
