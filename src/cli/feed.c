/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <poll.h>
#include <string.h>
#include <unistd.h>

#include "cli.h"
#include "feed.h"

static int is_open, failed;
static char line[512];
static size_t used;
static unsigned number, wrong_lines, first_wrong;
static struct dia_diagnostic why;

int feed_begin(const struct dia_show *show)
{
    is_open = 0;
    for (uint32_t k = 0; k < show->value_count; k++)
        is_open |= show->values[k].source == DIA_VALUE_INPUT;
    is_open = is_open && !isatty(STDIN_FILENO);
    return is_open;
}

static void take_line(struct dia_show *show, uint32_t ms)
{
    struct dia_diagnostic wrong = {""};
    number++;
    line[used < sizeof line ? used : sizeof line - 1] = 0;
    line[strcspn(line, "\r")] = 0;
    enum dia_status status = dia_show_feed(show, line, ms, &wrong);
    failed |= status == DIA_PORT_FAILED;
    if (status != DIA_OK && wrong_lines++ == 0) {
        first_wrong = number;
        why = wrong;
    }
    used = 0;
}

void feed_take(struct dia_show *show, uint32_t ms, int all)
{
    char bytes[4096];
    struct pollfd wait = {.fd = STDIN_FILENO, .events = POLLIN};
    while (is_open && (all || poll(&wait, 1, 0) > 0)) {
        ssize_t n = read(STDIN_FILENO, bytes, sizeof bytes);
        if (n < 0 && errno == EINTR)
            continue;
        if (n <= 0) {
            is_open = 0;
            if (used)
                take_line(show, ms);
            return;
        }
        for (ssize_t k = 0; k < n; k++) {
            if (bytes[k] == '\n')
                take_line(show, ms);
            else if (used < sizeof line)
                line[used++] = bytes[k];
        }
    }
}

int feed_end(const char *command)
{
    if (wrong_lines)
        cli_fail(CLI_BAD_INPUT, command, "standard input, line %u: %s%s", first_wrong, why.text,
                 wrong_lines > 1 ? "; others are wrong too" : "");
    return failed ? CLI_MACHINE : wrong_lines ? CLI_BAD_INPUT : CLI_FINE;
}
