/* SPDX-License-Identifier: MIT */
#include <dirent.h>
#include <sys/stat.h>
#include <time.h>

#include "../run.h"

/*
 * Every allocation of the command, and every opening, closing, renaming and linking of a file,
 * fails once, one after the other (failing.c). Each time it says so and ends with 3, or does
 * without and is right all the same; no file is there by half, nothing is left beside it, and all
 * memory is given back. Of allocations it is every fifth, another fifth for each command, unless
 * $FAIL_EACH is set (.ci/run).
 */
static const struct {
    const char *command, *file; /* what it writes; NULL: nothing */
} commands[] = {
    {"check shelf.rig.yaml", NULL},
    {"check shelf.rig.yaml --json", NULL},
    {"looks water", NULL},
    {"render shelf.rig.yaml --show some.show --frames 3 --out out.png", "out.png"},
    {"render shelf.rig.yaml --show some.show --frames 3 --out out.csv", "out.csv"},
    {"render shelf.rig.yaml --look water --frames 3 --out out.gif", "out.gif"},
    {"render shelf.rig.yaml --look water --frames 2 --out out.apng", "out.apng"},
    {"trace shelf.rig.yaml --layer water --key '1 up: toggle a' --frames 2 --out out.vcd", NULL},
    {"trace shelf.rig.yaml --look water --frames 2 --out out.vcd", "out.vcd"},
    {"plot shelf.rig.yaml --look water --element shelf[3] --for 300ms --out out.png", "out.png"},
    {"preview shelf.rig.yaml --look water --frames 1", NULL},
    {"render two.rig.yaml --look water --out out.csv", "out.csv"},
    {"glyphs some.drawings", NULL},
    {"glyphs some.drawings --json tick", NULL},
    {"glyphs some.drawings --out out.c", "out.c"},
    {"glyphs some.drawings --out out.bdf", "out.bdf"},
    {"glyphs some.drawings --out out.png", "out.png"},
    {"render shelf.rig.yaml --show values.show --frames 2 --out out.csv", "out.csv"},
    {"preview shelf.rig.yaml --value n --look text --set 'says={n}' --frames 1 --record out.csv "
     "<some.lines >/dev/null",
     "out.csv"},
    {"render shelf.rig.yaml --layer 'picture file=two.png' --frames 3 --out out.csv", "out.csv"},
    {"render shelf.rig.yaml --layer 'picture file=two.gif' --frames 3 --out out.csv", "out.csv"},
    {"render shelf.rig.yaml --layer 'picture file=two.y4m' --frames 3 --out out.csv", "out.csv"},
    {"render shelf.rig.yaml --layer 'picture file=two-[1-2].pgm' --frames 3 --out out.csv",
     "out.csv"},
    {"render shelf.rig.yaml --layer 'draw sprite two.ppm on board' --out out.csv", "out.csv"},
    {"glyphs two.ppm --out out.ppm", "out.ppm"},
    {"render shelf.rig.yaml --show some.show --changes some.changes --frames 3 --out out.csv",
     "out.csv"},
    {"bringup shelf.rig.yaml --self-test --fault 'shelf: dead 4'", NULL},
};
static const char *const kinds[] = {"memory", "open", "close", "rename", "link"};

static const char rig[] = "controller: ATmega328P\nsupplies: { usb: { current: 2 A } }\n"
                          "lanes: { shelf: { pin: 17, chip: WS2812B, count: 12 } }\n"
                          "devices:\n"
                          "  board: { chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 } }\n"
                          "  keeper: { chip: HD44780, pins: { scl: 8, sda: 9 }, text: QUAY }\n";
static const char two[] = "controller: RP2040\nsupplies: { usb: { current: 2 A } }\nlanes:\n"
                          "  a: { node: west, pin: 2, chip: WS2813, count: 3 }\n"
                          "  b: { node: east, pin: 2, chip: WS2813, count: 3 }\n";
static const char show[] = "layer a: pulse\nkey 1 short: toggle a\npress 10ms 1\n";

static const char changes[] = "0s clock 60s\n10ms set a.colour=red\n20ms paint board white\n"
                              "30ms undo\n40ms press 1\n50ms show \"layer steady\\n\"\n";

static const char drawings[] =
    "face mine\nrows 2\nglyph A\n#\n#\n\ndrawing tick 1s\n#.\n\nframe\n.#\n";
static const char values[] = "drawings some.drawings\nvalue n csv file=some.csv\n"
                             "choice c of n low 2 high\n"
                             "layer text says=\"{n} {c}\" face=mine on board,keeper\n"
                             "layer draw sprite tick on board\n";
static const char film[] = "YUV4MPEG2 W2 H1 F30:1 Cmono\nFRAME\n\x10\xeb"
                           "FRAME\n\xeb\x10",
                  film_files[] = "P5 2 1 255\nab";
static const char readings[] = "time,name,value\n0,n,1\n1,n,3\n", coming[] = "1\n2\n";

static int count_files(void)
{
    DIR *folder = opendir(".");
    int n = 0;
    assert_non_null(folder);
    while (readdir(folder))
        n++;
    closedir(folder);
    return n;
}

static int is_there(const char *path)
{
    struct stat about;
    return stat(path, &about) == 0;
}

static void each_call_may_fail_once(void **state)
{
    (void)state;
    int failures = 0, told = 0;
    write_file("shelf.rig.yaml", rig, sizeof rig - 1);
    write_file("two.rig.yaml", two, sizeof two - 1);
    write_file("some.show", show, sizeof show - 1);
    write_file("some.changes", changes, sizeof changes - 1);
    write_file("some.drawings", drawings, sizeof drawings - 1);
    write_file("values.show", values, sizeof values - 1);
    write_file("some.csv", readings, sizeof readings - 1);
    write_file("some.lines", coming, sizeof coming - 1);
    write_file("two.y4m", film, sizeof film - 1);
    write_file("two-1.pgm", film_files, sizeof film_files - 1);
    write_file("two-2.pgm", film_files, sizeof film_files - 1);
    assert_int_equal(
        run("$D render shelf.rig.yaml --look water --frames 2 --view parts --out two.gif "
            "&& $D glyphs some.drawings tick --out two.png && $D glyphs some.drawings tick --out "
            "two.ppm"),
        0);
    for (size_t c = 0; c < sizeof commands / sizeof commands[0]; c++) {
        const char *file = commands[c].file;
        size_t length = 0;
        int right = run("$D %s", commands[c].command);
        char *whole = file ? read_file(file, &length) : NULL;
        for (size_t k = 0; k < sizeof kinds / sizeof kinds[0]; k++) {
            int apart = k == 0 && !getenv("FAIL_EACH") ? 5 : 1;
            for (int at = 1 + (int)c % apart;; at += apart) {
                remove("failed");
                remove("left");
                if (file)
                    remove(file);
                int files = count_files();
                int code = run("export LD_PRELOAD='%s' FAIL_KIND=%s FAIL_AT=%d FAIL_MARK=failed "
                               "FAIL_LEFT=left; "
                               "exec \"$D\" %s",
                               getenv("DIACHROME_FAILING"), kinds[k], at, commands[c].command);
                if (is_there("left"))
                    fail_msg("%s: %s %d: %s blocks of memory are not given back",
                             commands[c].command, kinds[k], at, read_file("left", NULL));
                if (!is_there("failed"))
                    break;
                remove("failed");
                failures++;
                told += code == 3;
                if (code == 2 && strcmp(kinds[k], "open") == 0)
                    code = 3; /* a file to read that nobody may open is bad input */
                if (code != 3 && code != right)
                    fail_msg("%s: %s %d: ended with %d: %s", commands[c].command, kinds[k], at,
                             code, output);
                if (code == 3 && output[0] == 0)
                    fail_msg("%s: %s %d: nothing is said", commands[c].command, kinds[k], at);
                if (file && is_there(file)) {
                    size_t n;
                    char *now = read_file(file, &n);
                    if (n != length || memcmp(now, whole, n) != 0)
                        fail_msg("%s: %s %d: the file is another", commands[c].command, kinds[k],
                                 at);
                    free(now);
                    files++;
                } else if (file && code != 3) {
                    fail_msg("%s: %s %d: there is no file, and %d", commands[c].command, kinds[k],
                             at, code);
                }
                if (count_files() != files)
                    fail_msg("%s: %s %d: a file is left over", commands[c].command, kinds[k], at);
            }
        }
        free(whole);
    }
    print_message("%d failures, %d told with 3\n", failures, told);
    assert_true(failures > 100 && told > 80);
}

static double seconds(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + (double)now.tv_nsec / 1e9;
}

/* Killed at any moment, by anybody: the file is what it was before, or all of the new one. */
static void a_signal_leaves_the_old_file_or_the_new(void **state)
{
    (void)state;
    static const char *const signals[] = {"INT", "TERM", "HUP", "KILL"};
    static const struct {
        const char *command, *file;
    } writes[] = {{"render shelf.rig.yaml --look water --frames 300 --out out.csv", "out.csv"},
                  {"bringup shelf.rig.yaml --self-test --write --fault 'shelf: order RGB'",
                   "shelf.rig.yaml"}};
    for (size_t c = 0; c < sizeof writes / sizeof writes[0]; c++) {
        const char *file = writes[c].file;
        const char *before = strcmp(file, "out.csv") == 0 ? "as it was\n" : rig;
        int kept = 0, killed = 0;
        size_t length, n;
        write_file("shelf.rig.yaml", rig, sizeof rig - 1);
        double began = seconds();
        run("$D %s", writes[c].command);
        double takes = seconds() - began;
        char *whole = read_file(file, &length);
        /* again in half the time where the machine was slow when it was measured */
        for (int k = 0; k < 24 || (k < 96 && (!kept || !killed)); k++) {
            takes = k != 0 && k % 24 == 0 ? takes / 2 : takes;
            write_file("shelf.rig.yaml", rig, sizeof rig - 1);
            write_file(file, before, strlen(before));
            int code = run("timeout -s %s %.4f $D %s", signals[k % 4], takes * (k % 24 + 1) / 20,
                           writes[c].command);
            char *now = read_file(file, &n);
            int is_old = n == strlen(before) && memcmp(now, before, n) == 0;
            if (!is_old && (n != length || memcmp(now, whole, n) != 0))
                fail_msg("%s after %d of 20 of its time: %s", signals[k % 4], k % 24 + 1, now);
            free(now);
            kept += is_old;
            killed += code >= 124;
        }
        assert_true(kept > 0 && killed > 0);
        free(whole);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_signal_leaves_the_old_file_or_the_new),
        cmocka_unit_test(each_call_may_fail_once),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
