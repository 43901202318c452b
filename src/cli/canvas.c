/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "canvas.h"
#include "cli.h"

/* Longest text of one mark: two colours, how it looks, its character. */
#define MARK_TEXT 64

int canvas_begin(struct canvas *canvas, int columns, int rows, int in_colour)
{
    size_t count = (size_t)columns * (size_t)rows;
    if (columns != canvas->columns || rows != canvas->rows) {
        struct mark *marks = realloc(canvas->marks, 2 * (count + 1) * sizeof *marks);
        if (!marks)
            return -1;
        canvas->marks = marks;
        canvas->shown = marks + count + 1;
        canvas->knows = 0;
        canvas->columns = columns;
        canvas->rows = rows;
    }
    canvas->in_colour = in_colour;
    canvas->ascii = !cli_in_utf8();
    memset(canvas->marks, 0, count * sizeof *canvas->marks);
    return 0;
}

static struct mark *at(struct canvas *canvas, int row, int column)
{
    if (row < 0 || row >= canvas->rows || column < 0 || column >= canvas->columns)
        return NULL;
    return &canvas->marks[row * canvas->columns + column];
}

void canvas_say(struct canvas *canvas, int row, int column, unsigned char how, const char *text)
{
    struct mark *mark;
    while (*text && (mark = at(canvas, row, column++)) != NULL) {
        size_t n = 1; /* and the bytes that continue a character */
        while (((unsigned char)text[n] & 0xc0) == 0x80)
            n++;
        memset(mark, 0, sizeof *mark);
        memcpy(mark->text, text, n < sizeof mark->text ? n : 1);
        mark->how = how;
        text += n;
    }
}

static char letter(struct dia_rgb colour)
{
    int level = colour.r > colour.g ? colour.r : colour.g;
    level = colour.b > level ? colour.b : level;
    return " .:-=+*%#@"[level * 9 / 255];
}

void canvas_light(struct canvas *canvas, int row, int column, struct dia_rgb colour)
{
    struct mark *mark = at(canvas, row, column);
    if (!mark)
        return;
    memset(mark, 0, sizeof *mark);
    mark->text[0] = canvas->in_colour ? ' ' : letter(colour);
    mark->how = MARK_BACK;
    mark->back = colour;
}

void canvas_lights(struct canvas *canvas, int row, int column, struct dia_rgb upper,
                   struct dia_rgb lower)
{
    struct mark *mark = at(canvas, row, column);
    if (!mark)
        return;
    if (canvas->ascii) { /* there is no half: what both give together */
        canvas_light(canvas, row, column, dia_rgb_mix(upper, lower, DIA_SHARE_ONE / 2));
        return;
    }
    memset(mark, 0, sizeof *mark);
    memcpy(mark->text, "\342\226\200", 3); /* upper half block */
    mark->how = MARK_FRONT | MARK_BACK;
    mark->front = upper;
    mark->back = lower;
}

void canvas_mark(struct canvas *canvas, int row, int column, const char *text,
                 struct dia_rgb colour, const struct dia_rgb *ground)
{
    struct mark *mark = at(canvas, row, column);
    if (!mark)
        return;
    memset(mark, 0, sizeof *mark);
    memcpy(mark->text, text, strlen(text) < sizeof mark->text ? strlen(text) : 1);
    mark->how = ground ? MARK_FRONT | MARK_BACK : MARK_FRONT;
    mark->front = colour;
    if (ground)
        mark->back = *ground;
}

static void add(struct canvas *canvas, const char *format, ...)
    __attribute__((format(printf, 2, 3)));

/* There is room for it: canvas_finish has seen to that. */
static void add(struct canvas *canvas, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    int n = vsnprintf(canvas->text + canvas->length, canvas->room - canvas->length, format, args);
    va_end(args);
    if (n > 0)
        canvas->length += (size_t)n;
}

static int looks_alike(const struct mark *a, const struct mark *b)
{
    return a->how == b->how && memcmp(&a->front, &b->front, sizeof a->front) == 0 &&
           memcmp(&a->back, &b->back, sizeof a->back) == 0;
}

static void set_colours(struct canvas *canvas, const struct mark *mark)
{
    if (!canvas->in_colour)
        return;
    add(canvas, "\033[0m");
    if (mark->how & MARK_BOLD)
        add(canvas, "\033[1m");
    if (mark->how & MARK_DIM)
        add(canvas, "\033[2m");
    if (mark->how & MARK_RED)
        add(canvas, "\033[31m");
    if (mark->how & MARK_FRONT)
        add(canvas, "\033[38;2;%d;%d;%dm", mark->front.r, mark->front.g, mark->front.b);
    if (mark->how & MARK_BACK)
        add(canvas, "\033[48;2;%d;%d;%dm", mark->back.r, mark->back.g, mark->back.b);
}

/* From a mark on, each with its colours where they change. */
static void add_marks(struct canvas *canvas, const struct mark *marks, int from, int to)
{
    static const struct mark plain = {{0}, 0, {0, 0, 0}, {0, 0, 0}};
    const struct mark *last = &plain;
    for (int k = from; k < to; k++) {
        if (!looks_alike(&marks[k], last))
            set_colours(canvas, &marks[k]);
        last = &marks[k];
        int other = canvas->ascii && (marks[k].text[0] & 0x80);
        add(canvas, "%.4s", other ? "?" : marks[k].text[0] ? marks[k].text : " ");
    }
}

/* How many marks of a row there are, without those at its end that are empty. */
static int used(const struct canvas *canvas, const struct mark *marks, int on_screen)
{
    int n = canvas->columns;
    while (n > 0 && (marks[n - 1].text[0] == 0 ||
                     (!canvas->in_colour && !on_screen && marks[n - 1].text[0] == ' ')))
        n--;
    return n;
}

static void add_line(struct canvas *canvas, int row)
{
    const struct mark *marks = &canvas->marks[row * canvas->columns];
    add_marks(canvas, marks, 0, used(canvas, marks, 0));
    add(canvas, canvas->in_colour ? "\033[0m\n" : "\n");
}

#define STEP (65535 / 255 * 5 / 4) /* of light: somewhat more than one of a drive of 8 bits */

/* What dithering adds from frame to frame is not worth a place on a slow line; black is black. */
static int near_enough(uint8_t a, uint8_t b)
{
    int off = (int)dia_light_of(a) - (int)dia_light_of(b);
    return a == b || (a && b && off <= STEP && off >= -STEP);
}

static int colours_near(struct dia_rgb a, struct dia_rgb b)
{
    return near_enough(a.r, b.r) && near_enough(a.g, b.g) && near_enough(a.b, b.b);
}

static int is_there(const struct mark *wanted, const struct mark *shown)
{
    return wanted->how == shown->how &&
           memcmp(wanted->text, shown->text, sizeof wanted->text) == 0 &&
           colours_near(wanted->front, shown->front) && colours_near(wanted->back, shown->back);
}

/* On a screen: of a row with words all of it, when any of it has changed; of lights only from the
 * first that has changed to the last, so that little goes over a slow line. Behind the last mark
 * the terminal clears by itself. */
static void add_changes(struct canvas *canvas, int row)
{
    const struct mark *marks = &canvas->marks[row * canvas->columns];
    struct mark *shown = &canvas->shown[row * canvas->columns];
    int n = used(canvas, marks, 1), from = 0, to = canvas->columns, words = 0;
    if (canvas->knows) {
        while (to > 0 && is_there(&marks[to - 1], &shown[to - 1]))
            to--;
        while (from < to && is_there(&marks[from], &shown[from]))
            from++;
        if (from == to)
            return;
    }
    for (int k = 0; k < n; k++)
        words |= marks[k].text[0] && !(marks[k].how & (MARK_FRONT | MARK_BACK));
    if (words || to > n) {
        from = words ? 0 : from;
        to = n;
    }
    add(canvas, "\033[%d;%dH", row + 1, from + 1);
    add_marks(canvas, marks, from, to);
    add(canvas, to == n && n < canvas->columns ? "\033[0m\033[K" : "\033[0m");
    int end = to == n ? canvas->columns : to; /* what was cleared is there as well */
    memcpy(&shown[from], &marks[from], (size_t)(end - from) * sizeof *marks);
}

int canvas_finish(struct canvas *canvas, int on_screen)
{
    size_t room =
        (size_t)canvas->columns * (size_t)canvas->rows * MARK_TEXT + (size_t)canvas->rows * 32 + 64;
    if (room > canvas->room) {
        char *text = realloc(canvas->text, room);
        if (!text)
            return -1;
        canvas->text = text;
        canvas->room = room;
    }
    canvas->length = 0;
    for (int row = 0; row < canvas->rows; row++) {
        if (on_screen)
            add_changes(canvas, row);
        else
            add_line(canvas, row);
    }
    canvas->knows = on_screen;
    return 0;
}

void canvas_forget(struct canvas *canvas)
{
    canvas->knows = 0;
}

void canvas_free(struct canvas *canvas)
{
    free(canvas->marks);
    free(canvas->text);
    memset(canvas, 0, sizeof *canvas);
}
