/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <stddef.h>

#include "bringup_lane.h"

static const struct dia_rgb white = {255, 255, 255}, green = {0, 255, 0};

/* The cell where the one marked pixel is to be seen. */
static struct dia_cell marked_cell(struct run *run)
{
    const struct dia_rig_lane *there = &run->desk->rig.lanes[run->lane];
    for (uint32_t i = 0; i < there->count; i++) {
        if (dia_lane_is_lit(dia_player_seen(run->player, (uint32_t)run->lane, i)))
            return dia_grid_cell(&there->layout.grid, (uint16_t)i);
    }
    return (struct dia_cell){0, 0};
}

static struct dia_cell show_one(struct run *run, uint32_t pixel)
{
    run->lit = (struct lighting){.colour = white, .from = pixel, .to = pixel + 1};
    dia_run_show(run);
    return marked_cell(run);
}

int dia_bringup_direction(struct run *run)
{
    static const char *const ends[] = {"the left end", "the right end", NULL};
    static const char *const ways[] = {"clockwise", "against the clock", NULL};
    struct dia_rig_lane *lane = dia_lane_believed(run);
    int ring = lane->layout.shape == DIA_SHAPE_RING, answer, is;
    uint8_t was = lane->layout.grid.wiring.first == DIA_TOP_RIGHT;
    if (lane->count < 3)
        return 1;
    if (ring) {
        run->lit =
            (struct lighting){.colour = green, .from = 1, .to = 2, .mark = white, .marked = 0};
        dia_run_show(run);
        is = run->desk->rig.lanes[run->lane].layout.grid.wiring.first == DIA_TOP_RIGHT;
        answer =
            dia_run_ask(run, ways, (uint32_t)is,
                        "One pixel of '%s' is white, and the next one green. Seen from the front, "
                        "which way does it go from white to green?",
                        lane->name);
    } else {
        struct dia_cell cell = show_one(run, 0);
        answer = dia_run_ask(run, ends, cell.column != 0,
                             "Only pixel 0 of '%s' is lit. At which end, seen from the front?",
                             lane->name);
    }
    if (answer < 0)
        return -1;
    if (answer == was)
        return 1;
    lane->layout.grid.wiring.first = answer ? DIA_TOP_RIGHT : DIA_TOP_LEFT;
    struct dia_cause *cause = dia_run_cause(run, "it runs the other way than it is described");
    dia_cause_evidence(cause, ring ? "the second pixel is on the other side of the first"
                                   : "pixel 0 is at the other end");
    dia_cause_edit(cause, "lanes", ring ? "ring" : "line", "reversed", answer ? "yes" : "no");
    return 1;
}

/* The corner of pixel 0, which way pixel 1 is from it, and where the second run begins. */
int dia_bringup_grid(struct run *run)
{
    static const char *const corners[] = {"top-left", "top-right", "bottom-left", "bottom-right",
                                          NULL};
    static const char *const runs[] = {"beside it, in the same row", "above or below it", NULL};
    static const char *const turns[] = {"at the side where the first run began",
                                        "at the side where the first run ended", NULL};
    struct dia_rig_lane *lane = dia_lane_believed(run);
    struct dia_grid *grid = &lane->layout.grid;
    struct dia_wiring *is = &grid->wiring, was = *is;
    struct dia_cell first = show_one(run, 0);
    uint32_t says = (first.column != 0) + 2u * (first.row != 0);
    int corner = dia_run_ask(run, corners, says, "Only pixel 0 of '%s' is lit. In which corner?",
                             lane->name);
    if (corner < 0)
        return -1;
    struct dia_cell second = show_one(run, 1);
    int column = dia_run_ask(run, runs, second.row != first.row,
                             "Now only pixel 1 is lit. Where is it, from where pixel 0 was?");
    if (column < 0)
        return -1;
    *is = (struct dia_wiring){(uint8_t)corner, (uint8_t)column, 0};
    uint32_t length = column ? grid->rows : grid->columns;
    if (length < lane->count) {
        struct dia_cell next = show_one(run, length);
        int far = column ? next.row != first.row : next.column != first.column;
        int snake =
            dia_run_ask(run, turns, (uint32_t)far,
                        "Now only pixel %u is lit, the first of the second run. Where is it?",
                        (unsigned)length);
        if (snake < 0)
            return -1;
        is->back_and_forth = (uint8_t)snake;
    }
    if (memcmp(is, &was, sizeof was) == 0)
        return 1;
    struct dia_cause *cause = dia_run_cause(run, "the chain takes another way through its grid");
    dia_cause_evidence(cause, "pixels 0, 1 and %u stand elsewhere", (unsigned)length);
    if (is->first != was.first)
        dia_cause_edit(cause, "lanes", "grid", "corner", "%s", corners[corner]);
    if (is->along_columns != was.along_columns)
        dia_cause_edit(cause, "lanes", "grid", "runs", column ? "columns" : "rows");
    if (is->back_and_forth != was.back_and_forth)
        dia_cause_edit(cause, "lanes", "grid", "serpentine", is->back_and_forth ? "yes" : "no");
    return 1;
}
