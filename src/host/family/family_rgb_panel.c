/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/rgb_panel.h>

#include "bringup_device.h"
#include "contexts.h"
#include "check_limits.h"
#include "family_read.h"
#include "fault_kinds.h"
#include "host_private.h"
#include "player_private.h"

/* Row-scanned colour panels: pixels of three lamps each. */

static const struct family_part parts[] = {{"rgb-panel", NULL}, {NULL, NULL}};
static const char *const roles[] = {"r1", "g1", "b1", "r2",  "g2",  "b2", "a", "b",
                                    "c",  "d",  "e",  "clk", "lat", "oe", NULL};

#define OFF_NS    1000u /* choice: until rows and columns that are switched off are off */
#define DATA_PINS 6u

/* clang-format off */
static const struct field panel_fields[] = {
    COMMON, SHIFTER, PITCH, CURRENT("lamp_current", 40000),
    {"columns", HOLDS_QUANTITY, 1, DIA_NUMBER, 8,     DIA_RGB_PANEL_COLUMNS, AT(columns),   "64"},
    {"rows",    HOLDS_QUANTITY, 1, DIA_NUMBER, 16,    64,       AT(rows),        "32"},
    {"depth",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1,     8,        AT(depth),       "6"},
    {"refresh", HOLDS_QUANTITY, 0, DIA_RATE,   10000, 10000000, AT(refresh_mhz), "120 Hz"},
    {"blank",   HOLDS_QUANTITY, 0, DIA_MOMENT, 0,     20000,    AT(blank_ns),    "1 us"},
    {0},
};
/* clang-format on */

static uint32_t rows_of(const struct dia_rig_device *device)
{
    return device->lamps / device->surface.count;
}

/* Which address lines there are depends on the rows, which are not read yet. */
static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)device;
    (void)digits;
    return role != DIA_RGB_PANEL_E && role != DIA_RGB_PANEL_E - 1;
}

static enum dia_status address_fits(struct rig_reader *reader, const struct tree_node *node,
                                    const struct dia_rig_device *device, uint32_t rows)
{
    const struct tree_node *pins = dia_tree_get(node, "pins");
    for (uint8_t role = DIA_RGB_PANEL_E - 1; role <= DIA_RGB_PANEL_E; role++) {
        int needed = rows >= (role == DIA_RGB_PANEL_E ? 64 : 32);
        if (needed && device->pins[role] == DIA_NO_PIN)
            return dia_rig_wrong_key(reader, pins,
                                     "'pins' of '%s' has no '%s', and %u rows need it; write "
                                     "'%s: 20'",
                                     device->name, roles[role], (unsigned)rows, roles[role]);
        if (!needed && device->pins[role] != DIA_NO_PIN)
            return dia_rig_wrong_value(reader, dia_tree_get(pins, roles[role]),
                                       "a panel of %u rows has no pin '%s'", (unsigned)rows,
                                       roles[role]);
    }
    return DIA_OK;
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    if (dia_tree_get(node, "colour"))
        return dia_rig_wrong_key(reader, dia_tree_get(node, "colour"),
                                 "'colour' is for lamps of one; pixels of a panel have all");
    if (words->rows != 16 && words->rows != 32 && words->rows != 64)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "rows"),
                                   "'rows' of a panel is 16, 32 or 64");
    if (words->columns * words->rows > DIA_RIG_LAMPS)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "columns"),
                                   "%u columns of %u rows are more than %d pixels",
                                   (unsigned)words->columns, (unsigned)words->rows, DIA_RIG_LAMPS);
    enum dia_status status = address_fits(reader, node, device, words->rows);
    if (status != DIA_OK)
        return status;
    device->channels = 3;
    device->colour = (struct dia_rgb){255, 255, 255};
    device->lamps = words->columns * words->rows;
    device->depth = (uint8_t)(words->depth ? words->depth : 5);
    device->refresh_mhz = words->refresh_mhz ? words->refresh_mhz : 120000;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 10000;
    device->blank_ns = (uint16_t)(dia_tree_get(node, "blank") ? words->blank_ns : OFF_NS);
    device->off_ns = OFF_NS;
    for (uint32_t k = 0; k < device->lamps; k++)
        device->output_of[k] = device->place_of[k] = (uint16_t)k;
    return dia_family_place(reader, node, words, device, words->columns, 4000);
}

/* "r1 to b2 2 to 7, a 8, b 12": of neighbours only the ends. */
static void facts(const struct dia_rig_device *device, char *text, size_t size)
{
    static const uint8_t ends[] = {DATA_PINS, DIA_RGB_PANEL_E + 1, DIA_RGB_PANEL_PINS};
    uint32_t group = 0;
    size_t used = 0;
    text[0] = 0;
    for (uint32_t role = 0; roles[role]; role++) {
        uint32_t first = role;
        group += role == ends[group];
        if (device->pins[role] == DIA_NO_PIN)
            continue;
        while (role + 1 < ends[group] && device->pins[role + 1] == device->pins[role] + 1)
            role++;
        if (role < first + 2) {
            role = first;
            used += (size_t)snprintf(text + used, size - used, "%s%s %u", used ? ", " : "",
                                     roles[role], device->pins[role]);
        } else {
            used += (size_t)snprintf(text + used, size - used, "%s%s to %s %u to %u",
                                     used ? ", " : "", roles[first], roles[role],
                                     device->pins[first], device->pins[role]);
        }
    }
}

/* ---- its ticks ------------------------------------------------------------------------------- */

/* Data pins one after the other can be set at once. */
static int are_neighbours(const struct dia_rig_device *device)
{
    for (uint32_t k = 1; k < DATA_PINS; k++) {
        if (device->pins[k] != device->pins[0] + k)
            return 0;
    }
    return 1;
}

static void ticks(const struct dia_rig *rig, const struct dia_rig_device *device,
                  struct dia_refresh_setup *setup)
{
    uint32_t each = are_neighbours(device) ? DIA_TICK_RGB_COLUMN : DIA_TICK_RGB_COLUMN_PINS;
    uint64_t blanks = 2ull * device->blank_ns * rig->controller.clock_hz / 1000000000u;
    *setup =
        (struct dia_refresh_setup){.clock_hz = rig->controller.clock_hz,
                                   .tick_cycles = DIA_TICK_ENTER + DIA_TICK_RGB +
                                                  device->surface.count * each + (uint32_t)blanks,
                                   .rows = (uint8_t)(rows_of(device) / 2)};
}

/* As it runs: where there is no time for the refresh of the file, as fast as it can. */
static struct dia_refresh runs_at(const struct dia_rig *rig, const struct dia_rig_device *device)
{
    struct dia_refresh_setup setup;
    struct dia_refresh refresh;
    ticks(rig, device, &setup);
    setup.most_permille = 1000;
    dia_refresh_at(&refresh, &setup, device->refresh_mhz, device->depth, DIA_SLICES_WEIGHTED);
    return refresh;
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = from->lamps * sizeof(struct dia_rgb);
    *memory = DIA_RGB_PANEL_BYTES(from->surface.count, rows_of(from), from->depth);
}

static uint32_t turns(const struct dia_rig_device *device)
{
    return rows_of(device) / 2;
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    const struct dia_rgb_panel_shape shape = {(uint16_t)there->surface.count,
                                              (uint8_t)rows_of(there), there->off_ns};
    return dia_bench_rgb_panel(player->bench, setup, &shape);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    struct dia_refresh runs = runs_at(player->rig, from);
    struct dia_rgb_panel_setup setup = {
        .columns = (uint16_t)from->surface.count,
        .rows = (uint8_t)rows_of(from),
        .depth = from->depth,
        .unit_us = (uint16_t)runs.unit_us,
        .tick_us = (uint16_t)runs.tick_us,
        .blank_ns = from->blank_ns,
    };
    memcpy(&setup.pins, from->pins, sizeof setup.pins);
    return dia_rgb_panel_init((struct dia_rgb_panel *)device->driver, player->port, &setup,
                              (struct dia_rgb *)(void *)device->drawing, device->memory);
}

static const volatile uint8_t *counter(const struct play_device *device)
{
    return &((const struct dia_rgb_panel *)device->driver)->periods;
}

/* ---- limits ---------------------------------------------------------------------------------- */

/* Panels begin with buffers: 74HC245, which want 70 % of their supply. */
static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    (void)sheet;
    return (struct family_levels){.supply_min_mv = 4500,
                                  .supply_max_mv = 5500,
                                  .input_high_mv = supply_mv * 7u / 10u,
                                  .source = "choice: 5 V panels with 74HC245 at their inputs"};
}

static void lit(const struct dia_rig_device *device, uint32_t lamp, struct family_lit *lit)
{
    uint32_t row = lamp / device->surface.count, scan = turns(device);
    *lit = (struct family_lit){device->refresh_mhz, scan, row % scan};
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    size_t drawing, memory;
    uint32_t scan = turns(device), lit_permille = runs_at(rig, device).lit_permille;
    uint32_t master_permille = dia_family_permille(rig->master);
    sizes(device, &drawing, &memory);
    c->bits = (uint32_t)(memory / 2) * DATA_PINS; /* of a frame */
    c->duty_permille = lit_permille * master_permille / 1000 / scan;
    c->ram_bytes = (uint32_t)(drawing + memory) + CONTEXT_BYTES(rig, rgb_panel);
    c->output_ua = device->lamp_ua;
    c->chip_ua = DATA_PINS * device->surface.count * device->lamp_ua; /* two rows at a time */
    c->drawn_ua = (uint64_t)c->chip_ua * lit_permille / 1000u * master_permille / 1000u;
}

static void limits(struct dia_check *check, const struct dia_rig_device *device,
                   const struct dia_check_device *c)
{
    if (!are_neighbours(device))
        dia_check_add(check, DIA_NOTE, "pins-apart", device->name, "counted on an ATmega328P",
                      "r1, g1, b1, r2, g2, b2 are not on neighbouring pins in this order, so a "
                      "column takes %u cycles instead of %u",
                      DIA_TICK_RGB_COLUMN_PINS, DIA_TICK_RGB_COLUMN);
    if (c->lit_permille < 500 && !c->slice_short)
        dia_check_add(check, DIA_NOTE, "panel-dim", device->name, "planned",
                      "ticks leave light for %u %% of each row's turn: a lower 'depth' or "
                      "'refresh' makes it brighter",
                      (unsigned)(c->lit_permille / 10));
}

/* ---- faults and questions -------------------------------------------------------------------- */

static void cross(struct dia_rig_device *device, uint32_t a, uint32_t b)
{
    uint8_t kept = device->pins[a];
    device->pins[a] = device->pins[b];
    device->pins[b] = kept;
}

static uint32_t role_of(const char *name)
{
    uint32_t role = 0;
    while (name && roles[role] && strcmp(roles[role], name) != 0)
        role++;
    return role;
}

/* Two of its wires are on each other's pins. */
static enum dia_status crossed(struct dia_desk *desk, const struct said *said,
                               struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    uint32_t a = role_of(said->first), b = role_of(said->second);
    if (!said->second || a == b || a >= DIA_RGB_PANEL_PINS || b >= DIA_RGB_PANEL_PINS ||
        device->pins[a] == DIA_NO_PIN || device->pins[b] == DIA_NO_PIN)
        return dia_host_wrong(wrong, "fault '%s: crossed' takes two of its pins, such as g1 b1",
                              said->target);
    cross(device, a, b);
    return DIA_OK;
}

static enum dia_status halves(struct dia_desk *desk, const struct said *said,
                              struct dia_diagnostic *wrong)
{
    (void)wrong;
    for (uint32_t k = 0; k < 3; k++)
        cross(&desk->rig.devices[said->device], k, k + 3);
    return DIA_OK;
}

/* Its rows take longer to be off than the file waits for. */
static enum dia_status slow_rows(struct dia_desk *desk, const struct said *said,
                                 struct dia_diagnostic *wrong)
{
    (void)wrong;
    desk->rig.devices[said->device].off_ns = 20 * OFF_NS;
    return DIA_OK;
}

static const struct fault_kind own_faults[] = {{"crossed", OF_DEVICE, crossed},
                                               {"halves", OF_DEVICE, halves},
                                               {"slow-rows", OF_DEVICE, slow_rows},
                                               {NULL, 0, NULL}};

const struct dia_rig_family dia_family_rgb_panel = {
    .parts = parts,
    .what = "colour panels",
    .roles = roles,
    .fields = panel_fields,
    .read = read,
    .needs_pin = needs_pin,
    .lies = DIA_LIES_DOTS,
    .turns = turns,
    .lit = lit,
    .driver_bytes = sizeof(struct dia_rgb_panel),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .counter = counter,
    .levels = levels,
    .facts = facts,
    .ticks = ticks,
    .numbers = numbers,
    .limits = limits,
    .flickers = 1,
    .faults = own_faults,
    .ask = dia_bringup_rgb_panel,
};
