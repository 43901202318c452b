/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_device.h"
#include "family.h"

/* ---- digits ------------------------------------------------------------------------------------
 */

static uint8_t some[DIA_RIG_LAMPS];

static uint32_t digit_seen(const struct run *run, uint32_t digit)
{
    uint32_t segments = 0, per = run->desk->rig.devices[run->device].per_digit;
    for (uint32_t k = 0; k < per; k++)
        segments |= (uint32_t)dia_device_lamp_is_lit(run, digit * per + k) << k;
    return segments;
}

/* How digits are connected: where their wires are told, and can be put right. */
enum way { BY_CHIP, FROM_PINS, ON_CHAIN };

/* "[1A, 1B, none]": outputs of a chain. */
const char *dia_outputs_text(const uint16_t *output, uint32_t n)
{
    static char text[200];
    size_t used = 0;
    for (uint32_t k = 0; k < n; k++) {
        used += (size_t)snprintf(text + used, sizeof text - used, "%s", k ? ", " : "[");
        if (output[k] == DIA_RIG_NOWHERE)
            used += (size_t)snprintf(text + used, sizeof text - used, "none");
        else
            used += (size_t)snprintf(text + used, sizeof text - used, "%u%c", output[k] / 8u + 1u,
                                     (char)('A' + output[k] % 8));
    }
    snprintf(text + used, sizeof text - used, "]");
    return text;
}

static void swap_outputs(struct dia_rig_device *device, uint32_t a, uint32_t b)
{
    uint16_t kept = device->segment_output[a];
    device->segment_output[a] = device->segment_output[b];
    device->segment_output[b] = kept;
}

static void swap_pins(struct dia_rig_device *device, uint32_t a, uint32_t b)
{
    uint8_t kept = device->pins[a];
    device->pins[a] = device->pins[b];
    device->pins[b] = kept;
}

static int are_reversed(struct run *run, enum way way)
{
    struct dia_rig_device *device = dia_device_believed(run);
    struct dia_cause *cause = dia_run_cause(run, "its digits count from the other end");
    dia_cause_evidence(cause, "what should be leftmost is rightmost");
    device->family->reverse(device);
    if (way == ON_CHAIN) {
        dia_cause_edit(cause, "devices", "", "common_outputs", "%s",
                       dia_outputs_text(device->common_output, device->commons));
        return dia_run_renew(run);
    }
    if (way == BY_CHIP) {
        dia_cause_edit(cause, "devices", "", "first", device->wiring.from_right ? "right" : "left");
        return dia_run_renew(run);
    }
    cause->edit_count = 0;
    for (uint32_t k = 0; k < device->digits && k < DIA_CAUSE_EDITS; k++)
        dia_cause_edit(cause, "devices", "pins", dia_rig_role(device, (uint8_t)(8 + k)), "%u",
                       device->pins[8 + k]);
    if (device->digits > DIA_CAUSE_EDITS) {
        cause->edit_count = 0;
        dia_cause_wiring(cause, "turn the order of the pins digit1 to digit%u round",
                         (unsigned)device->digits);
    }
    return dia_run_renew(run);
}

/* Which segment lights when one is sent: nine things a person can tell. */
static int crossed(struct run *run, enum way way)
{
    static const char *const places[] = {"the top one",      "the upper right",
                                         "the lower right",  "the bottom one",
                                         "the lower left",   "the upper left",
                                         "the middle one",   "the point",
                                         "none, or several", NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    for (uint8_t sent = 0; sent < 6; sent++) {
        memset(some, 0, sizeof some);
        some[sent] = 255;
        run->lit.levels = some;
        dia_run_show(run);
        uint32_t seen = digit_seen(run, 0);
        uint32_t says = 8;
        for (uint32_t k = 0; k < 8; k++) {
            if (seen == 1u << k)
                says = k;
        }
        int answer = dia_run_ask(run, places, says,
                                 "The first digit of '%s' is sent one segment: %s. Which lights?",
                                 device->name, places[sent]);
        if (answer < 0)
            return -1;
        if (answer == sent || answer > 7)
            continue;
        static const char *const names[] = {"a", "b", "c", "d", "e", "f", "g", "dp"};
        struct dia_cause *cause =
            dia_run_cause(run, "segments %s and %s are crossed", names[sent], names[answer]);
        dia_cause_evidence(cause, "%s was sent, and %s lit", places[sent], places[answer]);
        if (way == ON_CHAIN) {
            swap_outputs(device, sent, (uint32_t)answer);
            dia_cause_edit(cause, "devices", "", "wiring", "%s",
                           dia_outputs_text(device->segment_output, 8));
            return dia_run_renew(run);
        }
        swap_pins(device, sent, (uint32_t)answer);
        dia_cause_edit(cause, "devices", "pins", dia_rig_role(device, sent), "%u",
                       device->pins[sent]);
        dia_cause_edit(cause, "devices", "pins", dia_rig_role(device, (uint8_t)answer), "%u",
                       device->pins[answer]);
        return dia_run_renew(run);
    }
    return 0;
}

static int ask(struct run *run, enum way way)
{
    static const char *const where[] = {"on the leftmost digit only",
                                        "on the rightmost digit only",
                                        "on all digits but one",
                                        "nowhere",
                                        "it flickers or changes by itself",
                                        "otherwise",
                                        NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    uint32_t lit = 0, first = 0, last = 0;
    strcpy(run->lit.text[0], "8");
    dia_run_show(run);
    int unsteady = dia_run_is_unsteady(run);
    for (uint32_t k = 0; k < device->digits; k++) {
        if (digit_seen(run, k)) {
            if (!lit++)
                first = k;
            last = k;
        }
    }
    uint32_t says = unsteady                                 ? 4u
                    : lit == 0                               ? 3u
                    : lit == 1 && first == 0                 ? 0u
                    : lit == 1 && last == device->digits - 1 ? 1u
                    : lit == device->digits - 1 && lit > 1   ? 2u
                                                             : 5u;
    int seen = dia_run_ask(run, where, says,
                           "'%s' is sent an 8 on its leftmost digit. Where are segments lit?",
                           device->name);
    if (seen < 0)
        return -1;
    if (seen == 4) {
        dia_device_is_disturbed(run);
        return 0;
    }
    if (seen == 3 && way == BY_CHIP)
        return dia_device_shows_nothing(run);
    int wrong_way = seen == 2 || seen == 3 || seen == 5;
    if (way == ON_CHAIN && wrong_way)
        return 1;
    if (way == FROM_PINS && wrong_way) {
        device->anode ^= 1;
        struct dia_cause *cause =
            dia_run_cause(run, "it has common %ss, not %ss", device->anode ? "anode" : "cathode",
                          device->anode ? "cathode" : "anode");
        dia_cause_evidence(cause, "what should be dark is lit, and the other way round");
        dia_cause_edit(cause, "devices", "", "common", device->anode ? "anode" : "cathode");
        if (dia_run_renew(run) != 0)
            return -1;
    } else if (seen == 1 && device->digits > 1 && are_reversed(run, way) != 0) {
        return -1;
    }
    return way != BY_CHIP && device->per_digit == 8 ? crossed(run, way) : 0;
}

int dia_bringup_digits(struct run *run)
{
    return ask(run, BY_CHIP);
}

int dia_bringup_pin_digits(struct run *run)
{
    return ask(run, FROM_PINS);
}

int dia_bringup_digit_order(struct run *run)
{
    return ask(run, ON_CHAIN);
}
