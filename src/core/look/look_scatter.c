/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "../noise.h"
#include "once.h"
#include "../palette.h"

void dia_scatter_defaults(struct dia_scatter *p)
{
    static const DIA_ROM struct dia_rgb colours[] = {
        {255, 60, 30}, {255, 170, 40}, {40, 200, 90}, {40, 110, 255}, {190, 60, 255}};
    p->palette.placed = 0;
    p->palette.count = 5;
    for (uint8_t i = 0; i < DIA_PALETTE_MAX; i++)
        p->palette.colours[i] = colours[i < 5 ? i : 4];
    p->every_ms = 1000;
    p->change = 1;
    p->seed = 1;
}

/* One by one: each element has a part of the time by which it is ahead of the others. */
void dia_scatter_render(const struct dia_scatter *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct once_slot slot = dia_once_slot_at(ms, (uint32_t)p->every_ms);
    uint32_t seed = (uint32_t)p->seed, next = slot.number + 1u == slot.of ? 0 : slot.number + 1u;
    uint32_t ahead = dia_noise_slot(0, ~seed);
    uint32_t now = dia_noise_slot(slot.number, seed), later = dia_noise_slot(next, seed);
    struct palette_light light;
    (void)surface;
    dia_palette_make(&light, &p->palette);
    for (; n != 0; n--, first++) {
        uint32_t part = p->change ? noise_random(ahead, first) : 0;
        uint16_t which = noise_random(part + slot.part > 65535u ? later : now, first);
        if (p->palette.placed) /* any colour of a gradient */
            dia_palette_run(&light, &which, 1, out++);
        else
            *out++ = p->palette.colours[(uint32_t)which * p->palette.count >> 16];
    }
}

static const DIA_ROM char changes[] = "at-once one-by-one";

static const DIA_ROM struct dia_param params[] = {
    PARAM_PALETTE(dia_scatter, palette, "colours",
                  "one of them, or of a gradient, for each element"),
    PARAM_NUMBER(dia_scatter, every_ms, "every", "how long an element keeps a colour",
                 DIA_PARAM_TIME, 20, 3600000),
    PARAM_CHOICE(dia_scatter, change, "change", "when elements change", changes, 2),
    PARAM_NUMBER(dia_scatter, seed, "seed", "another seed, another picture", DIA_PARAM_COUNT, 0,
                 INT32_MAX),
};

LOOK_GLUE(dia_scatter)

const DIA_ROM struct dia_look dia_look_scatter = {
    .name = "scatter",
    .help = "every element a colour at random, and soon another",
    LOOK_COMMON(dia_scatter, params),
};
