/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_device.h"
#include "family.h"

/* Single lamps on pins. */

static uint8_t some[DIA_PIN_LAMPS_MOST];

/* Lights one of them, or none (-1). */
static void light(struct run *run, int lamp)
{
    memset(some, 0, sizeof some);
    if (lamp >= 0)
        some[lamp] = 255;
    run->lit.levels = some;
    dia_run_show(run);
}

static uint32_t how_many(struct run *run, uint32_t *last)
{
    uint32_t n = 0;
    for (uint32_t k = 0; k < dia_device_believed(run)->lamps; k++) {
        if (dia_device_lamp_is_lit(run, k)) {
            n++;
            *last = k;
        }
    }
    return n;
}

/* With all of them sent off: are they lit? 1: each is asked for next; 0: nothing more is. */
static int is_the_other_way(struct run *run)
{
    static const char *const lit[] = {"none", "some", "all of them", NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    uint32_t last = 0;
    light(run, -1);
    uint32_t n = how_many(run, &last);
    int seen = dia_run_ask(run, lit,
                           n == 0              ? 0
                           : n < device->lamps ? 1
                                               : 2,
                           "All lamps of '%s' are sent off. Which are lit?", device->name);
    if (seen <= 0)
        return seen < 0 ? -1 : 1;
    if (seen == 1) {
        struct dia_cause *cause = dia_run_cause(run, "some lamps are lit that are sent off");
        dia_cause_evidence(cause, "all of them were sent off, and others are dark");
        dia_cause_wiring(cause, "look at which way round those lamps are, and what else is on "
                                "their pins");
        return 0;
    }
    device->anode ^= 1;
    struct dia_cause *cause = dia_run_cause(run, "its lamps are lit while their pins are %s",
                                            device->anode ? "low" : "high");
    dia_cause_evidence(cause, "what is sent off is lit");
    dia_cause_edit(cause, "devices", "", "common", device->anode ? "anode" : "cathode");
    return dia_run_renew(run) != 0 ? -1 : 1;
}

/* Each lamp comes up where it should. */
static int in_order(struct run *run)
{
    static const char *const places[] = {"the 1st",  "the 2nd",  "the 3rd",  "the 4th",
                                         "the 5th",  "the 6th",  "the 7th",  "the 8th",
                                         "the 9th",  "the 10th", "the 11th", "the 12th",
                                         "the 13th", "the 14th", "the 15th", "the 16th"};
    const char *answers[DIA_PIN_LAMPS_MOST + 2] = {NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    memcpy(answers, places, device->lamps * sizeof answers[0]);
    answers[device->lamps] = "none, or several";
    for (uint32_t k = 0; k < device->lamps; k++) {
        uint32_t last = 0;
        light(run, (int)k);
        uint32_t n = how_many(run, &last);
        int seen = dia_run_ask(run, answers, n == 1 ? last : device->lamps,
                               "Lamp %u of '%s' is sent on. Which lights, from the left?",
                               (unsigned)k + 1, device->name);
        if (seen < 0)
            return -1;
        if (seen == (int)k)
            continue;
        if (seen == (int)device->lamps) {
            struct dia_cause *cause = dia_run_cause(run, "lamp %u does not light", (unsigned)k + 1);
            dia_cause_evidence(cause, "it was sent on alone");
            dia_cause_wiring(cause,
                             "look at its wire from pin %u, its resistor, and which way "
                             "round it is",
                             device->pins[k]);
            return 0;
        }
        uint8_t kept = device->pins[k];
        device->pins[k] = device->pins[seen];
        device->pins[seen] = kept;
        struct dia_cause *cause =
            dia_run_cause(run, "lamps %u and %u are crossed", (unsigned)k + 1, (unsigned)seen + 1);
        dia_cause_evidence(cause, "lamp %u was sent on, and lamp %u lit", (unsigned)k + 1,
                           (unsigned)seen + 1);
        dia_cause_edit(cause, "devices", "pins", dia_rig_role(device, (uint8_t)k), "%u",
                       device->pins[k]);
        dia_cause_edit(cause, "devices", "pins", dia_rig_role(device, (uint8_t)seen), "%u",
                       device->pins[seen]);
        return dia_run_renew(run);
    }
    return 0;
}

int dia_bringup_pin_lamps(struct run *run)
{
    int more = is_the_other_way(run);
    return more == 1 ? in_order(run) : more;
}
