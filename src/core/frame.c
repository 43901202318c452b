/* SPDX-License-Identifier: MIT */
#include <diachrome/frame.h>

#include "join.h"

void dia_frame_fill(const struct dia_frame *frame, struct dia_rgb colour)
{
    dia_fill_run(frame->pixels, colour, frame->count);
}
