/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdlib.h>
#include <string.h>

#include <diachrome/colour_text.h>

static struct dia_diagnostic wrong;

/* From the tables and examples of CSS Color Module Level 4, or worked out by hand. */
static const struct {
    const char *text;
    uint32_t rgb;
} colours[] = {
    {"#f80", 0xff8800},
    {"#FF8800", 0xff8800},
    {"darkorange", 0xff8c00},
    {"RebeccaPurple", 0x663399},
    {"green", 0x008000},
    {"gray", 0x808080},
    {"yellowgreen", 0x9acd32},
    {"rgb(255 136 0)", 0xff8800},
    {"rgb( 255,136 , 0 )", 0xff8800},
    {"rgb(100% 20% 0%)", 0xff3300},
    {"hsl(120 100% 25%)", 0x008000},
    {"hsl(270, 60%, 70%)", 0xb385e0},
    {"hsl(-90deg 60% 70%)", 0xb385e0},
    {"hsl(0.75turn 60% 70%)", 0xb385e0},
    {"hsl(0 0% 100%)", 0xffffff},
    {"oklch(62.796% 0.25768 29.23388)", 0xff0000},
    {"oklch(0.51975 0.17686 142.495)", 0x008000},
    {"oklch(1 0 0)", 0xffffff},
    {"oklch(0 0.2 90)", 0x000000},
    {"oklch(40.1% 0.123 21.57)", 0x7d2329},
};

static void every_form_gives_its_colour(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof colours / sizeof colours[0]; i++) {
        struct dia_rgb rgb = {1, 2, 3};
        if (dia_colour_read(colours[i].text, &rgb, &wrong) != DIA_OK)
            fail_msg("%s: %s", colours[i].text, wrong.text);
        int off = abs(rgb.r - (int)(colours[i].rgb >> 16)) +
                  abs(rgb.g - (int)(colours[i].rgb >> 8 & 255)) +
                  abs(rgb.b - (int)(colours[i].rgb & 255));
        if (off > 1)
            print_error("%s is %02x%02x%02x\n", colours[i].text, rgb.r, rgb.g, rgb.b);
        assert_true(off <= 1);
    }
}

/* Too much chroma is taken back until a screen can show it; lightness and hue stay. */
static void what_cannot_be_shown_loses_chroma(void **state)
{
    (void)state;
    struct dia_rgb rgb;
    assert_int_equal(dia_colour_read("oklch(0.7 0.4 150)", &rgb, &wrong), DIA_OK);
    assert_true(rgb.g > 180 && rgb.r < 10 && rgb.b > 60 && rgb.b < 120);
}

static const struct {
    const char *text, *said;
} mistakes[] = {
    {"#ff88", "three or six hex digits after '#'"},
    {"#gg8800", "three or six hex digits after '#'"},
    {"ornge", "did you mean 'orange'?"},
    {"", "a colour is written as #ff8800"},
    {"rgb(256 0 0)", "three numbers of 0 to 255"},
    {"rgb(10% 0 0)", "three numbers of 0 to 255"},
    {"rgb(1 2 3", "three numbers of 0 to 255"},
    {"rgb(1 2 3) x", "three numbers of 0 to 255"},
    {"rgb(nan 0 0)", "three numbers of 0 to 255"},
    {"hsl(10 20 30)", "saturation and lightness of 0% to 100%"},
    {"hsl(10em 20% 30%)", "a hue in degrees"},
    {"oklch(2 0.1 0)", "a lightness of 0 to 1"},
    {"oklch(0.5 0.6 0)", "a chroma of 0 to 0.5"},
};

static void mistakes_say_what_would_be_right(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof mistakes / sizeof mistakes[0]; i++) {
        struct dia_rgb rgb = {1, 2, 3};
        assert_int_equal(dia_colour_read(mistakes[i].text, &rgb, &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, mistakes[i].said))
            print_error("%s: %s\n", mistakes[i].text, wrong.text);
        assert_non_null(strstr(wrong.text, mistakes[i].said));
        assert_true(rgb.r == 1 && rgb.g == 2 && rgb.b == 3);
    }
}

/* Damaged texts are colours or are refused; nothing else. */
static void any_text_is_read_or_refused(void **state)
{
    (void)state;
    uint32_t seed = 8, read = 0;
    for (int k = 0; k < 200000; k++) {
        char text[80];
        size_t n = sizeof colours / sizeof colours[0];
        strcpy(text, colours[random_below(&seed, (uint32_t)n)].text);
        for (uint32_t hits = random_below(&seed, 4); hits > 0; hits--)
            text[random_below(&seed, (uint32_t)strlen(text))] =
                "0123456789abcdef#()%., turndeg-+"[random_below(&seed, 32)];
        struct dia_rgb rgb = {1, 2, 3};
        wrong.text[0] = 0;
        if (dia_colour_read(text, &rgb, &wrong) == DIA_OK)
            read++;
        else
            assert_true(wrong.text[0] != 0 && rgb.r == 1);
    }
    assert_in_range(read, 40000, 160000);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_form_gives_its_colour),
        cmocka_unit_test(what_cannot_be_shown_loses_chroma),
        cmocka_unit_test(mistakes_say_what_would_be_right),
        cmocka_unit_test(any_text_is_read_or_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
