/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_device.h"

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
    const struct dia_rig_device *device = dia_device_believed(run);
    for (uint32_t y = 0; y < device->rows; y++)
        snprintf(run->lit.text[y], sizeof run->lit.text[y], "%.*s", (int)device->columns,
                 y % 2 ? "tide and lamps" : test_text);
    dia_run_show(run);
}

static int ask_text(struct run *run, const char *when)
{
    write_text(run);
    uint32_t first = cells_seen(run); /* as it comes, before all is sent again and again */
    uint32_t says = dia_run_is_unsteady(run) ? (uint32_t)ALTERS : first;
    return dia_run_ask(run, looks, says, "%s'%s' should show '%s'. What is there?", when,
                       dia_device_believed(run)->name, run->lit.text[0]);
}

/* Contrast is set by hand: at one end of its travel all dots are dark. 1: that is not it. */
static int contrast(struct run *run, int dark)
{
    static const char *const ends[] = {"text or blocks come up", "nothing changes", NULL};
    const struct dia_desk_device *desk = &run->desk->devices[run->device];
    int seen =
        dia_run_ask(run, ends, desk->contrast_off_mv == 0,
                    "Turn the contrast of '%s' slowly from one end to the other. What happens?",
                    dia_device_believed(run)->name);
    if (seen < 0)
        return -1;
    if (seen == 1)
        return 1;
    struct dia_cause *cause =
        dia_run_cause(run, "its contrast pin is too %s", dark ? "low" : "high");
    dia_cause_evidence(cause, "text comes up within a small part of the potentiometer's travel");
    dia_cause_wiring(cause, "set the contrast pin to 0.2 V to 1 V, where the text reads well");
    return 0;
}

/* Tries what might be, and asks whether it is right now. */
static int try_slower(struct run *run)
{
    struct dia_rig_device *device = dia_device_believed(run);
    device->oscillator_hz = 50000;
    if (dia_run_renew(run) != 0)
        return -1;
    int seen = ask_text(run, "With longer waits ");
    if (seen < 0)
        return -1;
    if (seen != RIGHT) {
        device->oscillator_hz = 0;
        return 1;
    }
    struct dia_cause *cause = dia_run_cause(run, "its oscillator is slower than its sheet allows");
    dia_cause_evidence(cause, "signs are lost with the sheet's waits, and none with longer ones");
    dia_cause_edit(cause, "devices", "", "oscillator", "50 kHz");
    return 0;
}

static int try_four_lines(struct run *run)
{
    struct dia_rig_device *device = dia_device_believed(run);
    uint8_t was = device->lines;
    if (was != DIA_BUS_8_LINES)
        return 1;
    device->lines = DIA_BUS_4_LINES;
    if (dia_run_renew(run) != 0)
        return -1;
    int seen = ask_text(run, "Over d4 to d7 alone ");
    if (seen < 0)
        return -1;
    if (seen != RIGHT) {
        device->lines = was;
        return 1;
    }
    struct dia_cause *cause =
        dia_run_cause(run, "d0 to d3 do not reach it; it is wired for four lines");
    dia_cause_evidence(cause, "over d4 to d7 alone the text is right");
    dia_cause_edit(cause, "devices", "", "lines", "4");
    return 0;
}

int dia_bringup_characters(struct run *run)
{
    static const char *const before[] = {"nothing, or blocks in the first row",
                                         "text or other signs", NULL};
    const struct dia_desk_device *desk = &run->desk->devices[run->device];
    struct dia_rig_device *device = dia_device_believed(run);
    int stale = dia_run_ask(run, before, desk->half,
                            "Before anything is sent: what does '%s' show now?", device->name);
    if (stale < 0)
        return -1;
    int seen = ask_text(run, "");
    if (seen < 0)
        return -1;
    if (seen == ALTERS) {
        dia_device_is_disturbed(run);
        return 0;
    }
    if (seen == RIGHT && stale) {
        struct dia_cause *cause =
            dia_run_cause(run, "the controller was reset while the display was on");
        dia_cause_evidence(cause, "it showed something before anything was sent, and is right now");
        dia_cause_wiring(cause,
                         "nothing: the start-up brings it back, even from the middle of a 4-bit "
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
        struct dia_cause *cause = dia_run_cause(run, "it does not take what it is sent");
        dia_cause_evidence(cause, "neither longer waits nor another number of lines helps");
        dia_cause_wiring(cause,
                         "look at rs, e and each data line; with four lines they are d4 to d7");
    }
    return dia_run_renew(run);
}
