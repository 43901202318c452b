/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/look_text.h>

#include "host_private.h"
#include "show_private.h"

/* Units of where a layer is shown, by the kind of parameter. */
static const struct unit {
    const char *name;
    enum dia_param_kind kind;
    uint8_t of_length;
    double size; /* in thousandths of a pitch, or in millionths */
} units[] = {
    {"px", DIA_PARAM_LENGTH, 0, 1e3},    {"%", DIA_PARAM_LENGTH, 1, 1e4},
    {"px/s", DIA_PARAM_SPEED, 0, 1e3},   {"%/s", DIA_PARAM_SPEED, 1, 1e4},
    {"turn/s", DIA_PARAM_SPEED, 1, 1e6}, {"turns/s", DIA_PARAM_SPEED, 1, 1e6},
};

static const struct unit *unit_of(const struct dia_param *param, const char *name)
{
    name += strspn(name, " ");
    for (size_t k = 0; k < sizeof units / sizeof units[0]; k++) {
        if (units[k].kind == (enum dia_param_kind)param->kind && strcmp(units[k].name, name) == 0)
            return &units[k];
    }
    return NULL;
}

void dia_rig_layer_fix(struct dia_rig_layer *layer, const struct dia_param *param)
{
    for (uint32_t k = 0; k < layer->relatives; k++) {
        if (layer->relative[k].param == param) {
            layer->relatives--;
            memmove(&layer->relative[k], &layer->relative[k + 1],
                    (layer->relatives - k) * sizeof *layer->relative);
            return;
        }
    }
}

/* A text as people write it: in quotes or not, with \n, \" and \\ inside. */
static enum dia_status read_text(const char *key, const char *from, char says[DIA_TEXT_SAYS],
                                 struct dia_diagnostic *wrong)
{
    size_t length = strlen(from), n = 0;
    int quoted = from[0] == '"';
    if (quoted && (length < 2 || from[length - 1] != '"'))
        return dia_host_wrong(wrong, "'%s' lacks its closing quote: %s=%.60s\"", key, key, from);
    const char *end = from + length - quoted;
    for (from += quoted; from < end; from++, n++) {
        if (n == DIA_TEXT_SAYS - 1)
            return dia_host_wrong(wrong, "'%s' has at most %d bytes", key, DIA_TEXT_SAYS - 1);
        says[n] = *from;
        if (*from == '\\' && from + 1 < end && strchr("n\"\\", from[1]))
            says[n] = *++from == 'n' ? '\n' : *from;
    }
    says[n] = 0;
    return DIA_OK;
}

/* What a text says, or the name of a file of pictures. */
static enum dia_status take_text(struct dia_rig_layer *layer, const char *key, const char *from,
                                 struct dia_diagnostic *wrong)
{
    char text[DIA_TEXT_SAYS];
    enum dia_status status = read_text(key, from, text, wrong);
    if (status == DIA_OK && layer->look == &dia_look_picture) {
        memcpy(layer->file, text, sizeof text);
    } else if (status == DIA_OK) {
        memcpy(layer->says, text, sizeof text);
        memcpy(layer->says_on_digits, text, sizeof text);
    }
    return status;
}

enum dia_status dia_rig_layer_set(struct dia_rig_layer *layer, const char *setting,
                                  struct dia_diagnostic *wrong)
{
    struct dia_diagnostic no = {""};
    char key[48], *end;
    size_t length = strcspn(setting, "=");
    snprintf(key, sizeof key, "%.*s", (int)(length < 47 ? length : 47), setting);
    const struct dia_param *param = setting[length] ? dia_look_param(layer->look, key, &no) : NULL;
    double value = setting[length] ? strtod(setting + length + 1, &end) : 0;
    const struct unit *unit = param && end != setting + length + 1 ? unit_of(param, end) : NULL;
    if (param && param->kind == DIA_PARAM_TEXT)
        return take_text(layer, key, setting + length + 1, wrong);
    const struct dia_face *face = param && param->kind == DIA_PARAM_FACE && layer->files
                                      ? dia_drawing_files_face(layer->files, setting + length + 1)
                                      : NULL;
    if (face) {
        memcpy((char *)&layer->values + param->offset, &face, sizeof face);
        return DIA_OK;
    }
    if (!unit) {
        if (param)
            dia_rig_layer_fix(layer, param);
        enum dia_status status = dia_look_set(layer->look, &layer->values, setting, wrong);
        if (status != DIA_OK && param &&
            (param->kind == DIA_PARAM_LENGTH || param->kind == DIA_PARAM_SPEED)) {
            size_t used = strlen(wrong->text);
            snprintf(wrong->text + used, sizeof wrong->text - used, "; %s are of where it is shown",
                     param->kind == DIA_PARAM_LENGTH ? "px and %" : "px/s, %/s and turns/s");
        }
        return status;
    }
    if (!(value * unit->size <= 2e9 && value * unit->size >= -2e9) ||
        (param->min >= 0 && value < 0))
        return dia_host_wrong(wrong, "'%s' is %s%g %s at most; found '%.40s'", key,
                              param->min >= 0 ? "0 to " : "", 2e9 / unit->size, unit->name,
                              setting + length + 1);
    dia_rig_layer_fix(layer, param);
    if (layer->relatives == DIA_RIG_RELATIVES)
        return dia_host_wrong(wrong, "at most %d parameters in px or parts", DIA_RIG_RELATIVES);
    layer->relative[layer->relatives++] = (struct dia_rig_relative){
        param, unit->of_length, (int32_t)(value * unit->size + (value < 0 ? -0.5 : 0.5))};
    return DIA_OK;
}

void dia_rig_layer_values(const struct dia_rig_layer *layer, const struct dia_surface *surface,
                          union dia_look_values *values)
{
    *values = layer->values;
    if (layer->look == &dia_look_text)
        values->lettering.text.says = layer->says;
    for (uint32_t k = 0; k < layer->relatives; k++) {
        const struct dia_rig_relative *of = &layer->relative[k];
        int32_t um = of->of_length ? dia_surface_part_um(surface, of->amount)
                                   : dia_surface_px_um(surface, of->amount);
        um = um < of->param->min ? of->param->min : um > of->param->max ? of->param->max : um;
        memcpy((char *)values + of->param->offset, &um, sizeof um);
    }
}
