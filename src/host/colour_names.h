/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_COLOUR_NAMES_H
#define DIA_HOST_COLOUR_NAMES_H

#include <stdint.h>

struct colour_name {
    const char *name;
    uint32_t rgb; /* 0xrrggbb */
};
extern const struct colour_name dia_colour_names[]; /* ends with no name */

#endif
