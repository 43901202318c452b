/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PALETTE_FILE_H
#define DIACHROME_PALETTE_FILE_H

#include "diagnostic.h"
#include "linkage.h"
#include "look.h"

DIA_BEGIN

/*
 * Palettes in files of the GIMP palette format: a line "GIMP Palette", then perhaps "Name: ..." and
 * "Columns: n", then a line a colour, "255 136 0 name"; lines that begin with # are left out.
 *
 * Cost: reads the file once; at most 1 MB of it.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* DIA_BAD_VALUE and file:line: what is wrong, with palette untouched: no such file, not one of
 * these, no colours, or more than DIA_PALETTE_MAX. */
enum dia_status dia_palette_read(const char *path, struct dia_palette *palette,
                                 struct dia_diagnostic *wrong);

/* The file is there whole or not at all. */
enum dia_status dia_palette_write(const char *path, const char *name,
                                  const struct dia_palette *palette, struct dia_diagnostic *wrong);

DIA_END

#endif
