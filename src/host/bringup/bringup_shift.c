/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_device.h"

static const char *const yes_no[] = {"yes", "no", NULL};

/* ---- shift registers --------------------------------------------------------------------------
 */

enum { NONE, ONE, MANY, ALL };

static uint8_t some[DIA_RIG_LAMPS];

static void light_lamps(struct run *run, uint32_t from, uint32_t to)
{
    memset(some, 0, sizeof some);
    for (uint32_t i = from; i < to; i++)
        some[i] = 255;
    run->lit.levels = some;
    dia_run_show(run);
}

/* 1: it hangs on an output; else it is dark whatever is sent. */
static int is_wired(struct run *run, uint32_t lamp)
{
    return dia_device_believed(run)->output_of[lamp] != DIA_RIG_NOWHERE;
}

/* 1: it is not as it should be. */
static int is_wrong(struct run *run, uint32_t lamp, int should_be_lit)
{
    return is_wired(run, lamp) && dia_device_lamp_is_lit(run, lamp) != should_be_lit;
}

/* Lamps of a part of the row that are not as they should be. */
static int part_is_wrong(struct run *run, uint32_t from, uint32_t to)
{
    for (uint32_t i = from; i < to; i++) {
        if (is_wrong(run, i, some[i] != 0))
            return 1;
    }
    return 0;
}

/* The one lamp that is not as it should be, by halving; -1: end. */
static int find_lamp(struct run *run, int all_on)
{
    uint32_t from = 0, to = dia_device_believed(run)->lamps;
    while (to - from > 1) {
        uint32_t middle = from + (to - from) / 2;
        int here =
            dia_run_ask(run, yes_no, !part_is_wrong(run, from, middle),
                        "All lamps of '%s' should be %s. Is the wrong one among lamps %u to %u, "
                        "counting from 1 at the left?",
                        dia_device_believed(run)->name, all_on ? "lit" : "dark", (unsigned)from + 1,
                        (unsigned)middle);
        if (here < 0)
            return -1;
        if (here == 0)
            to = middle;
        else
            from = middle;
    }
    return (int)from;
}

static void output_name(const struct dia_rig_device *device, uint32_t lamp, char name[8])
{
    uint32_t output = device->output_of[lamp];
    snprintf(name, 8, "%u%c", (unsigned)(output / 8 % 256 + 1), (char)('A' + output % 8));
}

/* One lamp stays lit, or dark. With a common anode it is lit while its output is low. */
static int is_stuck(struct run *run, int lit)
{
    char name[8];
    int lamp = find_lamp(run, !lit), high = lit != dia_device_believed(run)->anode;
    if (lamp < 0)
        return -1;
    output_name(dia_device_believed(run), (uint32_t)lamp, name);
    struct dia_cause *cause =
        dia_run_cause(run, "output Q%c of chip %.*s is stuck %s (lamp %d)", name[strlen(name) - 1],
                      (int)strlen(name) - 1, name, high ? "high" : "low", lamp + 1);
    dia_cause_evidence(cause, "that lamp is %s while all others are %s", lit ? "lit" : "dark",
                       lit ? "dark" : "lit");
    dia_cause_wiring(cause, "replace chip %.*s, or look for a short at its output",
                     (int)strlen(name) - 1, name);
    return 0;
}

/* Which chip's lamps stay as they are: all lamps of one chip change together, chip by chip. */
static int is_deaf(struct run *run)
{
    const struct dia_rig_device *device = dia_device_believed(run);
    uint32_t from = 0, to = device->count;
    while (to - from > 1) {
        uint32_t middle = from + (to - from) / 2;
        light_lamps(run, 0, device->lamps);
        int wrong_here = 0;
        for (uint32_t i = 0; i < device->lamps; i++) {
            if (device->output_of[i] / 8u >= from && device->output_of[i] / 8u < middle)
                wrong_here |= is_wrong(run, i, 1);
        }
        int here =
            dia_run_ask(run, yes_no, !wrong_here,
                        "All lamps of '%s' are sent on. Are any dark among those of chips %u to "
                        "%u (chip 1 is next to the controller)?",
                        device->name, (unsigned)from + 1, (unsigned)middle);
        if (here < 0)
            return -1;
        if (here == 0)
            to = middle;
        else
            from = middle;
    }
    struct dia_cause *cause = dia_run_cause(
        run, "chip %u does not follow the latch%s", (unsigned)from + 1,
        device->lamps < device->count * 8 ? ", or its lamps hang on other outputs" : "");
    dia_cause_evidence(cause, "its lamps stay as they were at power-up, the others follow");
    dia_cause_wiring(cause, "look at RCLK of chip %u; if it is right there, replace the chip",
                     (unsigned)from + 1);
    return 0;
}

static uint32_t how_many(struct run *run, int should_be_lit)
{
    uint32_t wrong = 0, wired = 0;
    for (uint32_t i = 0; i < dia_device_believed(run)->lamps; i++) {
        wrong += (uint32_t)is_wrong(run, i, should_be_lit);
        wired += (uint32_t)is_wired(run, i);
    }
    return wrong == 0 ? NONE : wrong == 1 ? ONE : wrong == wired ? ALL : MANY;
}

/* The lamps that should be those of one chip: where do they come up? */
static int chip_order(struct run *run)
{
    static const char *const numbers[] = {"the 1st", "the 2nd", "the 3rd", "the 4th", "the 5th",
                                          "the 6th", "the 7th", "the 8th", NULL};
    const char *answers[9] = {NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    uint16_t was[DIA_RIG_LAMPS];
    if (device->digits || device->count < 2 || device->count > 8 ||
        device->lamps != device->count * 8)
        return 0; /* groups of eight lamps would not be its chips */
    memcpy(was, device->output_of, sizeof was);
    memcpy(answers, numbers, device->count * sizeof answers[0]);
    int moved = 0;
    uint32_t to_group[8] = {0}, used = 0;
    for (uint32_t group = 0; group + 1 < device->count; group++) {
        uint32_t says = 0;
        light_lamps(run, group * 8, group * 8 + 8);
        for (uint32_t i = 0; i < device->lamps; i++) {
            if (dia_device_lamp_is_lit(run, i))
                says = i / 8;
        }
        int seen =
            dia_run_ask(run, answers, says,
                        "The %u%s group of eight lamps of '%s' is sent on. Which one from the left "
                        "lights?",
                        (unsigned)group + 1,
                        group == 0   ? "st"
                        : group == 1 ? "nd"
                        : group == 2 ? "rd"
                                     : "th",
                        device->name);
        if (seen < 0)
            return -1;
        if (used & 1u << seen) {
            struct dia_cause *cause =
                dia_run_cause(run, "two groups of lamps came up in one place");
            dia_cause_evidence(cause, "both were seen as %s from the left", answers[seen]);
            dia_cause_wiring(cause, "nothing yet: go through '%s' again", device->name);
            return 0;
        }
        used |= 1u << seen;
        to_group[group] = (uint32_t)seen;
        moved |= seen != (int)group;
        if (moved && device->count > 4)
            break; /* two are in each other's place */
    }
    if (!moved)
        return 0;
    uint32_t last = device->count - 1;
    if (device->count > 4) { /* exchange the two that were found */
        uint32_t a = 0;
        while (to_group[a] == a)
            a++;
        uint32_t b = to_group[a];
        for (uint32_t k = 0; k <= last; k++)
            to_group[k] = k == a ? b : k == b ? a : k;
    } else {
        for (uint32_t k = 0; k <= last; k++) {
            if (!(used & 1u << k))
                to_group[last] = k;
        }
    }
    char value[200] = "[";
    for (uint32_t i = 0; i < device->lamps; i++)
        device->output_of[to_group[i / 8] * 8 + i % 8] = was[i];
    for (uint32_t i = 0; i < device->lamps; i++) {
        char name[8];
        size_t n = strlen(value);
        output_name(device, i, name);
        snprintf(value + n, sizeof value - n, "%s%s", i ? ", " : "", name);
    }
    strncat(value, "]", sizeof value - strlen(value) - 1);
    struct dia_cause *cause = dia_run_cause(run, "its chips are connected in a different order");
    dia_cause_evidence(cause, "a group of eight lamps comes up in another's place");
    if (strlen(value) < sizeof value - 1)
        dia_cause_edit(cause, "devices", "", "wiring", "%s", value);
    else
        dia_cause_wiring(cause, "put the chips in their order");
    return dia_run_renew(run);
}

/* Bits that move on by one show only where neighbours differ. 1: it stays as it is. */
static int is_steady(struct run *run)
{
    static const char *const stays[] = {"it stays as it is", "it changes by itself", NULL};
    memset(some, 0, sizeof some);
    for (uint32_t i = 0; i < dia_device_believed(run)->lamps; i += 2)
        some[i] = 255;
    run->lit.levels = some;
    dia_run_show(run);
    int seen =
        dia_run_ask(run, stays, (uint32_t)dia_run_is_unsteady(run),
                    "Every other lamp of '%s' is sent on, again and again. Does what it shows "
                    "stay?",
                    dia_device_believed(run)->name);
    if (seen == 1)
        dia_device_is_disturbed(run);
    return seen < 0 ? -1 : !seen;
}

int dia_bringup_shift(struct run *run)
{
    static const char *const lit[] = {"none", "one", "several", "all of them", NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    int steady = is_steady(run);
    if (steady != 1)
        return steady;
    light_lamps(run, 0, device->lamps);
    int dark = dia_run_ask(run, lit, how_many(run, 1),
                           "All lamps of '%s' are sent on. How many are dark?", device->name);
    if (dark < 0)
        return -1;
    if (dark == ALL)
        return dia_device_shows_nothing(run);
    if (dark == ONE)
        return is_stuck(run, 0);
    if (dark == MANY)
        return is_deaf(run);
    light_lamps(run, 0, 0);
    int burning = dia_run_ask(run, lit, how_many(run, 0),
                              "All lamps of '%s' are sent off. How many are lit?", device->name);
    if (burning < 0)
        return -1;
    if (burning == ONE)
        return is_stuck(run, 1);
    if (burning == MANY)
        return is_deaf(run);
    return chip_order(run);
}
