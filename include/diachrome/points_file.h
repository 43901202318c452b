/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_POINTS_FILE_H
#define DIACHROME_POINTS_FILE_H

#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "status.h"
#include "surface.h"

DIA_BEGIN

/*
 * Reads where elements are: CSV (RFC 4180) with a first line `index,x,y` or `index,x,y,z`, then a
 * line for each element in any order; x (to the right), y (down) and z in millimetres, z being
 * read but not used. Every index from 0 to count - 1 must be there once. DIA_BAD_VALUE and
 * file:line for what is wrong, or when the file cannot be read.
 *
 * Cost: reads the file once; a byte of memory a point besides yours.
 * Context: one thread at a time for an object; not from an interrupt.
 */
enum dia_status dia_points_read(const char *path, struct dia_point *points, uint32_t count,
                                struct dia_diagnostic *wrong);

DIA_END

#endif
