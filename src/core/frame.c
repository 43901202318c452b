/* SPDX-License-Identifier: MIT */
#include <diachrome/frame.h>

void dia_frame_fill(const struct dia_frame *frame, struct dia_rgb colour)
{
    for (uint32_t i = 0; i < frame->count; i++)
        frame->pixels[i] = colour;
}
