/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_ROM_H
#define DIA_HOST_RIG_ROM_H

#include <diachrome/rig.h>

/* The code of the first character of a UTF-8 text in the ROM of a character display, and on to the
 * next one. -1: it has none. */
int dia_rig_cell_code(const struct dia_rig_device *device, const char **text);

#endif
