/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PIN_H
#define DIACHROME_PIN_H

#include "linkage.h"

DIA_BEGIN

/* Instead of the number of a pin, wherever one may be left out: nothing is connected there. */
#define DIA_NO_PIN 255

DIA_END

#endif
