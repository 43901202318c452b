/* SPDX-License-Identifier: MIT */
#include <diachrome/number.h>

#include "board.h"

/* Numbers and times as texts, a checksum for each form: the same on every processor. */

static uint32_t sum;

static void add(const char *text)
{
    for (; *text; text++)
        sum = (sum ^ (uint8_t)*text) * 16777619u;
}

static void say(const char *what, uint32_t number)
{
    for (; *what; what++)
        board_put(*what);
    board_put(' ');
    for (uint8_t shift = 32; shift != 0;) {
        shift = (uint8_t)(shift - 4u);
        board_put("0123456789abcdef"[number >> shift & 15u]);
    }
    board_put('\n');
}

int main(void)
{
    static const struct dia_number_form forms[] = {
        {.width = 4},
        {.width = 6, .decimals = 2, .fill = DIA_FILL_ZEROS},
        {.width = 4, .decimals = 3, .merged = 1},
        {.decimals = 9, .sign = DIA_SIGN_ALWAYS},
        {.group = ' '},
        {.base = 16, .group = ' '},
        {.width = 12, .base = 2},
    };
    char text[DIA_NUMBER_BYTES];
    board_begin();
    for (uint8_t k = 0; k < sizeof forms / sizeof forms[0]; k++) {
        uint32_t value = 1;
        sum = 2166136261u;
        for (uint16_t n = 0; n < 300; n++) {
            value = value * 1664525u + 1013904223u;
            dia_number_text((int32_t)value >> n % 32u, &forms[k], text);
            add(text);
            dia_number_text(dia_number_without((int32_t)value, (uint8_t)(n % 10u)), &forms[k],
                            text);
            add(text);
        }
        say("number", sum);
    }
    for (uint8_t parts = DIA_CLOCK_HMS; parts <= DIA_CLOCK_S; parts++) {
        struct dia_clock_form form = {.width = 9, .parts = parts, .colon = ':'};
        sum = 2166136261u;
        for (uint32_t seconds = 7; seconds < 0x70000000u; seconds += seconds / 3u + 11u) {
            dia_clock_text(seconds, &form, text);
            add(text);
        }
        say("clock", sum);
    }
    board_end();
    return 0;
}
