/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/draw.h>
#include <diachrome/look.h>

#include "look_glue.h"

void dia_draw_defaults(struct dia_draw *p)
{
    memset(p, 0, sizeof *p);
    p->colour.r = 255;
    p->colour.g = 200;
    p->colour.b = 80;
    p->figure = DIA_FIGURE_DISC;
    p->x_um = p->y_um = 50000;
    p->to_x_um = p->to_y_um = 100000;
    p->size_um = 50000;
    p->corners = 3;
}

/* The one figure, as a drawing of its own. */
void dia_draw_render(const struct dia_draw *p, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct dia_figure figure;
    struct dia_drawing drawing;
    struct dia_point corners[DIA_CORNERS_MAX];
    memset(&figure, 0, sizeof figure);
    memset(&drawing, 0, sizeof drawing);
    figure.kind = (uint8_t)p->figure;
    figure.filled = p->fill == 0;
    figure.hard = p->edge != 0;
    figure.colour = p->colour;
    figure.at = (struct dia_point){p->x_um, p->y_um};
    figure.to = (struct dia_point){p->to_x_um, p->to_y_um};
    figure.size_um = p->size_um;
    figure.width_um = p->width_um;
    figure.soft_um = p->soft_um;
    figure.corners = corners;
    figure.corner_count = (uint8_t)p->corners;
    if (figure.kind == DIA_FIGURE_POLYGON)
        dia_corners_regular(corners, figure.corner_count, figure.at, p->size_um,
                            (dia_phase)p->turn << 17);
    drawing.figures = &figure;
    drawing.count = 1;
    drawing.mirror = (uint8_t)p->mirror;
    drawing.speed_x_um_s = p->speed_x_um_s;
    drawing.speed_y_um_s = p->speed_y_um_s;
    drawing.every_x_um = (uint32_t)p->every_x_um;
    drawing.every_y_um = (uint32_t)p->every_y_um;
    dia_drawing_render(&drawing, surface, ms, first, n, out);
}

static const DIA_ROM char figures[] = "point line rectangle disc polygon";
static const DIA_ROM char fills[] = "all outline";
static const DIA_ROM char edges[] = "smooth hard";
static const DIA_ROM char mirrors[] = "none x y both";

#define PLACE(field, word, says)                                                                   \
    PARAM_NUMBER(dia_draw, field, word, says, DIA_PARAM_LENGTH, -100000000, 100000000)
#define SIZE(field, word, says)                                                                    \
    PARAM_NUMBER(dia_draw, field, word, says, DIA_PARAM_LENGTH, 0, 100000000)
#define SPEED(field, word, says)                                                                   \
    PARAM_NUMBER(dia_draw, field, word, says, DIA_PARAM_SPEED, -10000000, 10000000)

static const DIA_ROM struct dia_param params[] = {
    PARAM_CHOICE(dia_draw, figure, "figure", "what is drawn", figures, 5),
    PARAM_COLOUR(dia_draw, colour, "colour", "of the figure; where it is not, nothing changes"),
    PLACE(x_um, "x", "middle of a disc, polygon or point, else one end; from left"),
    PLACE(y_um, "y", "the same, from the top"),
    PLACE(to_x_um, "to-x", "other end of a line, other corner of a rectangle"),
    PLACE(to_y_um, "to-y", "the same, from the top"),
    SIZE(size_um, "radius", "of a disc or polygon"),
    SIZE(width_um, "width", "of a line or outline; 0 mm: a pitch"),
    PARAM_CHOICE(dia_draw, edge, "edge", "smooth; hard: an element is covered or not", edges, 2),
    SIZE(soft_um, "soft", "width of a smooth edge, in whole pitches; 0 mm: one"),
    PARAM_NUMBER(dia_draw, corners, "corners", "of a polygon", DIA_PARAM_COUNT, 3, DIA_CORNERS_MAX),
    PARAM_NUMBER(dia_draw, turn, "turn", "of a polygon, clockwise", DIA_PARAM_SHARE, 0,
                 DIA_SHARE_ONE),
    PARAM_CHOICE(dia_draw, fill, "fill", "all of it, or its outline", fills, 2),
    SPEED(speed_x_um_s, "speed-x", "it scrolls to the right, and comes again"),
    SPEED(speed_y_um_s, "speed-y", "it scrolls down, and comes again"),
    SIZE(every_x_um, "every-x", "copies at such distances; 0 mm: none"),
    SIZE(every_y_um, "every-y", "the same, downwards"),
    PARAM_CHOICE(dia_draw, mirror, "mirror", "left and right, above and below", mirrors, 4),
};

LOOK_GLUE(dia_draw)

const DIA_ROM struct dia_look dia_look_draw = {
    .name = "draw",
    .help = "a figure over what is below, at rest or scrolling",
    .draws = 1,
    LOOK_COMMON(dia_draw, params),
};
