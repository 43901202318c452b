/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_LOOK_GLUE_H
#define DIA_CORE_LOOK_GLUE_H

#include <stddef.h>

#include <diachrome/config.h>
#include <diachrome/look.h>

/* The two functions that let a descriptor call a look without knowing its struct. */
#define LOOK_GLUE(look)                                                                            \
    static void look##_defaults_of_any(void *values)                                               \
    {                                                                                              \
        look##_defaults((struct look *)values);                                                    \
    }                                                                                              \
    static void look##_render_of_any(const void *values, const struct dia_surface *surface,        \
                                     uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out) \
    {                                                                                              \
        look##_render((const struct look *)values, surface, ms, first, n, out);                    \
    }

/* The same of one that goes a way. */
#define LOOK_WAY(look)                                                                             \
    static uint32_t look##_way_of_any(const void *values, const struct dia_surface *surface)       \
    {                                                                                              \
        return look##_way_ms((const struct look *)values, surface);                                \
    }

/* The rows of a look's table of parameters; `look` is the name of its struct. */
#define PARAM(look, field, word, says, what, low, high)                                            \
    .key = word, .help = says, .kind = (what), .min = (low), .max = (high),                        \
    .offset = offsetof(struct look, field)
#define PARAM_COLOUR(look, field, word, says)                                                      \
    {                                                                                              \
        PARAM(look, field, word, says, DIA_PARAM_COLOUR, 0, 0)                                     \
    }
#define PARAM_PALETTE(look, field, word, says)                                                     \
    {                                                                                              \
        PARAM(look, field, word, says, DIA_PARAM_PALETTE, 0, 0)                                    \
    }
#define PARAM_NUMBER(look, field, word, says, what, low, high)                                     \
    {                                                                                              \
        PARAM(look, field, word, says, what, low, high)                                            \
    }
/* A field that holds which of the words it is, from 0. */
#define PARAM_CHOICE(look, field, word, says, list, n)                                             \
    {                                                                                              \
        PARAM(look, field, word, says, DIA_PARAM_CHOICE, 0, (n)-1), .words = (list)                \
    }

/* The fields of a descriptor that are the same words for every look. */
#define LOOK_COMMON(look, list)                                                                    \
    .params = (list), .param_count = (uint8_t)(sizeof(list) / sizeof((list)[0])),                  \
    .size = (uint16_t)sizeof(struct look), .defaults = look##_defaults_of_any,                     \
    .render = look##_render_of_any

#endif
