/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FRAME_H
#define DIACHROME_FRAME_H

#include <stdint.h>

#include "colour.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Cost: three bytes a pixel, written once.
 * Context: any; threads may work at once on objects of their own.
 */

/* What every pixel of a surface should show at one moment. The caller owns the pixels. */
struct dia_frame {
    struct dia_rgb *pixels;
    uint32_t count; /* pixels */
};

/* Every pixel one colour. */
void dia_frame_fill(const struct dia_frame *frame, struct dia_rgb colour);

DIA_END

#endif
