/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_TERMINAL_H
#define DIA_TESTS_TERMINAL_H

#include <errno.h>
#include <poll.h>
#include <pty.h>
#include <signal.h>
#include <termios.h>
#include <utmp.h>

#include "run.h"

/* The command in a terminal of its own, 80 by 24. */
struct show {
    pid_t child;
    int terminal;
    struct termios before;
};

/* Its words, the command's name first and NULL last. */
static inline struct show begin_command(const char *const *words)
{
    struct show show;
    struct winsize size = {.ws_row = 24, .ws_col = 80};
    int slave;
    assert_int_equal(openpty(&show.terminal, &slave, NULL, NULL, &size), 0);
    assert_int_equal(tcgetattr(slave, &show.before), 0);
    show.child = fork();
    assert_true(show.child >= 0);
    if (show.child == 0) {
        close(show.terminal);
        login_tty(slave);
        unsetenv("NO_COLOR");
        execv(getenv("DIACHROME"), (char *const *)words);
        _exit(127);
    }
    close(slave);
    output[0] = 0;
    return show;
}

/* Reads on until the text has come, for at most 10 s. */
static inline void until(struct show *show, const char *text)
{
    size_t length = strlen(output);
    for (int tries = 0; tries < 1000 && !strstr(output, text); tries++) {
        struct pollfd wait = {.fd = show->terminal, .events = POLLIN};
        if (poll(&wait, 1, 10) <= 0)
            continue;
        if (length > sizeof output - 8192) /* old pictures are of no interest */
            length = 0;
        ssize_t n = read(show->terminal, output + length, 4096);
        if (n <= 0)
            break;
        length += (size_t)n;
        output[length] = 0;
    }
    if (!strstr(output, text))
        print_error("not shown: %s\nshown: %s\n", text, output);
    assert_non_null(strstr(output, text));
}

static inline void press(struct show *show, const char *keys, const char *then)
{
    output[0] = 0;
    assert_int_equal(write(show->terminal, keys, strlen(keys)), (ssize_t)strlen(keys));
    until(show, then);
}

/* The child has ended, of a signal or with a code and last words, and the terminal is what it was.
 */
static inline void is_over(struct show *show, int by_signal, int code, const char *last_words)
{
    struct termios after;
    int status;
    until(show, "\033[?25h\033[?1049l");
    until(show, last_words);
    assert_int_equal(waitpid(show->child, &status, 0), show->child);
    if (by_signal)
        assert_true(WIFSIGNALED(status) && WTERMSIG(status) == by_signal);
    else
        assert_true(WIFEXITED(status) && WEXITSTATUS(status) == code);
    assert_int_equal(tcgetattr(show->terminal, &after), 0);
    assert_int_equal(after.c_lflag, show->before.c_lflag);
    close(show->terminal);
}

#endif
