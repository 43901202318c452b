/* SPDX-License-Identifier: MIT */
/* proof: small: -eva-precision 2 -eva-slevel 400 */
#include "proof.h"

/* Widths of glyphs; numbers and times as texts: any value in forms of every kind, each into as many
 * bytes as number.h says. */

static const uint8_t widths[] = {0, 1, 42, 255};
static const uint8_t decimals[] = {0, 2, 255};
static const uint8_t bases[] = {10, 16};

static void number(uint8_t width, uint8_t behind_point, uint8_t base, uint8_t merged)
{
    static char text[DIA_NUMBER_BYTES];
    struct dia_number_form form = {.width = width,
                                   .decimals = behind_point,
                                   .base = base,
                                   .sign = (uint8_t)any(0, 1),
                                   .fill = (uint8_t)any(0, 1),
                                   .merged = merged,
                                   .group = (char)any(0, 1),
                                   .point = (char)any(0, 1)};
    dia_number_text(any(INT32_MIN, INT32_MAX), &form, text);
}

int main(void)
{
    static char text[DIA_NUMBER_BYTES];
    for (int w = 0; w < 4; w++) {
        for (int d = 0; d < 3; d++) {
            for (int b = 0; b < 2; b++) {
                number(widths[w], decimals[d], bases[b], 0);
                number(widths[w], decimals[d], bases[b], 1);
            }
        }
        for (uint8_t parts = 0; parts < 5; parts++) {
            struct dia_clock_form form = {.width = widths[w],
                                          .parts = parts,
                                          .fill = (uint8_t)any(0, 1),
                                          .colon = (char)any(0, 1)};
            dia_clock_text(any_number(), &form, text);
        }
    }
    static char sign[4];
    dia_utf8_of((uint16_t)any(0, UINT16_MAX), sign);
    dia_face_has(&dia_face_plain, (uint16_t)any(0, UINT16_MAX));
    dia_face_width(&dia_face_plain, (uint16_t)any(0, UINT16_MAX));
    dia_number_without(any(INT32_MIN, INT32_MAX), (uint8_t)any(0, 255));
    return 0;
}
