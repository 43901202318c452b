/* SPDX-License-Identifier: MIT */
#include "noise.h"

#define DOWN 0x10000u /* to the same column on the next line */

void dia_noise_line_at(struct noise_line *line, uint32_t x)
{
    line->left = (uint16_t)(x >> 16);
    line->right = (uint16_t)((x >> 16) + 1u);
    line->across = noise_eased((uint16_t)x);
    line->lower = 0;
    line->begun = 0;
}

/* The lower of two lines is the upper one of the next two. */
void dia_noise_line_go(const struct noise_row *row, struct noise_line *line, uint16_t number)
{
    uint16_t apart = (uint16_t)((uint16_t)(line->left >> 16) - number);
    if (line->begun && apart == 1)
        return;
    uint8_t lines = line->begun && apart == 0 ? 1 : 2;
    line->begun = 1;
    if (lines == 2) {
        uint32_t above = (uint32_t)(uint16_t)(number - 1u) << 16;
        line->left = above | (uint16_t)line->left;
        line->right = above | (uint16_t)line->right;
    }
    for (; lines != 0; lines--) {
        line->upper = line->lower;
        line->left += DOWN;
        line->right += DOWN;
        line->lower = dia_noise_at(row, line->left);
        if (line->across != 0) /* the second column, where it counts */
            line->lower = mixture_of(line->lower, dia_noise_at(row, line->right), line->across);
    }
}
