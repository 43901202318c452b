/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/pin_lamps.h>

#include "bringup_device.h"
#include "contexts.h"
#include "check_limits.h"
#include "family_read.h"
#include "fault_kinds.h"
#include "host_private.h"
#include "player_private.h"

/* Single lamps straight from pins. */

static const struct family_part parts[] = {{"lamps", NULL}, {NULL, NULL}};
static const char *const roles[] = {"lamp1",  "lamp2",  "lamp3",  "lamp4",  "lamp5",  "lamp6",
                                    "lamp7",  "lamp8",  "lamp9",  "lamp10", "lamp11", "lamp12",
                                    "lamp13", "lamp14", "lamp15", "lamp16", NULL};

/* clang-format off */
static const struct field lamps_fields[] = {
    COMMON, PITCH, NAMES, CURRENT("lamp_current", 40000), RESISTOR,
    {"lamps",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, DIA_PIN_LAMPS_MOST, AT(lamps), "3"},
    {"depth",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 8,        AT(depth),       "5"},
    {"refresh", HOLDS_QUANTITY, 0, DIA_RATE,   10000, 10000000, AT(refresh_mhz), "120 Hz"},
    MORE("common", "anode"),
    {0},
};
/* clang-format on */

/* How many there are is not read yet. */
static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)device;
    (void)digits;
    return role == 0;
}

/* As many lamps as there are pins, without a gap between. */
static enum dia_status count_pins(struct rig_reader *reader, const struct tree_node *node,
                                  const struct device_words *words, struct dia_rig_device *device)
{
    uint32_t n = 0, last = 0;
    for (uint32_t k = 0; k < DIA_PIN_LAMPS_MOST; k++) {
        n += device->pins[k] != DIA_NO_PIN;
        last = device->pins[k] != DIA_NO_PIN ? k + 1 : last;
    }
    device->lamps = words->lamps ? words->lamps : last;
    for (uint32_t k = 0; k < device->lamps; k++) {
        if (device->pins[k] == DIA_NO_PIN)
            return dia_rig_wrong_key(reader, node, "'pins' of '%s' has no '%s'; write '%s: 20'",
                                     device->name, roles[k], roles[k]);
    }
    if (last > device->lamps)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "lamps"),
                                   "'%s' has %u pins for %u lamp%s", device->name, (unsigned)n,
                                   (unsigned)device->lamps, device->lamps == 1 ? "" : "s");
    return DIA_OK;
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const commons[] = {"cathode", "anode", NULL};
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "common"), "'common'",
                                                 commons, &device->anode);
    if (status == DIA_OK)
        status = count_pins(reader, node, words, device);
    if (status != DIA_OK)
        return status;
    device->depth = (uint8_t)(words->depth ? words->depth : 1);
    device->refresh_mhz = words->refresh_mhz ? words->refresh_mhz : 120000;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    uint32_t unit_us = dia_slices_unit_us(device->refresh_mhz, device->depth);
    if (unit_us < 20 || unit_us << (device->depth - 1u) > 65535u)
        return dia_rig_wrong_key(
            reader, node,
            "the slices of '%s' are %u us to %u us; 20 us to 65,535 us can be: "
            "take another 'refresh' or 'depth'",
            device->name, (unsigned)unit_us, (unsigned)(unit_us << (device->depth - 1u)));
    for (uint32_t k = 0; k < device->lamps; k++)
        device->output_of[k] = device->place_of[k] = (uint16_t)k;
    return dia_family_place(reader, node, words, device, device->lamps, 20000);
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = from->lamps;
    *memory = 0;
}

/* From a pin that is high through the lamp to ground, or from the supply to a pin that is low. */
static void circuit(const struct dia_rig *rig, const struct dia_rig_device *device,
                    struct family_circuit *out)
{
    *out = (struct family_circuit){
        .led = {.supply_mv = device->anode ? rig->supplies[device->supply].voltage_mv
                                           : rig->controller.logic_high_mv,
                .output_mohm = DIA_OUTPUT_PIN_MOHM},
        .at = "lamp",
        .resistors = device->lamps,
        .duty_permille = 1000,
        .source = "choice: 25 ohm of a pin"};
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    setup->count = there->lamps;
    setup->options = there->anode ? DIA_PIN_LAMPS_SINK : 0;
    return dia_bench_pin_lamps(player->bench, setup);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    struct dia_pin_lamps_setup setup = {
        .lamps = (uint8_t)from->lamps,
        .sinks = from->anode,
        .depth = from->depth,
        .unit_us = dia_slices_unit_us(from->refresh_mhz, from->depth),
    };
    memcpy(setup.pins, from->pins, sizeof setup.pins);
    return dia_pin_lamps_init((struct dia_pin_lamps *)device->driver, player->port, &setup,
                              device->drawing);
}

static const volatile uint8_t *counter(const struct play_device *device)
{
    return &((const struct dia_pin_lamps *)device->driver)->periods;
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
                                        .tick_cycles = DIA_TICK_ENTER + DIA_TICK_LAMPS +
                                                       device->lamps * DIA_TICK_LAMPS_LAMP,
                                        .least_us = 20};
}

static void lit(const struct dia_rig_device *device, uint32_t lamp, struct family_lit *lit)
{
    (void)lamp;
    *lit = (struct family_lit){device->refresh_mhz, 1, 0};
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    c->duty_permille = dia_family_permille(rig->master);
    c->ram_bytes = device->lamps + CONTEXT_BYTES(rig, pin_lamps);
    c->output_ua = device->lamp_ua;
    c->chip_ua = device->lamps * device->lamp_ua;
    c->drawn_ua =
        (uint64_t)device->lamps * device->lamp_ua * dia_family_permille(rig->master) / 1000u;
}

static void limits(struct dia_check *check, const struct dia_rig_device *device,
                   const struct dia_check_device *c)
{
    struct dia_words w[2];
    if (c->output_ua > FAMILY_PIN_UA)
        dia_check_add(check, DIA_ERROR, "output-current", device->name,
                      "choice: 20 mA a pin of a controller", "%s from a pin for a lamp; at most %s",
                      dia_quantity_as(c->output_ua, DIA_CURRENT, &w[0]),
                      dia_quantity_as(FAMILY_PIN_UA, DIA_CURRENT, &w[1]));
}

/* ---- faults ---------------------------------------------------------------------------------- */

/* They are lit while their pins are low, and not high, or the other way round. */
static enum dia_status polarity(struct dia_desk *desk, const struct said *said,
                                struct dia_diagnostic *wrong)
{
    (void)wrong;
    desk->rig.devices[said->device].anode ^= 1;
    return DIA_OK;
}

/* Two lamps on each other's pins. */
static enum dia_status crossed(struct dia_desk *desk, const struct said *said,
                               struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    uint32_t a = 0, b = 0;
    enum dia_status status = dia_fault_number(said, said->first, 1, device->lamps, &a, wrong);
    if (status == DIA_OK)
        status = dia_fault_number(said, said->second, 1, device->lamps, &b, wrong);
    if (status == DIA_OK && a == b)
        return dia_host_wrong(wrong, "fault '%s: crossed' takes two lamps, such as 1 2",
                              said->target);
    if (status != DIA_OK)
        return status;
    uint8_t kept = device->pins[a - 1];
    device->pins[a - 1] = device->pins[b - 1];
    device->pins[b - 1] = kept;
    return DIA_OK;
}

static const struct fault_kind own_faults[] = {
    {"polarity", OF_DEVICE, polarity}, {"crossed", OF_DEVICE, crossed}, {NULL, 0, NULL}};

const struct dia_rig_family dia_family_lamps = {
    .parts = parts,
    .what = "lamps on pins",
    .roles = roles,
    .fields = lamps_fields,
    .read = read,
    .needs_pin = needs_pin,
    .lies = DIA_LIES_LINE,
    .lit = lit,
    .driver_bytes = sizeof(struct dia_pin_lamps),
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
    .ask = dia_bringup_pin_lamps,
};
