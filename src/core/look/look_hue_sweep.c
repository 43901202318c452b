/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/config.h>

#include "hue_circle.h"
#include "look_glue.h"
#include "once.h"

void dia_hue_sweep_defaults(struct dia_hue_sweep *p)
{
    p->turns = 1;
    p->speed_um_s = 200000;
    p->saturation = DIA_SHARE_ONE;
    p->level = DIA_SHARE_ONE;
}

/* Codes 0..255 to low..high: once for all bytes, in a loop that compilers turn into vectors. */
static void scale(uint8_t *codes, uint32_t n, uint8_t low, uint8_t high)
{
    uint8_t range = (uint8_t)(high - low);
    uint16_t start = (uint16_t)(low * 256u + 255u);
    for (uint32_t i = 0; i < n; i++)
        codes[i] = (uint8_t)((uint16_t)((uint16_t)codes[i] * range + start) >> 8);
}

void dia_hue_sweep_render(const struct dia_hue_sweep *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint8_t high = (uint8_t)((uint32_t)p->level * 255u >> 15);
    uint8_t low = (uint8_t)((uint32_t)high * (DIA_SHARE_ONE - (uint32_t)p->saturation) >> 15);
    struct dia_ramp ramp;
    dia_once_turns(&ramp, surface, p->turns,
                   HUE_HALF - dia_once_travelled(surface, p->turns, p->speed_um_s, ms));
    dia_hue_run(&ramp, first, n, out);
    if (high - low != 255)
        scale((uint8_t *)out, n * 3u, low, high);
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_NUMBER(dia_hue_sweep, turns, "turns", "whole hue circles on the surface", DIA_PARAM_COUNT,
                 1, 100),
    PARAM_NUMBER(dia_hue_sweep, speed_um_s, "speed",
                 "how fast it moves; negative: towards the start", DIA_PARAM_SPEED, -10000000,
                 10000000),
    PARAM_NUMBER(dia_hue_sweep, saturation, "saturation", "0 % is white, 100 % pure hue",
                 DIA_PARAM_SHARE, 0, DIA_SHARE_ONE),
    PARAM_NUMBER(dia_hue_sweep, level, "level", "0 % is black, 100 % full", DIA_PARAM_SHARE, 0,
                 DIA_SHARE_ONE),
};

LOOK_GLUE(dia_hue_sweep)

const DIA_ROM struct dia_look dia_look_hue_sweep = {
    .name = "hue-sweep",
    .help = "the hue circle along the surface, moving",
    LOOK_COMMON(dia_hue_sweep, params),
};
