/* SPDX-License-Identifier: MIT */
#include <diachrome/lamp.h>
#include <diachrome/letters.h>
#include <diachrome/number.h>
#include <diachrome/path.h>
#include <diachrome/value.h>

#include "board.h"

/* Numbers, times, values in texts, segments, dots of cells and paths, a checksum for each: the same
 * on every processor. */

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

static void add_number(uint32_t number)
{
    for (uint8_t k = 0; k < 4; k++, number >>= 8)
        sum = (sum ^ (number & 255u)) * 16777619u;
}

static void values_in_texts(void)
{
    static const char form[] = "{a:7.2}|{a:+09.1}|{b:x}|{b:8bar}|{c:6hms}|{c:<9ms}|{t:4}|{{{b}";
    char text[100];
    uint8_t segments[24];
    for (uint8_t merged = 0; merged < 2; merged++) {
        int32_t number = 1;
        sum = 2166136261u;
        for (uint8_t n = 0; n < 60; n++) {
            number = (int32_t)((uint32_t)number * 1664525u + 1013904223u);
            struct dia_value values[] = {
                {.name = "a", .number = number >> n % 28, .decimals = (uint8_t)(n % 10)},
                {.name = "b", .number = number / 3, .least = -900000000, .most = 800000000},
                {.name = "c", .number = (number & 0x7fffffff) >> n % 20},
                {.name = "t", .text = "h\303\266her"},
            };
            dia_values_text(form, values, 4, merged, text, sizeof text);
            add(text);
            add_number(dia_segments_text(text, segments, sizeof segments));
            for (uint8_t k = 0; k < sizeof segments; k++)
                add_number(segments[k]);
        }
        say("value", sum);
    }
}

static void cells_and_paths(void)
{
    static const struct dia_point points[] = {{-30000, 5}, {81234, 99999}, {200000, 3}, {7, 40000}};
    struct dia_path path = {
        .points = points, .count = 4, .over_ms = 4321, .ease = &dia_ease_in_out};
    uint8_t rows[8];
    sum = 2166136261u;
    for (uint16_t sign = '!'; sign < 0x100; sign++) {
        add_number((uint32_t)(int32_t)dia_rom_code(&dia_rom_a00, sign));
        for (uint8_t k = 0; dia_letters_rows(&dia_face_cell, sign, rows) && k < 8; k++)
            add_number(rows[k]);
    }
    say("cell", sum);
    for (path.end = 0; path.end <= DIA_PATH_STAYS; path.end++) {
        sum = 2166136261u;
        for (uint32_t ms = 0; ms < 10000; ms += 617) {
            path.curved = (uint8_t)(ms & 1u);
            struct dia_point at = dia_path_at(&path, ms);
            add_number((uint32_t)at.x_um);
            add_number((uint32_t)at.y_um);
        }
        add_number((uint32_t)dia_path_length_um(&path));
        say("path", sum);
    }
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
    values_in_texts();
    cells_and_paths();
    board_end();
    return 0;
}
