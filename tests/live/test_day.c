/* SPDX-License-Identifier: MIT */
#include "served.h"
#include "witness.h"

#include <diachrome/serve.h>

#include <pthread.h>

/*
 * A day of a rig that is served, a thousand times as fast as time: $DAY_HOURS of it (1 unless it
 * says). Values and keys come in all the time, somebody looks, all changes are recorded.
 */
#define SPEED 1000u
#define PORT  8493

static const char rig_text[] =
    "rig: Day\ncontroller: RP2040\nframe_rate: 2 Hz\n"
    "supplies:\n  usb: { current: 2 A }\n"
    "lanes:\n  shelf: { pin: 17, chip: WS2812B, count: 24 }\n"
    "devices:\n  operator: { chip: TM1638, pins: { stb: 2, clk: 3, dio: 4 } }\n";
static const char show_text[] = "value wind input decimals=1 smooth=20s\n"
                                "value rings keys up=operator.1 min=0 max=99\n"
                                "layer sea: hue-sweep on shelf\n"
                                "layer flash: steady colour=white on shelf blend add level 20%\n"
                                "key operator.2 short: toggle flash\n"
                                "key operator.3 down: raise sea.speed by 1cm/s\n";

static struct dia_rig rig;
static struct dia_serve *serve_of_day;
static volatile int over;
static uint32_t lines;

/* A line before every frame: half a second of the day. */
static int next_line(char *line, size_t size)
{
    static int told;
    told = !told;
    if (!told)
        return 0;
    lines++;
    if (lines % 40 == 0)
        snprintf(line, size, "press operator.%u", lines / 40 % 3 + 1);
    else if (lines % 100 == 1)
        snprintf(line, size, "set sea.turns=%u", lines / 100 % 9 + 1);
    else if (lines % 500 == 2)
        snprintf(line, size, lines / 500 % 2 ? "paint shelf gold" : "paint shelf none");
    else
        snprintf(line, size, "wind %u.%u", lines % 37, lines % 10);
    return 1;
}

static void *plays(void *self)
{
    struct dia_diagnostic wrong = {""};
    (void)self;
    if (dia_serve_run(serve_of_day, &over, &wrong) != DIA_OK)
        print_error("%s\n", wrong.text);
    return NULL;
}

/* Of this process, KB. */
static long memory_kb(void)
{
    FILE *file = fopen("/proc/self/status", "r");
    char line[100];
    long kb = 0;
    while (file && fgets(line, sizeof line, file))
        sscanf(line, "VmRSS: %ld", &kb);
    assert_non_null(file);
    fclose(file);
    return kb;
}

static double number_in(const char *json, const char *key)
{
    const char *at = strstr(json, key);
    return at ? strtod(at + strlen(key), NULL) : -1;
}

static void a_day_leaves_nothing_behind(void **state)
{
    (void)state;
    const char *hours = getenv("DAY_HOURS");
    double day_s = (hours ? atof(hours) : 1) * 3600, begin;
    struct dia_diagnostic wrong = {""};
    pthread_t thread;
    long early_kb = 0, late_kb;
    alarm((unsigned)(day_s / SPEED) + 120);
    write_file("day.rig.yaml", rig_text, strlen(rig_text));
    write_file("day.show", show_text, strlen(show_text));
    assert_int_equal(dia_rig_load(&rig, "day.rig.yaml", &wrong), DIA_OK);
    struct dia_serve_options options = {.rig = &rig,
                                        .show = "day.show",
                                        .port = PORT,
                                        .record = "day.changes",
                                        .rate_mhz = 2000,
                                        .speed = SPEED,
                                        .line = next_line};
    serve_of_day = dia_serve_new(&options, NULL, &wrong);
    if (!serve_of_day)
        fail_msg("%s", wrong.text);
    quiet_begins();
    assert_int_equal(pthread_create(&thread, NULL, plays, NULL), 0);
    struct served served = {.port = PORT};
    begin = seconds();
    while ((seconds() - begin) * SPEED < day_s) {
        rest_ms(100);
        assert_int_equal(ask(&served, "GET", "/state", NULL), 200);
        assert_int_equal(ask(&served, "GET", "/frame", NULL), 200);
        if (!early_kb && (seconds() - begin) * SPEED > day_s / 4)
            early_kb = memory_kb();
    }
    late_kb = memory_kb();
    assert_int_equal(ask(&served, "GET", "/status", NULL), 200);
    double gone_s = (seconds() - begin) * SPEED, shown_s = number_in(answer, "\"show_ms\":") / 1e3;
    over = 1;
    pthread_join(thread, NULL);
    print_message("%.1f h: %llu frames, %llu left out, %u lines; memory %ld KB, then %ld KB; the "
                  "show is at %.0f s after %.0f s\n",
                  day_s / 3600, (unsigned long long)dia_serve_frames(serve_of_day),
                  (unsigned long long)dia_serve_late(serve_of_day), lines, early_kb, late_kb,
                  shown_s, gone_s);
    int quiet = quiet_ends();
    /* half of what a line a frame would be, on a slow machine */
    assert_true(lines > (quiet ? day_s / 4 : 10));
    assert_true(shown_s > gone_s - (quiet ? 600 : 6000) &&
                shown_s < gone_s + 1); /* 0.6 s of ours */
#ifndef WITH_ADDRESS_SANITIZER         /* which keeps what was freed */
    /* an input keeps 200,000 readings of 8 bytes at most, in memory that doubles */
    assert_true(late_kb < early_kb + 3200 + 1024);
#endif
    dia_serve_free(serve_of_day);
    /* what was recorded is all of it, and plays again */
    struct dia_changes changes;
    if (dia_changes_load(&changes, "day.changes", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    assert_true(changes.count >= lines);
    dia_changes_free(&changes);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_day_leaves_nothing_behind),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
