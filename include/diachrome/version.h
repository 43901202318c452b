/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_VERSION_H
#define DIACHROME_VERSION_H

#include "linkage.h"

/*
 * Which version this is. The numbers are of the headers, the function is of the library: where both
 * are the same, they belong together. While MAJOR is 0, every MINOR may change the interface.
 */
#define DIA_VERSION_MAJOR 0
#define DIA_VERSION_MINOR 1
#define DIA_VERSION_PATCH 0
#define DIA_VERSION       "0.1.0"

DIA_BEGIN

/* "0.1.0". Cost: none. Context: any. */
const char *dia_version(void);

DIA_END

#endif
