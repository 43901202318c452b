/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/lamp.h>
#include <diachrome/rgb_panel.h>

#include "bits.h"
#include "fence.h"

/* Roles of its pins, in the order of struct dia_rgb_panel_pins. */
enum { R1, A = 6, E = 10, CLK, LAT, OE, PINS };

#define BIT(role) ((uint16_t)(1u << (role)))
#define DATA      0x3fu /* R1 to B2 */

#define WAIT_MOST_NS  2000u /* of the port */
#define PULSE_NS      25u   /* usual column drivers want 20 */
#define BLANK_MOST_NS 20000u
#define AT_ONCE       16u /* pixels whose levels are worked out together */

static struct dia_rgb_panel *panel_of(struct dia_driver *driver)
{
    return (struct dia_rgb_panel *)driver;
}

static uint8_t pin_of(const struct dia_rgb_panel_setup *setup, uint8_t role)
{
    return ((const uint8_t *)&setup->pins)[role];
}

static uint8_t scan_of(const struct dia_rgb_panel_setup *setup)
{
    return setup->rows / 2u;
}

/* Address lines that as many rows need: A to C, D, E. */
static uint8_t address_lines(uint8_t rows)
{
    return rows == 16 ? 3 : rows == 32 ? 4 : 5;
}

static uint8_t needs(const struct dia_rgb_panel_setup *setup, uint8_t role)
{
    return role < A || role > E || role - A < address_lines(setup->rows);
}

static uint8_t pins_are_right(const struct dia_rgb_panel_setup *setup)
{
    for (uint8_t k = 0; k < PINS; k++) {
        if ((pin_of(setup, k) != DIA_NO_PIN) != needs(setup, k))
            return 0;
        for (uint8_t i = 0; i < k; i++) {
            if (pin_of(setup, i) == pin_of(setup, k) && pin_of(setup, k) != DIA_NO_PIN)
                return 0;
        }
    }
    return 1;
}

static uint8_t slices_are_right(const struct dia_rgb_panel_setup *setup)
{
    for (uint8_t k = 0; k < setup->depth; k++) {
        if (dia_slices_plane_us(setup->unit_us, setup->tick_us, k) > 65535u)
            return 0;
    }
    return 1;
}

static uint8_t is_right(const struct dia_rgb_panel_setup *setup)
{
    return setup->columns >= 8 && setup->columns <= DIA_RGB_PANEL_COLUMNS &&
           (setup->rows == 16 || setup->rows == 32 || setup->rows == 64) && setup->depth > 0 &&
           setup->depth <= 8 && setup->unit_us > 0 && setup->tick_us > 0 &&
           setup->blank_ns <= BLANK_MOST_NS && slices_are_right(setup) && pins_are_right(setup);
}

/* 1: the six data lines are on neighbouring pins, in order. */
static uint8_t are_neighbours(const struct dia_rgb_panel_setup *setup)
{
    for (uint8_t k = 1; k < A; k++) {
        if (pin_of(setup, k) != pin_of(setup, R1) + k)
            return 0;
    }
    return 1;
}

/* ---- lines ----------------------------------------------------------------------------------- */

static void put(struct dia_rgb_panel *panel, uint8_t role, uint8_t level)
{
    struct dia_port *port = panel->driver.port;
    uint16_t bit = BIT(role);
    panel->unknown &= (uint16_t)~bit;
    panel->lines = (uint16_t)(level ? panel->lines | bit : panel->lines & ~bit);
    if (pin_of(&panel->setup, role) != DIA_NO_PIN &&
        port->ops->pin_write(port, pin_of(&panel->setup, role), level) != DIA_OK) {
        panel->unknown |= bit;
        panel->failed = 1;
    }
}

/* Of some lines only those that change are written, and those of which nobody knows. */
static void say(struct dia_rgb_panel *panel, uint8_t first, uint16_t mask, uint16_t lines)
{
    uint16_t changed = (uint16_t)((panel->lines ^ lines) | panel->unknown) & mask;
    for (changed = (uint16_t)(changed >> first); changed != 0; changed >>= 1, first++) {
        if (changed & 1)
            put(panel, first, (lines & BIT(first)) != 0);
    }
}

static void wait_ns(struct dia_rgb_panel *panel, uint32_t ns)
{
    struct dia_port *port = panel->driver.port;
    while (ns != 0) {
        uint16_t some = (uint16_t)(ns < WAIT_MOST_NS ? ns : WAIT_MOST_NS);
        port->ops->wait_ns(port, some);
        ns -= some;
    }
}

/* ---- frames ---------------------------------------------------------------------------------- */

static uint8_t *plane_of(const struct dia_rgb_panel *panel, uint8_t which, uint8_t plane,
                         uint8_t row)
{
    return panel->planes[which] +
           ((uint32_t)plane * scan_of(&panel->setup) + row) * panel->setup.columns;
}

/* Levels of some pixels of a row into its planes: three bits of the upper half or the lower. */
static void put_levels(struct dia_rgb_panel *panel, uint8_t row, uint16_t column, uint8_t n,
                       const uint8_t *steps)
{
    uint8_t scan = scan_of(&panel->setup), shift = row < scan ? 0 : 3;
    uint8_t keep = (uint8_t)(0x38u >> shift), depth = panel->setup.depth;
    for (uint8_t k = 0; k < depth; k++) {
        uint8_t *to =
            plane_of(panel, !panel->shown, k, row < scan ? row : (uint8_t)(row - scan)) + column;
        const uint8_t *step = steps, bit = (uint8_t)(1u << k);
        for (uint8_t i = 0; i < n; i++, step += 3) {
            uint8_t bits = (uint8_t)((step[0] & bit ? 1u : 0u) | (step[1] & bit ? 2u : 0u) |
                                     (step[2] & bit ? 4u : 0u));
            to[i] = (uint8_t)((to[i] & keep) | bits << shift);
        }
    }
}

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_rgb_panel *panel = panel_of(driver);
    *again_us = panel->setup.tick_us;
    return tick_status(&panel->failed, panel->waits);
}

/* The tick takes the frame whole when it sees that one waits. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_rgb_panel *panel = panel_of(driver);
    uint32_t again_us;
    enum dia_status status = poll(driver, &again_us);
    if (status != DIA_OK)
        return status;
    for (uint8_t row = 0; row < panel->setup.rows; row++) {
        const uint8_t *pixels = driver->drawing + 3u * (uint32_t)row * panel->setup.columns;
        for (uint16_t column = 0; column < panel->setup.columns; column += AT_ONCE) {
            uint8_t steps[3 * AT_ONCE];
            uint16_t left = (uint16_t)(panel->setup.columns - column);
            uint8_t n = (uint8_t)(left < AT_ONCE ? left : AT_ONCE);
            dia_lamps_develop(pixels + 3u * column, 3u * n, driver->master, panel->setup.depth,
                              steps);
            put_levels(panel, row, column, n, steps);
        }
    }
    DIA_FENCE(); /* all is there before the tick is told */
    panel->waits = 1;
    panel->dark = 0;
    return DIA_OK;
}

/* ---- ticks ----------------------------------------------------------------------------------- */

/* 0: these pins cannot be set together, and nothing was done. */
static uint8_t shift_together(struct dia_rgb_panel *panel, const uint8_t *bits)
{
    struct dia_port *port = panel->driver.port;
    const struct dia_rgb_panel_setup *setup = &panel->setup;
    enum dia_status status =
        port->ops->lines_shift(port, setup->pins.r1, 6, setup->pins.clk, bits, setup->columns);
    panel->together = status != DIA_BAD_VALUE;
    if (status == DIA_OK) {
        panel->lines = (uint16_t)((panel->lines & ~DATA) | bits[setup->columns - 1u]);
        panel->unknown &= (uint16_t)~DATA;
    } else if (panel->together) {
        panel->unknown |= DATA;
        panel->failed = 1;
    }
    return panel->together;
}

/* The first slice of a period takes a frame that waits. */
static void shift(struct dia_rgb_panel *panel)
{
    if (panel->row == 0 && panel->plane == 0 && panel->waits && !panel->driver.hold) {
        DIA_FENCE();
        panel->shown ^= 1;
        panel->taken = 1;
    }
    const uint8_t *bits = plane_of(panel, panel->shown, panel->plane, panel->row);
    struct dia_port *port = panel->driver.port;
    panel->shifted = 1;
    put(panel, CLK, 0);
    if (panel->together && shift_together(panel, bits))
        return;
    for (uint16_t left = panel->setup.columns; left != 0; left--, bits++) {
        say(panel, 0, DATA, *bits);
        port->ops->wait_ns(port, PULSE_NS);
        put(panel, CLK, 1);
        port->ops->wait_ns(port, PULSE_NS);
        put(panel, CLK, 0);
    }
}

/* What is in the shift registers comes out of them. The output is off. */
static void latch(struct dia_rgb_panel *panel)
{
    if (panel->plane == 0) {
        wait_ns(panel, panel->setup.blank_ns);
        say(panel, A, 0x1fu << A, (uint16_t)(panel->row << A));
        wait_ns(panel, panel->setup.blank_ns);
    }
    put(panel, LAT, 1);
    panel->driver.port->ops->wait_ns(panel->driver.port, PULSE_NS);
    put(panel, LAT, 0);
    if (panel->row == 0 && panel->plane == 0) {
        panel->periods = (uint8_t)(panel->periods + 1u);
        if (panel->taken)
            panel->waits = 0;
        panel->taken = 0;
    }
}

static uint16_t tick(struct dia_driver *driver)
{
    struct dia_rgb_panel *panel = panel_of(driver);
    const struct dia_rgb_panel_setup *setup = &panel->setup;
    uint8_t plane = panel->plane;
    if (panel->dark)
        return setup->tick_us;
    put(panel, OE, 1);
    if (!panel->shifted) {
        shift(panel);
        return setup->tick_us;
    }
    latch(panel);
    put(panel, OE, 0);
    uint32_t light_us = (uint32_t)setup->unit_us << plane;
    if (light_us < setup->tick_us) {
        wait_ns(panel, light_us * 1000u);
        put(panel, OE, 1);
    }
    if (++panel->plane == setup->depth) {
        panel->plane = 0;
        panel->row = (uint8_t)(panel->row + 1u) == scan_of(setup) ? 0 : (uint8_t)(panel->row + 1u);
    }
    shift(panel);
    return (uint16_t)dia_slices_plane_us(setup->unit_us, setup->tick_us, plane);
}

static enum dia_status dark(struct dia_driver *driver)
{
    struct dia_rgb_panel *panel = panel_of(driver);
    panel->dark = 1;
    DIA_FENCE(); /* from here on no tick touches a pin */
    panel->waits = panel->taken = panel->shifted = 0;
    panel->row = panel->plane = 0;
    panel->failed = 0;
    put(panel, OE, 1);
    enum dia_status status = panel->failed ? DIA_PORT_FAILED : DIA_OK;
    panel->failed = 0;
    return status;
}

static void refresh(struct dia_driver *driver)
{
    (void)driver; /* every period sends everything */
}

/* ---- what it is ------------------------------------------------------------------------------ */

/* Bits of a level whose planes are lit while a tick waits: that may be a little longer. */
static uint8_t waited_for(const struct dia_rgb_panel_setup *setup)
{
    uint8_t bits = 0;
    for (uint8_t k = 0; k < setup->depth; k++) {
        if ((uint32_t)setup->unit_us << k < setup->tick_us)
            bits = (uint8_t)(bits | 1u << k);
    }
    return bits;
}

#define LONGER_US 1u /* choice */

/* So many us of a row's turn, in 65536ths of it, rounded up. */
static uint32_t part_of(uint32_t us, uint32_t row_us)
{
    return ((us << 16) + row_us - 1u) / row_us;
}

/* Lamps that are lit for all of their row's turn, in 256ths, of n pixels. */
static uint32_t lit_256(const struct dia_rgb_panel *panel, const uint8_t *pixel, uint8_t n,
                        uint32_t unit, uint32_t longer)
{
    const struct dia_rgb_panel_setup *setup = &panel->setup;
    uint8_t steps[3 * AT_ONCE], waited = waited_for(setup);
    uint16_t sum = 0; /* 48 lamps of 255 at the most */
    dia_lamps_develop(pixel, 3u * n, panel->driver.master, setup->depth, steps);
    for (uint8_t i = 0; i < 3u * n; i++) {
        sum = (uint16_t)(sum + steps[i]);
        steps[i] &= waited;
    }
    return (sum * unit + bits_set(steps, 3u * n) * longer + 255u) >> 8;
}

/* The mean over a period, rounded up: each lamp is lit for its level in units, once a period. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    const struct dia_rgb_panel *panel = (const struct dia_rgb_panel *)driver;
    const struct dia_rgb_panel_setup *setup = &panel->setup;
    uint32_t row_us = dia_slices_row_us(setup->unit_us, setup->tick_us, setup->depth), lit = 0;
    uint32_t unit = part_of(setup->unit_us, row_us), longer = part_of(LONGER_US, row_us);
    const uint8_t *pixel = driver->drawing;
    for (uint32_t left = driver->drawing_bytes / 3u; left != 0;) {
        uint8_t n = (uint8_t)(left < AT_ONCE ? left : AT_ONCE);
        lit += lit_256(panel, pixel, n, unit, longer);
        pixel += 3u * n;
        left -= n;
    }
    lit = (lit + scan_of(setup) - 1u) / scan_of(setup);
    return (lit >> 8) * lamp_ua + (((lit & 255u) * lamp_ua + 255u) >> 8);
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_rgb_panel_setup *setup = &((const struct dia_rgb_panel *)driver)->setup;
    uint32_t pixels = (uint32_t)setup->columns * setup->rows;
    *about = (struct dia_about){
        .elements = 3u * pixels,
        .drawing_bytes = 3u * pixels,
        .private_bytes = DIA_RGB_PANEL_BYTES(setup->columns, setup->rows, setup->depth),
        /* a period, and two slices */
        .worst_us =
            (scan_of(setup) + 2u) * dia_slices_row_us(setup->unit_us, setup->tick_us, setup->depth),
        .element = DIA_LAMPS, /* of which a pixel has three */
        .route = DIA_ON_PINS,
    };
    for (uint8_t k = 0; k < PINS; k++) {
        if (pin_of(setup, k) != DIA_NO_PIN)
            about->pin[about->pins++] = pin_of(setup, k);
    }
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .tick = tick,
    .dark = dark,
    .refresh = refresh,
    .levels = bytes_levels,
    .about = about,
    .asks_ua = asks_ua,
};

enum dia_status dia_rgb_panel_init(struct dia_rgb_panel *panel, struct dia_port *port,
                                   const struct dia_rgb_panel_setup *setup, struct dia_rgb *pixels,
                                   uint8_t *memory)
{
    if (!port->ops->pin_write || !port->ops->wait_ns)
        return DIA_UNSUPPORTED;
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    for (uint8_t k = PINS; k-- > 0;) { /* dark first */
        enum dia_status status = pin_of(setup, k) == DIA_NO_PIN
                                     ? DIA_OK
                                     : port->ops->pin_write(port, pin_of(setup, k), k == OE);
        if (status != DIA_OK)
            return status;
    }
    uint32_t bytes = DIA_RGB_PANEL_BYTES(setup->columns, setup->rows, setup->depth);
    memset(panel, 0, sizeof *panel);
    memset(pixels, 0, 3u * (size_t)setup->columns * setup->rows);
    memset(memory, 0, (size_t)bytes);
    panel->driver =
        DIA_DRIVER(&ops, port, (uint8_t *)pixels, 3u * (uint32_t)setup->columns * setup->rows);
    panel->setup = *setup;
    panel->planes[0] = memory;
    panel->planes[1] = memory + bytes / 2u;
    panel->lines = BIT(OE);
    if (port->ops->lines_shift && are_neighbours(setup))
        panel->together = 1;
    return DIA_OK;
}
