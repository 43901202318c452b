/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/look_text.h>

static int32_t within(const struct dia_param *param, int64_t value)
{
    return (int32_t)(value < param->min ? param->min : value > param->max ? param->max : value);
}

/* By a quarter of itself, and away from 0 by a thousandth of the range. */
static int64_t by_a_quarter(const struct dia_param *param, int64_t value, int way)
{
    int64_t step = (value < 0 ? -value : value) / 4,
            least = ((int64_t)param->max - param->min) / 1000;
    return value + way * (step > least ? step : least ? least : 1);
}

/* Round the hues in twelve steps; what has no hue becomes red. */
static struct dia_rgb next_hue(struct dia_rgb colour, int way)
{
    static const struct dia_rgb hues[12] = {
        {255, 0, 0},   {255, 128, 0}, {255, 255, 0}, {128, 255, 0}, {0, 255, 0},   {0, 255, 128},
        {0, 255, 255}, {0, 128, 255}, {0, 0, 255},   {128, 0, 255}, {255, 0, 255}, {255, 0, 128}};
    for (int k = 0; k < 12; k++) {
        if (memcmp(&hues[k], &colour, sizeof colour) == 0)
            return hues[(k + 12 + way) % 12];
    }
    return hues[0];
}

void dia_param_nudge(const struct dia_param *param, void *values, int way)
{
    void *field = (char *)values + param->offset;
    struct dia_rgb colour;
    int32_t number;
    if (param->kind == DIA_PARAM_PALETTE || param->kind == DIA_PARAM_TEXT ||
        param->kind == DIA_PARAM_FACE)
        return;
    if (param->kind == DIA_PARAM_COLOUR) {
        memcpy(&colour, field, sizeof colour);
        colour = next_hue(colour, way);
        memcpy(field, &colour, sizeof colour);
        return;
    }
    memcpy(&number, field, sizeof number);
    if (param->kind == DIA_PARAM_CHOICE)
        number = (number + way + param->max + 1) % (param->max + 1);
    else if (param->kind == DIA_PARAM_SHARE)
        number = within(param, number + (int64_t)way * DIA_SHARE_ONE / 20);
    else if (param->kind == DIA_PARAM_COUNT)
        number = within(param, (int64_t)number + way);
    else
        number = within(param, by_a_quarter(param, number, way));
    memcpy(field, &number, sizeof number);
}
