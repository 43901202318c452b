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

/* TM1638, TM1637: digits, then single lamps; the first has keys. */

static const struct family_part parts[] = {
    {"TM1638", &dia_tm1638}, {"TM1637", &dia_tm1637}, {NULL, NULL}};
static const char *const roles[] = {"stb", "clk", "dio", NULL};

/* clang-format off */
static const struct field panel_fields[] = {
    COMMON, NAMES, SHIFTER, TEXT, PITCH, CURRENT("segment_current", 50000),
    {"digits", HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 8, AT(digits), "4"},
    MORE("first", "left"),
    {0},
};
/* clang-format on */

static const struct dia_panel_part *part_of(const struct dia_rig_device *device)
{
    return device->part;
}

static int has_no_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)digits;
    return role == DIA_PANEL_STB && part_of(device)->strobe_ns == 0;
}

static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    return !has_no_pin(device, role, digits);
}

/* A TM1638 has its digits on even addresses and its single lamps on bit 0 of odd ones. */
static void wire(struct dia_rig_device *device)
{
    dia_family_wire_digits(device);
    uint32_t with_lamps = part_of(device)->lamps;
    for (uint32_t i = 0; i < device->lamps; i++) {
        uint32_t digit = i / 8;
        if (device->wiring.from_right)
            digit = device->digits - 1 - digit;
        device->output_of[i] = (uint16_t)(digit * (with_lamps ? 16 : 8) + i % 8);
    }
    for (uint32_t k = 0; k < 8 && with_lamps; k++) {
        device->output_of[device->lamps] = (uint16_t)(k * 16 + 8);
        device->place_of[device->lamps++] = (uint16_t)(k < device->digits ? k : device->digits - 1);
    }
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    int with_lamps = part_of(device)->lamps;
    uint32_t most = with_lamps ? 8 : 6;
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "first"), "'first'",
                                                 dia_family_ends, &device->wiring.from_right);
    if (status != DIA_OK)
        return status;
    device->digits = words->digits ? words->digits : with_lamps ? 8 : 4;
    if (device->digits > most)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "digits"),
                                   "%s drives at most %u digits", device->chip, (unsigned)most);
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    wire(device);
    status = dia_family_place(reader, node, words, device, device->digits, 9000);
    return status == DIA_OK ? dia_family_text(reader, node, device, 1, device->digits) : status;
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    (void)from;
    *drawing = DIA_PANEL_DRAWING;
    *memory = 0;
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    setup->count = player->desk->rig.devices[number].digits;
    return dia_bench_panel(player->bench, setup);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    return dia_panel_init((struct dia_panel *)device->driver, player->port, part_of(from),
                          from->pins[DIA_PANEL_STB], from->pins[DIA_PANEL_CLK],
                          from->pins[DIA_PANEL_DIO], device->drawing);
}

static uint8_t keys(const struct play_device *device)
{
    return ((const struct dia_panel *)device->driver)->keys;
}

/* ---- limits ---------------------------------------------------------------------------------- */

/* Many panels are run at 3.3 V: outside the sheet, but no reason to stop. */
static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    const struct dia_panel_part *part = sheet;
    return (struct family_levels){.supply_min_mv = part->supply_min_mv,
                                  .supply_max_mv = part->supply_max_mv,
                                  .input_high_mv = supply_mv * part->input_high_permille / 1000,
                                  .source = part->source,
                                  .works_from_mv = 3000};
}

static const char *two_way(const struct dia_rig_device *device)
{
    (void)device;
    return "DIO";
}

static int reading(const struct dia_rig_device *device, struct family_reading *reading)
{
    int strobe = part_of(device)->strobe_ns != 0;
    *reading = (struct family_reading){.by = strobe ? FAMILY_READS_CLOCKED : FAMILY_READS_TWO_WIRES,
                                       .data = DIA_PANEL_DIO,
                                       .clock = DIA_PANEL_CLK,
                                       .frame = strobe ? DIA_PANEL_STB : FAMILY_NO_ROLE,
                                       .bits = 8,
                                       .least_first = 1};
    return 1;
}

/* The first byte of a frame is a command. */
static void says(const struct dia_rig_device *device, const struct family_word *word, char text[24])
{
    unsigned value = word->value & 255;
    (void)device;
    if (word->number > 0)
        snprintf(text, 24, "= %02x", value);
    else if (value >> 6 == 3)
        snprintf(text, 24, "address %u", value & 15);
    else if (value >> 6 == 2 && value & 8)
        snprintf(text, 24, "on, level %u", value & 7);
    else if (value >> 6 == 2)
        snprintf(text, 24, "off");
    else
        snprintf(text, 24, value & 2 ? "read keys" : value & 4 ? "write one" : "write on");
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    const struct dia_panel_part *part = part_of(device);
    (void)rig;
    /* 0x40; 0xc0 and the data; the light; 0x42 and four bytes of keys */
    c->bits = part->lamps ? 8u * (1 + 17 + 1 + 5) : 9u * (1u + 1u + part->digits + 1u);
    c->duty_permille = 875;
    c->ram_bytes = DIA_PANEL_DRAWING + CONTEXT_BYTES(rig, panel);
    c->output_ua = device->lamp_ua;
    c->chip_ua = 8u * device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua * 14u / 16u;
}

static int reverse(struct dia_rig_device *device)
{
    device->wiring.from_right = !device->wiring.from_right;
    wire(device);
    return 1;
}

const struct dia_rig_family dia_family_panel = {
    .parts = parts,
    .what = "a panel",
    .roles = roles,
    .fields = panel_fields,
    .read = read,
    .needs_pin = needs_pin,
    .has_no_pin = has_no_pin,
    .wire = wire,
    .lies = DIA_LIES_DIGITS,
    .has_keys = 1,
    .driver_bytes = sizeof(struct dia_panel),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .refresh_every = FAMILY_REFRESH_EVERY,
    .keys = keys,
    .levels = levels,
    .two_way = two_way,
    .reading = reading,
    .says = says,
    .numbers = numbers,
    .flickers = 1,
    .reverse = reverse,
    .ask = dia_bringup_digits,
};
