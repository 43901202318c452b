/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/value.h>

#include "host_private.h"
#include "show_private.h"

/* Fields of texts: values, choices, and drawings by their names. */

/* Different drawings of one text: each takes as many bytes as {a} at least. */
#define MOST_DRAWN (DIA_TEXT_SAYS / 3)
#define ALL_VALUES (DIA_SHOW_VALUES + DIA_SHOW_CHOICES + MOST_DRAWN)

/* Signs of drawings as texts. */
struct drawn {
    char text[MOST_DRAWN][4];
    uint8_t count;
};

/* Choices with their drawings as signs. */
struct spelled {
    struct drawn drawn[DIA_SHOW_CHOICES];
    char text[DIA_SHOW_CHOICES][DIA_VALUE_TEXT];
};

/* The drawing that a field of a text names, of no value: its sign, or 0. */
static uint16_t sign_of(const struct dia_show *show, const struct dia_field *field)
{
    char name[DIA_DRAWING_NAME];
    if (field->name_length >= sizeof name || show->drawings.count == 0)
        return 0;
    memcpy(name, field->name, field->name_length);
    name[field->name_length] = 0;
    return dia_drawing_files_sign(&show->drawings, name);
}

/* Adds the drawings that a text names behind the n values. Returns how many there are then. */
static uint8_t add_drawings(const struct dia_show *show, const char *says, struct drawn *drawn,
                            struct dia_value *values, uint8_t n)
{
    struct dia_field field;
    for (const char *at = says; (at = strchr(at, '{')) != NULL && n < ALL_VALUES;) {
        uint8_t k = 0;
        if (at[1] == '{') {
            at += 2;
            continue;
        }
        at = dia_field_read(at, &field);
        uint16_t sign = sign_of(show, &field);
        while (k < n && (strlen(values[k].name) != field.name_length ||
                         memcmp(values[k].name, field.name, field.name_length) != 0))
            k++;
        if (k < n || sign == 0 || drawn->count == MOST_DRAWN)
            continue;
        values[n++] =
            (struct dia_value){.name = dia_drawing_files_of_sign(&show->drawings, sign)->name,
                               .text = dia_utf8_of(sign, drawn->text[drawn->count++])};
    }
    return n;
}

/* Texts of choices may name drawings too. */
static void spell_choices(const struct dia_show *show, struct spelled *spelled,
                          struct dia_value *values)
{
    for (uint32_t k = 0; k < show->choice_count; k++) {
        struct dia_value *choice = &values[show->value_count + k], signs[ALL_VALUES];
        spelled->drawn[k].count = 0;
        uint8_t n = add_drawings(show, choice->text, &spelled->drawn[k], signs, 0);
        if (n == 0)
            continue;
        dia_values_text(choice->text, signs, n, 0, spelled->text[k], sizeof spelled->text[k]);
        choice->text = spelled->text[k];
    }
}

/* 1: a text has signs of drawings in it. */
static int has_drawings(const char *says)
{
    while (*says) {
        if (dia_utf8_next(&says) >= DIA_DRAWING_SIGN)
            return 1;
    }
    return 0;
}

/* Its face, with the drawings that it shows. */
static enum dia_status join_face(struct dia_show *show, struct dia_rig_layer *layer)
{
    struct dia_text *text = &layer->values.lettering.text;
    const struct dia_face *with = dia_drawing_files_with(&show->drawings, text->face);
    text->face = with ? with : text->face;
    return with ? DIA_OK : DIA_PORT_FAILED;
}

enum dia_status dia_show_values_at(struct dia_show *show, uint32_t ms, struct dia_rig_layer *now)
{
    struct dia_value values[ALL_VALUES];
    struct spelled spelled;
    struct drawn drawn;
    enum dia_status status = DIA_OK;
    uint8_t n = 0, ready = 0;
    dia_show_drive_all(show, ms, now);
    for (uint32_t k = 0; k < show->layer_count; k++) {
        const char *says = show->layers[k].says;
        if (now[k].look != &dia_look_text || !strpbrk(says, "{}"))
            continue;
        if (!ready)
            n = dia_show_all_at(show, ms, values);
        if (!ready && show->drawings.count)
            spell_choices(show, &spelled, values);
        ready = 1;
        drawn.count = 0;
        uint8_t all = add_drawings(show, says, &drawn, values, n);
        dia_values_text(says, values, all, 0, now[k].says, sizeof now[k].says);
        dia_values_text(says, values, all, 1, now[k].says_on_digits, sizeof now[k].says_on_digits);
        if (show->drawings.count && has_drawings(now[k].says) && status == DIA_OK)
            status = join_face(show, &now[k]);
    }
    return status;
}
