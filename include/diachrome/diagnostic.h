/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DIAGNOSTIC_H
#define DIACHROME_DIAGNOSTIC_H

#include "linkage.h"

DIA_BEGIN

/*
 * What is wrong with something a person wrote, and what would be right: one line, without a full
 * stop or a line end. For files it begins with file:line:column. Of a rig file each mistake has a
 * line, in the order of the file, at most 20 of them.
 */
struct dia_diagnostic {
    char text[4096];
};

DIA_END

#endif
