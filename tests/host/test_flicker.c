/* SPDX-License-Identifier: MIT */
/* Flicker to eyes and cameras: by hand, in check, and in the picture that a camera takes. */
#include <math.h>

#include <diachrome/flicker.h>

#include "../run.h"

/* IEEE 1789-2015: low risk 0.025 % a hertz below 90 Hz and 0.08 % up to 1250 Hz, no effect 0.01 %
 * and 0.0333 % up to 3000 Hz. */
static void classes_of_the_standard(void **state)
{
    (void)state;
    assert_int_equal(dia_flicker_low_risk_permille(50000), 12); /* 1.25 % */
    assert_int_equal(dia_flicker_low_risk_permille(100000), 80);
    assert_int_equal(dia_flicker_low_risk_permille(1249000), 999);
    assert_int_equal(dia_flicker_class(1249000, 1000), DIA_FLICKER_ABOVE);
    assert_int_equal(dia_flicker_class(1250000, 1000), DIA_FLICKER_LOW_RISK);
    assert_int_equal(dia_flicker_class(2999000, 1000), DIA_FLICKER_LOW_RISK);
    assert_int_equal(dia_flicker_class(3000000, 1000), DIA_FLICKER_NO_EFFECT);
    assert_int_equal(dia_flicker_class(300000, 100), DIA_FLICKER_NO_EFFECT); /* 9.99 %, in full */
    assert_int_equal(dia_flicker_class(300000, 101), DIA_FLICKER_LOW_RISK);
    assert_int_equal(dia_flicker_class(25000, dia_flicker_dithering_permille(80)),
                     DIA_FLICKER_LOW_RISK); /* 1 / 161 is 0.6 %; 0.625 % are */
    assert_int_equal(dia_flicker_class(25000, dia_flicker_dithering_permille(60)),
                     DIA_FLICKER_ABOVE);
    assert_null(dia_flicker_part("WS2801"));
    assert_int_equal(dia_flicker_part("WS2812B-V5")->pwm_mhz, 2000000);
}

/* 200 Hz at 1/60 s are 3 1/3 periods. Lit for a quarter of each, a row has 3 or 4 of the 3 1/3
 * quarters that are the mean: 30 %. At 1/50 s there are 4 whole ones, and no bands. */
static void bands_by_hand(void **state)
{
    (void)state;
    assert_in_range(dia_camera_bands_permille(200000, 250, 16667), 298, 302);
    assert_int_equal(dia_camera_bands_permille(200000, 250, 20000), 0);
    assert_int_equal(dia_camera_bands_permille(200000, 0, 20000), 0);
    /* at 1/1000 s a fifth of a period: from none to 0.2 / (0.2 * 0.25) = 4 times the mean */
    assert_in_range(dia_camera_bands_permille(200000, 250, 1000), 3990, 4010);
}

/* Row by row through a whole period: the brightest less the darkest is what is said, and their mean
 * is all the light there is. */
static void rows_have_what_is_said(void **state)
{
    (void)state;
    uint32_t seed = 7;
    for (int k = 0; k < 2000; k++) {
        uint32_t mhz = 30000 + random_below(&seed, 2000000), duty = 1 + random_below(&seed, 999);
        uint32_t shutter_us = 500 + random_below(&seed, 40000);
        double hz = mhz / 1e3, most = 0, least = 1e9, sum = 0,
               phase = random_below(&seed, 100) / 100.0;
        for (int row = 0; row < 1000; row++) {
            double share =
                dia_camera_share(hz, duty / 1e3, phase, 3 + row / 1000.0 / hz, shutter_us / 1e6);
            most = share > most ? share : most;
            least = share < least ? share : least;
            sum += share;
        }
        double rest = fmod(mhz * (double)shutter_us / 1e9, 1);
        assert_true(fabs(sum / 1000 - 1) < 0.01);
        if (rest < 0.01 || rest > 0.99)
            continue; /* so near to whole periods that it counts as that */
        double said = dia_camera_bands_permille(mhz, duty, shutter_us) / 1e3;
        double step = 2e-3 / (mhz * (double)shutter_us / 1e9 * duty / 1e3); /* of 1000 rows */
        if (fabs(most - least - said) > step + 1e-3)
            fail_msg("%u mHz, %u of 1000, %u us: %f and %f", (unsigned)mhz, (unsigned)duty,
                     (unsigned)shutter_us, most - least, said);
    }
}

#define DIGITS                                                                                     \
    "controller: RP2040\nsupplies: { s: { current: 2 A } }\n"                                      \
    "devices: { d: { chip: digits, digits: 4, refresh: 200 Hz, text: \"8888\", at: { x: 0 mm, y: " \
    "0 mm }, pins: { a: 1, b: 2, c: 3, d: 4, e: 5, f: 6, g: 7, digit1: 8, digit2: 9, digit3: 10, " \
    "digit4: 11 } } }\n"

/* Lines of the picture with digits that hold light of other brightness than the one above. */
static int differs(const char *a, const char *b)
{
    return run("cmp -s %s %s", a, b) != 0;
}

/* Digits at 200 Hz: 1/50 s is whole periods, so all digits are as at 1/25 s; 1/60 s is not. A
 * shutter much shorter than a turn has digits that are dark. */
static void a_camera_sees_what_check_says(void **state)
{
    (void)state;
    write_file("d.rig.yaml", DIGITS, sizeof DIGITS - 1);
    run("$D check d.rig.yaml");
    says("d, lit in turns                200 Hz  100.0 %  above low risk  0 at 1/25, 1/50 s");
    static const char *const shutters[] = {"1/25 s", "20 ms", "1/60 s", "1 ms"};
    for (int k = 0; k < 4; k++)
        assert_int_equal(
            run("$D render d.rig.yaml --view desk --camera '%s' --out c%d.ppm", shutters[k], k), 0);
    for (int k = 0; k < 4; k++) /* without the line at the top that names the shutter */
        assert_int_equal(run("tail -c +%d c%d.ppm > b%d.ppm", 1280 * 76 * 3, k, k), 0);
    assert_false(differs("b0.ppm", "b1.ppm"));
    assert_true(differs("b1.ppm", "b2.ppm"));
    assert_true(differs("b2.ppm", "b3.ppm"));
    run("rm -f [bc][0-3].ppm");
    static const struct {
        const char *options, *says;
    } wrong[] = {
        {"--camera 1/0 s", "--camera: '1/0 s' is no shutter; write '1/50 s' (to 1/100000 s) or "
                           "'20 ms'"},
        {"--camera 1/50", "--camera: '1/50' is no shutter"},
        {"--camera 5", "--camera"},
        {"--camera 9 s", "--camera"},
        {"--readout 5 ms", "--readout is of a --camera"},
        {"--camera 1/50 s --view parts", "leave out '--view parts'"},
    };
    for (size_t k = 0; k < sizeof wrong / sizeof wrong[0]; k++) {
        char options[200] = "";
        for (const char *at = wrong[k].options; *at;) { /* each value in one piece */
            size_t n = strcspn(at, " ");
            snprintf(options + strlen(options), sizeof options - strlen(options), "%.*s ", (int)n,
                     at);
            at += n + (at[n] == ' ');
            n = strstr(at, " --") ? (size_t)(strstr(at, " --") - at) : strlen(at);
            snprintf(options + strlen(options), sizeof options - strlen(options), "'%.*s' ", (int)n,
                     at);
            at += n + (at[n] == ' ');
        }
        assert_int_equal(run("$D render d.rig.yaml %s --out c.png", options), 2);
        says(wrong[k].says);
        assert_int_equal(access("c.png", F_OK), -1);
    }
    remove("d.rig.yaml");
}

/* What the file says of dithering is what is done and told: in time at 50 Hz a dim strip changes
 * from frame to frame, in space and of itself it does not. */
static void strips_stand_still(void **state)
{
    (void)state;
    static const char *const ways[] = {"", ", dithering: auto", ", dithering: space",
                                       ", dithering: time"};
    for (int k = 0; k < 4; k++) {
        char text[400];
        int n = snprintf(
            text, sizeof text,
            "controller: ATmega2560\nframe_rate: 50 Hz\nsupplies: { s: { current: 2 A } }\n"
            "lanes: { l: { chip: WS2812B, pin: 1, count: 9%s } }\n",
            ways[k]);
        write_file("l.rig.yaml", text, (size_t)n);
        assert_int_equal(run("$D render l.rig.yaml --look steady --set colour=#0b0b0b --frames 2 "
                             "--out l.csv && grep ^0, l.csv | cut -d, -f3- >0.txt && grep ^1, "
                             "l.csv | cut -d, -f3- >1.txt"),
                         0);
        assert_int_equal(differs("0.txt", "1.txt"), k == 3);
        assert_int_equal(run("$D check l.rig.yaml"), 0);
        if (k == 3)
            says("'dithering: time' at 50 Hz: light below step 160 of 255 flickers at");
        else
            assert_null(strstr(output, "dithering"));
    }
    static const char none[] = "controller: RP2040\nsupplies: { s: { current: 2 A } }\n"
                               "lanes: { l: { chip: WS2812B, pin: 1, count: 9, dithering: any } }";
    write_file("l.rig.yaml", none, sizeof none - 1);
    assert_int_equal(run("$D check l.rig.yaml"), 2);
    says("'dithering' is one of: auto, time, space, none; found 'any'");
    /* 2.5 steps of a dim grey: in space 2 and 3 side by side, without 2 everywhere */
    for (int k = 0; k < 2; k++) {
        char text[400];
        int n = snprintf(text, sizeof text,
                         "controller: RP2040\nsupplies: { s: { current: 2 A } }\nlanes: { l: { "
                         "chip: WS2812B, pin: 1, count: 30, dithering: %s } }\n",
                         k ? "none" : "space");
        write_file("l.rig.yaml", text, (size_t)n);
        run("$D render l.rig.yaml --look steady --set colour=#191919 --out l.csv >/dev/null && cut "
            "-d, -f5 l.csv | grep '[0-9]' | sort -u | tr '\\n' ' '");
        assert_string_equal(output, k ? "2 " : "2 3 ");
    }
    static const char level[] =
        "controller: RP2040\nsupplies: { s: { current: 2 A } }\nlanes: { l: { "
        "chip: APA102, pin: 1, clock_pin: 2, count: 9, dithering: none } }";
    write_file("l.rig.yaml", level, sizeof level - 1);
    assert_int_equal(run("$D check l.rig.yaml"), 2);
    says("'dithering: none' is not for APA102");
    run("rm -f l.rig.yaml l.csv [01].txt");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(classes_of_the_standard), cmocka_unit_test(bands_by_hand),
        cmocka_unit_test(rows_have_what_is_said),  cmocka_unit_test(a_camera_sees_what_check_says),
        cmocka_unit_test(strips_stand_still),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
