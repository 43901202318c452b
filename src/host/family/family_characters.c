/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "bringup_device.h"
#include "contexts.h"
#include "check_limits.h"
#include "family_read.h"
#include "fault_kinds.h"
#include "host_private.h"
#include "player_private.h"
#include "rig_wire.h"

/* HD44780: cells of characters. */

static const struct family_part parts[] = {{"HD44780", &dia_hd44780}, {NULL, NULL}};
static const char *const roles[] = {"rs", "rw", "e",  "d0", "d1",  "d2",  "d3",
                                    "d4", "d5", "d6", "d7", "scl", "sda", NULL};
static const uint8_t wires[DIA_RIG_PINS] = {
    [DIA_CHARACTERS_SCL] = FAMILY_I2C_CLOCK, [DIA_CHARACTERS_SDA] = FAMILY_I2C_DATA};

/* clang-format off */
static const struct field characters_fields[] = {
    COMMON, I2C, SHIFTER, TEXT,
    {"oscillator",    HOLDS_QUANTITY, 0, DIA_CLOCK, 40000, 190000, AT(oscillator_hz), "120 kHz"},
    {"columns",       HOLDS_QUANTITY, 0, DIA_NUMBER, 8, 40,  AT(columns), "20"},
    {"rows",          HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 4,   AT(rows),    "4"},
    {"address",       HOLDS_TEXT,     0, DIA_NUMBER, 0, 8,   AT(address), "0x27"},
    {"light_current", HOLDS_QUANTITY, 0, DIA_CURRENT, 0, 1000000, AT(lamp_ua), "20 mA"},
    MORE("split", "yes"), MORE("lines", "4"), MORE("rom", "A00"),
    {0},
};
/* clang-format on */

static int has_expander(const struct dia_rig_device *device)
{
    return device->pins[DIA_CHARACTERS_SCL] != DIA_NO_PIN ||
           device->pins[DIA_CHARACTERS_SDA] != DIA_NO_PIN;
}

/* Two wires of a bus; or rs, e and four data lines, or all eight once one of the lower is there. */
static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)digits;
    if (has_expander(device))
        return role >= DIA_CHARACTERS_SCL;
    if (role >= DIA_CHARACTERS_D0 && role < DIA_CHARACTERS_D0 + 4)
        for (uint8_t k = 0; k < 4; k++)
            if (device->pins[DIA_CHARACTERS_D0 + k] != DIA_NO_PIN)
                return 1;
    return role == DIA_CHARACTERS_RS || role == DIA_CHARACTERS_E ||
           (role >= DIA_CHARACTERS_D0 + 4 && role < DIA_CHARACTERS_SCL);
}

static int has_no_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)digits;
    return device->pins[DIA_CHARACTERS_SCL] != DIA_NO_PIN && role < DIA_CHARACTERS_SCL;
}

static enum dia_route route(const struct dia_rig_device *device)
{
    return device->lines == DIA_BUS_EXPANDER ? DIA_ON_I2C : DIA_ON_PINS;
}

/* As its sheet writes it, 0x27, or 39. */
static enum dia_status read_address(struct rig_reader *reader, const struct tree_node *node,
                                    const char *text, uint8_t *address)
{
    char *end;
    unsigned long value = strtoul(text, &end, 0);
    if (text[0] == 0)
        return DIA_OK;
    if (*end != 0 || text[0] == '-' || value < 3 || value > 0x77)
        return dia_rig_wrong_value(
            reader, dia_tree_get(node, "address"),
            "'address' is an I2C address, 0x03 to 0x77, such as 0x27; found '%s'", text);
    *address = (uint8_t)value;
    return DIA_OK;
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "split"), "'split'",
                                                 dia_family_no_yes, &device->split);
    if (status != DIA_OK)
        return status;
    static const char *const roms[] = {"A00", "A02", NULL};
    static const struct dia_rom *const of[] = {&dia_rom_a00, &dia_rom_a02};
    uint8_t rom = 0;
    status = dia_rig_read_choice(reader, dia_tree_get(node, "rom"), "'rom'", roms, &rom);
    if (status != DIA_OK)
        return status;
    device->rom = of[rom];
    device->columns = words->columns ? (uint8_t)words->columns : 16; /* as most are */
    device->rows = words->rows ? (uint8_t)words->rows : 2;
    status = read_address(reader, node, words->address, &device->address);
    if (status != DIA_OK)
        return status;
    device->lamp_ua = words->lamp_ua;
    device->oscillator_hz = words->oscillator_hz;
    if (device->rows == 3 || device->columns * device->rows > 80 ||
        (device->split && (device->rows != 1 || device->columns % 2)))
        return dia_rig_wrong_key(
            reader, node,
            "no %ux%u display%s; there are 8x1 to 40x2, 16x4 and 20x4, and a split "
            "row has two equal halves",
            device->columns, device->rows, device->split ? " with 'split'" : "");
    if (device->pins[DIA_CHARACTERS_SCL] != DIA_NO_PIN)
        device->lines = DIA_BUS_EXPANDER;
    else
        device->lines =
            device->pins[DIA_CHARACTERS_D0] == DIA_NO_PIN ? DIA_BUS_4_LINES : DIA_BUS_8_LINES;
    static const char *const lines[] = {"4", "8", NULL};
    uint8_t eight = device->lines == DIA_BUS_8_LINES;
    status = dia_rig_read_choice(reader, dia_tree_get(node, "lines"), "'lines'", lines, &eight);
    if (status != DIA_OK)
        return status;
    if (eight && device->lines != DIA_BUS_8_LINES)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "lines"),
                                   "'lines: 8' needs pins d0 to d7");
    if (!eight && device->lines == DIA_BUS_8_LINES)
        device->lines = DIA_BUS_4_LINES;
    if (device->address && device->lines != DIA_BUS_EXPANDER)
        return dia_rig_wrong_key(reader, node,
                                 "'address' is for a display with 'pins: { scl: 18, sda: 19 }'");
    if (!device->address && device->lines == DIA_BUS_EXPANDER)
        device->address = 0x27; /* of most expanders as they come */
    status = dia_family_place(reader, node, words, device, device->columns, 3550);
    return status == DIA_OK ? dia_family_text(reader, node, device, device->rows, device->columns)
                            : status;
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = DIA_CHARACTERS_CELLS((size_t)from->columns, from->rows);
    *memory = DIA_CHARACTERS_BYTES((size_t)from->columns, from->rows);
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    const struct dia_desk_device *desk = &player->desk->devices[number];
    struct dia_glass glass = {.columns = there->columns,
                              .rows = there->rows,
                              .split = there->split,
                              .address = there->address,
                              .half = desk->half,
                              .oscillator_khz = desk->oscillator_khz,
                              .contrast_off_mv = desk->contrast_off_mv};
    return dia_bench_characters(player->bench, setup, &glass);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    struct dia_characters_setup setup = {
        .part = from->part,
        .bus = from->lines,
        .rs_pin = from->pins[DIA_CHARACTERS_RS],
        .rw_pin = from->pins[DIA_CHARACTERS_RW],
        .e_pin = from->pins[DIA_CHARACTERS_E],
        .i2c_bus = from->bus,
        .address = from->address,
        .columns = from->columns,
        .rows = from->rows,
        .split = from->split,
    };
    uint8_t first = from->lines == DIA_BUS_8_LINES ? 0 : 4;
    for (uint8_t k = 0; first + k < 8; k++)
        setup.data_pin[k] = from->pins[DIA_CHARACTERS_D0 + first + k];
    setup.oscillator_khz = (uint16_t)(from->oscillator_hz / 1000);
    enum dia_status status = DIA_OK;
    if (from->lines == DIA_BUS_EXPANDER)
        status = dia_play_i2c(player, from->bus, from->i2c, from->pins[DIA_CHARACTERS_SCL],
                              from->pins[DIA_CHARACTERS_SDA]);
    return status == DIA_OK
               ? dia_characters_init((struct dia_characters *)device->driver, player->port, &setup,
                                     device->drawing, device->memory)
               : status;
}

static enum dia_status own(struct play_device *device, const uint8_t rows[8], uint8_t busy,
                           uint8_t *code)
{
    return dia_characters_own((struct dia_characters *)device->driver, rows, busy, code);
}

static void want(struct play_device *device, const struct dia_cells_wanted *wanted,
                 dia_share master)
{
    dia_characters_cursor((struct dia_characters *)device->driver, wanted->cursor_column,
                          wanted->cursor_row, wanted->cursor);
    dia_driver_master(device->driver, wanted->on ? master : 0);
}

static void copy(struct dia_driver *to, const struct dia_driver *from)
{
    struct dia_characters *there = (struct dia_characters *)to;
    const struct dia_characters *here = (const struct dia_characters *)from;
    for (uint8_t code = 0; code < 8; code++) {
        if (memcmp(there->glyph[code], here->glyph[code], 8) != 0)
            dia_characters_glyph(there, code, here->glyph[code]);
    }
    dia_characters_cursor(there, here->cursor_column, here->cursor_row, here->cursor_style);
}

/* ---- limits ---------------------------------------------------------------------------------- */

static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    const struct dia_characters_part *part = sheet;
    (void)supply_mv;
    return (struct family_levels){.supply_min_mv = part->supply_min_mv,
                                  .supply_max_mv = part->supply_max_mv,
                                  .input_high_mv = part->input_high_mv,
                                  .source = part->source};
}

/* With R/W it tells when it is busy, on its data lines. */
static const char *two_way(const struct dia_rig_device *device)
{
    if (device->pins[DIA_CHARACTERS_SDA] != DIA_NO_PIN)
        return "SDA";
    return device->pins[DIA_CHARACTERS_RW] != DIA_NO_PIN ? "each data line" : NULL;
}

/* A whole new text: each row its place and its characters, with the safe waits. */
static int reading(const struct dia_rig_device *device, struct family_reading *reading)
{
    *reading = (struct family_reading){.by = FAMILY_READS_ENABLE,
                                       .data = DIA_CHARACTERS_D0 + 7,
                                       .clock = DIA_CHARACTERS_E,
                                       .frame = FAMILY_NO_ROLE,
                                       .choice = DIA_CHARACTERS_RS,
                                       .away = DIA_CHARACTERS_RW,
                                       .bits = 8,
                                       .halves = device->pins[DIA_CHARACTERS_D0] == DIA_NO_PIN};
    if (has_expander(device))
        *reading = (struct family_reading){.by = FAMILY_READS_TWO_WIRES,
                                           .data = DIA_CHARACTERS_SDA,
                                           .clock = DIA_CHARACTERS_SCL,
                                           .frame = FAMILY_NO_ROLE,
                                           .bits = 8,
                                           .has_address = 1,
                                           .halves = 1};
    return 1;
}

/* An instruction by its highest bit, or a character. */
static void says(const struct dia_rig_device *device, const struct family_word *word, char text[24])
{
    unsigned value = word->value & 255;
    char sign[8];
    if (word->choice)
        snprintf(text, 24, "%s", dia_rig_cell_text(device, (uint8_t)value, sign));
    else if (value & 0x80)
        snprintf(text, 24, "place %02x", value & 127);
    else if (value & 0x40)
        snprintf(text, 24, "glyph %u, row %u", value >> 3 & 7, value & 7);
    else if (value & 0x20)
        snprintf(text, 24, "%u lines, %u row%s", value & 16 ? 8u : 4u, value & 8 ? 2u : 1u,
                 value & 8 ? "s" : "");
    else if (value & 0x10)
        snprintf(text, 24, "move");
    else if (value & 8)
        snprintf(text, 24, "%s%s%s", value & 4 ? "on" : "off", value & 2 ? ", cursor" : "",
                 value & 1 ? ", block" : "");
    else if (value & 4)
        snprintf(text, 24, "entry %s", value & 2 ? "right" : "left");
    else
        snprintf(text, 24, value & 2 ? "home" : value & 1 ? "clear" : "?");
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    uint32_t places = (uint32_t)device->columns * device->rows, entries = places + device->rows;
    uint32_t entry_us = dia_hd44780.write_us + 11u;
    (void)rig;
    if (device->lines == DIA_BUS_EXPANDER)
        entry_us += 10u * (9u * 5u + 3u); /* 100 kHz: address and four bytes */
    c->bits = entries * 8u;
    c->frame_ns = entries * entry_us * 1000ull;
    c->duty_permille = 1000;
    c->ram_bytes = places * 2u + CONTEXT_BYTES(rig, characters);
    c->drawn_ua = device->lamp_ua;
}

/* ---- faults and questions -------------------------------------------------------------------- */

static enum dia_status oscillator(struct dia_desk *desk, const struct said *said,
                                  struct dia_diagnostic *wrong)
{
    int64_t hz;
    enum dia_status status = dia_fault_quantity(said, DIA_CLOCK, 40000, 500000, &hz, wrong);
    if (status == DIA_OK)
        desk->devices[said->device].oscillator_khz = (uint16_t)(hz / 1000);
    return status;
}

static enum dia_status contrast(struct dia_desk *desk, const struct said *said,
                                struct dia_diagnostic *wrong)
{
    int64_t mv;
    enum dia_status status = dia_fault_quantity(said, DIA_VOLTAGE, 0, 5000, &mv, wrong);
    if (status == DIA_OK)
        desk->devices[said->device].contrast_off_mv = (int16_t)(mv - 500);
    return status;
}

static enum dia_status half(struct dia_desk *desk, const struct said *said,
                            struct dia_diagnostic *wrong)
{
    (void)wrong;
    desk->devices[said->device].half = 1;
    return DIA_OK;
}

static enum dia_status four_lines(struct dia_desk *desk, const struct said *said,
                                  struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    if (device->lines != DIA_BUS_8_LINES)
        return dia_host_wrong(wrong, "'%s' has no d0 to d3 that could be missing", said->target);
    for (uint8_t k = 0; k < 4; k++)
        device->pins[DIA_CHARACTERS_D0 + k] = DIA_NO_PIN;
    return DIA_OK;
}

/* The solder pads of its expander are set to another address than the rig says. */
static enum dia_status other_address(struct dia_desk *desk, const struct said *said,
                                     struct dia_diagnostic *wrong)
{
    char *end = NULL;
    unsigned long value = said->first ? strtoul(said->first, &end, 0) : 0;
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    if (device->lines != DIA_BUS_EXPANDER)
        return dia_host_wrong(wrong, "'%s' has no expander with an address", said->target);
    if (!end || *end != 0 || value < 3 || value > 0x77)
        return dia_host_wrong(wrong, "fault '%s: address' takes 0x03 to 0x77, such as 0x3f",
                              said->target);
    device->address = (uint8_t)value;
    return DIA_OK;
}

static const struct fault_kind own_faults[] = {
    {"address", OF_DEVICE, other_address}, {"oscillator", OF_DEVICE, oscillator},
    {"contrast", OF_DEVICE, contrast},     {"half-pair", OF_DEVICE, half},
    {"four-lines", OF_DEVICE, four_lines}, {NULL, 0, NULL}};

const struct dia_rig_family dia_family_characters = {
    .parts = parts,
    .what = "a character display",
    .roles = roles,
    .wires = wires,
    .fields = characters_fields,
    .read = read,
    .needs_pin = needs_pin,
    .has_no_pin = has_no_pin,
    .route = route,
    .lies = DIA_LIES_CELLS,
    .driver_bytes = sizeof(struct dia_characters),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .own = own,
    .copy = copy,
    .want = want,
    .levels = levels,
    .two_way = two_way,
    .reading = reading,
    .says = says,
    .numbers = numbers,
    .faults = own_faults,
    .ask = dia_bringup_characters,
};
