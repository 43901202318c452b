/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

#include "bringup_private.h"
#include "host_private.h"

#define REPEAT_MS 200
#define SHOWN_MS  3000 /* that parts may take to show a frame: more than any display does */

static void pixels(void *self, uint32_t lane, uint32_t count, struct dia_rgb *out)
{
    const struct run *run = self;
    const struct lighting *lit = &run->lit;
    memset(out, 0, count * sizeof *out);
    if ((int)lane != run->lane)
        return;
    for (uint32_t i = lit->from; i < lit->to && i < count; i++)
        out[i] = lit->colour;
    if ((lit->mark.r | lit->mark.g | lit->mark.b) && lit->marked < count)
        out[lit->marked] = lit->mark;
}

/* Levels, where there are any, go before a text. */
static void lamps(void *self, uint32_t device, uint32_t count, uint8_t *levels)
{
    const struct run *run = self;
    const struct dia_rig_device *of = &run->report->rig.devices[device];
    uint32_t first = of->digits * of->per_digit;
    if ((int)device == run->device && run->lit.levels)
        memcpy(levels, run->lit.levels, count);
    else
        memset(levels + first, 0, count - first);
}

static const char *text(void *self, uint32_t device, uint32_t row)
{
    const struct run *run = self;
    return (int)device == run->device ? run->lit.text[row] : "";
}

/* A part that does not answer is what bring-up is for: only where nothing can be sent is it over.
 */
static void wait_for_parts(struct run *run)
{
    struct dia_outlet_state state;
    if (dia_outlet_wait(run->outlet, SHOWN_MS) == DIA_OK)
        return;
    dia_outlet_state(run->outlet, &state);
    snprintf(run->report->trouble, sizeof run->report->trouble, "%s",
             state.trouble[0] ? state.trouble : "the parts take no frames");
}

void dia_run_show(struct run *run)
{
    struct dia_content content = {.self = run, .pixels = pixels, .lamps = lamps, .text = text};
    /* one slot: dithering must not be taken for a disturbance */
    if (dia_player_show_content(run->player, &content, run->slot, NULL) != DIA_OK)
        run->status = DIA_PORT_FAILED;
    if (run->outlet)
        wait_for_parts(run);
}

/* Parts that are not dark have done what they could: who asks goes on or ends all the same. */
static void end_parts(struct run *run)
{
    if (run->outlet)
        dia_outlet_dark(run->outlet);
    dia_outlet_close(run->outlet);
    run->outlet = NULL;
}

int dia_run_renew(struct run *run)
{
    int failed = 1;
    end_parts(run);
    dia_player_free(run->player);
    run->player = dia_player_on(&run->report->rig, run->desk, run->wrong);
    if (run->player && run->real_parts) {
        run->outlet = dia_outlet_open(&run->report->rig, &failed, run->wrong);
        dia_player_drives(run->player, run->outlet);
        if (run->outlet) /* so that a disturbed line is seen to be one */
            dia_outlet_repeats(run->outlet, REPEAT_MS);
    }
    if (run->player && (run->outlet || !run->real_parts))
        return 0;
    run->status = failed ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    return -1;
}

/* A sum of all that an eye can tell of the lane or device. */
static uint32_t seen(const struct run *run)
{
    uint32_t sum = 2166136261u; /* FNV-1a */
    if (run->lane >= 0) {
        const struct dia_shown *shown = dia_player_shown(run->player, (uint32_t)run->lane);
        for (uint32_t i = 0; i < shown->count * 4; i++)
            sum = (sum ^ shown->lit[i / 4][i % 4]) * 16777619u;
        return sum;
    }
    const struct dia_rig_device *device = &run->desk->rig.devices[run->device];
    /* a row of a panel is lit for a small part of the time, and what is missing may be a plane */
    uint32_t lit = device->channels == 3 ? 16384 / dia_rig_turns(device) : 2048;
    for (uint32_t i = 0; i < device->lamps * device->channels; i++)
        sum = (sum ^ (dia_player_lamp(run->player, (uint32_t)run->device, i) > lit)) * 16777619u;
    const struct dia_cells_shown *cells = dia_player_cells(run->player, (uint32_t)run->device);
    for (uint32_t i = 0; cells && i < (uint32_t)cells->columns * cells->rows; i++)
        sum = (sum ^ cells->code[i / cells->columns][i % cells->columns]) * 16777619u;
    return sum;
}

/* In between something else is sent, since some drivers send only what has changed. */
int dia_run_is_unsteady(struct run *run)
{
    struct lighting kept = run->lit;
    uint32_t first = 0;
    int unsteady = 0;
    dia_player_drives(run->player, NULL); /* who looks at real parts sees what is asked about */
    for (int k = 0; k < 12 && !unsteady; k++) {
        memset(&run->lit, 0, sizeof run->lit);
        if (run->device >= 0)
            dia_run_show(run);
        run->lit = kept;
        dia_player_refresh(run->player); /* what is sent once may be right by chance, or wrong */
        dia_run_show(run);
        uint32_t now = seen(run);
        if (k == 0)
            first = now;
        unsteady = now != first;
    }
    dia_player_drives(run->player, run->outlet);
    if (run->outlet)
        dia_run_show(run);
    return unsteady;
}

int dia_run_ask(struct run *run, const char *const *answers, uint32_t bench_says,
                const char *format, ...)
{
    char asked[300];
    struct dia_question question = {asked,       answers,   0,          bench_says,
                                    run->player, run->lane, run->device};
    va_list args;
    va_start(args, format);
    vsnprintf(asked, sizeof asked, format, args);
    va_end(args);
    while (answers[question.count])
        question.count++;
    if (run->status != DIA_OK)
        return -1;
    run->asked++;
    run->report->questions++;
    int answer = run->asks(run->self, &question);
    if (answer < 0 || answer >= (int)question.count) {
        run->report->stopped = 1;
        return -1;
    }
    return answer;
}

static const char *place(const struct run *run)
{
    return run->lane >= 0 ? run->report->rig.lanes[run->lane].name
                          : run->report->rig.devices[run->device].name;
}

struct dia_cause *dia_run_cause(struct run *run, const char *format, ...)
{
    static struct dia_cause nowhere; /* where there is no room it is not kept */
    struct dia_cause *cause = &nowhere;
    if (run->report->count < DIA_BRINGUP_CAUSES)
        cause = &run->report->causes[run->report->count++];
    memset(cause, 0, sizeof *cause);
    strcpy(cause->place, place(run)); /* names are no longer than that */
    va_list args;
    va_start(args, format);
    vsnprintf(cause->what, sizeof cause->what, format, args);
    va_end(args);
    cause->questions = run->asked;
    return cause;
}

void dia_cause_evidence(struct dia_cause *cause, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(cause->evidence, sizeof cause->evidence, format, args);
    va_end(args);
}

void dia_cause_wiring(struct dia_cause *cause, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(cause->wiring, sizeof cause->wiring, format, args);
    va_end(args);
}

void dia_cause_edit(struct dia_cause *cause, const char *section, const char *inside,
                    const char *key, const char *format, ...)
{
    if (cause->edit_count == DIA_CAUSE_EDITS)
        return;
    struct dia_rig_edit *edit = &cause->edits[cause->edit_count++];
    snprintf(edit->section, sizeof edit->section, "%s", section);
    memcpy(edit->name, cause->place, sizeof edit->name);
    snprintf(edit->inside, sizeof edit->inside, "%s", inside);
    snprintf(edit->key, sizeof edit->key, "%s", key);
    va_list args;
    va_start(args, format);
    vsnprintf(edit->value, sizeof edit->value, format, args);
    va_end(args);
}

void dia_bringup_signal(struct run *run, uint32_t high_mv, uint32_t needed_mv, uint32_t shifter_mv,
                        const char *section, const char *but)
{
    if (high_mv < needed_mv) {
        struct dia_cause *cause = dia_run_cause(
            run, "its input takes %u.%u V for high, and gets %u.%u V", (unsigned)needed_mv / 1000,
            (unsigned)needed_mv / 100 % 10, (unsigned)high_mv / 1000, (unsigned)high_mv / 100 % 10);
        dia_cause_evidence(cause, "it changes by itself, and the level is below the sheet's");
        dia_cause_wiring(cause, "put a level shifter with TTL inputs (74AHCT) before it, at %u V%s",
                         (unsigned)(shifter_mv + 500) / 1000, but);
        dia_cause_edit(cause, section, "", "shifter", "%u V", (unsigned)(shifter_mv + 500) / 1000);
    } else {
        struct dia_cause *cause = dia_run_cause(run, "its line is disturbed");
        dia_cause_evidence(cause, "it changes by itself, though the level is right");
        dia_cause_wiring(cause,
                         "shorten the line, put 330 ohm in series at the controller, and run a "
                         "ground wire beside it");
    }
}

static int finish_one(struct run *run, int (*bring)(struct run *run))
{
    run->asked = 0;
    memset(&run->lit, 0, sizeof run->lit);
    if (dia_run_renew(run) != 0)
        return -1;
    return bring(run);
}

/* Lanes first, then what they draw together, then devices. */
static void all(struct run *run, const char *only)
{
    struct dia_rig *rig = &run->report->rig;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        run->lane = (int)i;
        run->device = -1;
        if ((!only || strcmp(only, rig->lanes[i].name) == 0) &&
            finish_one(run, dia_bringup_lane) != 0)
            return;
    }
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        if (only && strcmp(only, rig->supplies[i].name) != 0)
            continue;
        run->asked = 0;
        run->device = -1;
        if (dia_bringup_supply(run, i) != 0)
            return;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        run->lane = -1;
        run->device = (int)i;
        if ((!only || strcmp(only, rig->devices[i].name) == 0) &&
            finish_one(run, dia_bringup_device) != 0)
            return;
    }
}

static int is_there(const struct dia_rig *rig, const char *only)
{
    int there = only == NULL;
    for (uint32_t i = 0; i < rig->lane_count && !there; i++)
        there = strcmp(rig->lanes[i].name, only) == 0;
    for (uint32_t i = 0; i < rig->device_count && !there; i++)
        there = strcmp(rig->devices[i].name, only) == 0;
    for (uint32_t i = 0; i < rig->supply_count && !there; i++)
        there = strcmp(rig->supplies[i].name, only) == 0;
    return there;
}

/* Half level: enough to be seen, and little current. */
enum dia_status dia_bringup_run(struct dia_bringup *bringup, const struct dia_rig *rig,
                                const struct dia_desk *desk, int real_parts, const char *only,
                                dia_bringup_asks *asks, void *self, struct dia_diagnostic *wrong)
{
    struct run run = {.report = bringup,
                      .desk = desk,
                      .real_parts = real_parts,
                      .asks = asks,
                      .self = self,
                      .lane = -1,
                      .device = -1,
                      .wrong = wrong};
    if (!is_there(rig, only))
        return dia_host_wrong(wrong, "there is no lane, device or supply '%s'", only);
    memset(bringup, 0, sizeof *bringup);
    bringup->rig = *rig;
    bringup->rig.master = DIA_SHARE_ONE / 2;
    all(&run, only);
    end_parts(&run);
    dia_player_free(run.player);
    bringup->rig.master = rig->master;
    return run.status;
}
