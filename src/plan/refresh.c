/* SPDX-License-Identifier: MIT */
#include <diachrome/refresh_plan.h>

#define UNIT_MOST_US 65535u

static uint32_t units_of(const struct dia_refresh_setup *setup, uint8_t depth)
{
    return setup->turns ? setup->turns : (1u << depth) - 1u;
}

static uint32_t ticks_of(const struct dia_refresh_setup *setup, uint8_t depth,
                         enum dia_slices slices)
{
    return setup->turns ? (uint32_t)setup->turns + setup->dark_ticks
                        : dia_slices_count(slices, depth);
}

static uint64_t rounded_up(uint64_t a, uint64_t b)
{
    return (a + b - 1) / b;
}

/* With so long a unit. */
static void with_unit(struct dia_refresh *out, const struct dia_refresh_setup *setup, uint64_t unit,
                      uint8_t depth, enum dia_slices slices)
{
    uint64_t period_us = unit * units_of(setup, depth);
    uint32_t ticks = ticks_of(setup, depth, slices);
    uint64_t tick_us = rounded_up((uint64_t)setup->tick_cycles * 1000000u, setup->clock_hz);
    uint64_t ticks_mhz = ticks * 1000000000ull / period_us;
    /* cycles of all ticks of a period, of the cycles that a period has */
    uint64_t load = rounded_up((uint64_t)ticks * setup->tick_cycles * 1000000000ull,
                               period_us * setup->clock_hz);
    *out = (struct dia_refresh){
        .refresh_mhz = (uint32_t)(1000000000u / period_us),
        .depth = setup->turns ? 1 : depth,
        .slices = (uint8_t)(setup->turns ? 0 : slices),
        .levels = setup->turns ? 2 : 1u << depth,
        .unit_us = (uint32_t)unit,
        .tick_us = tick_us > UINT32_MAX ? UINT32_MAX : (uint32_t)tick_us,
        .ticks_mhz = ticks_mhz > 4000000000u ? 4000000000u : (uint32_t)ticks_mhz,
        .load_permille = load > UINT32_MAX ? UINT32_MAX : (uint32_t)load,
        .lit_permille = 1000,
    };
    out->longest_us = out->tick_us;
    out->why = unit > UNIT_MOST_US                         ? DIA_REFRESH_SLICE_LONG
               : unit < tick_us || unit < setup->least_us  ? DIA_REFRESH_SLICE_SHORT
               : out->load_permille > setup->most_permille ? DIA_REFRESH_LOAD
                                                           : DIA_REFRESH_FITS;
}

/* ---- rows of a panel ------------------------------------------------------------------------- */

static uint16_t row_tick_us(const struct dia_refresh_setup *setup)
{
    uint64_t us = rounded_up((uint64_t)setup->tick_cycles * 1000000u, setup->clock_hz);
    us = us < setup->least_us ? setup->least_us : us;
    return us > UNIT_MOST_US ? UNIT_MOST_US : (uint16_t)us;
}

static void rows_with_unit(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                           uint16_t unit, uint8_t depth)
{
    uint16_t tick_us = row_tick_us(setup);
    uint32_t row_us = dia_slices_row_us(unit, tick_us, depth), busy_us = 0, longest_us = 0,
             waits_us = 0;
    for (uint8_t k = 0; k < depth; k++) {
        uint32_t light_us = (uint32_t)unit << k, slice_us = dia_slices_plane_us(unit, tick_us, k);
        waits_us = light_us < tick_us ? light_us : waits_us; /* the last such is the longest */
        busy_us += tick_us + (light_us < tick_us ? light_us : 0);
        longest_us = slice_us > longest_us ? slice_us : longest_us;
    }
    uint64_t period_us = (uint64_t)row_us * setup->rows;
    *out = (struct dia_refresh){
        .refresh_mhz = (uint32_t)(1000000000u / period_us),
        .depth = depth,
        .slices = DIA_SLICES_WEIGHTED,
        .levels = 1u << depth,
        .unit_us = unit,
        .lit_permille = (uint32_t)((uint64_t)unit * ((1u << depth) - 1u) * 1000u / row_us),
        .tick_us = tick_us,
        .longest_us = (uint32_t)tick_us + waits_us,
        .ticks_mhz = (uint32_t)(1000000000ull * setup->rows * depth / period_us),
        .load_permille = (uint32_t)rounded_up((uint64_t)busy_us * 1000u, row_us),
    };
    out->why = longest_us > UNIT_MOST_US                   ? DIA_REFRESH_SLICE_LONG
               : out->load_permille > setup->most_permille ? DIA_REFRESH_LOAD
                                                           : DIA_REFRESH_FITS;
}

/* The unit with the highest refresh of those that fit; refresh falls as units grow, but where a
 * plane gets as long as a tick. */
static int rows_highest(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                        uint8_t depth)
{
    struct dia_refresh other;
    rows_with_unit(out, setup, 1, depth);
    for (uint32_t unit = 2; unit << (depth - 1u) <= UNIT_MOST_US; unit++) {
        rows_with_unit(&other, setup, (uint16_t)unit, depth);
        if (other.why == DIA_REFRESH_FITS &&
            (out->why != DIA_REFRESH_FITS || other.refresh_mhz > out->refresh_mhz))
            *out = other;
    }
    return out->why == DIA_REFRESH_FITS;
}

static void rows_at(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                    uint32_t refresh_mhz, uint8_t depth)
{
    uint16_t unit = dia_slices_row_unit_us(refresh_mhz, setup->rows, row_tick_us(setup), depth);
    rows_with_unit(out, setup, unit ? unit : 1, depth);
    if (unit == 0 && out->why != DIA_REFRESH_SLICE_LONG)
        out->why = DIA_REFRESH_SLICE_SHORT;
}

/* ---- of all kinds ---------------------------------------------------------------------------- */

void dia_refresh_at(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                    uint32_t refresh_mhz, uint8_t depth, enum dia_slices slices)
{
    if (setup->rows) {
        rows_at(out, setup, refresh_mhz, depth);
        return;
    }
    uint64_t unit = 1000000000u / refresh_mhz / units_of(setup, depth);
    uint8_t none = unit == 0;
    with_unit(out, setup, none ? 1 : unit, depth, slices);
    if (none)
        out->why = DIA_REFRESH_SLICE_SHORT;
}

int dia_refresh_highest(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                        uint8_t depth, enum dia_slices slices)
{
    if (setup->rows)
        return rows_highest(out, setup, depth);
    uint64_t unit = rounded_up((uint64_t)setup->tick_cycles * 1000000u, setup->clock_hz);
    uint64_t of_load =
        rounded_up((uint64_t)ticks_of(setup, depth, slices) * setup->tick_cycles * 1000000000ull,
                   (uint64_t)setup->most_permille * setup->clock_hz * units_of(setup, depth));
    unit = unit < setup->least_us ? setup->least_us : unit;
    unit = unit < of_load ? of_load : unit;
    with_unit(out, setup, unit ? unit : 1, depth, slices);
    return out->why == DIA_REFRESH_FITS;
}

uint32_t dia_refresh_nearest(struct dia_refresh near[DIA_REFRESH_NEAR],
                             const struct dia_refresh_setup *setup, uint32_t refresh_mhz,
                             uint8_t depth, enum dia_slices slices)
{
    struct dia_refresh other;
    uint32_t n = 0;
    enum dia_slices else_slices = slices == DIA_SLICES_EVEN ? DIA_SLICES_WEIGHTED : DIA_SLICES_EVEN;
    if (!setup->turns && !setup->rows) {
        dia_refresh_at(&other, setup, refresh_mhz, depth, else_slices);
        if (other.why == DIA_REFRESH_FITS)
            near[n++] = other;
    }
    for (uint8_t bits = (uint8_t)(depth - 1); bits > 0 && !setup->turns; bits--) {
        dia_refresh_at(&other, setup, refresh_mhz, bits, slices);
        if (other.why == DIA_REFRESH_FITS) {
            near[n++] = other;
            break;
        }
    }
    if (dia_refresh_highest(&other, setup, depth, slices) && other.refresh_mhz < refresh_mhz)
        near[n++] = other;
    return n;
}
