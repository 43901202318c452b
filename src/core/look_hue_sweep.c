/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/rom.h>

#include "look_glue.h"
#include "once.h"

void dia_hue_sweep_defaults(struct dia_hue_sweep *p)
{
    p->turns = 1;
    p->speed_um_s = 200000;
    p->saturation = DIA_SHARE_ONE;
    p->level = DIA_SHARE_ONE;
}

/*
 * A sixth of the hue circle: two channels stand still, one moves between low and high. Of the
 * 256 places in a sixth, number f has (start + f * slope) / 256 in that channel.
 */
struct sixth {
    struct dia_rgb still; /* the moving channel is overwritten */
    uint8_t moving;       /* 0 r, 1 g, 2 b */
    uint16_t start, slope;
};

/* Which channels are on in each sixth, and which one moves. */
static void divide(struct sixth sixths[6], uint8_t low, uint8_t high)
{
    static const DIA_ROM uint8_t on[6][3] = {{1, 0, 0}, {0, 1, 0}, {0, 1, 0},
                                             {0, 0, 1}, {0, 0, 1}, {1, 0, 0}};
    static const DIA_ROM uint8_t moving[6] = {1, 0, 2, 1, 0, 2};
    uint16_t range = (uint16_t)(high - low);
    for (uint8_t i = 0; i < 6; i++) {
        struct sixth *s = &sixths[i];
        s->still.r = on[i][0] ? high : low;
        s->still.g = on[i][1] ? high : low;
        s->still.b = on[i][2] ? high : low;
        s->moving = moving[i];
        /* rising in every other sixth; 255 of 256 on top make the end of it exact */
        s->slope = i & 1 ? (uint16_t)(0u - range) : range;
        s->start = (uint16_t)((i & 1 ? high : low) * 256u + (i & 1 ? 255u - range : 255u));
    }
}

/* Places 0..1535 on the circle to colours, as many at a time as lie in one sixth. */
static void hue_colours(const uint16_t *places, uint32_t n, const struct sixth sixths[6],
                        struct dia_rgb *out)
{
    while (n != 0) {
        uint8_t which = (uint8_t)(*places >> 8);
        const struct sixth s = sixths[which];
        uint8_t *moving = (uint8_t *)out + s.moving;
        do {
            *out++ = s.still;
            *moving = (uint8_t)((uint16_t)(s.start + (uint8_t)*places * s.slope) >> 8);
            moving += 3;
            places++;
            n--;
        } while (n != 0 && *places >> 8 == which);
    }
}

void dia_hue_sweep_render(const struct dia_hue_sweep *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct sixth sixths[6];
    uint8_t high = (uint8_t)((uint32_t)p->level * 255u >> 15);
    uint8_t low = (uint8_t)((uint32_t)high * (DIA_SHARE_ONE - (uint32_t)p->saturation) >> 15);
    divide(sixths, low, high);
    struct dia_ramp ramp;
    once_turns(&ramp, surface, p->turns, 0u - once_travelled(surface, p->turns, p->speed_um_s, ms));
    uint16_t places[DIA_RUN];
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run_upper(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++) /* 65536 places on the circle to 1536 */
            places[i] = (uint16_t)((uint16_t)(places[i] >> 2) * 3u) >> 5;
        hue_colours(places, run, sixths, out);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    {.key = "turns",
     .help = "whole hue circles on the surface",
     .kind = DIA_PARAM_COUNT,
     .min = 1,
     .max = 100,
     .offset = offsetof(struct dia_hue_sweep, turns)},
    {.key = "speed",
     .help = "how fast it moves; negative: towards the start",
     .kind = DIA_PARAM_SPEED,
     .min = -10000000,
     .max = 10000000,
     .offset = offsetof(struct dia_hue_sweep, speed_um_s)},
    {.key = "saturation",
     .help = "0 % is white, 100 % pure hue",
     .kind = DIA_PARAM_SHARE,
     .min = 0,
     .max = DIA_SHARE_ONE,
     .offset = offsetof(struct dia_hue_sweep, saturation)},
    {.key = "level",
     .help = "0 % is black, 100 % full",
     .kind = DIA_PARAM_SHARE,
     .min = 0,
     .max = DIA_SHARE_ONE,
     .offset = offsetof(struct dia_hue_sweep, level)},
};

LOOK_GLUE(dia_hue_sweep)

const DIA_ROM struct dia_look dia_look_hue_sweep = {
    .name = "hue-sweep",
    .help = "the hue circle along the surface, moving",
    LOOK_COMMON(dia_hue_sweep, params),
};
