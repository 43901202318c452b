/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/text.h>

static const uint8_t *left;
static size_t left_count;

static int32_t between(int32_t low, int32_t high)
{
    uint32_t value = 0;
    for (int k = 0; k < 4 && left_count; k++, left_count--)
        value = value << 8 | *left++;
    return (int32_t)(low + (int64_t)(value % ((uint32_t)(high - low) + 1u)));
}

/* A text of any bytes in any form on any screen: parts of it are the same as the whole, and nothing
 * is outside of what was asked for. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    enum { MOST = 200 };
    uint8_t whole[MOST + 1], part[MOST + 1];
    uint16_t cells[MOST + 1];
    left = data;
    left_count = size;
    struct dia_text text = {.face = between(0, 1) ? &dia_face_plain : &dia_face_small};
    text.form = (struct dia_text_form){
        between(1, 16),      between(-8, 32),   between(0, 2),        between(0, 2),
        between(0, 1),       between(0, 7),     between(0, 10000000), between(0, 1000),
        between(0, 3600000), between(0, 60000), between(0, 3600000),  between(0, 1),
        between(0, 1)};
    struct dia_screen screen = {(uint16_t)between(1, 65535), (uint16_t)between(1, 65535),
                                between(1, 16000000)};
    uint32_t ms = (uint32_t)between(0, INT32_MAX);
    uint16_t first = (uint16_t)between(0, screen.columns - 1), top = (uint16_t)between(0, 40);
    uint16_t n = (uint16_t)(screen.columns - first < MOST ? screen.columns - first : MOST);
    char *says = text_of(left, left_count < 300 ? left_count : 300);
    text.says = says;
    whole[n] = 0x5a;
    dia_text_columns(&text, &screen, ms, first, n, top, whole);
    uint16_t half = n / 2;
    dia_text_columns(&text, &screen, ms, (uint16_t)(first + half), (uint16_t)(n - half), top, part);
    if (whole[n] != 0x5a || memcmp(whole + half, part, (size_t)(n - half)) != 0)
        abort();
    screen.columns = screen.columns < MOST ? screen.columns : MOST;
    cells[screen.columns] = 0x5a;
    dia_text_cells(&text, &screen, ms, top, cells);
    dia_text_digits(&text, &screen, ms, 0, cells);
    dia_text_segments(&text, &screen, ms, 0, part);
    if (cells[screen.columns] != 0x5a)
        abort();
    struct dia_text_extent extent = dia_text_extent_of(&text, &screen);
    if (extent.rows == 0 && left_count)
        abort();
    free(says);
    return 0;
}
