/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/look.h>

/* By subject: what runs along, what spreads, turns and falls, fields of colour, fire and sparks,
 * all at once, drawing and text. */
const DIA_ROM struct dia_look *const dia_looks[] = {&dia_look_wipe,      &dia_look_reveal,
                                                    &dia_look_chase,     &dia_look_pulse,
                                                    &dia_look_bounce,    &dia_look_rings,
                                                    &dia_look_beam,      &dia_look_columns,
                                                    &dia_look_hue_sweep, &dia_look_waves,
                                                    &dia_look_drift,     &dia_look_water,
                                                    &dia_look_flame,     &dia_look_glimmer,
                                                    &dia_look_scatter,   &dia_look_steady,
                                                    &dia_look_alternate, &dia_look_blink,
                                                    &dia_look_breathe,   &dia_look_draw,
                                                    &dia_look_text,      NULL};

/* strcmp reads no flash on a controller that keeps it apart. */
static uint8_t is_called(const DIA_ROM struct dia_look *look, const char *name)
{
    const DIA_ROM char *has = look->name;
    while (*has && *has == *name) {
        has++;
        name++;
    }
    return *has == *name;
}

const DIA_ROM struct dia_look *dia_look_find(const char *name)
{
    for (const DIA_ROM struct dia_look *const *look = dia_looks; *look != NULL; look++) {
        if (is_called(*look, name))
            return *look;
    }
    return NULL;
}

static int inside(const DIA_ROM struct dia_param *param, const void *field)
{
    int32_t value;
    switch (param->kind) {
    case DIA_PARAM_COLOUR:
    case DIA_PARAM_TEXT:
    case DIA_PARAM_FACE:
        return 1;
    case DIA_PARAM_PALETTE: {
        const struct dia_palette *palette = (const struct dia_palette *)field;
        uint8_t known = palette->count >= 1 && palette->count <= DIA_PALETTE_MAX;
        for (uint8_t k = 1; known && palette->placed && k < palette->count; k++)
            known = palette->places[k] > palette->places[k - 1];
        return known;
    }
    default:
        memcpy(&value, field, sizeof value);
        return value >= param->min && value <= param->max;
    }
}

const DIA_ROM struct dia_param *dia_look_check(const DIA_ROM struct dia_look *look,
                                               const void *values)
{
    for (uint8_t i = 0; i < look->param_count; i++) {
        const DIA_ROM struct dia_param *param = &look->params[i];
        if (!inside(param, (const uint8_t *)values + param->offset))
            return param;
    }
    return NULL;
}
