/* SPDX-License-Identifier: MIT */
#include "../terminal.h"

/* preview in a terminal of its own: what it shows, and that it leaves the terminal as it was. */

static const char *rig_path = "rigs/handrail.rig.yaml";

static struct show begin_with(const char *option, const char *value, const char *another,
                              const char *its_value)
{
    const char *const words[] = {"diachrome", "preview", rig_path, "--look",  "hue-sweep",
                                 option,      value,     another,  its_value, NULL};
    return begin_command(words);
}

static struct show begin(void)
{
    return begin_with(NULL, NULL, NULL, NULL);
}

static void ended(struct show *show, int by_signal, int code)
{
    is_over(show, by_signal, code, by_signal ? "" : "Petrel Quay is dark");
}

static void it_shows_the_rig_and_leaves_on_q(void **state)
{
    (void)state;
    struct show show = begin();
    until(&show, "Petrel Quay  hue-sweep  turns 1");
    until(&show, "handrail  120 x WS2812B");
    until(&show, "\033[48;2;");
    until(&show, "space pauses, -+ speed");
    struct termios during;
    assert_int_equal(tcgetattr(show.terminal, &during), 0);
    assert_int_equal(during.c_lflag & (ICANON | ECHO), 0);
    assert_int_equal(write(show.terminal, " ", 1), 1);
    until(&show, "paused (space goes on, . steps)");
    assert_int_equal(write(show.terminal, " ", 1), 1);
    output[0] = 0;
    until(&show, "space pauses, -+ speed");
    assert_int_equal(write(show.terminal, "q", 1), 1);
    ended(&show, 0, 0);
}

/* Where the locale says so, two lights are in one place as a half block; else all is ASCII. */
static void it_keeps_to_the_characters_there_are(void **state)
{
    (void)state;
    static const char *const locales[] = {"C", "C.UTF-8"};
    rig_path = "demo/quay.rig.yaml";
    for (int utf8 = 0; utf8 < 2; utf8++) {
        int beyond = 0;
        setenv("LC_ALL", locales[utf8], 1);
        struct show show = begin();
        until(&show, "space pauses");
        for (const char *at = output; *at; at++)
            beyond += (*at & 0x80) != 0;
        assert_int_equal(beyond != 0, utf8);
        assert_int_equal(write(show.terminal, "q", 1), 1);
        ended(&show, 0, 0);
    }
    unsetenv("LC_ALL");
    rig_path = "rigs/handrail.rig.yaml";
}

/* Begins at --from, and ends by itself after --for. */
static void a_time_of_its_own_ends_it(void **state)
{
    (void)state;
    struct show show = begin_with("--from", "7s", "--for", "400ms");
    until(&show, "7.0");
    ended(&show, 0, 0);
    assert_null(strstr(output, "7.6"));
}

/* By hand: 200 mm/s and a quarter of it are 250; 5 % less than 100 are 95. */
static void keys_change_parameters_look_and_time(void **state)
{
    (void)state;
    struct show show = begin();
    until(&show, "Petrel Quay  hue-sweep  turns 1");
    press(&show, "u", "turns 2");
    press(&show, "p", "speed 200 mm/s");
    press(&show, "u", "speed 250 mm/s");
    press(&show, "pd", "saturation 95 %");
    press(&show, "+", "2 times as fast");
    press(&show, "--", "0.5 times as fast");
    press(&show, "n", "Petrel Quay  waves  red 1");
    press(&show, ".", "paused (space goes on, . steps)");
    press(&show, " ", "space pauses");
    assert_int_equal(write(show.terminal, "q", 1), 1);
    ended(&show, 0, 0);
}

/* A layer that is black hides all; what is left is the reserve and 120 pixels at rest, 1 mA each.
 * Held for a second, the key does another thing. */
static void keys_of_the_rig_are_pressed(void **state)
{
    (void)state;
    struct show show =
        begin_with("--layer", "night: steady colour=black", "--key", "1 short: toggle night");
    until(&show, "hue-sweep and 1 more");
    press(&show, "1", "keys 1");
    until(&show, "pier 0.22 of 2.00 A");
    press(&show, "h", "which key to hold?");
    press(&show, "8", "keys 8");
    assert_int_equal(write(show.terminal, "q", 1), 1);
    ended(&show, 0, 0);
}

/* Paused, nothing changes, and nothing is sent: a slow line is free for what is new. */
static void a_still_picture_sends_nothing(void **state)
{
    (void)state;
    struct show show = begin();
    until(&show, "Petrel Quay  hue-sweep  turns 1");
    press(&show, " ", "paused (space goes on, . steps)");
    char bytes[4096];
    ssize_t sent = 0;
    for (int tries = 0; tries < 60; tries++) { /* the first 10 for what is on its way */
        struct pollfd wait = {.fd = show.terminal, .events = POLLIN};
        if (poll(&wait, 1, 10) > 0) {
            ssize_t n = read(show.terminal, bytes, sizeof bytes);
            sent += tries >= 10 ? n : 0;
        }
    }
    assert_in_range(sent, 0, 200);
    assert_int_equal(write(show.terminal, "q", 1), 1);
    ended(&show, 0, 0);
}

static void write_show(const char *text)
{
    output[0] = 0;
    write_file("live.show", text, strlen(text));
}

/* A changed show or rig is shown at once; while one is wrong, the old one goes on and the error is
 * said with its line. A key that was pressed stays so. */
static void changed_files_are_taken_over(void **state)
{
    (void)state;
    const char *const words[] = {"diachrome", "preview",   "live.rig.yaml",
                                 "--show",    "live.show", NULL};
    assert_int_equal(run("cp rigs/handrail.rig.yaml live.rig.yaml"), 0);
    write_show("layer steady colour=red\nlayer night: steady colour=black\n"
               "key 1 short: toggle night\n");
    struct show show = begin_command(words);
    until(&show, "Petrel Quay  live.show  colour #ff0000");
    press(&show, "1", "keys 1");
    until(&show, "pier 0.22 of 2.00 A"); /* dark: the reserve, and 120 mA of pixels at rest */
    write_show("layer steady colour=blue\nlayer night: steady colour=black\n"
               "key 1 short: toggle night\n");
    until(&show, "#0000ff");
    until(&show, "read again");
    write_show("layer steady colour=lime\n\nlayer stedy\n");
    until(&show, "live.show:3:");
    until(&show, "did you mean 'steady'?");
    assert_null(strstr(output, "#00ff00"));
    write_show("layer steady colour=lime\n");
    until(&show, "#00ff00");
    until(&show, "pier 1.66 of 2.00 A"); /* 120 * 20 mA * 60 %, and as before */
    output[0] = 0;
    assert_int_equal(run("sed 's/count: 120/count: 60/' rigs/handrail.rig.yaml >live.rig.yaml"), 0);
    until(&show, "handrail  60 x WS2812B");
    output[0] = 0;
    remove("live.rig.yaml");
    until(&show, "live.rig.yaml");
    assert_int_equal(write(show.terminal, "q", 1), 1);
    ended(&show, 0, 0);
}

/* A rig that comes through a pipe is there once: it is shown, and nobody waits for another. */
static void a_rig_from_a_pipe_is_shown(void **state)
{
    (void)state;
    const char *const words[] = {"diachrome", "preview", "live.pipe", "--look", "hue-sweep", NULL};
    assert_int_equal(run("rm -f live.pipe; mkfifo live.pipe"), 0);
    pid_t writer = fork();
    if (writer == 0) {
        execlp("cp", "cp", "rigs/handrail.rig.yaml", "live.pipe", (char *)NULL);
        _exit(127);
    }
    struct show show = begin_command(words);
    until(&show, "Petrel Quay  hue-sweep  turns 1");
    assert_int_equal(write(show.terminal, "q", 1), 1);
    ended(&show, 0, 0);
    assert_int_equal(waitpid(writer, NULL, 0), writer);
    remove("live.pipe");
}

static void it_gives_the_terminal_back_whatever_happens(void **state)
{
    (void)state;
    static const struct {
        int sent, died_of;
    } ends[] = {{SIGINT, 0},        {SIGTERM, 0},       {SIGHUP, 0},
                {SIGSEGV, SIGSEGV}, {SIGABRT, SIGABRT}, {SIGQUIT, SIGQUIT}};
    for (size_t i = 0; i < sizeof ends / sizeof ends[0]; i++) {
        struct show show = begin();
        until(&show, "space pauses, -+ speed");
        kill(show.child, ends[i].sent);
        ended(&show, ends[i].died_of, 0);
    }
}

/* Ctrl-Z gives the terminal back too, and going on takes it again. */
static void it_can_be_stopped_and_go_on(void **state)
{
    (void)state;
    struct show show = begin();
    int status;
    until(&show, "space pauses, -+ speed");
    kill(show.child, SIGTSTP);
    until(&show, "\033[?25h\033[?1049l");
    assert_int_equal(waitpid(show.child, &status, WUNTRACED), show.child);
    assert_true(WIFSTOPPED(status));
    output[0] = 0;
    kill(show.child, SIGCONT);
    until(&show, "\033[?1049h");
    until(&show, "space pauses, -+ speed");
    assert_int_equal(write(show.terminal, "q", 1), 1);
    output[0] = 0;
    ended(&show, 0, 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(it_shows_the_rig_and_leaves_on_q),
        cmocka_unit_test(it_keeps_to_the_characters_there_are),
        cmocka_unit_test(a_time_of_its_own_ends_it),
        cmocka_unit_test(keys_change_parameters_look_and_time),
        cmocka_unit_test(keys_of_the_rig_are_pressed),
        cmocka_unit_test(a_still_picture_sends_nothing),
        cmocka_unit_test(changed_files_are_taken_over),
        cmocka_unit_test(a_rig_from_a_pipe_is_shown),
        cmocka_unit_test(it_gives_the_terminal_back_whatever_happens),
        cmocka_unit_test(it_can_be_stopped_and_go_on),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
