/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "lit.h"

/*
 * A row-scanned colour panel. Six shift registers, one for each colour of both halves, take a bit
 * with every rising CLK; LAT hands all of them to the column drivers; A to E choose one row of each
 * half; OE low lights it.
 *
 * There is no common sheet. Choice, as usual column drivers have it: clock 25 MHz (40 ns), CLK and
 * LAT high 20 ns, data before the rising CLK 10 ns; no clock while LAT is high, which some take for
 * a command.
 */
struct ghost {
    uint32_t row;
    uint64_t from, until; /* until 0: there is none */
};

struct rgb_panel {
    struct device device;
    struct lit lit;
    struct dia_rgb_panel_shape shape;
    uint32_t lamp_ua;
    uint8_t *shifted, *latched; /* six bits a column, R1 in bit 0 */
    uint32_t first;             /* where the oldest column is in shifted */
    uint32_t clocks;            /* since the last latch */
    uint64_t rise;              /* of CLK */
    uint64_t since;             /* the light of lit_row is not counted yet */
    uint32_t lit_row, last_row; /* now, and which it was before; half a panel: none */
    uint32_t left_row;          /* the last that was lit and is no longer addressed, */
    uint64_t left, dark;        /* when that one was no longer addressed; when OE rose */
    struct ghost before, after; /* the row before this one, and the one that came too early */
};

static uint32_t half(const struct rgb_panel *panel)
{
    return panel->shape.rows / 2u;
}

static uint32_t addressed(const struct rgb_panel *panel)
{
    uint32_t row = 0;
    for (uint32_t k = 0; k < 5; k++)
        row |= (uint32_t)panel->device.level[DIA_RGB_PANEL_A + k] << k;
    return row & (half(panel) - 1u);
}

/* A row and that half a panel below were lit for so long, with the columns that are latched. */
static void shine(struct rgb_panel *panel, uint32_t row, uint64_t ns)
{
    uint32_t columns = panel->shape.columns;
    uint64_t *above = panel->lit.lasted + 3u * row * columns;
    uint64_t *below = above + 3u * half(panel) * columns;
    ns *= LIT_FULL;
    for (uint32_t column = 0; column < columns; column++) {
        uint32_t bits = panel->latched[column];
        for (uint32_t line = 0; line < 3; line++) {
            *above++ += ns & (0 - (uint64_t)(bits >> line & 1u));
            *below++ += ns & (0 - (uint64_t)(bits >> (line + 3u) & 1u));
        }
    }
}

/* What has been lit until t counts. */
static void count_light(struct rgb_panel *panel, uint64_t t)
{
    if (panel->lit_row != half(panel) && t > panel->since)
        shine(panel, panel->lit_row, t - panel->since);
    panel->since = t;
}

/* A row that is lit beside its turn. */
static void glow(struct rgb_panel *panel, const struct ghost *ghost, uint64_t t)
{
    uint64_t until = t < ghost->until ? t : ghost->until;
    if (until > ghost->from)
        shine(panel, ghost->row, until - ghost->from);
}

static void end_ghosts(struct rgb_panel *panel, uint64_t t)
{
    glow(panel, &panel->before, t);
    glow(panel, &panel->after, t);
    panel->before.until = panel->after.until = 0;
}

static void darken(struct rgb_panel *panel, uint64_t t)
{
    if (panel->lit_row == half(panel))
        return;
    end_ghosts(panel, t);
    count_light(panel, t);
    panel->last_row = panel->lit_row;
    panel->lit_row = half(panel);
    panel->dark = t;
}

static void says_ghost(struct rgb_panel *panel, uint32_t row, uint64_t t, const char *was,
                       uint64_t since, const char *before)
{
    dia_device_finds(&panel->device, "ghost", t,
                     "rows %u and %u were %s %u ns after the rows before %s; what is switched off "
                     "takes %u ns, so rows glow with their neighbours: make it dark for longer "
                     "('blank')",
                     (unsigned)row, (unsigned)(row + half(panel)), was, (unsigned)(t - since),
                     before, (unsigned)panel->shape.off_ns);
}

/* The row before is on for a while after it was left, and lit with the columns of this one. */
static void lighten(struct rgb_panel *panel, uint64_t t)
{
    uint64_t off = panel->left + panel->shape.off_ns;
    end_ghosts(panel, t);
    panel->lit_row = addressed(panel);
    panel->since = t;
    if (panel->lit_row == panel->left_row || panel->left_row == half(panel) || t >= off)
        return;
    panel->before = (struct ghost){panel->left_row, t, off};
    says_ghost(panel, panel->lit_row, t, "lit", panel->left, "were left");
}

/* Columns are on for a while after OE has risen, and light the row that is addressed then. */
static void readdress(struct rgb_panel *panel, uint64_t t, uint8_t role)
{
    uint32_t mask = half(panel) - 1u, row = addressed(panel);
    int lit = panel->lit_row != half(panel);
    darken(panel, t);
    end_ghosts(panel, t);
    /* lines change one after the other: the first of them leaves the row */
    if (panel->last_row == ((row ^ 1u << (role - DIA_RGB_PANEL_A)) & mask)) {
        panel->left = t;
        panel->left_row = panel->last_row;
    }
    if (lit) {
        lighten(panel, t);
    } else if (panel->last_row != half(panel) && row != panel->last_row &&
               t < panel->dark + panel->shape.off_ns) {
        panel->after = (struct ghost){row, t, panel->dark + panel->shape.off_ns};
        says_ghost(panel, row, t, "addressed", panel->dark, "went dark");
    }
}

static void shift(struct rgb_panel *panel, uint8_t bits)
{
    panel->shifted[panel->first] = bits;
    panel->first = panel->first + 1u == panel->shape.columns ? 0 : panel->first + 1u;
    panel->clocks++;
}

static void clock_rises(struct rgb_panel *panel, uint64_t t)
{
    struct device *device = &panel->device;
    uint8_t bits = 0;
    dia_device_lasts(device, "clock-fast", "a clock period", panel->rise, t, 40);
    dia_device_lasts(device, "pulse-short", "a low of CLK", device->changed[DIA_RGB_PANEL_CLK], t,
                     20);
    for (uint8_t line = 0; line < 6; line++) {
        bits = (uint8_t)(bits | device->level[line] << line);
        dia_device_lasts(device, "set-up-short", "data before the rising CLK",
                         device->changed[line], t, 10);
    }
    if (device->level[DIA_RGB_PANEL_LAT])
        dia_device_finds(device, "command", t,
                         "CLK rose while LAT was high, which some panels take for a command");
    panel->rise = t;
    shift(panel, bits);
}

static void latch(struct rgb_panel *panel, uint64_t t)
{
    uint32_t columns = panel->shape.columns, lit = panel->lit_row;
    if (panel->clocks < columns)
        dia_device_finds(&panel->device, "word-part", t,
                         "LAT rose after %u clock%s; a row has %u columns", (unsigned)panel->clocks,
                         panel->clocks == 1 ? "" : "s", (unsigned)columns);
    panel->clocks = 0;
    darken(panel, t);
    end_ghosts(panel, t);
    for (uint32_t column = 0; column < columns; column++)
        panel->latched[column] = panel->shifted[(panel->first + column) % columns];
    if (lit != half(panel))
        lighten(panel, t);
    panel->device.shown.frames++;
    panel->device.shown.latched_ns = t;
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    struct rgb_panel *panel = (struct rgb_panel *)device;
    if (role == DIA_RGB_PANEL_CLK && level) {
        clock_rises(panel, t);
    } else if (role == DIA_RGB_PANEL_CLK) {
        dia_device_lasts(device, "pulse-short", "a high of CLK", panel->rise, t, 20);
    } else if (role == DIA_RGB_PANEL_LAT && level) {
        latch(panel, t);
    } else if (role == DIA_RGB_PANEL_LAT) {
        dia_device_lasts(device, "pulse-short", "a high of LAT", device->changed[role], t, 20);
    } else if (role == DIA_RGB_PANEL_OE && level) {
        darken(panel, t);
    } else if (role == DIA_RGB_PANEL_OE) {
        lighten(panel, t);
    } else if (role >= DIA_RGB_PANEL_A && role <= DIA_RGB_PANEL_E) {
        readdress(panel, t, role);
    }
}

static void settle(struct device *device, uint64_t t)
{
    struct rgb_panel *panel = (struct rgb_panel *)device;
    int moment = t == panel->lit.from; /* no time has gone by: as if it had been so for 1 ns */
    count_light(panel, t);
    if (moment && panel->lit_row != half(panel))
        shine(panel, panel->lit_row, 1);
    panel->lit.from -= (uint64_t)moment;
    dia_lit_settle(&panel->lit, t, panel->lamp_ua, &device->shown);
    if (moment)
        dia_lit_expose(&panel->lit, t);
}

static void expose(struct device *device, uint64_t t)
{
    struct rgb_panel *panel = (struct rgb_panel *)device;
    end_ghosts(panel, t);
    count_light(panel, t);
    dia_lit_expose(&panel->lit, t);
}

static void free_panel(struct device *device)
{
    struct rgb_panel *panel = (struct rgb_panel *)device;
    free(device->shown.level);
    free(panel->shifted);
    free(panel->latched);
    dia_lit_free(&panel->lit);
    free(panel);
}

static void lines(struct device *device, const uint8_t *bytes, uint32_t n)
{
    struct rgb_panel *panel = (struct rgb_panel *)device;
    for (; n != 0; n--)
        shift(panel, *bytes++);
}

static const struct device_class class = {.edge = edge,
                                          .settle = settle,
                                          .expose = expose,
                                          .free = free_panel,
                                          .half_ns = 20,
                                          .lines = lines,
                                          .clock = DIA_RGB_PANEL_CLK};

int dia_bench_rgb_panel(struct dia_bench *bench, const struct dia_device_setup *setup,
                        const struct dia_rgb_panel_shape *shape)
{
    if (shape->columns == 0 || (shape->rows != 16 && shape->rows != 32 && shape->rows != 64) ||
        strcmp(setup->part, "rgb-panel") != 0)
        return -1;
    struct rgb_panel *panel = calloc(1, sizeof *panel);
    if (!panel)
        return -1;
    panel->device.of = &class;
    panel->device.sheet = "choice: usual column drivers, 25 MHz";
    panel->shape = *shape;
    panel->lamp_ua = setup->lamp_ua;
    panel->lit_row = panel->last_row = panel->left_row = half(panel);
    panel->shifted = calloc(shape->columns, 1);
    panel->latched = calloc(shape->columns, 1);
    memset(panel->device.pins, DIA_NO_PIN, sizeof panel->device.pins);
    memcpy(panel->device.pins, setup->pins, DIA_RGB_PANEL_PINS);
    uint32_t lamps = 3u * shape->columns * shape->rows;
    if (!panel->shifted || !panel->latched || dia_lit_init(&panel->lit, lamps) != 0 ||
        dia_device_lamps(&panel->device, lamps) != 0) {
        free_panel(&panel->device);
        return -1;
    }
    return dia_bench_add(bench, &panel->device, setup);
}
