/* SPDX-License-Identifier: MIT */
#include "../run.h"

/*
 * What each command may take at most, of time and memory, for the largest and the slowest input
 * that is right. The limits are several times what it takes here, and far below what they once
 * took: minutes, and 1.6 GB.
 */
#define RIG(clock)                                                                                 \
    "rig: r\ncontroller: {name: c, clock: " clock ", ram: 9 MB, flash: 1 MB, logic_high: 5 V}\n"   \
    "supplies: {s: {voltage: 5 V, current: 900 A}}\n"

static int ends_within(int seconds, int megabytes, const char *command)
{
    int code = run("ulimit -v %d; timeout %d %s", megabytes * 1024, seconds, command);
    if (code == 124)
        fail_msg("not done after %d s: %s", seconds, command);
    return code;
}

static void the_longest_strip_is_checked_and_shown(void **state)
{
    (void)state;
    static const char rig[] = RIG("64 MHz") "frame_rate: 1 Hz\nlanes:\n  l: {supply: s, pin: 1, "
                                            "chip: WS2812B, count: 65535, line: {pitch: 1 cm}}\n";
    write_file("long.rig.yaml", rig, sizeof rig - 1);
    assert_int_equal(ends_within(30, 300, "$D check long.rig.yaml >/dev/null"), 1);
    assert_int_equal(ends_within(10, 300,
                                 "$D render long.rig.yaml --look water --rate 0.1Hz --frames 2 "
                                 "--out long.csv"),
                     0);
    remove("long.rig.yaml");
    remove("long.csv");
}

/* 10 pixels of 32 bits at 1 kHz are 0.4 s a frame. */
static void the_slowest_clock_is_no_trouble(void **state)
{
    (void)state;
    static const char rig[] =
        RIG("64 MHz") "lanes:\n  l: {supply: s, pin: 1, clock_pin: 2, clock: 1 kHz, chip: APA102, "
                      "count: 10, line: {pitch: 1 cm}}\n";
    write_file("slow.rig.yaml", rig, sizeof rig - 1);
    assert_int_equal(ends_within(10, 300, "$D check slow.rig.yaml >/dev/null"), 1);
    remove("slow.rig.yaml");
}

/* 8 bits on 64 outputs by pins, 2000 Hz in 8 slices at 16 MHz, or 120 Hz in 255 slices at 8 MHz:
 * by `check` 38 and 76 times what the controller has. */
static void ticks_without_end_come_to_an_end(void **state)
{
    (void)state;
    static const char *const rigs[] = {
        RIG("16 MHz") "devices:\n  row: {supply: s, chip: 74HC595, chips: 8, depth: 8, refresh: "
                      "2000 Hz, pins: {ser: 1, srclk: 2, rclk: 3, oe: 4}}\n",
        RIG("8 MHz") "devices:\n  row: {supply: s, chip: 74HC595, chips: 8, depth: 8, refresh: "
                     "120 Hz, slices: even, pins: {ser: 1, srclk: 2, rclk: 3}}\n"
                     "lanes:\n  l: {supply: s, pin: 9, chip: WS2812B, count: 300}\n"};
    for (int k = 0; k < 2; k++) {
        write_file("ticks.rig.yaml", rigs[k], strlen(rigs[k]));
        assert_int_equal(ends_within(30, 300, "$D check ticks.rig.yaml"), 1);
        says("of the controller's time");
        int code = ends_within(20, 300,
                               "$D render ticks.rig.yaml --look chase --frames 3 --out ticks.csv");
        if (k == 1) { /* the bench, whose pins take 2 cycles, has time for the first */
            assert_int_equal(code, 1);
            says("some ticks are left out");
        }
    }
    remove("ticks.rig.yaml");
    remove("ticks.csv");
}

/* The most presses there may be, each as long as may be, and the frame after them. */
static void all_presses_are_heard_at_once(void **state)
{
    (void)state;
    char show[20000];
    int n = snprintf(show, sizeof show,
                     "layer a: chase on handrail\nkey operator.1 short: toggle a\n"
                     "key operator.1 repeat: raise a.speed by 1mm/s\n");
    for (int k = 0; k < 256; k++)
        n += snprintf(show + n, sizeof show - (size_t)n, "press %ds operator.1 for 60s\n", 61 * k);
    write_file("many.show", show, (size_t)n);
    assert_int_equal(ends_within(10, 300,
                                 "$D render demo/quay.rig.yaml --show many.show --from 15700s "
                                 "--frames 1 --out many.csv"),
                     0);
    remove("many.show");
    remove("many.csv");
}

/* IHDR of 20,000 by 20,000 (0x4e20) pixels: said by its first bytes, whatever comes behind them. */
static void a_picture_too_large_is_not_decoded(void **state)
{
    (void)state;
    static const char begin[] = "\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\x4e\x20\0\0\x4e\x20"
                                "\10\6\0\0\0";
    write_file("large.png", begin, sizeof begin - 1);
    assert_int_equal(ends_within(5, 100,
                                 "$D render demo/quay.rig.yaml --look steady --layer "
                                 "'draw on board sprite large.png' --out large.csv"),
                     2);
    says("large.png: 20000 by 20000 pixels are too many; at most 33554432, such as 8192 by 4096");
    /* a film of 700 frames as large as they may be, with holes: a frame or three at once, no more
     */
    FILE *film = fopen("large.y4m", "wb");
    fputs("YUV4MPEG2 W8192 H4096 F25:1 Cmono\n", film);
    for (int k = 0; k < 700; k++) {
        fputs("FRAME\n", film);
        fseeko(film, 8192 * 4096 - 1, SEEK_CUR);
        putc(0, film);
    }
    assert_int_equal(fclose(film), 0);
    assert_int_equal(ends_within(20, 400,
                                 "$D render demo/quay.rig.yaml --layer "
                                 "'picture file=large.y4m on waves' --from 20s --out large.csv"),
                     0);
    remove("large.y4m");
    remove("large.csv");
    remove("large.png");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(the_longest_strip_is_checked_and_shown),
        cmocka_unit_test(the_slowest_clock_is_no_trouble),
        cmocka_unit_test(ticks_without_end_come_to_an_end),
        cmocka_unit_test(all_presses_are_heard_at_once),
        cmocka_unit_test(a_picture_too_large_is_not_decoded),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
