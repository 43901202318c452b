/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/schedule.h>

/* Frame and pixel with limiter and develop, dimmed: the fourth and sixth column that
 * build/tests/look-cycles prints. */
const struct dia_look_cycles dia_look_cycles[] = {
    {"alternate", 9359, 315}, {"beam", 7716, 806},
    {"blink", 4623, 206},     {"bounce", 13498, 279},
    {"breathe", 5024, 279},   {"chase", 30717, 685},
    {"columns", 15647, 1512}, {"draw", 42681, 272},
    {"drift", 12238, 993},    {"flame", 16862, 1529},
    {"glimmer", 6761, 960},   {"hue-sweep", 8158, 324},
    {"pulse", 10668, 625},    {"reveal", 11871, 335},
    {"rings", 11369, 892},    {"scatter", 6889, 934},
    {"steady", 3647, 279},    {"text", 25863, 1780},
    {"water", 22116, 2598},   {"waves", 14150, 1155},
    {"wipe", 12739, 307},     {NULL, 0, 0},
};

void dia_schedule_hold(struct dia_schedule_setup *setup, uint64_t ns)
{
    if (ns > setup->held_ns)
        setup->held_ns = ns;
}

int dia_schedule_tick(struct dia_schedule_setup *setup, uint32_t cycles, uint32_t unit_us,
                      uint32_t units)
{
    if (setup->tick_count == DIA_SCHEDULE_TICKS)
        return -1;
    setup->ticks[setup->tick_count] = (struct dia_schedule_tick){cycles, unit_us, units};
    return setup->tick_count++;
}

uint64_t dia_schedule_late_ns(const struct dia_schedule_setup *setup, int tick)
{
    uint64_t cycles = 0;
    for (int i = 0; i < setup->tick_count; i++)
        cycles += i == tick ? 0 : setup->ticks[i].cycles;
    return setup->held_ns + cycles * 1000000000u / setup->clock_hz;
}

/*
 * In a frame of length T a lamp is lit for T / n, and what is lit when interrupts go off for L - L
 * / n longer: half of that, in parts of the mean, is its modulation.
 */
uint32_t dia_schedule_modulation_permille(const struct dia_schedule_setup *setup, int tick)
{
    uint64_t frame_ns = 1000000000000u / setup->rate_mhz;
    uint64_t late_ns = dia_schedule_late_ns(setup, tick);
    uint64_t permille = late_ns * (setup->ticks[tick].units - 1) * 500u / frame_ns;
    return permille > 1000 ? 1000 : (uint32_t)permille;
}
