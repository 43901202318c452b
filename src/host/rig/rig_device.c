/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <strings.h>

#include <diachrome/nearest.h>
#include <diachrome/sim.h>

#include "family.h"
#include "rig_at.h"
#include "rig_bus.h"
#include "rig_device.h"
#include "rig_kernel.h"
#include "rig_lane.h"
#include "rig_node.h"

/* Of those of a node. */
static const char *on_pin(const struct dia_rig *rig, const char *node, uint32_t pin)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (strcmp(lane->node, node) != 0)
            continue;
        if (lane->pin == pin || (lane->part.family == DIA_CLOCKED && lane->clock_pin == pin))
            return lane->name;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        for (uint8_t k = 0; k < DIA_RIG_PINS; k++) {
            if (rig->devices[i].pins[k] == pin && pin != DIA_NO_PIN &&
                strcmp(rig->devices[i].node, node) == 0)
                return rig->devices[i].name;
        }
    }
    for (uint32_t i = 0; i < rig->button_count; i++) {
        if (rig->buttons[i].pin == pin && strcmp(rig->buttons[i].node, node) == 0)
            return rig->buttons[i].name;
    }
    return NULL;
}

const char *dia_rig_on_pin(const struct dia_rig *rig, uint32_t pin)
{
    return on_pin(rig, rig->node, pin);
}

static enum dia_status find_family(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig_device *device)
{
    const struct tree_node *chip = dia_tree_get(node, "chip");
    const char *names[64];
    char all[320] = "";
    uint32_t n = 0;
    if (!chip)
        return dia_rig_wrong_key(reader, node, "device '%s' has no 'chip'; write 'chip: MAX7219'",
                                 device->name);
    enum dia_status status = dia_rig_must_be(reader, chip, TREE_SCALAR, "'chip'");
    if (status != DIA_OK)
        return status;
    for (const struct dia_rig_family *const *family = dia_rig_families; *family; family++) {
        for (const struct family_part *part = (*family)->parts; part->name; part++) {
            size_t used = strlen(all);
            if (strcmp(part->name, chip->text) == 0) {
                device->family = *family;
                device->part = part->sheet;
                snprintf(device->chip, sizeof device->chip, "%s", part->name);
                return DIA_OK;
            }
            if (used < sizeof all)
                snprintf(all + used, sizeof all - used, "%s%s", used ? ", " : "", part->name);
            if (n < sizeof names / sizeof names[0] - 1)
                names[n++] = part->name;
        }
    }
    names[n] = NULL;
    for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        if (strcmp((*part)->name, chip->text) == 0)
            return dia_rig_wrong_value(reader, chip, "%s goes under 'lanes', not 'devices'",
                                       chip->text);
    }
    const char *near = dia_nearest(chip->text, names);
    if (near)
        return dia_rig_wrong_value(reader, chip, "unknown chip '%.40s'; did you mean %s?",
                                   chip->text, near);
    return dia_rig_wrong_value(reader, chip, "unknown chip '%.40s'; known: %s", chip->text, all);
}

static enum dia_status read_pin(struct rig_reader *reader, const struct tree_node *node,
                                const struct dia_rig *rig, struct dia_rig_device *device)
{
    struct dia_diagnostic why = {""};
    int64_t pin;
    uint8_t role = 0;
    const char *name;
    while ((name = dia_rig_role(device, role)) != NULL && strcmp(name, node->key) != 0)
        role++;
    if (!name)
        return dia_rig_wrong_key(reader, node, "%s has no pin '%.20s'; it has %s, %s, %s and so on",
                                 device->chip, node->key, dia_rig_role(device, 0),
                                 dia_rig_role(device, 1), dia_rig_role(device, 2));
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "a pin");
    if (status != DIA_OK)
        return status;
    if (dia_quantity_read(node->text, DIA_NUMBER, 0, DIA_SIM_PINS - 1, "a pin", &pin, &why) !=
        DIA_OK)
        return dia_rig_wrong_value(reader, node, "%s", why.text);
    const char *taken = on_pin(rig, device->node, (uint32_t)pin);
    if (taken && dia_rig_may_share(rig, (uint32_t)pin, device, role))
        taken = NULL;
    for (uint8_t k = 0; k < DIA_RIG_PINS && !taken; k++) {
        if (device->pins[k] == pin)
            taken = device->name;
    }
    if (taken)
        return dia_rig_wrong_value(reader, node,
                                   "pin %d is already used by '%s'; each wire has its own, but for "
                                   "clock and data of a bus",
                                   (int)pin, taken);
    device->pins[role] = (uint8_t)pin;
    return DIA_OK;
}

static enum dia_status read_pins(struct rig_reader *reader, const struct tree_node *node,
                                 const struct dia_rig *rig, struct dia_rig_device *device,
                                 uint32_t digits)
{
    const struct dia_rig_family *family = device->family;
    const struct tree_node *pins = dia_tree_get(node, "pins");
    enum dia_status status = dia_rig_must_be(reader, pins, TREE_MAP, "'pins'");
    memset(device->pins, DIA_NO_PIN, sizeof device->pins);
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *pin = pins->child; pin; pin = pin->next)
        status = dia_rig_both(status, read_pin(reader, pin, rig, device));
    if (status != DIA_OK)
        return status;
    const char *name;
    for (uint8_t role = 0; (name = dia_rig_role(device, role)) != NULL; role++) {
        int there = device->pins[role] != DIA_NO_PIN;
        if (!there && family->needs_pin(device, role, digits))
            return dia_rig_wrong_key(reader, pins, "'pins' of '%s' has no '%s'; write '%s: 20'",
                                     device->name, name, name);
        if (there && family->has_no_pin && family->has_no_pin(device, role, digits))
            return dia_rig_wrong_value(reader, dia_tree_get(pins, name),
                                       "'%s' has no pin '%s' wired as it is described here",
                                       device->name, name);
    }
    return DIA_OK;
}

static enum dia_status read_colour(struct rig_reader *reader, const struct tree_node *node,
                                   const char *text, struct dia_rgb *colour)
{
    /* how the light of common LEDs looks; a choice */
    static const struct {
        const char *name;
        struct dia_rgb colour;
    } known[] = {
        {"red", {255, 36, 16}},           {"amber", {255, 140, 0}}, {"yellow", {255, 200, 30}},
        {"green", {60, 230, 60}},         {"blue", {40, 90, 255}},  {"white", {255, 250, 235}},
        {"yellow-green", {165, 205, 40}},
    };
    if (text[0] == 0)
        return DIA_OK;
    for (size_t k = 0; k < sizeof known / sizeof known[0]; k++) {
        if (strcmp(known[k].name, text) == 0) {
            *colour = known[k].colour;
            return DIA_OK;
        }
    }
    unsigned long value = strtoul(text + 1, NULL, 16);
    if (text[0] != '#' || strlen(text) != 7 || strspn(text + 1, "0123456789abcdefABCDEF") != 6)
        return dia_rig_wrong_value(
            reader, dia_tree_get(node, "colour"),
            "'colour' is red, amber, yellow, yellow-green, green, blue, white, or as "
            "\"#ff2410\"; found '%.20s'",
            text);
    *colour = (struct dia_rgb){(uint8_t)(value >> 16), (uint8_t)(value >> 8), (uint8_t)value};
    return DIA_OK;
}

/* Whether a lane has the name by which a trace calls a wire of a device: board_DIN. */
static int is_wire_of(const char *lane, const char *device)
{
    size_t n = strlen(device);
    if (strncmp(lane, device, n) != 0 || lane[n] != '_')
        return 0;
    for (const struct dia_rig_family *const *family = dia_rig_families; *family; family++) {
        for (const char *const *role = (*family)->roles; *role; role++) {
            if (strcasecmp(lane + n + 1, *role) == 0)
                return 1;
        }
    }
    return 0;
}

static enum dia_status name_is_free(struct rig_reader *reader, const struct tree_node *node,
                                    const struct dia_rig *rig, const char *name)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (strcmp(rig->lanes[i].name, name) == 0)
            return dia_rig_wrong_key(reader, node,
                                     "'%s' is a lane already; each name is there once", name);
        if (is_wire_of(rig->lanes[i].name, name))
            return dia_rig_wrong_key(
                reader, node,
                "lane '%s' and a pin of '%s' would have one name in a trace; give "
                "one of them another name",
                rig->lanes[i].name, name);
    }
    return DIA_OK;
}

/* ---- push-buttons ---------------------------------------------------------------------------- */

/* clang-format off */
static const struct field button_fields[] = {
    {"pin",     HOLDS_QUANTITY, 1, DIA_NUMBER, 0, DIA_SIM_PINS - 1, offsetof(struct dia_rig_button, pin), "27"},
    {"node",    HOLDS_TEXT,     0, DIA_NUMBER, 0, DIA_RIG_NAME,     offsetof(struct dia_rig_button, node), "west"},
    {"pressed", HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                0,                                    "low"},
    {0},
};
/* clang-format on */

enum dia_status dia_rig_read_button(struct rig_reader *reader, const struct tree_node *node,
                                    struct dia_rig *rig)
{
    struct dia_rig_button *button = &rig->buttons[rig->button_count];
    char where[64];
    enum dia_status status = dia_rig_read_name(reader, node, "button", button->name);
    if (status == DIA_OK)
        status = name_is_free(reader, node, rig, button->name);
    for (uint32_t i = 0; i < rig->device_count && status == DIA_OK; i++) {
        if (strcmp(rig->devices[i].name, button->name) == 0)
            return dia_rig_wrong_key(
                reader, node, "'%s' is a device already; each name is there once", button->name);
    }
    snprintf(where, sizeof where, "button '%s'", button->name);
    if (status == DIA_OK)
        status = dia_rig_read_fields(reader, node, button_fields, button, where);
    if (status == DIA_OK)
        status = dia_rig_check_node(reader, node, button->node);
    if (status != DIA_OK)
        return status;
    const struct tree_node *pressed = dia_tree_get(node, "pressed");
    int high = pressed && pressed->kind == TREE_SCALAR && strcmp(pressed->text, "high") == 0;
    if (pressed && !high && (pressed->kind != TREE_SCALAR || strcmp(pressed->text, "low") != 0))
        return dia_rig_wrong_value(reader, pressed,
                                   "'pressed' of %s is the level of its pin while it is pressed: "
                                   "low or high",
                                   where);
    const char *taken = on_pin(rig, button->node, button->pin);
    if (taken)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "pin"),
                                   "pin %u is already used by '%s'; a button has its own",
                                   (unsigned)button->pin, taken);
    button->pressed = (uint8_t)high;
    button->place = rig->button_count++;
    return DIA_OK;
}

/* Names of its single lamps, from the first. */
static enum dia_status read_lamp_names(struct rig_reader *reader, const struct tree_node *node,
                                       struct dia_rig_device *device)
{
    const struct tree_node *list = dia_tree_get(node, "names");
    uint32_t lamps = device->lamps - device->digits * device->per_digit;
    if (!list)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, "'names'");
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *entry = list->child; entry; entry = entry->next) {
        const char *name = entry->kind == TREE_SCALAR ? entry->text : "";
        if (!dia_rig_is_name(name))
            return dia_rig_wrong_value(reader, entry,
                                       "'%.40s' is no name for a lamp; use letters, digits, - and "
                                       "_, a letter first, at most %d of them",
                                       name, DIA_RIG_NAME - 1);
        for (uint32_t k = 0; k < device->lamp_name_count; k++) {
            if (strcmp(device->lamp_names[k], name) == 0)
                return dia_rig_wrong_value(reader, entry, "lamp %u is called '%s' already",
                                           (unsigned)k + 1, name);
        }
        if (device->lamp_name_count == lamps || device->lamp_name_count == DIA_RIG_LAMP_NAMES)
            return dia_rig_wrong_value(reader, entry,
                                       "this is one name too many: '%s' has %u single lamp%s%s",
                                       device->name, (unsigned)lamps, lamps == 1 ? "" : "s",
                                       lamps > DIA_RIG_LAMP_NAMES ? ", and 32 can have names" : "");
        snprintf(device->lamp_names[device->lamp_name_count++], DIA_RIG_NAME, "%s", name);
    }
    return DIA_OK;
}

/* The current of its lamps, where the file says by which resistor. */
static enum dia_status take_resistor(struct rig_reader *reader, const struct tree_node *node,
                                     const struct device_words *words, const struct dia_rig *rig,
                                     struct dia_rig_device *device)
{
    const struct dia_rig_family *family = device->family;
    const struct tree_node *resistor = dia_tree_get(node, "resistor");
    struct dia_words w[2];
    uint32_t ua = 0, least_ua = 100, most_ua = 50000;
    device->forward_mv = words->forward_mv ? words->forward_mv : dia_led_forward_mv(device->colour);
    device->resistor_mohm = words->resistor_mohm;
    if (!resistor || words->resistor_mohm == 0)
        return DIA_OK;
    for (const struct field *field = family->fields; field->key; field++) {
        if (field->kind != DIA_CURRENT || field->offset != offsetof(struct device_words, lamp_ua))
            continue;
        most_ua = (uint32_t)field->max;
        if (words->lamp_ua)
            return dia_rig_wrong_key(reader, resistor,
                                     "'resistor' and '%s' both say how much flows; keep one",
                                     field->key);
    }
    if (family->sets_current) {
        ua = dia_segment_current_ua(device->resistor_mohm / 1000, device->forward_mv);
        least_ua = 10001; /* the end of its table */
    } else {
        struct family_circuit circuit;
        family->circuit(rig, device, &circuit);
        circuit.led.forward_mv = device->forward_mv;
        ua = dia_led_current_ua(&circuit.led, device->resistor_mohm);
    }
    if (ua < least_ua || ua > most_ua)
        return dia_rig_wrong_value(
            reader, resistor,
            "'resistor' of %s gives %s with LEDs of %.2f V; it must give %s to %s", resistor->text,
            family->sets_current && ua < least_ua ? "less than 10 mA"
            : ua ? dia_quantity_as(ua / 10 * 10, DIA_CURRENT, &w[0])
                 : "no current",
            device->forward_mv / 1e3, family->sets_current ? "10 mA" : "0.1 mA",
            dia_quantity_as(most_ua, DIA_CURRENT, &w[1]));
    device->lamp_ua = ua;
    return DIA_OK;
}

enum dia_status dia_rig_read_device(struct rig_reader *reader, const struct tree_node *node,
                                    struct dia_rig *rig)
{
    struct dia_rig_device *device = &rig->devices[rig->device_count];
    struct device_words words;
    char where[64];
    memset(&words, 0, sizeof words);
    memset(device, 0, sizeof *device);
    device->colour = (struct dia_rgb){255, 36, 16};
    device->per_digit = 8;
    device->channels = 1;
    enum dia_status status = dia_rig_read_name(reader, node, "device", device->name);
    if (status == DIA_OK)
        status = name_is_free(reader, node, rig, device->name);
    if (status != DIA_OK)
        return status;
    snprintf(where, sizeof where, "device '%s'", device->name);
    status = dia_rig_must_be(reader, node, TREE_MAP, where);
    if (status == DIA_OK)
        status = find_family(reader, node, device);
    if (status != DIA_OK)
        return status;
    status = dia_rig_read_fields(reader, node, device->family->fields, &words, where);
    status = dia_rig_both(status, dia_rig_check_node(reader, node, words.node));
    strcpy(device->node, words.node);
    device->place = rig->device_count;
    status = dia_rig_both(
        status, dia_rig_find_supply(reader, node, where, words.supply, rig, &device->supply));
    if (dia_tree_get(node, "pins"))
        status = dia_rig_both(status, read_pins(reader, node, rig, device, words.digits));
    status = dia_rig_both(status, dia_rig_read_at(reader, node, &device->at));
    if (words.colour[0] == 0 && dia_rig_lies(device) == DIA_LIES_CELLS)
        strcpy(words.colour, "yellow-green"); /* as most are */
    status = dia_rig_both(status, read_colour(reader, node, words.colour, &device->colour));
    device->count = words.chips ? words.chips : 1;
    device->clock_hz = words.clock_hz;
    device->shifter = words.shifter;
    strcpy(device->spi, words.spi);
    strcpy(device->i2c, words.i2c);
    if (status == DIA_OK)
        status = device->family->read(reader, node, &words, device);
    if (status == DIA_OK)
        status = take_resistor(reader, node, &words, rig, device);
    if (status == DIA_OK)
        status = read_lamp_names(reader, node, device);
    if (status == DIA_OK)
        status = dia_rig_find_bus(reader, node, rig, device);
    if (status == DIA_OK)
        status = dia_rig_device_kernel(reader, node, rig, device);
    if (status == DIA_OK)
        rig->device_count++;
    return status;
}
