/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/signal_text.h>

/* Four steps of 18 columns (of 73, so one has 19) and 0, 1/3, 2/3, 1 of 8 rows: 2 2/3 rows are two
 * full and five eighths, 5 1/3 are five full and three eighths. */
static void a_signal_is_plotted_as_text(void **state)
{
    (void)state;
    assert_int_equal(run("$D plot --signal 'steps(period=4s n=4)' --for 4s --rate 73Hz"), 0);
    says("steps(period=4s n=4)\nlevel, 0 to 65535\n");
    char *top = strstr(output, "65535 |");
    assert_non_null(top);
    static const char *const rows[] = {"#", "#", ".#", "##", "##", ":##", "###", "###"};
    for (int row = 0; row < 8; row++) {
        char *bar = strchr(top, '|') + 1, *end = strchr(bar, '\n');
        int at = 4 - (int)strlen(rows[row]);
        for (int x = 2; x < 73; x++) { /* not at the edges of steps */
            int quarter = x * 4 / 73;
            if (x * 4 % 73 < 8 || x * 4 % 73 > 65)
                continue;
            char mark = bar + x < end ? bar[x] : ' ';
            assert_int_equal(mark, quarter < at ? ' ' : rows[row][quarter - at]);
        }
        top = end + 1;
    }
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
}

/* Full red at 60 % is a code of 203: 31.8 of 40 eighths, so four rows of five; no green. */
static void an_element_is_plotted_in_its_channels(void **state)
{
    (void)state;
    assert_int_equal(run("$D plot rigs/handrail.rig.yaml --look steady --set colour=red --element "
                         "'handrail[5]' --for 1s"),
                     0);
    char *red = strstr(output, "  255 |"), *green = strstr(output, "green |");
    assert_non_null(red);
    assert_non_null(green);
    assert_int_equal(strchr(red, '\n') - red, 7);
    for (int row = 0; row < 4; row++) {
        red = strchr(red, '\n') + 1;
        assert_int_equal(strspn(strchr(red, '|') + 1, "#"), 73);
    }
    assert_int_equal(strspn(strchr(green, '|') + 1, " "), strchr(green, '\n') - green - 7);
    assert_int_equal(run("$D plot demo/quay.rig.yaml --look chase --element 'buoys[3]' --for 2s "
                         "--out plot.png"),
                     0);
    says("plot.png: buoys[3] of Petrel Quay, chase");
    size_t size;
    char *png = read_file("plot.png", &size);
    assert_memory_equal(png, "\211PNG\r\n", 6);
    free(png);
}

static const struct {
    const char *text;
    uint32_t ms;
    uint16_t level;
} signals[] = {
    {"sine", 500, 65535},
    {"triangle(period=4s)", 1000, 32767},
    {"saw(period=4s)", 3000, 49152},
    {"pulse(period=1s duty=20%)", 190, 65535},
    {"pulse(period=1s duty=20%)", 210, 0},
    {"linear(period=10s)", 5000, 32768},
    {"envelope(attack=1s hold=2s release=4s)", 5000, 32768},
};

static void signals_are_what_they_say(void **state)
{
    (void)state;
    struct dia_diagnostic wrong;
    struct dia_signal signal;
    for (size_t k = 0; k < sizeof signals / sizeof signals[0]; k++) {
        assert_int_equal(dia_signal_read(signals[k].text, &signal, &wrong), DIA_OK);
        assert_in_range(dia_signal_at(&signal, signals[k].ms) + 40, signals[k].level,
                        signals[k].level + 80);
    }
}

static const struct {
    const char *arguments, *says;
} mistakes[] = {
    {"--signal sin", "did you mean 'sine'?"},
    {"--signal 'sine(duty=3%)'", "sine has no parameter 'duty'; it has period"},
    {"--signal 'sine(period=3'", "does not end with its closing bracket"},
    {"--signal 'steps(n=0)'", "'n' must be 1 to 255"},
    {"--signal sine --out x.gif", "the name must end in .png"},
    {"demo/quay.rig.yaml --signal sine", "--signal needs no rig"},
    {"demo/quay.rig.yaml --look water", "say what to plot: '--element NAME[N]'"},
    {"demo/quay.rig.yaml --look water --element 'handrail'", "write handrail[0] to handrail[143]"},
    {"demo/quay.rig.yaml --look water --element 'handrail[144]'",
     "write handrail[0] to handrail[143]"},
    {"demo/quay.rig.yaml --look water --element 'buoy[1]'", "did you mean 'buoys'?"},
};

static void each_mistake_is_told(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof mistakes / sizeof mistakes[0]; k++) {
        assert_int_equal(run("$D plot %s", mistakes[k].arguments), 2);
        says(mistakes[k].says);
    }
}

/* 40 ms at 30 frames a second are little more than a moment a wave; at 1 kHz they are 40. */
static void what_is_too_fast_is_said(void **state)
{
    (void)state;
    assert_int_equal(run("$D plot --signal 'sine(period=40ms)' --for 3s"), 0);
    says("it changes too fast for these moments");
    assert_int_equal(run("$D plot --signal 'sine(period=40ms)' --for 3s --rate 1000Hz"), 0);
    assert_null(strstr(output, "too fast"));
    assert_int_equal(run("$D plot --signal 'saw(period=1s)' --for 100s --rate 100Hz --out p.png"),
                     0);
    remove("p.png");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_signal_is_plotted_as_text),
        cmocka_unit_test(an_element_is_plotted_in_its_channels),
        cmocka_unit_test(signals_are_what_they_say),
        cmocka_unit_test(each_mistake_is_told),
        cmocka_unit_test(what_is_too_fast_is_said),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
