/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/lamp.h>

#include "bits.h"
#include "mirror.h"
#include "shift_rows.h"

/* Each output a lamp with a level: row k of a frame shows bit k of all levels. */

/* The outputs of a chip with no lamp lit. */
#define ALL_DARK(setup) ((setup)->sinks ? 255 : 0)

/* Levels to bit planes, a chip at a time. */
static void develop(struct dia_shift *shift, uint8_t *plane)
{
    uint16_t chips = shift->setup.chips;
    uint8_t depth = shift->setup.depth, all_dark = ALL_DARK(&shift->setup);
    const uint8_t *level = shift->driver.drawing;
    if (!plane) {
        memset(shift->planes[0], all_dark, (size_t)dia_shift_plane_bytes(shift));
        memset(shift->planes[1], all_dark, (size_t)dia_shift_plane_bytes(shift));
        return;
    }
    uint8_t *byte = plane + chips - 1u;
    for (uint16_t chip = 0; chip < chips; chip++, level += 8, byte--) {
        uint8_t steps[8], bits[8]; /* that of the highest bit first */
        dia_lamps_develop(level, 8, shift->driver.master, depth, steps);
        mirror(steps, bits, 1);
        for (uint8_t k = 0; k < depth; k++)
            byte[(uint32_t)k * chips] = bits[7 - k] ^ all_dark;
    }
}

/* The mean over a period, rounded up. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    uint8_t depth = ((const struct dia_shift *)driver)->setup.depth;
    uint32_t sum = 0, full = (1u << depth) - 1u;
    for (uint32_t i = 0; i < driver->drawing_bytes; i++) {
        uint8_t step;
        dia_lamps_develop(driver->drawing + i, 1, driver->master, depth, &step);
        sum += step;
    }
    return sum / full * lamp_ua + (sum % full * lamp_ua + full - 1u) / full;
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = dia_shift_show,
    .poll = dia_shift_poll,
    .tick = dia_shift_tick,
    .dark = dia_shift_dark,
    .refresh = dia_shift_refresh,
    .levels = bytes_levels,
    .about = dia_shift_about,
    .asks_ua = asks_ua,
};

enum dia_status dia_shift_init(struct dia_shift *shift, struct dia_port *port,
                               const struct dia_shift_setup *setup, uint8_t *level, uint8_t *memory)
{
    return dia_shift_begin(shift, port, setup, 0, develop, &ops, level,
                           DIA_SHIFT_LEVELS((uint32_t)setup->chips), memory);
}
