/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_private.h"
#include "check_devices.h"
#include "rig_wire.h"

/* Drivers of lamps and cells: for each kind what can be wrong with it, asked for from the most
 * telling question on. */
static const char *const yes_no[] = {"yes", "no", NULL};

static struct dia_rig_device *believed(struct run *run)
{
    return &run->report->rig.devices[run->device];
}

/* A lamp lit for a tenth of what its driver can give is lit. */
static int lamp_is_lit(const struct run *run, uint32_t lamp)
{
    const struct dia_rig_device *there = &run->desk->rig.devices[run->device];
    uint32_t turns = there->kind != DIA_KIND_DIGITS ? 1 : there->on_commons ? 8 : there->digits;
    return dia_player_lamp(run->player, (uint32_t)run->device, lamp) * turns > 65535 / 40;
}

static uint32_t lit_count(const struct run *run)
{
    uint32_t n = 0;
    for (uint32_t i = 0; i < run->desk->rig.devices[run->device].lamps; i++)
        n += (uint32_t)lamp_is_lit(run, i);
    return n;
}

static void is_disturbed(struct run *run)
{
    const struct dia_rig *rig = &run->report->rig;
    const struct dia_rig_device *device = believed(run);
    uint32_t supply_mv = rig->supplies[device->supply].voltage_mv;
    struct device_levels needs = check_levels(device, supply_mv);
    bringup_signal(run, device->shifter_mv ? device->shifter_mv : rig->controller.logic_high_mv,
                   needs.input_high_mv, supply_mv, "devices");
}

static int shows_nothing(struct run *run)
{
    struct dia_cause *cause = run_cause(run, "it shows nothing at all");
    cause_evidence(cause, "nothing lit that was sent");
    cause_wiring(cause,
                 "look at its supply, ground, and each of its pins; the first chip of a chain "
                 "is fed at its input, not its output");
    return 0;
}

/* ---- modules of dots ------------------------------------------------------------------------- */

/* Lights one dot and tells where it comes up; 0 when no single dot is lit. */
static int show_dot(struct run *run, uint32_t column, uint32_t row, uint32_t *x, uint32_t *y)
{
    static uint8_t levels[DIA_RIG_LAMPS];
    const struct dia_rig_device *there = &run->desk->rig.devices[run->device];
    uint32_t columns = believed(run)->count * 8;
    memset(levels, 0, sizeof levels);
    levels[row * columns + column] = 255;
    run->lit.levels = levels;
    run_show(run);
    for (uint32_t i = 0; i < there->lamps; i++) {
        if (lamp_is_lit(run, i)) {
            *x = i % columns;
            *y = i / columns;
        }
    }
    return lit_count(run) == 1;
}

/* The wiring with which a dot that is sent to (column, row) comes up at (x, y), for both dots. */
static int wiring_fits(const struct dia_rig_device *is, const struct dia_matrix_wiring *wiring,
                       uint32_t end, uint32_t corner, uint32_t side)
{
    uint16_t chips = (uint16_t)is->count;
    uint32_t at[2][2] = {{0, 0}, {0, 0}};
    for (uint16_t i = 0; i < is->lamps; i++) {
        uint16_t x = (uint16_t)(i % (chips * 8u));
        uint8_t y = (uint8_t)(i / (chips * 8u));
        for (uint16_t dot = 0; dot < 2; dot++) {
            if (dia_matrix_dot(wiring, chips, x, y) == dia_matrix_dot(&is->wiring, chips, dot, 0)) {
                at[dot][0] = x;
                at[dot][1] = y;
            }
        }
    }
    uint32_t found_side = at[1][0] > at[0][0]   ? 0
                          : at[1][0] < at[0][0] ? 1
                          : at[1][1] > at[0][1] ? 2
                                                : 3;
    return at[0][0] / 8 == (end ? chips - 1u : 0) &&
           (at[0][0] % 8 != 0) + 2u * (at[0][1] != 0) == corner && found_side == side;
}

static void tell_wiring(struct run *run, const struct dia_matrix_wiring *found)
{
    struct dia_rig_device *device = believed(run);
    struct dia_matrix_wiring was = device->wiring;
    device->wiring = *found;
    rig_wire(device);
    struct dia_cause *cause = run_cause(run, "its modules are %s%u degrees%s%s", "mounted at ",
                                        found->turn * 90u, found->mirrored ? ", mirrored" : "",
                                        found->from_right ? ", the first at the right" : "");
    cause_evidence(cause, "two dots of the top left corner come up elsewhere");
    if (found->turn != was.turn)
        cause_edit(cause, "devices", "", "turn", "%u", found->turn * 90u);
    if (found->mirrored != was.mirrored)
        cause_edit(cause, "devices", "", "mirrored", found->mirrored ? "yes" : "no");
    if (found->from_right != was.from_right)
        cause_edit(cause, "devices", "", "first", found->from_right ? "right" : "left");
}

static int dots(struct run *run)
{
    static const char *const ends[] = {"the leftmost", "the rightmost",
                                       "none: nothing is lit, or other dots too",
                                       "it flickers or changes by itself", NULL};
    static const char *const corners[] = {"top left", "top right", "bottom left", "bottom right",
                                          NULL};
    static const char *const sides[] = {"to the right", "to the left", "below", "above", NULL};
    struct dia_rig_device *device = believed(run);
    uint32_t x = 0, y = 0, x2 = 0, y2 = 0;
    int one = show_dot(run, 0, 0, &x, &y), unsteady = run_is_unsteady(run);
    uint32_t says = unsteady ? 3 : !one ? 2 : x / 8 != 0;
    int end = run_ask(run, ends, says,
                      "One dot of '%s' is lit, which should be in the top left corner. On which "
                      "module is it?",
                      device->name);
    if (end < 0)
        return -1;
    if (end == 3) {
        is_disturbed(run);
        return 0;
    }
    if (end == 2)
        return shows_nothing(run);
    int corner = run_ask(run, corners, (x % 8 != 0) + 2u * (y != 0),
                         "In which corner of that module is the dot?");
    if (corner < 0)
        return -1;
    show_dot(run, 1, 0, &x2, &y2);
    int side = run_ask(run, sides,
                       x2 > x   ? 0u
                       : x2 < x ? 1u
                       : y2 > y ? 2u
                                : 3u,
                       "Now the dot that should be to the right of it is lit. Where is it, from "
                       "where the first was?");
    if (side < 0)
        return -1;
    for (uint8_t k = 0; k < 16; k++) {
        struct dia_matrix_wiring wiring = {k & 3u, k >> 2 & 1u, k >> 3 & 1u};
        if (device->count == 1 && wiring.from_right)
            continue;
        /* a module turned and mirrored can be the same as another: the one that is believed first
         */
        if (wiring_fits(device, &device->wiring, (uint32_t)end, (uint32_t)corner, (uint32_t)side))
            return 0;
        if (wiring_fits(device, &wiring, (uint32_t)end, (uint32_t)corner, (uint32_t)side)) {
            tell_wiring(run, &wiring);
            return run_renew(run);
        }
    }
    run_cause(run, "no way of mounting its modules explains what is seen");
    return 0;
}

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
    run_show(run);
}

/* Lamps of a part of the row that are not as they should be. */
static int part_is_wrong(struct run *run, uint32_t from, uint32_t to)
{
    for (uint32_t i = from; i < to; i++) {
        if (lamp_is_lit(run, i) != (some[i] != 0))
            return 1;
    }
    return 0;
}

/* The one lamp that is not as it should be, by halving; -1: end. */
static int find_lamp(struct run *run, int all_on)
{
    uint32_t from = 0, to = believed(run)->lamps;
    while (to - from > 1) {
        uint32_t middle = from + (to - from) / 2;
        int here = run_ask(run, yes_no, !part_is_wrong(run, from, middle),
                           "All lamps of '%s' should be %s. Is the wrong one among lamps %u to %u, "
                           "counting from 1 at the left?",
                           believed(run)->name, all_on ? "lit" : "dark", (unsigned)from + 1,
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

static int is_stuck(struct run *run, int high)
{
    char name[8];
    int lamp = find_lamp(run, !high);
    if (lamp < 0)
        return -1;
    output_name(believed(run), (uint32_t)lamp, name);
    struct dia_cause *cause =
        run_cause(run, "output Q%c of chip %.*s is stuck %s (lamp %d)", name[strlen(name) - 1],
                  (int)strlen(name) - 1, name, high ? "high" : "low", lamp + 1);
    cause_evidence(cause, "that lamp is %s while all others are %s", high ? "lit" : "dark",
                   high ? "dark" : "lit");
    cause_wiring(cause, "replace chip %.*s, or look for a short at its output",
                 (int)strlen(name) - 1, name);
    return 0;
}

/* Which chip's lamps stay as they are: all lamps of one chip change together, chip by chip. */
static int is_deaf(struct run *run)
{
    const struct dia_rig_device *device = believed(run);
    uint32_t from = 0, to = device->count;
    while (to - from > 1) {
        uint32_t middle = from + (to - from) / 2;
        light_lamps(run, 0, device->lamps);
        int wrong_here = 0;
        for (uint32_t i = 0; i < device->lamps; i++) {
            if (device->output_of[i] / 8u >= from && device->output_of[i] / 8u < middle)
                wrong_here |= !lamp_is_lit(run, i);
        }
        int here = run_ask(run, yes_no, !wrong_here,
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
    struct dia_cause *cause =
        run_cause(run, "chip %u does not follow the latch%s", (unsigned)from + 1,
                  device->lamps < device->count * 8 ? ", or its lamps hang on other outputs" : "");
    cause_evidence(cause, "its lamps stay as they were at power-up, the others follow");
    cause_wiring(cause, "look at RCLK of chip %u; if it is right there, replace the chip",
                 (unsigned)from + 1);
    return 0;
}

static uint32_t how_many(struct run *run, int should_be_lit)
{
    uint32_t wrong = 0;
    for (uint32_t i = 0; i < believed(run)->lamps; i++)
        wrong += lamp_is_lit(run, i) != should_be_lit;
    return wrong == 0 ? NONE : wrong == 1 ? ONE : wrong == believed(run)->lamps ? ALL : MANY;
}

/* The lamps that should be those of one chip: where do they come up? */
static int chip_order(struct run *run)
{
    static const char *const numbers[] = {"the 1st", "the 2nd", "the 3rd", "the 4th", "the 5th",
                                          "the 6th", "the 7th", "the 8th", NULL};
    const char *answers[9] = {NULL};
    struct dia_rig_device *device = believed(run);
    uint16_t was[DIA_RIG_LAMPS];
    if (device->count < 2 || device->count > 8 || device->lamps != device->count * 8)
        return 0; /* groups of eight lamps would not be its chips */
    memcpy(was, device->output_of, sizeof was);
    memcpy(answers, numbers, device->count * sizeof answers[0]);
    int moved = 0;
    uint32_t to_group[8] = {0};
    for (uint32_t group = 0; group + 1 < device->count; group++) {
        uint32_t says = 0;
        light_lamps(run, group * 8, group * 8 + 8);
        for (uint32_t i = 0; i < device->lamps; i++) {
            if (lamp_is_lit(run, i))
                says = i / 8;
        }
        int seen =
            run_ask(run, answers, says,
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
        to_group[group] = (uint32_t)seen;
        moved |= seen != (int)group;
        if (moved && device->count > 4)
            break; /* two are in each other's place */
    }
    if (!moved)
        return 0;
    uint32_t used = 0, last = device->count - 1;
    if (device->count > 4) { /* exchange the two that were found */
        uint32_t a = 0;
        while (to_group[a] == a)
            a++;
        uint32_t b = to_group[a];
        for (uint32_t k = 0; k <= last; k++)
            to_group[k] = k == a ? b : k == b ? a : k;
    } else {
        for (uint32_t k = 0; k < last; k++)
            used |= 1u << to_group[k];
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
    struct dia_cause *cause = run_cause(run, "its chips are in another order than it is described");
    cause_evidence(cause, "a group of eight lamps comes up in another's place");
    if (strlen(value) < sizeof value - 1)
        cause_edit(cause, "devices", "", "wiring", "%s", value);
    else
        cause_wiring(cause, "put the chips in their order");
    return run_renew(run);
}

/* Bits that move on by one show only where neighbours differ. 1: it stays as it is. */
static int is_steady(struct run *run)
{
    static const char *const stays[] = {"it stays as it is", "it changes by itself", NULL};
    memset(some, 0, sizeof some);
    for (uint32_t i = 0; i < believed(run)->lamps; i += 2)
        some[i] = 255;
    run->lit.levels = some;
    run_show(run);
    int seen = run_ask(run, stays, (uint32_t)run_is_unsteady(run),
                       "Every other lamp of '%s' is sent on, again and again. Does what it shows "
                       "stay?",
                       believed(run)->name);
    if (seen == 1)
        is_disturbed(run);
    return seen < 0 ? -1 : !seen;
}

static int shift(struct run *run)
{
    static const char *const lit[] = {"none", "one", "several", "all of them", NULL};
    struct dia_rig_device *device = believed(run);
    int steady = is_steady(run);
    if (steady != 1)
        return steady;
    light_lamps(run, 0, device->lamps);
    int dark = run_ask(run, lit, how_many(run, 1),
                       "All lamps of '%s' are sent on. How many are dark?", device->name);
    if (dark < 0)
        return -1;
    if (dark == ALL)
        return shows_nothing(run);
    if (dark == ONE)
        return is_stuck(run, 0);
    if (dark == MANY)
        return is_deaf(run);
    light_lamps(run, 0, 0);
    int burning = run_ask(run, lit, how_many(run, 0),
                          "All lamps of '%s' are sent off. How many are lit?", device->name);
    if (burning < 0)
        return -1;
    if (burning == ONE)
        return is_stuck(run, 1);
    if (burning == MANY)
        return is_deaf(run);
    return chip_order(run);
}

/* ---- digits ------------------------------------------------------------------------------------
 */

static uint8_t digit_seen(const struct run *run, uint32_t digit)
{
    uint8_t segments = 0;
    for (uint32_t k = 0; k < 8; k++)
        segments |= (uint8_t)(lamp_is_lit(run, digit * 8 + k) << k);
    return segments;
}

static void swap_pins(struct dia_rig_device *device, uint32_t a, uint32_t b)
{
    uint8_t kept = device->pins[a];
    device->pins[a] = device->pins[b];
    device->pins[b] = kept;
}

static int are_reversed(struct run *run)
{
    struct dia_rig_device *device = believed(run);
    struct dia_cause *cause = run_cause(run, "its digits count from the other end");
    cause_evidence(cause, "what should be leftmost is rightmost");
    if (device->kind != DIA_KIND_DIGITS) {
        device->wiring.from_right = !device->wiring.from_right;
        rig_wire(device);
        cause_edit(cause, "devices", "", "first", device->wiring.from_right ? "right" : "left");
        return run_renew(run);
    }
    for (uint32_t k = 0; k < device->digits / 2; k++)
        swap_pins(device, 8 + k, 8 + device->digits - 1 - k);
    cause->edit_count = 0;
    for (uint32_t k = 0; k < device->digits && k < DIA_CAUSE_EDITS; k++)
        cause_edit(cause, "devices", "pins", dia_rig_role(device->kind, (uint8_t)(8 + k)), "%u",
                   device->pins[8 + k]);
    if (device->digits > DIA_CAUSE_EDITS) {
        cause->edit_count = 0;
        cause_wiring(cause, "turn the order of the pins digit1 to digit%u round",
                     (unsigned)device->digits);
    }
    return run_renew(run);
}

/* Which segment lights when one is sent: nine things a person can tell. */
static int crossed(struct run *run)
{
    static const char *const places[] = {"the top one",      "the upper right",
                                         "the lower right",  "the bottom one",
                                         "the lower left",   "the upper left",
                                         "the middle one",   "the point",
                                         "none, or several", NULL};
    struct dia_rig_device *device = believed(run);
    for (uint8_t sent = 0; sent < 6; sent++) {
        memset(some, 0, sizeof some);
        some[sent] = 255;
        run->lit.levels = some;
        run_show(run);
        uint8_t seen = digit_seen(run, 0);
        uint32_t says = 8;
        for (uint32_t k = 0; k < 8; k++) {
            if (seen == 1u << k)
                says = k;
        }
        int answer = run_ask(run, places, says,
                             "The first digit of '%s' is sent one segment: %s. Which lights?",
                             device->name, places[sent]);
        if (answer < 0)
            return -1;
        if (answer == sent || answer > 7)
            continue;
        struct dia_cause *cause =
            run_cause(run, "segments %s and %s are crossed", dia_rig_role(device->kind, sent),
                      dia_rig_role(device->kind, (uint8_t)answer));
        cause_evidence(cause, "%s was sent, and %s lit", places[sent], places[answer]);
        swap_pins(device, sent, (uint32_t)answer);
        cause_edit(cause, "devices", "pins", dia_rig_role(device->kind, sent), "%u",
                   device->pins[sent]);
        cause_edit(cause, "devices", "pins", dia_rig_role(device->kind, (uint8_t)answer), "%u",
                   device->pins[answer]);
        return run_renew(run);
    }
    return 0;
}

static int digits(struct run *run)
{
    static const char *const where[] = {"on the leftmost digit only",
                                        "on the rightmost digit only",
                                        "on all digits but one",
                                        "nowhere",
                                        "it flickers or changes by itself",
                                        "otherwise",
                                        NULL};
    struct dia_rig_device *device = believed(run);
    uint32_t lit = 0, first = 0, last = 0;
    strcpy(run->lit.text[0], "8");
    run_show(run);
    int unsteady = run_is_unsteady(run);
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
    int seen =
        run_ask(run, where, says,
                "'%s' is sent an 8 on its leftmost digit. Where are segments lit?", device->name);
    if (seen < 0)
        return -1;
    if (seen == 4) {
        is_disturbed(run);
        return 0;
    }
    if (seen == 3 && device->kind != DIA_KIND_DIGITS)
        return shows_nothing(run);
    int wrong_way = seen == 2 || seen == 3 || seen == 5;
    if (device->kind == DIA_KIND_DIGITS && wrong_way) {
        device->anode ^= 1;
        struct dia_cause *cause =
            run_cause(run, "it has common %ss, not %ss", device->anode ? "anode" : "cathode",
                      device->anode ? "cathode" : "anode");
        cause_evidence(cause, "what should be dark is lit, and the other way round");
        cause_edit(cause, "devices", "", "common", device->anode ? "anode" : "cathode");
        if (run_renew(run) != 0)
            return -1;
    } else if (seen == 1 && device->digits > 1 && are_reversed(run) != 0) {
        return -1;
    }
    return device->kind == DIA_KIND_DIGITS ? crossed(run) : 0;
}

/* ---- character displays ------------------------------------------------------------------------
 */

enum { RIGHT, BLOCKS, EMPTY, DARK, GARBLED, ALTERS };
static const char *const looks[] = {"the text, as it should be",
                                    "blocks in the first row (or in every other one)",
                                    "nothing",
                                    "all places quite dark",
                                    "other signs, or some are missing",
                                    "it changes by itself",
                                    NULL};

static const char test_text[] = "Quay 0123456789";

static uint32_t cells_seen(struct run *run)
{
    const struct dia_cells_shown *cells = dia_player_cells(run->player, (uint32_t)run->device);
    const struct dia_rig_device *there = &run->desk->rig.devices[run->device];
    char row[41];
    if (cells->contrast == DIA_CONTRAST_FAINT)
        return EMPTY;
    if (cells->contrast == DIA_CONTRAST_DARK)
        return DARK;
    if (cells->blocks)
        return BLOCKS;
    if (!cells->on)
        return EMPTY;
    for (uint32_t y = 0; y < there->rows; y++) {
        snprintf(row, sizeof row, "%-40.*s", (int)there->columns, run->lit.text[y]);
        if (memcmp(cells->code[y], row, there->columns) != 0)
            return GARBLED;
    }
    return RIGHT;
}

static void write_text(struct run *run)
{
    const struct dia_rig_device *device = believed(run);
    for (uint32_t y = 0; y < device->rows; y++)
        snprintf(run->lit.text[y], sizeof run->lit.text[y], "%.*s", (int)device->columns,
                 y % 2 ? "tide and lamps" : test_text);
    run_show(run);
}

static int ask_text(struct run *run, const char *when)
{
    write_text(run);
    uint32_t says = run_is_unsteady(run) ? (uint32_t)ALTERS : cells_seen(run);
    return run_ask(run, looks, says, "%s'%s' should show '%s'. What is there?", when,
                   believed(run)->name, run->lit.text[0]);
}

/* Contrast is set by hand: at one end of its travel all dots are dark. 1: that is not it. */
static int contrast(struct run *run, int dark)
{
    static const char *const ends[] = {"text or blocks come up", "nothing changes", NULL};
    const struct dia_desk_device *desk = &run->desk->devices[run->device];
    int seen = run_ask(run, ends, desk->contrast_mv == 0,
                       "Turn the contrast of '%s' slowly from one end to the other. What happens?",
                       believed(run)->name);
    if (seen < 0)
        return -1;
    if (seen == 1)
        return 1;
    struct dia_cause *cause = run_cause(run, "its contrast pin is too %s", dark ? "low" : "high");
    cause_evidence(cause, "text comes up within a small part of the potentiometer's travel");
    cause_wiring(cause, "set the contrast pin to 0.2 V to 1 V, where the text reads well");
    return 0;
}

/* Tries what might be, and asks whether it is right now. */
static int try_slower(struct run *run)
{
    struct dia_rig_device *device = believed(run);
    device->oscillator_hz = 50000;
    if (run_renew(run) != 0)
        return -1;
    int seen = ask_text(run, "With longer waits ");
    if (seen < 0)
        return -1;
    if (seen != RIGHT) {
        device->oscillator_hz = 0;
        return 1;
    }
    struct dia_cause *cause = run_cause(run, "its oscillator is slower than its sheet allows");
    cause_evidence(cause, "signs are lost with the sheet's waits, and none with longer ones");
    cause_edit(cause, "devices", "", "oscillator", "50 kHz");
    return 0;
}

static int try_four_lines(struct run *run)
{
    struct dia_rig_device *device = believed(run);
    uint8_t was = device->lines;
    if (was != DIA_BUS_8_LINES)
        return 1;
    device->lines = DIA_BUS_4_LINES;
    if (run_renew(run) != 0)
        return -1;
    int seen = ask_text(run, "Over d4 to d7 alone ");
    if (seen < 0)
        return -1;
    if (seen != RIGHT) {
        device->lines = was;
        return 1;
    }
    struct dia_cause *cause =
        run_cause(run, "d0 to d3 do not reach it; it is wired for four lines");
    cause_evidence(cause, "over d4 to d7 alone the text is right");
    cause_edit(cause, "devices", "", "lines", "4");
    return 0;
}

static int characters(struct run *run)
{
    static const char *const before[] = {"nothing, or blocks in the first row",
                                         "text or other signs", NULL};
    const struct dia_desk_device *desk = &run->desk->devices[run->device];
    struct dia_rig_device *device = believed(run);
    int stale = run_ask(run, before, desk->half,
                        "Before anything is sent: what does '%s' show now?", device->name);
    if (stale < 0)
        return -1;
    int seen = ask_text(run, "");
    if (seen < 0)
        return -1;
    if (seen == ALTERS) {
        is_disturbed(run);
        return 0;
    }
    if (seen == RIGHT && stale) {
        struct dia_cause *cause =
            run_cause(run, "the controller was reset while the display was on");
        cause_evidence(cause, "it showed something before anything was sent, and is right now");
        cause_wiring(cause, "nothing: the start-up brings it back, even from the middle of a 4-bit "
                            "pair");
        return 0;
    }
    if (seen == RIGHT)
        return 0;
    int found = seen == EMPTY || seen == DARK ? contrast(run, seen == DARK) : 1;
    if (found == 1)
        found = try_four_lines(run);
    if (found == 1 && seen != BLOCKS)
        found = try_slower(run);
    if (found < 0)
        return -1;
    if (found == 1) {
        struct dia_cause *cause = run_cause(run, "it does not take what it is sent");
        cause_evidence(cause, "neither longer waits nor another number of lines helps");
        cause_wiring(cause, "look at rs, e and each data line; with four lines they are d4 to d7");
    }
    return run_renew(run);
}

int bringup_device(struct run *run)
{
    const struct dia_rig_device *device = believed(run);
    switch (device->kind) { /* what is left of them shows their text, or nothing */
    case DIA_KIND_SHIFT:
        return shift(run);
    case DIA_KIND_CHARACTERS:
        return characters(run);
    case DIA_KIND_MATRIX:
        return device->digits ? digits(run) : dots(run);
    default:
        return digits(run);
    }
}
