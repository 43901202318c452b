/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LOOK_TEXT_H
#define DIACHROME_LOOK_TEXT_H

#include "diagnostic.h"
#include "linkage.h"
#include "look.h"
#include "status.h"

DIA_BEGIN

/* Looks and their parameters as people write them. */

#define DIA_TEXT_SAYS 480 /* bytes of a text of a layer, the zero included */

/* Looks that there are on a desktop alone, beside dia_looks; NULL after the last. */
extern const struct dia_look *const dia_desk_looks[];

/* As dia_look_find, and those of a desktop; a diagnostic with the nearest name, or all names, when
 * there is none. */
const struct dia_look *dia_look_named(const char *name, struct dia_diagnostic *wrong);

/*
 * Sets one parameter from "key=value": colours as dia_colour_read takes them, several with commas,
 * others as a number with its unit ("speed=20 cm/s", "saturation=80%"). DIA_BAD_VALUE and a
 * diagnostic, with nothing changed, when the key is unknown or the value not right.
 *
 * Cost: one pass over the text; microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
enum dia_status dia_look_set(const struct dia_look *look, void *values, const char *setting,
                             struct dia_diagnostic *wrong);

/* An amount to change a parameter by, in its unit: 0 to the width of its range. The parameter must
 * be a number. */
enum dia_status dia_look_amount(const struct dia_look *look, const char *key, const char *text,
                                const struct dia_param **param, int32_t *amount,
                                struct dia_diagnostic *wrong);

/* The parameter of that name, or NULL and a diagnostic. */
const struct dia_param *dia_look_param(const struct dia_look *look, const char *key,
                                       struct dia_diagnostic *wrong);

/* A parameter's value, or the range of all its values, or the name of its unit ("" for none), in
 * the same words. Return text. */
char *dia_param_value_text(const struct dia_param *param, const void *values, char *text, int size);
char *dia_param_range_text(const struct dia_param *param, char *text, int size);
const char *dia_param_unit(const struct dia_param *param);

/*
 * Changes a parameter a little, way 1 up or -1 down: numbers by 1, shares by 5 %, lengths, speeds
 * and times by a quarter, choices to the next, colours to the next of twelve hues. It stays in its
 * range. A palette, a text and a face stay as they are.
 */
void dia_param_nudge(const struct dia_param *param, void *values, int way);

DIA_END

#endif
