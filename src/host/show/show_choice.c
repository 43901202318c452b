/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/look_text.h>
#include <diachrome/value.h>

#include "host_private.h"
#include "show_private.h"

/* ---- lines `choice` and `drive` ---------------------------------------------------------------
 */

/* NAME of VALUE TEXT LIMIT TEXT [LIMIT TEXT...] [within NUMBER] */
enum dia_status dia_show_choice_read(struct dia_show *show, const char *text,
                                     struct dia_diagnostic *wrong)
{
    struct dia_show_choice choice = {0};
    char word[SHOW_WORD];
    static const char such[] = "write a choice like this: choice state of volts \"low\" 2.9 \"ok\"";
    if (show->choice_count == DIA_SHOW_CHOICES)
        return dia_host_wrong(wrong, "a show has at most %d choices", DIA_SHOW_CHOICES);
    if (!dia_show_word(&text, word))
        return dia_host_wrong(wrong, "%s", such);
    enum dia_status status = dia_show_new_name(show, word, choice.name, wrong);
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(&text, word) || strcmp(word, "of") != 0 || !dia_show_word(&text, word))
        return dia_host_wrong(wrong, "%s", such);
    status = dia_show_value_named(show, word, &choice.value, wrong);
    if (status != DIA_OK)
        return status;
    uint8_t decimals = show->values[choice.value].decimals;
    while (status == DIA_OK && dia_show_word(&text, word)) {
        if (choice.count == DIA_CHOICE_TEXTS)
            return dia_host_wrong(wrong, "a choice has at most %d texts", DIA_CHOICE_TEXTS);
        status = dia_show_text_read("a text of a choice", word, choice.text[choice.count++], wrong);
        if (status != DIA_OK || !dia_show_word(&text, word))
            break;
        if (strcmp(word, "within") == 0) {
            if (!dia_show_word(&text, word))
                return dia_host_wrong(wrong, "'within' needs a number behind it");
            status = dia_show_number_read("'within'", word, decimals, &choice.within, wrong);
            if (status == DIA_OK && (choice.within < 0 || dia_show_word(&text, word)))
                return dia_host_wrong(wrong, "'within' is 0 or more, and comes last");
            break;
        }
        if (choice.count == DIA_CHOICE_TEXTS)
            return dia_host_wrong(wrong, "a choice has at most %d texts", DIA_CHOICE_TEXTS);
        int32_t *limit = &choice.limit[choice.count - 1];
        status = dia_show_number_read("a limit of a choice", word, decimals, limit, wrong);
        if (status == DIA_OK && choice.count > 1 && *limit <= limit[-1])
            return dia_host_wrong(wrong, "the limits of a choice rise; found '%.40s'", word);
        if (status == DIA_OK && !text[strspn(text, " \t")])
            return dia_host_wrong(wrong, "a text is missing behind the limit '%.40s'", word);
    }
    if (status == DIA_OK && choice.count < 2)
        return dia_host_wrong(wrong, "%s", such);
    if (status == DIA_OK)
        show->choices[show->choice_count++] = choice;
    return status;
}

/* LAYER.KEY by VALUE from NUMBER to NUMBER gives AMOUNT to AMOUNT */
enum dia_status dia_show_drive_read(struct dia_show *show, const char *text,
                                    struct dia_diagnostic *wrong)
{
    static const char *const between[] = {"by", "from", "to", "gives", "to", NULL};
    char word[6][SHOW_WORD], said[SHOW_WORD];
    static const char such[] =
        "write it like this: drive sea.speed by wind from 0 to 20 gives 5cm/s to 80cm/s";
    struct dia_show_drive drive = {0};
    if (show->drive_count == DIA_SHOW_DRIVES)
        return dia_host_wrong(wrong, "a show has at most %d lines 'drive'", DIA_SHOW_DRIVES);
    for (int k = 0; k < 6; k++) {
        if (!dia_show_word(&text, word[k]) ||
            (k < 5 && (!dia_show_word(&text, said) || strcmp(said, between[k]) != 0)))
            return dia_host_wrong(wrong, "%s", such);
    }
    char *key = strchr(word[0], '.');
    if (!key || dia_show_word(&text, said))
        return dia_host_wrong(wrong, "%s", such);
    *key++ = 0;
    enum dia_status status = dia_show_layer_named(show, word[0], &drive.layer, wrong);
    if (status == DIA_OK)
        status = dia_show_value_named(show, word[1], &drive.value, wrong);
    if (status != DIA_OK)
        return status;
    uint8_t decimals = show->values[drive.value].decimals;
    const struct dia_rig_layer *layer = &show->layers[drive.layer];
    int32_t *const ends[] = {&drive.low, &drive.high};
    status = dia_show_number_read("'from'", word[2], decimals, &drive.from, wrong);
    if (status == DIA_OK)
        status = dia_show_number_read("'to'", word[3], decimals, &drive.to, wrong);
    if (status == DIA_OK && drive.to <= drive.from)
        return dia_host_wrong(wrong, "'to' is above 'from'; found %.40s to %.40s", word[2],
                              word[3]);
    for (int k = 0; k < 2 && status == DIA_OK; k++) {
        union dia_look_values values = layer->values;
        char setting[2 * SHOW_WORD];
        snprintf(setting, sizeof setting, "%s=%s", key, word[4 + k]);
        drive.param = dia_look_param(layer->look, key, wrong);
        if (!drive.param)
            return DIA_BAD_VALUE;
        if (drive.param->kind < DIA_PARAM_COUNT || drive.param->kind > DIA_PARAM_TIME)
            return dia_host_wrong(wrong, "'%s' is no number; values drive numbers", key);
        status = dia_look_set(layer->look, &values, setting, wrong);
        memcpy(ends[k], (const char *)&values + drive.param->offset, sizeof *ends[k]);
    }
    if (status == DIA_OK)
        show->drives[show->drive_count++] = drive;
    return status;
}

/* ---- all of it --------------------------------------------------------------------------------
 */

static int is_known(const struct dia_show *show, const struct dia_field *field)
{
    for (uint32_t k = 0; k < show->value_count + show->choice_count; k++) {
        const char *name = k < show->value_count ? show->values[k].name
                                                 : show->choices[k - show->value_count].name;
        if (strlen(name) == field->name_length &&
            memcmp(name, field->name, field->name_length) == 0)
            return 1;
    }
    return 0;
}

/* 1: it is on something made of dots or pixels. */
static int is_on_dots(const struct dia_rig *rig, const struct dia_rig_layer *layer)
{
    for (uint32_t k = 0; k < layer->parts; k++) {
        const struct dia_rig_part *part = &layer->part[k];
        const struct dia_rig_device *device = &rig->devices[part->number];
        if (!part->is_device || (!device->columns && !device->digits))
            return 1;
    }
    return layer->parts == 0;
}

/* 1: it is on digits. */
static int is_on_digits(const struct dia_rig *rig, const struct dia_rig_layer *layer)
{
    for (uint32_t k = 0; k < layer->parts; k++) {
        const struct dia_rig_part *part = &layer->part[k];
        if (part->is_device && rig->devices[part->number].digits)
            return 1;
    }
    return 0;
}

/* 1: the field names a drawing that does not show where the layer is. */
static int does_not_fit(const struct dia_show *show, const struct dia_rig *rig,
                        const struct dia_rig_layer *layer, const struct dia_field *field,
                        struct dia_diagnostic *note)
{
    const struct dia_face *face = layer->values.lettering.text.face;
    char name[DIA_DRAWING_NAME];
    snprintf(name, sizeof name, "%.*s", field->name_length, field->name);
    uint16_t sign = is_known(show, field) ? 0 : dia_drawing_files_sign(&show->drawings, name);
    if (sign == 0)
        return 0;
    const struct dia_dots *item = dia_drawing_files_of_sign(&show->drawings, sign);
    if (is_on_dots(rig, layer) && item->rows > face->rows) {
        dia_host_wrong(
            note,
            "the drawing '%s' is %u dots high, and the face of \"%.60s\" is %u: it shows "
            "nothing; the look draw shows it",
            name, item->rows, layer->says, face->rows);
        return 1;
    }
    if (is_on_digits(rig, layer))
        dia_host_wrong(note, "the drawing '%s' does not show on digits", name);
    return is_on_digits(rig, layer);
}

/* 1: it is on cells, two rows high, where only numbers are. */
static int is_tall(const struct dia_rig *rig, const struct dia_rig_layer *layer)
{
    for (uint32_t k = 0; k < layer->parts; k++) {
        const struct dia_rig_part *part = &layer->part[k];
        if (part->is_device && rig->devices[part->number].columns)
            return layer->values.lettering.text.form.size > 1;
    }
    return 0;
}

/* 1: a display that it is on has a sign neither in its ROM nor in a face for its glyphs. */
static int cells_lack(const struct dia_rig *rig, const struct dia_rig_layer *layer, uint16_t code)
{
    uint8_t rows[8];
    for (uint32_t k = 0; k < layer->parts; k++) {
        const struct dia_rig_part *part = &layer->part[k];
        const struct dia_rom *rom = part->is_device ? rig->devices[part->number].rom : NULL;
        if (rom && dia_rom_code(rom, code) < 0 && !dia_letters_rows(&dia_face_cell, code, rows) &&
            !dia_letters_rows(&dia_face_plain, code, rows))
            return 1;
    }
    return 0;
}

int dia_show_lacks(const struct dia_show *show, const struct dia_rig *rig, uint32_t number,
                   struct dia_diagnostic *note)
{
    const struct dia_rig_layer *layer = &show->layers[number];
    const struct dia_face *face = layer->values.lettering.text.face;
    rig = dia_rig_whole(rig);
    if (layer->look != &dia_look_text)
        return 0;
    for (const char *at = layer->says; *at;) {
        struct dia_field field;
        const char *sign = at;
        if (*at == '{' && at[1] != '{') {
            at = dia_field_read(at, &field);
            if (does_not_fit(show, rig, layer, &field, note))
                return 1;
            continue;
        }
        uint16_t code = dia_utf8_next(&at);
        if (is_tall(rig, layer) && (code > 127 || !strchr("0123456789-:. {}", (char)code))) {
            dia_host_wrong(note,
                           "at size 2 a display shows '%.*s' of \"%.60s\" as a space; it has "
                           "digits and - : .",
                           (int)(at - sign), sign, layer->says);
            return 1;
        }
        if (code != '\n' && cells_lack(rig, layer, code)) {
            dia_host_wrong(note, "a display cannot show '%.*s' of \"%.60s\" (byte %u)",
                           (int)(at - sign), sign, layer->says, (unsigned)(sign - layer->says) + 1);
            return 2;
        }
        if (code == '\n' || dia_face_has(face, code) || !is_on_dots(rig, layer))
            continue;
        dia_host_wrong(note, "the face of \"%.60s\" has no '%.*s' (byte %u); it shows as a box",
                       layer->says, (int)(at - sign), sign, (unsigned)(sign - layer->says) + 1);
        return 1;
    }
    return 0;
}

/* 1: a bar of it has two ends. */
static int has_ends(const struct dia_show *show, const char *name)
{
    struct dia_diagnostic none = {""};
    uint8_t number;
    if (dia_show_value_named(show, name, &number, &none) != DIA_OK)
        return 0; /* a choice */
    const struct dia_show_value *v = &show->values[number];
    return v->source == DIA_VALUE_SIGNAL || (v->min != INT32_MIN && v->max != INT32_MAX);
}

enum dia_status dia_show_check(const struct dia_show *show, struct dia_diagnostic *wrong)
{
    for (uint32_t k = 0; k < show->layer_count; k++) {
        for (const char *at = show->layers[k].says; *at;) {
            struct dia_field field;
            char name[DIA_RIG_NAME];
            uint8_t none;
            if (*at != '{' || at[1] == '{') {
                at += *at == '{' ? 2 : 1;
                continue;
            }
            const char *begin = at;
            at = dia_field_read(at, &field);
            if (!field.ok)
                return dia_host_wrong(
                    wrong,
                    "'%.*s' is no field; write such as {depth}, {depth:5.2} or {{ for a "
                    "bracket",
                    (int)(at - begin < 60 ? at - begin : 60), begin);
            snprintf(name, sizeof name, "%.*s", field.name_length, field.name);
            if (!is_known(show, &field) && dia_drawing_files_sign(&show->drawings, name))
                continue; /* dia_show_lacks looks whether it fits */
            if (!is_known(show, &field))
                return dia_show_value_named(show, name, &none, wrong);
            if (field.bar && !has_ends(show, name))
                return dia_host_wrong(wrong,
                                      "'%.*s' is a bar, and nobody knows where it ends: give the "
                                      "value '%s' min= and max=",
                                      (int)(at - begin < 60 ? at - begin : 60), begin, name);
        }
    }
    return DIA_OK;
}
