/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "edit.h"

#define TOP    2 /* rows above the drawing, and columns left of it */
#define LEFT   2
#define BELOW  3    /* rows below it */
#define WIDEST 1000 /* of a tile: more than a device has */
#define SMALL  32   /* columns of the small picture, at most */

static const char *const keys[] = {
    "arrows      move the cursor [] (<> on a dot that is lit)",
    "space       the dot: lit or dark. The mouse does it too, and draws",
    "f           all dots like this one that touch each other",
    "shift+arrow the drawing by a dot; also < > ^ v",
    "m  M        mirror left to right, up to down",
    "t           turn by a quarter",
    "i  e        invert, erase",
    "]  [  }  {  wider, narrower, higher, lower",
    "c           the next colour of the file",
    "u  r        undo, redo",
    "n  p        next and previous drawing",
    ".  ,        next and previous frame",
    "+  -        a frame more behind this one, this one less",
    "o           the frame before shows through",
    "s           save",
    "q           leave",
};
#define KEYS (int)(sizeof keys / sizeof keys[0])

static int small_width(const struct canvas *canvas, const struct dia_editor *editor,
                       const struct edit_view *view)
{
    int wide = view->as ? view->as->tile.width : dia_editor_item(editor)->columns;
    int most = view->as ? canvas->columns / 2 : SMALL; /* what is wider is cut off */
    return wide < most ? wide : most;
}

static int room_beside(const struct canvas *canvas, const struct dia_editor *editor,
                       const struct edit_view *view)
{
    return canvas->columns - 2 * LEFT - 2 - small_width(canvas, editor, view);
}

static int room_below(const struct canvas *canvas)
{
    return canvas->rows - TOP - BELOW;
}

/* Rows that a dot takes, and twice as many columns: as large as all of them fit. */
static int scale_of(const struct canvas *canvas, const struct dia_editor *editor,
                    const struct edit_view *view)
{
    const struct dia_dots *item = dia_editor_item(editor);
    int scale = 3;
    while (scale > 1 && (2 * scale * item->columns > room_beside(canvas, editor, view) ||
                         scale * item->rows > room_below(canvas)))
        scale--;
    return scale;
}

/* Dots that there is room for. */
static int dots_beside(const struct canvas *canvas, const struct dia_editor *editor,
                       const struct edit_view *view)
{
    int dots = room_beside(canvas, editor, view) / (2 * scale_of(canvas, editor, view));
    return dots < 1 ? 1 : dots;
}

static int dots_below(const struct canvas *canvas, const struct dia_editor *editor,
                      const struct edit_view *view)
{
    int dots = room_below(canvas) / scale_of(canvas, editor, view);
    return dots < 1 ? 1 : dots;
}

/* The cursor stays on the screen. */
static void follow(int *first, int at, int room, int all)
{
    if (at < *first)
        *first = at;
    if (at >= *first + room)
        *first = at - room + 1;
    if (*first > all - room)
        *first = all > room ? all - room : 0;
}

int edit_dot_at(const struct canvas *canvas, const struct dia_editor *editor,
                const struct edit_view *view, int row, int column, uint32_t *dot_column,
                uint32_t *dot_row)
{
    const struct dia_dots *item = dia_editor_item(editor);
    int scale = scale_of(canvas, editor, view);
    int x = (column - LEFT) / (2 * scale), y = (row - TOP) / scale;
    if (view->help || column < LEFT || row < TOP || x >= dots_beside(canvas, editor, view) ||
        y >= dots_below(canvas, editor, view) || x + view->left >= item->columns ||
        y + view->top >= item->rows)
        return 0;
    *dot_column = (uint32_t)(x + view->left);
    *dot_row = (uint32_t)(y + view->top);
    return 1;
}

/* What a dot looks like, and in which colour. */
struct look {
    const char *text, *first, *last; /* everywhere; or else at its left and right side */
    struct dia_rgb ink, ground;
    int has_ground, is_point; /* is_point: text in its middle alone */
};

static struct look look_of(const struct canvas *canvas, const struct dia_editor *editor,
                           const struct edit_view *view, uint32_t column, uint32_t row)
{
    static const struct dia_rgb black = {0, 0, 0}, white = {255, 255, 255}, grey = {90, 90, 90};
    uint8_t cell = dia_editor_cell(editor, editor->frame, row, column);
    struct look look = {canvas->ascii ? "." : "\302\267", NULL, NULL, grey, black, 0, 1};
    if (cell) {
        look.ink = look.ground = editor->drawings.colours[cell - 1];
        look.text = canvas->in_colour ? " " : canvas->ascii ? "#" : "\342\226\210";
        look.has_ground = canvas->in_colour;
        look.is_point = 0;
    } else if (view->onion && editor->frame &&
               dia_editor_cell(editor, editor->frame - 1u, row, column)) {
        look.text = canvas->ascii ? "+" : "\342\226\221";
        look.is_point = 0;
    }
    if (column == editor->column && row == editor->row) {
        /* on a light dot the brackets are dark */
        int light = 2 * look.ground.r + 5 * look.ground.g + look.ground.b > 1000;
        look.ink = cell && light ? black : white;
        look.text = canvas->in_colour || !cell ? " " : "#";
        look.first = cell ? "<" : "[";
        look.last = cell ? ">" : "]";
        look.is_point = 0;
    }
    return look;
}

static void draw_dot(struct canvas *canvas, const struct dia_editor *editor,
                     const struct edit_view *view, int x, int y)
{
    int scale = scale_of(canvas, editor, view);
    struct look look =
        look_of(canvas, editor, view, (uint32_t)(x + view->left), (uint32_t)(y + view->top));
    for (int row = 0; row < scale; row++) {
        for (int column = 0; column < 2 * scale; column++) {
            const char *text = look.text;
            if (look.is_point && (row != (scale - 1) / 2 || column != scale - 1))
                text = " ";
            else if (column == 0 && look.first)
                text = look.first;
            else if (column == 2 * scale - 1 && look.first)
                text = look.last;
            canvas_mark(canvas, TOP + y * scale + row, LEFT + x * 2 * scale + column, text,
                        look.ink, look.has_ground ? &look.ground : NULL);
        }
    }
}

/* Dot by dot; its frames take turns. */
static void draw_small(struct canvas *canvas, const struct dia_editor *editor,
                       const struct edit_view *view, int column)
{
    static const struct dia_rgb black = {0, 0, 0};
    const struct dia_dots *item = dia_editor_item(editor);
    uint32_t frame = item->frames > 1 ? view->ms / item->each_ms % item->frames : editor->frame;
    int wide = small_width(canvas, editor, view),
        step = canvas->in_colour && !canvas->ascii ? 2 : 1;
    for (int y = 0; y < item->rows && y / step < room_below(canvas); y += step) {
        for (int x = 0; x < wide; x++) {
            struct dia_rgb half[2] = {black, black};
            for (int k = 0; k < step && y + k < item->rows; k++) {
                uint8_t cell = dia_editor_cell(editor, frame, (uint32_t)(y + k), (uint32_t)x);
                half[k] = cell ? editor->drawings.colours[cell - 1] : black;
            }
            if (step == 2)
                canvas_lights(canvas, TOP + y / 2, column + x, half[0], half[1]);
            else
                canvas_light(canvas, TOP + y, column + x, half[0]);
        }
    }
}

static void draw_title(struct canvas *canvas, const struct dia_editor *editor,
                       const struct edit_view *view)
{
    const struct dia_dots *item = dia_editor_item(editor);
    char sign[8], text[400];
    uint32_t unsaved = dia_editor_unsaved(editor);
    int n = snprintf(text, sizeof text, "%.80s  %s  %u x %u", view->path,
                     item->code ? dia_sign_text(item->code, sign) : item->name, item->columns,
                     item->rows);
    if (item->frames > 1)
        n += snprintf(text + n, sizeof text - (size_t)n, "  frame %u of %u", editor->frame + 1u,
                      item->frames);
    if (unsaved == 1)
        n += snprintf(text + n, sizeof text - (size_t)n, "  not saved");
    else if (unsaved)
        n += snprintf(text + n, sizeof text - (size_t)n, "  %u drawings not saved", unsaved);
    canvas_say(canvas, 0, 0, MARK_BOLD, text);
    if (editor->drawings.colour_count > 1) {
        struct dia_rgb colour = editor->drawings.colours[editor->pen - 1];
        canvas_say(canvas, 0, n + 2, MARK_BOLD,
                   dia_sign_text((uint16_t)editor->drawings.keys[editor->pen - 1], sign));
        canvas_light(canvas, 0, n + 4, colour);
        canvas_light(canvas, 0, n + 5, colour);
    }
}

void edit_draw(struct canvas *canvas, const struct dia_editor *editor, struct edit_view *view)
{
    const struct dia_dots *item = dia_editor_item(editor);
    if (view->as)
        as_measure(view->as, WIDEST, canvas->in_colour);
    int across = dots_beside(canvas, editor, view), down = dots_below(canvas, editor, view);
    draw_title(canvas, editor, view);
    follow(&view->left, editor->column, across, item->columns);
    follow(&view->top, editor->row, down, item->rows);
    for (int k = 0; view->help && k < KEYS; k++)
        canvas_say(canvas, TOP + k, LEFT, 0, keys[k]);
    for (int y = 0; !view->help && y < down && y + view->top < item->rows; y++) {
        for (int x = 0; x < across && x + view->left < item->columns; x++)
            draw_dot(canvas, editor, view, x, y);
    }
    int shown = item->columns < across ? item->columns : across,
        beside = LEFT + 2 * scale_of(canvas, editor, view) * shown + 2;
    if (!view->help && view->as) {
        canvas_say(canvas, TOP - 1, beside, MARK_DIM, view->as->tile.title);
        as_draw(view->as, canvas, TOP, beside);
    } else if (!view->help) {
        draw_small(canvas, editor, view, beside);
    }
    canvas_say(canvas, canvas->rows - 2, 0, view->note[0] ? MARK_BOLD : 0, view->note);
    canvas_say(canvas, canvas->rows - 1, 0, MARK_DIM,
               view->help ? "any key: back"
                          : "space dot, arrows move, f fill, u undo, n next, s save, q leave, "
                            "? all keys");
}
