/* SPDX-License-Identifier: MIT */
/* proof: small large: -eva-precision 1 -inline-calls dia_sides_split,dia_sides_fill
   -eva-slevel-function
   several:0,dia_tail_border:0,part_of:0,tail_level_behind:0,dia_wipe_render:60,dia_pulse_render:60,dia_bounce_render:60,dia_chase_render:60,dia_reveal_render:60,dia_surface_shares:30,by_place:30,by_middle:30,radius_on_a_line:30,run_on_layout:30,dia_flame_render:20
 */
#include "proof.h"

/* Every look with any parameters in their ranges, on a line and on what lies in any other way, at
 * any time. */

/* Elements: looks go from run to run as surfaces do. */
#define A_FEW 5

static void any_values(const struct dia_look *look, union dia_look_values *values)
{
    look->defaults(values);
    for (uint8_t i = 0; i < look->param_count; i++) {
        const struct dia_param *param = &look->params[i];
        char *field = (char *)values + param->offset;
        if (param->kind == DIA_PARAM_COLOUR)
            *(struct dia_rgb *)field = any_colour();
        else if (param->kind == DIA_PARAM_PALETTE)
            ANY(((struct dia_palette *)field)->colours);
        else if (param->kind != DIA_PARAM_TEXT && param->kind != DIA_PARAM_FACE)
            *(int32_t *)field = any(param->min, param->max);
    }
}

static void some(const struct dia_look *look, const struct dia_surface *surface, uint32_t n)
{
    static struct dia_rgb out[A_FEW];
    union dia_look_values values;
    ANY(out);
    any_values(look, &values);
    dia_look_check(look, &values);
    look->render(&values, surface, any_number(), (uint32_t)any(0, UINT16_MAX - A_FEW), n, out);
    if (look->way_ms)
        look->way_ms(&values, surface);
}

static void shown(const struct dia_look *look, const struct dia_surface *surface)
{
    some(look, surface, A_FEW);
}

/* What fills elements before and behind an edge: how many of each is known of one. */
static void edged(const struct dia_look *look, const struct dia_surface *surface)
{
    some(look, surface, 1);
}

static void all_on(const struct dia_surface *surface)
{
    shown(&dia_look_steady, surface);
    shown(&dia_look_breathe, surface);
    shown(&dia_look_blink, surface);
    shown(&dia_look_alternate, surface);
    edged(&dia_look_wipe, surface);
    edged(&dia_look_reveal, surface);
    shown(&dia_look_hue_sweep, surface);
    shown(&dia_look_waves, surface);
    edged(&dia_look_chase, surface);
    edged(&dia_look_pulse, surface);
    edged(&dia_look_bounce, surface);
    shown(&dia_look_rings, surface);
    shown(&dia_look_beam, surface);
    shown(&dia_look_columns, surface);
    shown(&dia_look_drift, surface);
    shown(&dia_look_scatter, surface);
    shown(&dia_look_glimmer, surface);
    shown(&dia_look_flame, surface);
    shown(&dia_look_water, surface);
}

static void on_a_line(void)
{
    struct dia_surface line;
    if (dia_surface_line(&line, (uint32_t)any(0, UINT16_MAX), any(INT32_MIN, INT32_MAX),
                         any(INT32_MIN, INT32_MAX)) == DIA_OK)
        all_on(&line);
}

static void on_any_layout(void)
{
    struct dia_surface way = any_way();
    all_on(&way);
}

int main(void)
{
    on_a_line();
    on_any_layout();
    dia_look_find("wipe");
    return 0;
}
