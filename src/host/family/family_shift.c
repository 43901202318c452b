/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "bringup_device.h"
#include "contexts.h"
#include "check_limits.h"
#include "family_read.h"
#include "family_turns.h"
#include "fault_kinds.h"
#include "host_private.h"
#include "player_private.h"
#include "rig_wire.h"

/* 74HC595, 74HCT595: lamps in a line, or digits of seven segments and perhaps single lamps. */

static const struct family_part parts[] = {
    {"74HC595", &dia_74hc595}, {"74HCT595", &dia_74hct595}, {NULL, NULL}};
static const char *const roles[] = {"ser", "srclk", "rclk", "oe", NULL};
static const uint8_t wires[DIA_RIG_PINS] = {FAMILY_SPI_DATA, FAMILY_SPI_CLOCK};

/* clang-format off */
static const struct field shift_fields[] = {
    COMMON, SPI, SHIFTER, PITCH, TEXT, NAMES, CURRENT("lamp_current", 35000), RESISTOR,
    {"digits",  HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 255,      AT(digits),      "6"},
    {"segments", HOLDS_QUANTITY, 0, DIA_NUMBER, 7, 16,      AT(segments),    "14"},
    {"chips",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 255,      AT(chips),       "3"},
    {"lamps",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 2040,     AT(lamps),       "24"},
    {"clock",   HOLDS_QUANTITY, 0, DIA_CLOCK,  1000, 24000000, AT(clock_hz), "1 MHz"},
    {"depth",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 8,        AT(depth),       "4"},
    {"refresh", HOLDS_QUANTITY, 0, DIA_RATE,   10000, 10000000, AT(refresh_mhz), "120 Hz"},
    MORE("slices", "weighted"), MORE("wiring", "[1A, 1B, 1C]"), MORE("common", "anode"),
    MORE("common_outputs", "[2A, 2B, 2C, 2D]"), MORE("commons", "inverted"),
    {0},
};
/* clang-format on */

static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)device;
    (void)digits;
    return role != DIA_SHIFT_OE;
}

static enum dia_route route(const struct dia_rig_device *device)
{
    return device->by_spi ? DIA_ON_SPI : DIA_ON_PINS;
}

static enum dia_status read_wiring(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig_device *device)
{
    uint32_t n = 0;
    const struct tree_node *list = dia_tree_get(node, "wiring");
    for (uint32_t i = 0; i < device->lamps; i++)
        device->output_of[i] = (uint16_t)i;
    if (!list)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, "'wiring'");
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *entry = list->child; entry; entry = entry->next, n++) {
        int output = -1, none = entry->kind == TREE_SCALAR && strcmp(entry->text, "none") == 0;
        if (entry->kind == TREE_SCALAR && !none)
            output = dia_rig_output(entry->text, device->count);
        if (output < 0 && !none)
            return dia_rig_wrong_value(
                reader, entry,
                "'wiring' takes a chip 1 to %u and its output A to H, such as 1A, or none; found "
                "'%.20s'",
                (unsigned)device->count, entry->kind == TREE_SCALAR ? entry->text : "a list");
        for (uint32_t k = 0; k < n && k < device->lamps && !none; k++) {
            if (device->output_of[k] == output)
                return dia_rig_wrong_value(reader, entry, "output %s drives lamp %u already",
                                           entry->text, (unsigned)k);
        }
        if (n < device->lamps)
            device->output_of[n] = none ? DIA_RIG_NOWHERE : (uint16_t)output;
    }
    if (n != device->lamps)
        return dia_rig_wrong_value(reader, list, "'wiring' has %u outputs for %u lamps%s",
                                   (unsigned)n, (unsigned)device->lamps,
                                   !device->digits          ? ""
                                   : device->per_digit == 8 ? ": a b c d e f g and the point of "
                                                              "each digit, from the left"
                                                            : ": the segments and the point of "
                                                              "each digit, from the left");
    return DIA_OK;
}

/* What digits in turns cannot have. */
static enum dia_status turns_need_digits(struct rig_reader *reader, const struct tree_node *node,
                                         const struct device_words *words)
{
    static const char *const others[] = {"lamps", "depth", "slices"};
    if (!words->digits)
        return dia_rig_wrong_key(reader, dia_tree_get(node, "common_outputs"),
                                 "'common_outputs' is for digits; say how many with 'digits'");
    if (words->digits > DIA_SHIFT_DIGITS_MOST)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "digits"),
                                   "at most %d digits take turns; found %u", DIA_SHIFT_DIGITS_MOST,
                                   (unsigned)words->digits);
    for (size_t k = 0; k < sizeof others / sizeof others[0]; k++) {
        if (dia_tree_get(node, others[k]))
            return dia_rig_wrong_key(reader, dia_tree_get(node, others[k]),
                                     "digits that are lit in turns have no '%s'", others[k]);
    }
    return DIA_OK;
}

static enum dia_status has_no_commons(struct rig_reader *reader, const struct tree_node *node)
{
    const struct tree_node *commons = dia_tree_get(node, "commons");
    return commons ? dia_rig_wrong_key(reader, commons,
                                       "'commons' says how 'common_outputs' are driven; there are "
                                       "none here")
                   : DIA_OK;
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const slices[] = {"weighted", "even", NULL};
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "slices"), "'slices'",
                                                 slices, &device->slices);
    if (status != DIA_OK)
        return status;
    device->by_spi = words->clock_hz != 0;
    device->depth = (uint8_t)(words->depth ? words->depth : 1);
    int in_turns = dia_tree_get(node, "common_outputs") != NULL;
    device->refresh_mhz = words->refresh_mhz ? words->refresh_mhz : in_turns ? 200000 : 120000;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    device->digits = words->digits;
    if (words->segments && words->segments != 7 && words->segments != 14 && words->segments != 16)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "segments"),
                                   "'segments' of a digit are 7, 14 or 16; found '%u'",
                                   (unsigned)words->segments);
    device->per_digit = (uint8_t)(words->segments ? words->segments + 1 : 8);
    device->lamps = words->lamps    ? words->lamps
                    : words->digits ? words->digits * device->per_digit
                                    : device->count * 8;
    if (words->digits && words->lamps) /* single lamps, such as colons, come behind the digits */
        device->lamps = words->digits * device->per_digit + words->lamps;
    static const char *const commons[] = {"cathode", "anode", NULL};
    status = dia_rig_read_choice(reader, dia_tree_get(node, "common"), "'common'", commons,
                                 &device->anode);
    if (status != DIA_OK)
        return status;
    if (!device->digits && dia_tree_get(node, "text"))
        return dia_rig_wrong_key(reader, dia_tree_get(node, "text"),
                                 "'text' is for digits; say how many with 'digits'");
    status = in_turns ? turns_need_digits(reader, node, words) : has_no_commons(reader, node);
    if (status != DIA_OK)
        return status;
    if (!in_turns && device->lamps > device->count * 8)
        return dia_rig_wrong_value(
            reader, dia_tree_get(node, device->digits ? "digits" : "lamps"),
            "%u %s do not fit the %u outputs of %u chip%s", (unsigned)device->lamps,
            device->digits ? "segments and lamps" : "lamps", (unsigned)device->count * 8,
            (unsigned)device->count, device->count == 1 ? "" : "s");
    uint32_t unit_us = in_turns
                           ? dia_digits_turn_us(device->refresh_mhz, (uint8_t)device->digits, 0)
                           : dia_slices_unit_us(device->refresh_mhz, device->depth);
    uint32_t bits_us = device->by_spi ? device->count * 8000u / (words->clock_hz / 1000u) + 1u : 0;
    if (!in_turns && unit_us <= bits_us)
        return dia_rig_wrong_key(reader, node,
                                 "the shortest slice of '%s' is %u us, and its bits need %u us: "
                                 "take a lower 'refresh' or 'depth', or a higher 'clock'",
                                 device->name, (unsigned)unit_us, (unsigned)bits_us + 1u);
    if (!in_turns && !device->slices && unit_us << (device->depth - 1u) > 65535u)
        return dia_rig_wrong_key(reader, node,
                                 "a slice of '%s' is longer than 65 ms; take a higher 'refresh'",
                                 device->name);
    if (in_turns)
        status = dia_family_turns_read(reader, node, device, bits_us);
    else
        status = read_wiring(reader, node, device);
    uint32_t segments = device->digits * device->per_digit;
    for (uint32_t i = 0; i < device->lamps; i++)
        device->place_of[i] = (uint16_t)(i < segments ? i / device->per_digit : i - segments);
    if (status == DIA_OK && device->digits) {
        uint32_t singles = device->lamps - segments;
        status = dia_family_place(reader, node, words, device,
                                  singles > device->digits ? singles : device->digits, 12000);
        return status == DIA_OK ? dia_family_text(reader, node, device, 1, device->digits) : status;
    }
    return status == DIA_OK ? dia_family_place(reader, node, words, device, device->lamps, 50000)
                            : status;
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = from->commons ? DIA_SHIFT_DRAWING(from->commons, from->per_digit)
                             : DIA_SHIFT_LEVELS(from->count);
    *memory = from->commons ? DIA_SHIFT_DIGITS_BYTES(from->count, from->commons)
                            : DIA_SHIFT_BYTES(from->count, from->depth);
}

/* Through an output; of digits in turns through that of a segment and that of a common. */
static void circuit(const struct dia_rig *rig, const struct dia_rig_device *device,
                    struct family_circuit *out)
{
    uint32_t outputs = device->commons && !device->inverted ? 2 : 1, segments = 0;
    for (uint32_t i = 0; device->commons && i < device->per_digit; i++)
        segments += device->segment_output[i] != DIA_RIG_NOWHERE;
    *out = (struct family_circuit){
        .led = {.supply_mv = rig->supplies[device->supply].voltage_mv,
                .switch_mv = device->commons && device->inverted ? DIA_SWITCH_MV : 0,
                .output_mohm = DIA_OUTPUT_74HC_MOHM * outputs},
        .at = device->digits ? "segment" : "lamp",
        .resistors = device->commons ? segments : device->lamps,
        .duty_permille = 1000,
        .source = device->commons && device->inverted
                      ? "choice: 40 ohm of an output, 0.2 V of a transistor"
                      : "choice: 40 ohm of an output"};
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    struct dia_shift_turns turns = dia_family_turns_wired(there);
    setup->options = there->anode ? DIA_SHIFT_SINKS : 0;
    setup->turns = there->commons ? &turns : NULL;
    int device = dia_bench_shift(player->bench, setup);
    dia_bench_shift_fault(player->bench, device, &player->desk->devices[number].shift);
    return device;
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    const uint8_t *pins = from->pins;
    struct dia_shift_setup setup = {
        .part = from->part,
        .data_pin = pins[DIA_SHIFT_SER],
        .clock_pin = pins[DIA_SHIFT_SRCLK],
        .latch_pin = pins[DIA_SHIFT_RCLK],
        .enable_pin = pins[DIA_SHIFT_OE],
        .bus = from->by_spi ? from->bus : DIA_SHIFT_BY_PINS,
        .shared = from->shares,
        .depth = from->depth,
        .slices = from->slices,
        .sinks = from->anode,
        .clock_hz = from->clock_hz,
        .chips = (uint16_t)from->count,
        .unit_us = dia_slices_unit_us(from->refresh_mhz, from->depth),
    };
    enum dia_status status = DIA_OK;
    if (from->by_spi)
        status = dia_play_spi(player, from->bus, from->spi, setup.clock_pin, setup.data_pin);
    if (status == DIA_OK && from->commons)
        return dia_family_turns_connect(player, from, device, setup);
    return status == DIA_OK ? dia_shift_init((struct dia_shift *)device->driver, player->port,
                                             &setup, device->drawing, device->memory)
                            : status;
}

static const volatile uint8_t *counter(const struct play_device *device)
{
    return &((const struct dia_shift *)device->driver)->periods;
}

/* ---- limits ---------------------------------------------------------------------------------- */

static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    const struct dia_shift_part *part = sheet;
    uint32_t high =
        part->input_high_mv ? part->input_high_mv : supply_mv * part->input_high_permille / 1000;
    return (struct family_levels){.supply_min_mv = part->supply_min_mv,
                                  .supply_max_mv = part->supply_max_mv,
                                  .input_high_mv = high,
                                  .source = part->source,
                                  .instead = ", or take 74HCT595"};
}

static uint32_t tick_cycles(const struct dia_rig *rig, const struct dia_rig_device *device)
{
    uint32_t cycles =
        DIA_TICK_ENTER + (device->by_spi ? DIA_TICK_SPI + device->count * DIA_TICK_SPI_CHIP
                                         : DIA_TICK_PINS + device->count * DIA_TICK_PINS_CHIP);
    if (device->shares) /* the tick waits for its bits */
        cycles += (uint32_t)(8ull * device->count * rig->controller.clock_hz / device->clock_hz);
    return cycles;
}

static void ticks(const struct dia_rig *rig, const struct dia_rig_device *device,
                  struct dia_refresh_setup *setup)
{
    *setup = (struct dia_refresh_setup){.clock_hz = rig->controller.clock_hz,
                                        .tick_cycles = tick_cycles(rig, device) +
                                                       (device->commons ? DIA_TICK_BLANK : 0),
                                        .turns = device->commons,
                                        .dark_ticks = rig->master != DIA_SHARE_ONE};
}

static int reading(const struct dia_rig_device *device, struct family_reading *reading)
{
    (void)device;
    *reading = (struct family_reading){.data = DIA_SHIFT_SER,
                                       .clock = DIA_SHIFT_SRCLK,
                                       .frame = DIA_SHIFT_RCLK,
                                       .ends_high = 1,
                                       .bits = 8};
    return 1;
}

/* The first byte goes on to the last chip. */
static void says(const struct dia_rig_device *device, const struct family_word *word, char text[24])
{
    snprintf(text, 24, "chip %d",
             word->number < device->count ? (int)(device->count - word->number) : 0);
}

static void lit(const struct dia_rig_device *device, uint32_t lamp, struct family_lit *lit)
{
    *lit = (struct family_lit){device->refresh_mhz, dia_family_turns(device),
                               device->commons ? lamp / device->per_digit : 0};
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    if (device->commons) {
        dia_family_turns_numbers(c, rig, device);
        return;
    }
    uint32_t on_chip[256] = {0}, most = 0;
    for (uint32_t i = 0; i < device->lamps; i++) {
        uint32_t output = device->output_of[i];
        uint32_t n = output == DIA_RIG_NOWHERE ? 0 : ++on_chip[output / 8];
        most = n > most ? n : most;
    }
    c->bits = 8u * device->count * device->depth;
    c->duty_permille = dia_family_permille(rig->master);
    c->ram_bytes = DIA_SHIFT_LEVELS(device->count) + DIA_SHIFT_BYTES(device->count, device->depth) +
                   CONTEXT_BYTES(rig, shift);
    c->output_ua = device->lamp_ua;
    c->chip_ua = most * device->lamp_ua;
    c->drawn_ua =
        (uint64_t)device->lamps * device->lamp_ua * dia_family_permille(rig->master) / 1000u;
}

/* Outputs of a 74HC595: 6 mA for the levels stated, 35 mA and 70 mA a chip at most. */
static void limits(struct dia_check *check, const struct dia_rig_device *device,
                   const struct dia_check_device *c)
{
    const char *source = "74HC595 sheet, recommended conditions and limiting values";
    struct dia_words w[2];
    if (device->commons)
        dia_family_turns_limits(check, device);
    if (c->chip_ua > dia_74hc595.chip_max_ma * 1000u)
        dia_check_add(
            check, DIA_ERROR, "chip-current", device->name, source,
            "%s through one chip with all its lamps lit; it stands %s: less current a lamp, or "
            "fewer lamps a chip",
            dia_quantity_as(c->chip_ua, DIA_CURRENT, &w[0]),
            dia_quantity_as(dia_74hc595.chip_max_ma * 1000, DIA_CURRENT, &w[1]));
    if (c->output_ua > dia_74hc595.output_ua)
        dia_check_add(check, DIA_WARNING, "output-current", device->name, source,
                      "%s from an output; it keeps its levels up to %s",
                      dia_quantity_as(c->output_ua, DIA_CURRENT, &w[0]),
                      dia_quantity_as(dia_74hc595.output_ua, DIA_CURRENT, &w[1]));
}

static int ask(struct run *run)
{
    return dia_device_believed(run)->commons ? dia_bringup_chain_digits(run)
                                             : dia_bringup_shift(run);
}

const struct dia_rig_family dia_family_shift = {
    .parts = parts,
    .what = "a shift-register chain",
    .roles = roles,
    .wires = wires,
    .fields = shift_fields,
    .read = read,
    .needs_pin = needs_pin,
    .route = route,
    .lies = DIA_LIES_LINE,
    .is_chain = 1,
    .driver_bytes = sizeof(struct dia_shift),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .counter = counter,
    .turns = dia_family_turns,
    .lit = lit,
    .reading = reading,
    .says = says,
    .circuit = circuit,
    .levels = levels,
    .ticks = ticks,
    .numbers = numbers,
    .limits = limits,
    .flickers = 1,
    .faults = dia_family_shift_faults,
    .reverse = dia_family_turns_reverse,
    .ask = ask,
};
