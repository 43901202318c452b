/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/look.h>

const struct dia_look *const dia_looks[] = {&dia_look_steady, &dia_look_hue_sweep, &dia_look_drift,
                                            NULL};

const struct dia_look *dia_look_find(const char *name)
{
    for (const struct dia_look *const *look = dia_looks; *look != NULL; look++) {
        if (strcmp((*look)->name, name) == 0)
            return *look;
    }
    return NULL;
}

static int inside(const struct dia_param *param, const void *field)
{
    int32_t value;
    switch (param->kind) {
    case DIA_PARAM_COLOUR:
        return 1;
    case DIA_PARAM_PALETTE: {
        const struct dia_palette *palette = field;
        return palette->count >= 1 && palette->count <= DIA_PALETTE_MAX;
    }
    default:
        memcpy(&value, field, sizeof value);
        return value >= param->min && value <= param->max;
    }
}

const struct dia_param *dia_look_check(const struct dia_look *look, const void *values)
{
    for (uint8_t i = 0; i < look->param_count; i++) {
        const struct dia_param *param = &look->params[i];
        if (!inside(param, (const uint8_t *)values + param->offset))
            return param;
    }
    return NULL;
}
