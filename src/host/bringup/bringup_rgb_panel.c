/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "bringup_device.h"
#include "family.h"

/* Row-scanned colour panels: which wire is which, and whether rows are dark when they change. */

#define LINES         6u /* r1 g1 b1 r2 g2 b2 */
#define FIRST_ADDRESS 6u

static uint8_t some[3 * DIA_RIG_LAMPS];

static uint32_t columns_of(const struct dia_rig_device *device)
{
    return device->surface.count;
}

static uint32_t half_of(const struct dia_rig_device *device)
{
    return device->lamps / columns_of(device) / 2;
}

/* Rows from one on, in one colour of three bits: every other column, so that a bit too many or too
 * few is seen. */
static void light(struct run *run, uint32_t first, uint32_t rows, uint32_t colours)
{
    const struct dia_rig_device *device = dia_device_believed(run);
    uint32_t columns = columns_of(device);
    memset(some, 0, sizeof some);
    for (uint32_t i = first * columns; i < (first + rows) * columns; i++) {
        for (uint32_t c = 0; c < 3 && i % columns % 2 == 0; c++)
            some[3 * i + c] = colours >> c & 1u ? 255 : 0;
    }
    run->lit.levels = some;
    dia_run_show(run);
}

/* How brightly a channel of a row is lit, of its turn. */
static uint32_t level_of(const struct run *run, uint32_t row, uint32_t channel)
{
    const struct dia_rig_device *there = &run->desk->rig.devices[run->device];
    return dia_player_lamp(run->player, (uint32_t)run->device,
                           3 * row * columns_of(there) + channel) *
           dia_rig_turns(there);
}

/* Which of n rows and channels is lit, with no other half as bright; n: none, or several. */
static uint32_t only_one(const uint32_t *levels, uint32_t n)
{
    uint32_t seen = n, most = 0, many = 0;
    for (uint32_t k = 0; k < n; k++) {
        seen = levels[k] > most ? k : seen;
        most = levels[k] > most ? levels[k] : most;
    }
    for (uint32_t k = 0; k < n; k++)
        many += 2 * levels[k] > most;
    return many == 1 ? seen : n;
}

/* Which data line has lit its half. */
static uint32_t line_seen(const struct run *run)
{
    uint32_t half = half_of(&run->desk->rig.devices[run->device]), levels[LINES];
    for (uint32_t line = 0; line < LINES; line++)
        levels[line] = level_of(run, line / 3 * half + 1, line % 3);
    return only_one(levels, LINES);
}

/* Two of its pins change places, as they must be wired. */
static int exchange(struct run *run, uint32_t a, uint32_t b, const char *evidence)
{
    struct dia_rig_device *device = dia_device_believed(run);
    const char *names[2] = {dia_rig_role(device, (uint8_t)a), dia_rig_role(device, (uint8_t)b)};
    uint8_t kept = device->pins[a];
    device->pins[a] = device->pins[b];
    device->pins[b] = kept;
    struct dia_cause *cause = dia_run_cause(run, "%s and %s are crossed", names[0], names[1]);
    dia_cause_evidence(cause, "%s", evidence);
    dia_cause_edit(cause, "devices", "pins", names[0], "%u", device->pins[a]);
    dia_cause_edit(cause, "devices", "pins", names[1], "%u", device->pins[b]);
    return dia_run_renew(run);
}

/* Each data line lights its half in its colour. 1: they do now; 0: nothing more is asked. */
static int data_lines(struct run *run)
{
    static const char *const answers[] = {"the upper half, red",
                                          "the upper half, green",
                                          "the upper half, blue",
                                          "the lower half, red",
                                          "the lower half, green",
                                          "the lower half, blue",
                                          "nothing, or something else",
                                          "it flickers or changes by itself",
                                          NULL};
    static const char *const halves[] = {"the upper half", "the lower half"};
    static const char *const colours[] = {"red", "green", "blue"};
    uint32_t half = half_of(dia_device_believed(run)), tries = 2 * LINES;
    for (uint32_t line = 0; line < LINES && tries > 0; tries--) {
        light(run, line / 3 * half, half, 1u << line % 3);
        uint32_t is = dia_run_is_unsteady(run) ? LINES + 1 : line_seen(run);
        int seen = dia_run_ask(run, answers, is,
                               "Every other column of %s of '%s' is sent on, in %s. What is lit?",
                               halves[line / 3], dia_device_believed(run)->name, colours[line % 3]);
        if (seen < 0)
            return -1;
        if (seen == (int)LINES + 1)
            dia_device_is_disturbed(run);
        if (seen == (int)LINES)
            return dia_device_shows_nothing(run);
        if (seen > (int)LINES)
            return 0;
        if (seen == (int)line)
            line++;
        else if (exchange(run, line, (uint32_t)seen,
                          "what one of them is sent comes up as the "
                          "other") != 0)
            return -1;
    }
    return 1;
}

/* Each address line alone chooses its row: the 2nd, 3rd, 5th and so on. */
static int address_lines(struct run *run)
{
    static const char *const rows[] = {"the 2nd", "the 3rd", "the 5th", "the 9th", "the 17th"};
    const char *answers[8] = {NULL};
    uint32_t half = half_of(dia_device_believed(run)), lines = 0, tries = 10;
    while (1u << lines < half) {
        answers[lines] = rows[lines];
        lines++;
    }
    answers[lines] = "another, or several";
    for (uint32_t line = 0; line < lines && tries > 0; tries--) {
        uint32_t is = lines, levels[32];
        light(run, 1u << line, 1, 7);
        for (uint32_t k = 0; k < half; k++)
            levels[k] = level_of(run, k, 0);
        for (uint32_t k = 0, row = only_one(levels, half); k < lines; k++)
            is = row == 1u << k ? k : is;
        int seen = dia_run_ask(run, answers, is, "The %s row of '%s' is sent on. Which is lit?",
                               rows[line] + 4, dia_device_believed(run)->name);
        if (seen < 0)
            return -1;
        if (seen == (int)lines) {
            struct dia_cause *cause = dia_run_cause(run, "rows come up in other places");
            dia_cause_evidence(cause, "one row was sent on");
            dia_cause_wiring(cause, "look at the wires of a, b, c and so on, and at clk and lat");
            return 0;
        }
        if (seen == (int)line)
            line++;
        else if (exchange(run, FIRST_ADDRESS + line, FIRST_ADDRESS + (uint32_t)seen,
                          "a row that one of them chooses comes up where the other would") != 0)
            return -1;
    }
    return 1;
}

/* The row before one that is lit glows, where the dark between them is too short. */
static int is_dark_between(struct run *run)
{
    static const char *const answers[] = {"it alone", "the row above it too, dimly", NULL};
    struct dia_words w[1];
    struct dia_rig_device *device = dia_device_believed(run);
    uint32_t tries = 0;
    for (;; tries++) {
        light(run, 4, 1, 7);
        int glows = dia_run_ask(run, answers, 100 * level_of(run, 3, 0) > level_of(run, 4, 0),
                                "The fifth row of '%s' is sent on. Is it lit alone?", device->name);
        if (glows < 0)
            return -1;
        if (glows == 0 || tries == 2)
            break;
        device->blank_ns = tries == 0 ? 5000 : 20000;
        if (dia_run_renew(run) != 0)
            return -1;
    }
    if (tries == 0)
        return 0;
    struct dia_cause *cause = dia_run_cause(run, "its rows take longer to be off");
    dia_cause_evidence(cause, "the row above one that is lit glows");
    dia_cause_edit(cause, "devices", "", "blank", "%s",
                   dia_quantity_as(device->blank_ns, DIA_MOMENT, w));
    return 0;
}

int dia_bringup_rgb_panel(struct run *run)
{
    int more = data_lines(run);
    if (more == 1)
        more = address_lines(run);
    return more == 1 ? is_dark_between(run) : more;
}
