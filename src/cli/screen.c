/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/reel.h>

#include "screen.h"

#define LEFT 2 /* columns left free at either side */

static void say(struct screen *screen, const char *format, ...)
    __attribute__((format(printf, 2, 3)));

/* There is room for it: screen_draw has seen to that. */
static void say(struct screen *screen, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    int n = vsnprintf(screen->text + screen->length, screen->room - screen->length, format, args);
    va_end(args);
    if (n > 0)
        screen->length += (size_t)n;
    if (screen->length >= screen->room)
        screen->length = screen->room - 1;
}

/* A line of plain text, cut at the right edge. */
static void line(struct screen *screen, int row, const char *mode, const char *text)
{
    say(screen, "\033[%d;1H%s%.*s\033[0m\033[K", row, screen->in_colour ? mode : "",
        screen->columns - 1, text);
}

static void pixel(struct screen *screen, struct dia_rgb seen, int *last)
{
    if (!screen->in_colour) {
        int level = seen.r > seen.g ? seen.r : seen.g;
        level = seen.b > level ? seen.b : level;
        say(screen, "%c", " .:-=+*%#@"[level * 9 / 255]);
        return;
    }
    int code = seen.r << 16 | seen.g << 8 | seen.b;
    if (code == *last)
        say(screen, " ");
    else
        say(screen, "\033[48;2;%d;%d;%dm ", seen.r, seen.g, seen.b);
    *last = code;
}

static void pixels(struct screen *screen, int row, const struct dia_shown *shown, uint32_t first,
                   uint32_t n)
{
    int last = -1;
    say(screen, "\033[%d;1H\033[K\033[%d;%dH", row, row, LEFT + 1);
    for (uint32_t i = 0; i < n; i++)
        pixel(screen, dia_seen((const uint8_t(*)[4])shown->drive + first + i, 1, shown->scale),
              &last);
    say(screen, "\033[0m");
}

/* A lane from `row` on, in as many rows as it takes and there are. Returns the row after it. */
static int lane(struct screen *screen, int row, int bottom, const struct dia_rig_lane *of,
                const struct dia_shown *shown)
{
    char title[160];
    uint32_t width = screen->columns > 2 * LEFT ? (uint32_t)(screen->columns - 2 * LEFT) : 1;
    uint32_t rows = (of->count + width - 1) / width;
    width = (of->count + rows - 1) / rows;                    /* rows of one length */
    int lines = rows * 3 <= (uint32_t)(bottom - row) ? 2 : 1; /* thick where there is room */
    snprintf(title, sizeof title, "%s  %" PRIu32 " x %s", of->name, of->count, of->part.name);
    line(screen, row++, "", title);
    for (uint32_t first = 0; first < of->count; first += width) {
        uint32_t n = of->count - first < width ? of->count - first : width;
        if (row + lines > bottom) {
            snprintf(title, sizeof title, "(pixels from %" PRIu32 " on do not fit)", first);
            line(screen, bottom, "\033[2m", title);
            return bottom + 1;
        }
        for (int i = 0; i < lines; i++)
            pixels(screen, row++, shown, first, n);
        if (lines == 2)
            line(screen, row++, "", "");
    }
    return row;
}

static void supplies(const struct dia_rig *rig, const struct dia_player *player, char *text,
                     size_t size)
{
    text[0] = 0;
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        size_t used = strlen(text);
        snprintf(text + used, size - used, "  %s %.2f of %.2f A", rig->supplies[i].name,
                 (double)dia_player_gives_ua(player, i) / 1e6, rig->supplies[i].current_ua / 1e6);
        if (dia_player_share(player, i) != DIA_SHARE_ONE) {
            used = strlen(text);
            snprintf(text + used, size - used, " (%d %% of its light)",
                     dia_player_share(player, i) * 100 / (int)DIA_SHARE_ONE);
        }
    }
}

static void status(struct screen *screen, const struct dia_rig *rig,
                   const struct dia_player *player, const struct screen_state *state)
{
    char text[400], drawn[300];
    const struct dia_findings *findings = dia_player_findings(player);
    supplies(rig, player, drawn, sizeof drawn);
    snprintf(text, sizeof text, "%.2f s  %.0f Hz%s", state->ms / 1e3, state->rate, drawn);
    line(screen, screen->rows - 1, "", text);
    if (findings->count) {
        snprintf(text, sizeof text, "%s: %s", findings->items[0].place, findings->items[0].text);
        line(screen, screen->rows, "\033[31m", text);
    } else {
        line(screen, screen->rows, "\033[2m",
             state->paused ? "paused; space goes on, q leaves" : "space pauses, q leaves");
    }
}

int screen_draw(struct screen *screen, const struct dia_rig *rig, const struct dia_player *player,
                const struct screen_state *state)
{
    size_t room = (size_t)screen->columns * (size_t)screen->rows * 24 + 8192;
    if (room > screen->room) {
        char *text = realloc(screen->text, room);
        if (!text)
            return -1;
        screen->text = text;
        screen->room = room;
    }
    screen->length = 0;
    char title[160];
    snprintf(title, sizeof title, "%s  %s", rig->name, state->look);
    line(screen, 1, "\033[1m", title);
    int row = 3, bottom = screen->rows - 3;
    for (uint32_t i = 0; i < rig->lane_count && row < bottom; i++)
        row = lane(screen, row, bottom, &rig->lanes[i], dia_player_shown(player, i)) + 1;
    for (; row <= screen->rows - 2; row++)
        line(screen, row, "", "");
    status(screen, rig, player, state);
    return 0;
}
