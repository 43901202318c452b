/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/digits.h>

#include "family_turns.h"
#include "contexts.h"
#include "host_private.h"
#include "rig_wire.h"

/* A list of outputs, no more than there is room for; how many. None is DIA_RIG_NOWHERE. */
static enum dia_status read_outputs(struct rig_reader *reader, const struct tree_node *list,
                                    const struct dia_rig_device *device, const char *key,
                                    uint16_t *outputs, uint32_t most, uint32_t *n)
{
    *n = 0;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, key);
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *entry = list->child; entry; entry = entry->next, ++*n) {
        int none = entry->kind == TREE_SCALAR && strcmp(entry->text, "none") == 0;
        int output = entry->kind == TREE_SCALAR ? dia_rig_output(entry->text, device->count) : -1;
        if (output < 0 && !none)
            return dia_rig_wrong_value(
                reader, entry,
                "%s takes a chip 1 to %u and its output A to H, such as 1A%s; found '%.20s'", key,
                (unsigned)device->count, outputs == device->segment_output ? ", or none" : "",
                entry->kind == TREE_SCALAR ? entry->text : "a list");
        if (*n < most)
            outputs[*n] = none ? DIA_RIG_NOWHERE : (uint16_t)output;
    }
    return DIA_OK;
}

/* Each output drives one thing. */
static int is_twice(const struct dia_rig_device *device, uint32_t *output)
{
    uint8_t used[DIA_RIG_LAMPS] = {0};
    uint32_t per = device->per_digit;
    for (uint32_t k = 0; k < per + device->commons; k++) {
        *output = k < per ? device->segment_output[k] : device->common_output[k - per];
        if (*output != DIA_RIG_NOWHERE && used[*output]++)
            return 1;
    }
    return 0;
}

enum dia_status dia_family_turns_read(struct rig_reader *reader, const struct tree_node *node,
                                      struct dia_rig_device *device, uint32_t bits_us)
{
    static const char *const commons[] = {"direct", "inverted", NULL};
    const struct tree_node *list = dia_tree_get(node, "common_outputs"),
                           *wiring = dia_tree_get(node, "wiring");
    uint32_t n, output, per = device->per_digit;
    enum dia_status status = dia_rig_read_choice(reader, dia_tree_get(node, "commons"), "'commons'",
                                                 commons, &device->inverted);
    for (uint16_t k = 0; k < device->per_digit; k++)
        device->segment_output[k] = k;
    if (status == DIA_OK && wiring) {
        status = read_outputs(reader, wiring, device, "'wiring'", device->segment_output,
                              device->per_digit, &n);
        if (status == DIA_OK && n != device->per_digit)
            return dia_rig_wrong_value(reader, wiring,
                                       "'wiring' has %u outputs; digits that are lit in turns have "
                                       "%u: %s and the point, or none",
                                       (unsigned)n, device->per_digit,
                                       device->per_digit == 8 ? "a b c d e f g" : "the segments");
    }
    if (status == DIA_OK)
        status = read_outputs(reader, list, device, "'common_outputs'", device->common_output,
                              DIA_SHIFT_DIGITS_MOST, &n);
    if (status != DIA_OK)
        return status;
    if (n != device->digits || n > DIA_SHIFT_DIGITS_MOST)
        return dia_rig_wrong_value(reader, list, "'common_outputs' has %u output%s for %u digit%s",
                                   (unsigned)n, n == 1 ? "" : "s", (unsigned)device->digits,
                                   device->digits == 1 ? "" : "s");
    device->commons = (uint8_t)n;
    for (uint32_t k = 0; k < n; k++) {
        if (device->common_output[k] == DIA_RIG_NOWHERE)
            return dia_rig_wrong_value(reader, list, "each digit needs a common; found 'none'");
    }
    if (dia_family_turn_us(device) == 0)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "refresh"),
                                   "'refresh' of %u digits in turns must be %u Hz to %u Hz",
                                   (unsigned)n, 125u / n + (125u % n != 0),
                                   n < 5 ? 10000u : 50000u / n);
    if (dia_family_turn_us(device) <= bits_us)
        return dia_rig_wrong_key(reader, node,
                                 "the turn of a digit of '%s' is %u us, and its bits need %u us: "
                                 "take a lower 'refresh' or a higher 'clock'",
                                 device->name, (unsigned)dia_family_turn_us(device),
                                 (unsigned)bits_us + 1u);
    if (is_twice(device, &output))
        return dia_rig_wrong_value(reader, list, "output %u%c drives two things",
                                   (unsigned)(output / 8 + 1), (int)('A' + output % 8));
    for (uint32_t k = 0; k < device->lamps; k++)
        device->output_of[k] =
            device->segment_output[k % per] == DIA_RIG_NOWHERE
                ? DIA_RIG_NOWHERE
                : (uint16_t)(k / per * (per > 8 ? 24u : 8u) + k % per); /* as drawings have them */
    return DIA_OK;
}

uint16_t dia_family_turn_us(const struct dia_rig_device *device)
{
    return dia_digits_turn_us(device->refresh_mhz, device->commons, 0);
}

uint32_t dia_family_turns(const struct dia_rig_device *device)
{
    return device->commons ? device->commons : 1;
}

/* ---- at play --------------------------------------------------------------------------------- */

struct dia_shift_turns dia_family_turns_wired(const struct dia_rig_device *there)
{
    struct dia_shift_turns wired = {.digits = there->commons,
                                    .segments = there->per_digit,
                                    .anode = there->anode,
                                    .inverted = there->inverted};
    memcpy(wired.segment, there->segment_output, sizeof wired.segment);
    memcpy(wired.common, there->common_output, sizeof wired.common);
    return wired;
}

enum dia_status dia_family_turns_connect(struct dia_player *player,
                                         const struct dia_rig_device *from,
                                         struct play_device *device, struct dia_shift_setup setup)
{
    struct dia_shift_digits *digits = &device->shift_digits;
    digits->digits = from->commons;
    digits->segments = from->per_digit;
    digits->common_anode = from->anode;
    digits->inverted = from->inverted;
    memcpy(digits->segment, from->segment_output, sizeof digits->segment);
    memcpy(digits->common, from->common_output, sizeof digits->common);
    setup.unit_us = dia_family_turn_us(from);
    return dia_shift_digits_init((struct dia_shift *)device->driver, player->port, &setup, digits,
                                 device->drawing, device->memory);
}

int dia_family_turns_reverse(struct dia_rig_device *device)
{
    for (uint32_t k = 0; k < device->commons / 2u; k++) {
        uint16_t kept = device->common_output[k];
        device->common_output[k] = device->common_output[device->commons - 1u - k];
        device->common_output[device->commons - 1u - k] = kept;
    }
    return device->commons != 0;
}

void dia_family_turns_swap(struct dia_rig_device *device, uint32_t a, uint32_t b)
{
    uint32_t per = device->per_digit;
    for (uint32_t k = 0; k < per + device->commons; k++) {
        uint16_t *output = k < per ? &device->segment_output[k] : &device->common_output[k - per];
        uint32_t chip = *output / 8u + 1u, to = chip == a ? b : chip == b ? a : chip;
        if (*output != DIA_RIG_NOWHERE)
            *output = (uint16_t)((to - 1) * 8 + *output % 8u);
    }
}

/* ---- limits ---------------------------------------------------------------------------------- */

/* All segments of a digit flow through its common. */
static uint32_t common_ua(const struct dia_rig_device *device)
{
    return device->inverted ? 0 : device->per_digit * device->lamp_ua;
}

/* The most through one chip: the segments on it and, where it drives them itself, a common. */
static uint32_t worst_chip_ua(const struct dia_rig_device *device)
{
    uint32_t most = 0;
    for (uint32_t chip = 0; chip < device->count; chip++) {
        uint32_t ua = 0, common = 0;
        for (uint32_t k = 0; k < device->per_digit; k++)
            ua += device->segment_output[k] / 8u == chip ? device->lamp_ua : 0;
        for (uint32_t k = 0; k < device->commons; k++)
            common = device->common_output[k] / 8u == chip ? common_ua(device) : common;
        most = ua + common > most ? ua + common : most;
    }
    return most;
}

void dia_family_turns_numbers(struct dia_check_device *c, const struct dia_rig *rig,
                              const struct dia_rig_device *device)
{
    uint32_t n = device->commons;
    c->bits = 8u * device->count * n;
    c->duty_permille = dia_family_permille(rig->master) / n;
    c->ram_bytes = DIA_SHIFT_DRAWING(n, device->per_digit) +
                   DIA_SHIFT_DIGITS_BYTES(device->count, n) + CONTEXT_BYTES(rig, shift) +
                   CONTEXT_BYTES(rig, shift_digits);
    c->output_ua = device->lamp_ua;
    c->chip_ua = worst_chip_ua(device);
    c->drawn_ua =
        (uint64_t)device->lamps * device->lamp_ua / n * dia_family_permille(rig->master) / 1000u;
}

void dia_family_turns_limits(struct dia_check *check, const struct dia_rig_device *device)
{
    struct dia_words w[2];
    uint32_t most = dia_74hc595.output_max_ma * 1000u;
    if (common_ua(device) > most)
        dia_check_add(check, DIA_ERROR, "common-current", device->name,
                      "74HC595 sheet, limiting values",
                      "%s through the output of a common with all segments lit; it stands %s: put "
                      "a transistor there and write 'commons: inverted'",
                      dia_quantity_as(common_ua(device), DIA_CURRENT, &w[0]),
                      dia_quantity_as(most, DIA_CURRENT, &w[1]));
}
