/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/colour_text.h>
#include <diachrome/look_text.h>
#include <diachrome/palette_file.h>

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
    {"5000K", 0xffe6d0}, /* by the equations of gradient.h */
    {"2500 K", 0xffa54a},
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
    {"900K", "a temperature is 1667 K to 25000 K; found '900K'"},
    {"2700 k", "unknown colour '2700 k'"},
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

#define GPL "test.gpl"

static enum dia_status read_palette(const char *text, struct dia_palette *palette)
{
    write_file(GPL, text, strlen(text));
    return dia_palette_read(GPL, palette, &wrong);
}

static void palettes_go_out_and_come_in(void **state)
{
    (void)state;
    struct dia_palette palette = {.count = 3, .colours = {{0, 8, 16}, {255, 136, 0}, {1, 2, 3}}},
                       back = {0};
    assert_int_equal(dia_palette_write(GPL, "tide", &palette, &wrong), DIA_OK);
    assert_int_equal(dia_palette_read(GPL, &back, &wrong), DIA_OK);
    assert_int_equal(back.count, 3);
    assert_memory_equal(back.colours, palette.colours, 3 * sizeof back.colours[0]);

    struct dia_drift drift;
    dia_drift_defaults(&drift);
    assert_int_equal(dia_look_set(&dia_look_drift, &drift, "colours=@" GPL, &wrong), DIA_OK);
    assert_int_equal(drift.palette.count, 3);
    assert_int_equal(
        dia_look_set(&dia_look_drift, &drift, "colours=red, rgb(0, 0, 9),#0f0", &wrong), DIA_OK);
    assert_memory_equal(drift.palette.colours,
                        ((struct dia_rgb[]){{255, 0, 0}, {0, 0, 9}, {0, 255, 0}}), 9);

    /* as other programs write it */
    assert_int_equal(
        read_palette("GIMP Palette\r\nName: x\r\n# note\r\n  9 10\t11\tdusk\r\n", &back), DIA_OK);
    assert_int_equal(back.count, 1);
    assert_memory_equal(back.colours, ((uint8_t[]){9, 10, 11}), 3);

    static const struct {
        const char *text, *said;
    } bad[] = {{"", GPL ":1: a palette begins with"},
               {"Palette\n", GPL ":1: a palette begins with"},
               {"GIMP Palette\n#\n", GPL ": there is no colour in it"},
               {"GIMP Palette\n1 2 256\n", GPL ":2: a colour is three numbers of 0 to 255"},
               {"GIMP Palette\n1 2\n", GPL ":2: a colour is three numbers"},
               {"GIMP Palette\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n"
                "1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n1 2 3\n",
                GPL ":18: a look takes at most 16 colours"}};
    for (size_t i = 0; i < sizeof bad / sizeof bad[0]; i++) {
        assert_int_equal(read_palette(bad[i].text, &back), DIA_BAD_VALUE);
        if (!strstr(wrong.text, bad[i].said))
            print_error("%s\n", wrong.text);
        assert_non_null(strstr(wrong.text, bad[i].said));
        assert_int_equal(back.count, 1);
    }
    remove(GPL);
    assert_int_equal(dia_palette_read(GPL, &back, &wrong), DIA_BAD_VALUE);
}

/* Stops stay where they are: 60 % is 39321 of 65535. */
static void gradients_are_palettes(void **state)
{
    (void)state;
    struct dia_drift drift;
    char written[400];
    dia_drift_defaults(&drift);
    assert_int_equal(dia_look_set(&dia_look_drift, &drift,
                                  "colours=gradient(black, rgb(255 0 0) 60%, blue 61%)", &wrong),
                     DIA_OK);
    assert_int_equal(drift.palette.count, 3);
    assert_int_equal(drift.palette.places[1], 39321);
    struct dia_rgb red = dia_palette_at(&drift.palette, 39321), half, last;
    assert_memory_equal(&red, ((uint8_t[]){255, 0, 0}), 3);
    half = dia_palette_at(&drift.palette, 39321 / 2); /* half of the light is code 188 */
    assert_in_range(half.r, 187, 188);
    last = dia_palette_at(&drift.palette, 65535);
    assert_memory_equal(&last, ((uint8_t[]){0, 0, 255}), 3);
    assert_string_equal(
        dia_param_value_text(&dia_look_drift.params[0], &drift, written, sizeof written),
        "gradient(#000000 0%,#ff0000 60%,#0000ff 61%)");
    assert_int_equal(
        dia_look_set(&dia_look_drift, &drift, "colours=gradient(black,white,black)", &wrong),
        DIA_OK);
    assert_in_range(dia_palette_at(&drift.palette, 32767).g, 255, 255);
    /* the mean of red and green in OKLab is 208 168 0, in light 188 188 0 */
    assert_int_equal(
        dia_look_set(&dia_look_drift, &drift, "colours=gradient(oklab red, lime)", &wrong), DIA_OK);
    assert_int_equal(drift.palette.count, 16);
    assert_in_range(dia_palette_at(&drift.palette, 32767).r, 207, 209);
    assert_in_range(dia_palette_at(&drift.palette, 32767).g, 167, 169);
    assert_int_equal(
        dia_look_set(&dia_look_drift, &drift, "colours=gradient(light red, lime)", &wrong), DIA_OK);
    assert_in_range(dia_palette_at(&drift.palette, 32768).r, 187, 189);
    drift.palette.places[1] = 0; /* no more than the first */
    assert_ptr_equal(dia_look_check(&dia_look_drift, &drift), &dia_look_drift.params[0]);
    static const struct {
        const char *text, *said;
    } bad[] = {{"gradient(red, gold", "has no closing bracket"},
               {"gradient(red, golf 20%)", "stop 2: unknown colour"},
               {"gradient(red, gold 120%)", "a stop's place must be 0 % to 100 %"},
               {"gradient(red 50%, gold 20%)", "rise from one to the next"},
               {"gradient(a,a,a,a,a,a,a,a,a,a,a,a,a,a,a,a,a)", "stop 1"},
               {"gradient()", "stop 1"}};
    for (size_t k = 0; k < sizeof bad / sizeof bad[0]; k++) {
        char text[120];
        snprintf(text, sizeof text, "colours=%s", bad[k].text);
        assert_int_equal(dia_look_set(&dia_look_drift, &drift, text, &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, bad[k].said))
            fail_msg("%s: said '%s'", text, wrong.text);
    }
}

/* Damaged texts are colours or are refused; nothing else. */
static void any_text_is_read_or_refused(void **state)
{
    (void)state;
    uint32_t seed = 8, read = 0;
    for (int k = 0; k < 50000; k++) {
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
    assert_in_range(read, 10000, 40000);
}

/* Nudged up and down, every parameter of every look goes through its range and stays in it. */
static void a_nudge_stays_in_its_range(void **state)
{
    (void)state;
    for (size_t l = 0; dia_looks[l]; l++) {
        for (uint8_t k = 0; k < dia_looks[l]->param_count; k++) {
            const struct dia_param *param = &dia_looks[l]->params[k];
            union dia_look_values values, before;
            memset(&values, 0, sizeof values);
            dia_looks[l]->defaults(&values);
            before = values;
            for (int way = -1; way <= 1; way += 2) {
                int32_t number;
                for (int n = 0; n < 1200; n++) {
                    dia_param_nudge(param, &values, way);
                    if (dia_look_check(dia_looks[l], &values) != NULL)
                        fail_msg("%s %s: out of its range", dia_looks[l]->name, param->key);
                }
                memcpy(&number, (char *)&values + param->offset, sizeof number);
                if (param->kind == DIA_PARAM_PALETTE || param->kind == DIA_PARAM_TEXT ||
                    param->kind == DIA_PARAM_FACE)
                    assert_memory_equal(&values, &before, sizeof values);
                else if (param->kind != DIA_PARAM_COLOUR && param->kind != DIA_PARAM_CHOICE &&
                         param->max < 1000000)
                    assert_int_equal(number, way < 0 ? param->min : param->max);
            }
        }
    }
    /* twelve hues on, it is the same again; what has no hue begins with red */
    struct dia_steady steady = {{9, 9, 9}};
    const struct dia_param *colour = &dia_look_steady.params[0];
    dia_param_nudge(colour, &steady, 1);
    assert_memory_equal(&steady.colour, ((uint8_t[]){255, 0, 0}), 3);
    dia_param_nudge(colour, &steady, -1);
    assert_memory_equal(&steady.colour, ((uint8_t[]){255, 0, 128}), 3);
    for (int n = 0; n < 13; n++)
        dia_param_nudge(colour, &steady, 1);
    assert_memory_equal(&steady.colour, ((uint8_t[]){255, 0, 0}), 3);
    /* a length grows by a quarter: 100 mm, 125 mm; and from nothing by a thousandth of 100 m */
    struct dia_wipe wipe;
    dia_wipe_defaults(&wipe);
    for (uint8_t k = 0; k < dia_look_wipe.param_count; k++) {
        const struct dia_param *param = &dia_look_wipe.params[k];
        if (strcmp(param->key, "soft") != 0)
            continue;
        wipe.soft_um = 1000000;
        dia_param_nudge(param, &wipe, 1);
        assert_int_equal(wipe.soft_um, 1250000);
        wipe.soft_um = 0;
        dia_param_nudge(param, &wipe, 1);
        assert_int_equal(wipe.soft_um, 100000);
        dia_param_nudge(param, &wipe, -1);
        assert_int_equal(wipe.soft_um, 0);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_nudge_stays_in_its_range),
        cmocka_unit_test(every_form_gives_its_colour),
        cmocka_unit_test(what_cannot_be_shown_loses_chroma),
        cmocka_unit_test(mistakes_say_what_would_be_right),
        cmocka_unit_test(palettes_go_out_and_come_in),
        cmocka_unit_test(gradients_are_palettes),
        cmocka_unit_test(any_text_is_read_or_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
