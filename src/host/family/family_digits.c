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

/* Digits of seven segments straight from pins. */

static const struct family_part parts[] = {{"digits", NULL}, {NULL, NULL}};
static const char *const roles[] = {"a",      "b",      "c",      "d",      "e",      "f",
                                    "g",      "dp",     "digit1", "digit2", "digit3", "digit4",
                                    "digit5", "digit6", "digit7", "digit8", NULL};

/* clang-format off */
static const struct field digits_fields[] = {
    COMMON, TEXT, PITCH, CURRENT("segment_current", 40000), RESISTOR,
    {"digits",  HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 8,        AT(digits),      "4"},
    {"refresh", HOLDS_QUANTITY, 0, DIA_RATE,   20000, 2000000, AT(refresh_mhz), "200 Hz"},
    MORE("common", "cathode"), MORE("commons", "inverted"), MORE("lit", "digit-by-digit"),
    {0},
};
/* clang-format on */

static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)device;
    return role != 7 && role < 8 + digits;
}

static int has_no_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)device;
    return role >= 8 + digits;
}

static uint32_t turns(const struct dia_rig_device *device)
{
    return device->by_segment ? 8u : device->digits;
}

static void lit(const struct dia_rig_device *device, uint32_t lamp, struct family_lit *lit)
{
    *lit = (struct family_lit){device->refresh_mhz, turns(device),
                               device->by_segment ? lamp % device->per_digit
                                                  : lamp / device->per_digit};
}

static void facts(const struct dia_rig_device *device, char *text, size_t size)
{
    snprintf(text, size, "common %s%s, lit %s by %s", device->anode ? "anode" : "cathode",
             device->inverted ? ", inverted" : "", device->by_segment ? "segment" : "digit",
             device->by_segment ? "segment" : "digit");
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const common[] = {"cathode", "anode", NULL};
    static const char *const commons[] = {"direct", "inverted", NULL};
    static const char *const ways[] = {"digit-by-digit", "segment-by-segment", NULL};
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "common"), "'common'",
                                                 common, &device->anode);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(node, "commons"), "'commons'", commons,
                                     &device->inverted);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(node, "lit"), "'lit'", ways,
                                     &device->by_segment);
    if (status != DIA_OK)
        return status;
    device->digits = words->digits;
    device->refresh_mhz = words->refresh_mhz ? words->refresh_mhz : 200000;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    uint32_t least_hz = 125u / turns(device) + (125u % turns(device) != 0); /* 8 ms a turn */
    if (dia_digits_turn_us(device->refresh_mhz, (uint8_t)device->digits, device->by_segment) == 0)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "refresh"),
                                   "'refresh' of %u turns must be %u Hz to 2000 Hz",
                                   (unsigned)turns(device), (unsigned)least_hz);
    dia_family_wire_digits(device);
    status = dia_family_place(reader, node, words, device, device->digits, 14000);
    return status == DIA_OK ? dia_family_text(reader, node, device, 1, device->digits) : status;
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = from->digits;
    *memory = 0;
}

/* Through a segment's pin and its common, which is a transistor or another pin. */
static void circuit(const struct dia_rig *rig, const struct dia_rig_device *device,
                    struct family_circuit *out)
{
    /* the end that is high is at the supply only where a transistor switches it there */
    int from_supply = device->anode && device->inverted;
    *out = (struct family_circuit){
        .led = {.supply_mv = from_supply ? rig->supplies[device->supply].voltage_mv
                                         : rig->controller.logic_high_mv,
                .switch_mv = device->inverted ? DIA_SWITCH_MV : 0,
                .output_mohm = DIA_OUTPUT_PIN_MOHM * (device->inverted ? 1u : 2u)},
        .at = device->by_segment ? "common" : "segment",
        .resistors = device->by_segment              ? device->digits
                     : device->pins[7] != DIA_NO_PIN ? 8
                                                     : 7,
        .duty_permille = 1000, /* a resistor of a segment serves all digits */
        .source = device->inverted ? "choice: 25 ohm of a pin, 0.2 V of a transistor"
                                   : "choice: 25 ohm of a pin"};
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    setup->count = there->digits;
    setup->options = (there->anode ? DIA_DIGITS_ANODE : 0u) |
                     (there->inverted ? DIA_DIGITS_INVERTED : 0u) |
                     (there->by_segment ? DIA_DIGITS_BY_SEGMENT : 0u);
    return dia_bench_digits(player->bench, setup);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    struct dia_digits_setup setup = {
        .digits = (uint8_t)from->digits,
        .common_anode = from->anode,
        .inverted = from->inverted,
        .by_segment = from->by_segment,
        .turn_us = dia_digits_turn_us(from->refresh_mhz, (uint8_t)from->digits, from->by_segment),
    };
    for (uint8_t k = 0; k < 8; k++) {
        setup.segment_pin[k] = from->pins[k];
        setup.common_pin[k] = from->pins[8 + k];
    }
    return dia_digits_init((struct dia_digits *)device->driver, player->port, &setup,
                           device->drawing);
}

static const volatile uint8_t *counter(const struct play_device *device)
{
    return &((const struct dia_digits *)device->driver)->rounds;
}

/* ---- limits ---------------------------------------------------------------------------------- */

static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    (void)sheet;
    (void)supply_mv;
    return (struct family_levels){.supply_max_mv = 60000, .source = ""};
}

static void ticks(const struct dia_rig *rig, const struct dia_rig_device *device,
                  struct dia_refresh_setup *setup)
{
    *setup = (struct dia_refresh_setup){.clock_hz = rig->controller.clock_hz,
                                        .tick_cycles = DIA_TICK_DIGITS + DIA_TICK_ENTER,
                                        .turns = (uint8_t)turns(device),
                                        .dark_ticks = rig->master != DIA_SHARE_ONE};
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    uint32_t n = turns(device);
    c->duty_permille = dia_family_permille(rig->master) / n;
    c->ram_bytes = device->digits + CONTEXT_BYTES(rig, digits);
    c->output_ua = device->lamp_ua;
    /* what a common carries: all segments of a digit, or with resistors on the commons one */
    c->chip_ua = device->by_segment ? device->lamp_ua : 8u * device->lamp_ua;
    c->drawn_ua =
        (uint64_t)device->lamps * device->lamp_ua / n * dia_family_permille(rig->master) / 1000u;
}

static void limits(struct dia_check *check, const struct dia_rig_device *device,
                   const struct dia_check_device *c)
{
    const char *source = "choice: 20 mA a pin of a controller";
    struct dia_words w[2];
    if (c->output_ua > FAMILY_PIN_UA)
        dia_check_add(check, DIA_ERROR, "output-current", device->name, source,
                      "%s from a pin for a segment; at most %s",
                      dia_quantity_as(c->output_ua, DIA_CURRENT, &w[0]),
                      dia_quantity_as(FAMILY_PIN_UA, DIA_CURRENT, &w[1]));
    if (!device->inverted && c->chip_ua > FAMILY_PIN_UA)
        dia_check_add(check, DIA_ERROR, "common-current", device->name, source,
                      "%s through the pin of a common; at most %s: put a transistor there",
                      dia_quantity_as(c->chip_ua, DIA_CURRENT, &w[0]),
                      dia_quantity_as(FAMILY_PIN_UA, DIA_CURRENT, &w[1]));
}

/* ---- faults and questions -------------------------------------------------------------------- */

static enum dia_status crossed(struct dia_desk *desk, const struct said *said,
                               struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    int segment[2] = {-1, -1};
    const char *words[2] = {said->first, said->second};
    for (int i = 0; i < 2; i++) {
        for (uint8_t k = 0; k < 8 && words[i]; k++) {
            if (strcmp(roles[k], words[i]) == 0)
                segment[i] = k;
        }
        if (segment[i] < 0 || device->pins[segment[i]] == DIA_NO_PIN)
            return dia_host_wrong(wrong, "fault '%s: crossed' takes two segments, such as b f",
                                  said->target);
    }
    uint8_t kept = device->pins[segment[0]];
    device->pins[segment[0]] = device->pins[segment[1]];
    device->pins[segment[1]] = kept;
    return DIA_OK;
}

static enum dia_status polarity(struct dia_desk *desk, const struct said *said,
                                struct dia_diagnostic *wrong)
{
    (void)wrong;
    desk->rig.devices[said->device].anode ^= 1;
    return DIA_OK;
}

static const struct fault_kind own_faults[] = {
    {"crossed", OF_DEVICE, crossed}, {"polarity", OF_DEVICE, polarity}, {NULL, 0, NULL}};

static int reverse(struct dia_rig_device *device)
{
    for (uint32_t k = 0; k < device->digits / 2; k++) {
        uint8_t kept = device->pins[8 + k];
        device->pins[8 + k] = device->pins[8 + device->digits - 1 - k];
        device->pins[8 + device->digits - 1 - k] = kept;
    }
    return 1;
}

const struct dia_rig_family dia_family_digits = {
    .parts = parts,
    .what = "digits from pins",
    .roles = roles,
    .fields = digits_fields,
    .read = read,
    .needs_pin = needs_pin,
    .has_no_pin = has_no_pin,
    .wire = dia_family_wire_digits,
    .lies = DIA_LIES_DIGITS,
    .turns = turns,
    .lit = lit,
    .facts = facts,
    .driver_bytes = sizeof(struct dia_digits),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .counter = counter,
    .circuit = circuit,
    .levels = levels,
    .ticks = ticks,
    .numbers = numbers,
    .limits = limits,
    .flickers = 1,
    .faults = own_faults,
    .reverse = reverse,
    .ask = dia_bringup_pin_digits,
};
