/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_lane.h"
#include "check_limits.h"
#include "rig_wire.h"

/*
 * A lane: its colours, then how many pixels take data, then how it lies. Each question has one
 * thing lit; how many there are is found by halving.
 */
static const char *const yes_no[] = {"yes", "no", NULL};

enum { RED, GREEN, BLUE, WHITE, NOTHING, MIXED, UNSTEADY, OTHER };
static const char *const colours[] = {"red",
                                      "green",
                                      "blue",
                                      "white",
                                      "nothing lights",
                                      "different colours side by side, which stay",
                                      "it flickers or changes by itself",
                                      "another colour",
                                      NULL};
static const struct dia_rgb pure[] = {{255, 0, 0}, {0, 255, 0}, {0, 0, 255}, {255, 255, 255}};

/* What a person calls a colour. */
static uint32_t name_of(struct dia_rgb seen)
{
    int most = seen.r > seen.g ? seen.r : seen.g;
    most = seen.b > most ? seen.b : most;
    int r = seen.r > most / 2, g = seen.g > most / 2, b = seen.b > most / 2;
    return r && g && b     ? WHITE
           : r && !g && !b ? RED
           : g && !r && !b ? GREEN
           : b && !r && !g ? BLUE
                           : OTHER;
}

/* Of all pixels together. */
static uint32_t colour_seen(struct run *run)
{
    const struct dia_shown *shown = dia_player_shown(run->player, (uint32_t)run->lane);
    uint32_t name = NOTHING;
    for (uint32_t i = 0; i < shown->count; i++) {
        struct dia_rgb seen = dia_player_seen(run->player, (uint32_t)run->lane, i);
        if (!dia_lane_is_lit(seen))
            continue;
        uint32_t this = name_of(seen);
        if (name != NOTHING && name != this)
            return MIXED;
        name = this;
    }
    return name;
}

static int ask_colour(struct run *run, uint32_t colour)
{
    run->lit = (struct lighting){.colour = pure[colour], .to = dia_lane_believed(run)->count};
    int unsteady = dia_run_is_unsteady(run);
    return dia_run_ask(run, colours, unsteady ? UNSTEADY : colour_seen(run),
                       "All of '%s' is sent %s. What does it show?", dia_lane_believed(run)->name,
                       colours[colour]);
}

static void is_disturbed(struct run *run)
{
    const struct dia_rig *rig = &run->report->rig;
    const struct dia_rig_lane *lane = dia_lane_believed(run);
    dia_bringup_signal(run, dia_rig_lane_high_mv(rig, lane), dia_rig_lane_needs_mv(rig, lane),
                       rig->supplies[lane->supply].voltage_mv, "lanes", "");
}

/* The part that takes a byte more, or less, for each pixel. */
static const char *twin_of(const struct dia_rig_lane *lane)
{
    if (strcmp(lane->part.name, "SK6812") == 0)
        return "SK6812-RGBW";
    if (strcmp(lane->part.name, "SK6812-RGBW") == 0)
        return "SK6812";
    return NULL;
}

/* 1: go on; 0: it is of no use before something is mended; -1: end. */
static int colours_stay_apart(struct run *run, int first)
{
    struct dia_rig_lane *lane = dia_lane_believed(run);
    const char *twin = twin_of(lane);
    if (first == UNSTEADY) {
        is_disturbed(run);
        return 0;
    }
    if (first == NOTHING) {
        struct dia_cause *cause = dia_run_cause(run, "no data comes in at its first pixel");
        dia_cause_evidence(cause, "it was sent red, and nothing lit");
        dia_cause_wiring(cause,
                         "connect the data line to the other end (the arrow on the strip points "
                         "away from the controller); look at pin %u, supply and ground too",
                         (unsigned)lane->pin);
        return 0;
    }
    if (first == MIXED && twin) {
        char was[16];
        snprintf(was, sizeof was, "%s", lane->part.name);
        struct dia_diagnostic wrong = {""};
        dia_rig_set_part(lane, twin, &wrong);
        struct dia_cause *cause =
            dia_run_cause(run, "its pixels are %s, %s white, not %s", lane->part.name,
                          lane->part.channels->count == 4 ? "with" : "without", was);
        dia_cause_evidence(cause, "all red gave different colours side by side");
        dia_cause_edit(cause, "lanes", "", "chip", "%s", twin);
        dia_cause_edit(cause, "lanes", "", "order", "%s", lane->order);
        return dia_run_renew(run) == 0 ? 1 : -1;
    }
    return 1;
}

/* What red, green and blue looked like tells which byte is which; the last one is left over. */
static int find_order(struct run *run)
{
    static const char letters[] = "RGBW";
    struct dia_rig_lane *lane = dia_lane_believed(run);
    char was[5], is[5] = "....";
    size_t n = strlen(lane->order);
    strcpy(was, lane->order);
    for (uint32_t sent = RED; sent + 1 < n; sent++) {
        int seen = ask_colour(run, sent);
        if (seen < 0)
            return -1;
        if (sent == RED) {
            int go_on = colours_stay_apart(run, seen);
            if (go_on != 1)
                return go_on;
            if (seen == MIXED) { /* asked again, of the part it is now */
                if (strlen(lane->order) == n)
                    return 0;
                return find_order(run);
            }
        }
        if (seen > WHITE)
            return 0;
        is[strchr(was, letters[sent]) - was] = letters[seen];
    }
    for (size_t k = 0; k < n; k++) {
        for (const char *letter = letters; is[k] == '.' && *letter; letter++) {
            if (strchr(was, *letter) && !strchr(is, *letter))
                is[k] = *letter;
        }
    }
    is[n] = 0;
    struct dia_diagnostic wrong = {""};
    if (strcmp(is, was) == 0 || dia_rig_set_order(lane, is, &wrong) != DIA_OK)
        return 1;
    struct dia_cause *cause = dia_run_cause(run, "its bytes are in the order %s, not %s", is, was);
    dia_cause_evidence(cause, "what was sent red, green and blue showed otherwise");
    dia_cause_edit(cause, "lanes", "", "order", "%s", is);
    return dia_run_renew(run) == 0 ? 1 : -1;
}

/* ---- how many -------------------------------------------------------------------------------- */

static int any_lit(struct run *run)
{
    const struct dia_shown *shown = dia_player_shown(run->player, (uint32_t)run->lane);
    for (uint32_t i = 0; i < shown->count; i++) {
        if (dia_lane_is_lit(dia_player_seen(run->player, (uint32_t)run->lane, i)))
            return 1;
    }
    return 0;
}

/* 1: a pixel lights that is sent to by itself; 0: none does; -1: end. */
static int lights(struct run *run, uint32_t pixel)
{
    run->lit = (struct lighting){.colour = pure[WHITE], .from = pixel, .to = pixel + 1};
    dia_run_show(run);
    int answer = dia_run_ask(run, yes_no, !any_lit(run),
                             "Only pixel %u of '%s' is sent white. Does any pixel light?",
                             (unsigned)pixel, dia_lane_believed(run)->name);
    return answer < 0 ? -1 : !answer;
}

/* How many take data, knowing that `good` does and `bad` does not; 0: end. */
static uint32_t halve(struct run *run, uint32_t good, uint32_t bad)
{
    while (bad - good > 1) {
        uint32_t middle = good + (bad - good) / 2;
        int lit = lights(run, middle);
        if (lit < 0)
            return 0;
        if (lit)
            good = middle;
        else
            bad = middle;
    }
    return good + 1;
}

static int set_count(struct run *run, uint32_t count)
{
    struct dia_rig_lane *lane = dia_lane_believed(run);
    struct dia_rig_layout *layout = &lane->layout;
    lane->count = count;
    dia_surface_line(&layout->surface, count, layout->start_um, layout->pitch_um);
    if (layout->shape <= DIA_SHAPE_RING)
        layout->grid.columns = (uint16_t)count;
    return dia_run_renew(run);
}

/* Pixels behind the last that is sent to are dark; as many as are there, or as a frame can hold. */
static uint32_t find_more(struct run *run, uint32_t stated)
{
    uint32_t tried = stated;
    for (;;) {
        uint32_t next = tried * 2 > 60000 ? 60000 : tried * 2;
        if (set_count(run, next) != 0)
            return 0;
        int lit = lights(run, next - 1);
        if (lit < 0)
            return 0;
        if (!lit)
            return halve(run, tried - 1, next - 1);
        if (next == 60000)
            return next;
        tried = next;
    }
}

static int all_seen(struct run *run)
{
    const struct dia_shown *shown = dia_player_shown(run->player, (uint32_t)run->lane);
    for (uint32_t i = 0; i < shown->count; i++) {
        if (!dia_lane_is_lit(dia_player_seen(run->player, (uint32_t)run->lane, i)))
            return 0;
    }
    return 1;
}

static int is_dead(struct run *run, uint32_t alive, uint32_t stated)
{
    struct dia_cause *cause = dia_run_cause(
        run, "pixel %u is dead and passes nothing on (counting from 0)", (unsigned)alive);
    dia_cause_evidence(cause, "pixels 0 to %u light, those behind stay dark", (unsigned)alive - 1);
    dia_cause_wiring(cause, "replace pixel %u, or the joint before it; %u of %u work until then",
                     (unsigned)alive, (unsigned)alive, (unsigned)stated);
    return 0;
}

static int find_count(struct run *run)
{
    struct dia_rig_lane *lane = dia_lane_believed(run);
    uint32_t stated = lane->count, found;
    run->lit = (struct lighting){.colour = pure[WHITE], .to = stated};
    dia_run_show(run);
    int all = dia_run_ask(run, yes_no, !all_seen(run),
                          "All of '%s' is sent white. Does every pixel of it light, to the last?",
                          lane->name);
    if (all < 0)
        return -1;
    int last = stated > 1 ? lights(run, stated - 1) : 1;
    if (last < 0)
        return -1;
    if (all == 0 && last)
        return 1;
    found = last ? find_more(run, stated) : halve(run, 0, stated - 1);
    if (found == 0)
        return -1;
    if (all != 0 && !last)
        return is_dead(run, found, stated);
    if (lane->layout.shape > DIA_SHAPE_RING || lane->layout.gap_count) {
        set_count(run, stated);
        dia_run_cause(run, "it has %u pixels, and its layout %u", (unsigned)found,
                      (unsigned)stated);
        return 0;
    }
    struct dia_cause *cause =
        dia_run_cause(run, "it has %u pixels, not %u", (unsigned)found, (unsigned)stated);
    dia_cause_evidence(cause, "pixel %u lights and pixel %u does not (counting from 0)",
                       (unsigned)found - 1, (unsigned)found);
    dia_cause_edit(cause, "lanes", "", "count", "%u", (unsigned)found);
    return set_count(run, found) == 0 ? 1 : -1;
}

int dia_bringup_lane(struct run *run)
{
    int go_on = find_order(run);
    if (go_on == 1)
        go_on = find_count(run);
    const struct dia_rig_layout *layout = &dia_lane_believed(run)->layout;
    if (go_on == 1 && layout->shape == DIA_SHAPE_GRID)
        go_on = dia_bringup_grid(run);
    else if (go_on == 1 && layout->shape <= DIA_SHAPE_RING)
        go_on = dia_bringup_direction(run);
    return go_on < 0 ? -1 : 0;
}
