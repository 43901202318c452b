/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/reel.h>

#include "screen.h"
#include "tile.h"

#define LEFT 2 /* columns left free at either side */

/* Tiles side by side as far as they fit; where not all rows fit, without a line between them. */
struct flow {
    struct canvas *canvas;
    int row, column, height, bottom, between;
    int left_out;
};

static void end_row(struct flow *flow)
{
    if (flow->height)
        flow->row += flow->height + flow->between;
    flow->column = LEFT;
    flow->height = 0;
}

static void next_tile(struct flow *flow, const struct tile *tile, int draw)
{
    int width = (int)strlen(tile->title) > tile->width ? (int)strlen(tile->title) : tile->width;
    if (flow->column > LEFT && flow->column + width > flow->canvas->columns - LEFT)
        end_row(flow);
    int fits = flow->row + tile->height + 1 <= flow->bottom;
    if (draw && fits) {
        canvas_say(flow->canvas, flow->row, flow->column, 0, tile->title);
        tile_draw(tile, flow->canvas, flow->row + 1, flow->column);
    }
    flow->left_out += !fits;
    flow->column += width + 2;
    if (tile->height + 1 > flow->height)
        flow->height = tile->height + 1;
}

static void tiles(struct flow *flow, const struct dia_rig *rig, const struct dia_player *player,
                  int draw)
{
    struct tile tile;
    flow->row = 2 - !flow->between;
    flow->column = LEFT;
    flow->height = flow->left_out = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        tile_of_lane(&tile, rig, player, i, flow->canvas->columns - 2 * LEFT,
                     flow->canvas->in_colour);
        next_tile(flow, &tile, draw);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        tile_of_device(&tile, rig, player, i, flow->canvas->columns - 2 * LEFT,
                       flow->canvas->in_colour);
        next_tile(flow, &tile, draw);
    }
    end_row(flow);
}

static void supplies(const struct dia_rig *rig, const struct dia_player *player, char *text,
                     size_t size)
{
    text[0] = 0;
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        size_t used = strlen(text);
        uint32_t alike = dia_player_alike(player, i); /* one at each node */
        char many[16] = "";
        if (alike > 1)
            snprintf(many, sizeof many, "%u x ", (unsigned)alike);
        snprintf(text + used, size - used, "  %s %.2f of %s%.2f A", rig->supplies[i].name,
                 (double)dia_player_gives_ua(player, i) / 1e6, many,
                 rig->supplies[i].current_ua / 1e6);
        if (dia_player_share(player, i) != DIA_SHARE_ONE) {
            used = strlen(text);
            snprintf(text + used, size - used, " (%d %% of its light)",
                     dia_percent_of(dia_player_share(player, i)));
        }
    }
}

static void status(struct canvas *canvas, const struct dia_rig *rig,
                   const struct dia_player *player, const struct screen_state *state, int left_out)
{
    char text[400], drawn[300];
    const struct dia_findings *findings = dia_player_findings(player);
    supplies(rig, player, drawn, sizeof drawn);
    char speed[48] = "";
    if (state->speed != 1)
        snprintf(speed, sizeof speed, "  %g times as fast", state->speed);
    snprintf(text, sizeof text, "%.2f s  %.0f Hz%s%s", state->ms / 1e3, state->rate, speed, drawn);
    canvas_say(canvas, canvas->rows - 2, 0, 0, text);
    if (state->trouble) {
        canvas_say(canvas, canvas->rows - 1, 0, MARK_RED, state->trouble);
        return;
    }
    if (findings->count) {
        snprintf(text, sizeof text, "%s: %s", findings->items[0].place, findings->items[0].text);
        canvas_say(canvas, canvas->rows - 1, 0, MARK_RED, text);
        return;
    }
    if (state->news) {
        canvas_say(canvas, canvas->rows - 1, 0, MARK_DIM, state->news);
        return;
    }
    int n = snprintf(text, sizeof text, "%s, -+ speed, n look, pud parameter, 1-8 h keys, q leaves",
                     state->paused ? "paused (space goes on, . steps)" : "space pauses");
    if (left_out)
        snprintf(text + n, sizeof text - (size_t)n, "; %d left out", left_out);
    canvas_say(canvas, canvas->rows - 1, 0, MARK_DIM, text);
}

void screen_draw(struct canvas *canvas, const struct dia_rig *rig, const struct dia_player *player,
                 const struct screen_state *state)
{
    char title[160];
    struct flow flow = {canvas, 0, 0, 0, canvas->rows - 2, 1, 0};
    snprintf(title, sizeof title, "%s  %s  %s%s", rig->name, state->look, state->parameter,
             state->keys);
    canvas_say(canvas, 0, 0, MARK_BOLD, title);
    tiles(&flow, rig, player, 0);
    flow.between = flow.left_out == 0;
    tiles(&flow, rig, player, 1);
    status(canvas, rig, player, state, flow.left_out);
}

int screen_still(struct canvas *canvas, const struct dia_rig *rig, const struct dia_player *player,
                 const struct screen_state *state)
{
    char title[160];
    struct flow flow = {canvas, 0, 0, 0, canvas->rows, 1, 0};
    snprintf(title, sizeof title, "%s  %s at %.2f s", rig->name, state->look, state->ms / 1e3);
    canvas_say(canvas, 0, 0, MARK_BOLD, title);
    tiles(&flow, rig, player, 1);
    return flow.row - flow.between;
}
