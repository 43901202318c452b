/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include "cli.h"
#include "feed.h"

/* Where lines come from: standard input, or a named pipe. */
struct source {
    int fd; /* -1: it has come to its end */
    const char *name;
    const char *only; /* the one value that comes from it; NULL: there are several */
    int is_pipe;      /* a named one: it has no end */
    char line[512];
    size_t used;
    unsigned number;
};

static struct source sources[DIA_SHOW_VALUES];
static size_t count;
static int failed;
static unsigned wrong_lines, first_wrong;
static const char *wrong_source;
static struct dia_diagnostic why;

/* A named pipe is opened for writing too, so that it does not end when a writer goes. */
static int open_source(struct source *source, const char *path)
{
    struct stat about;
    if (path[0] == 0) {
        source->name = "standard input";
        source->fd = STDIN_FILENO;
        return 0;
    }
    source->name = path;
    source->is_pipe = stat(path, &about) == 0 && S_ISFIFO(about.st_mode);
    source->fd = open(path, (source->is_pipe ? O_RDWR : O_RDONLY) | O_NONBLOCK);
    return source->fd < 0 ? -1 : 0;
}

int feed_begin(const struct dia_show *show, const char *command)
{
    count = 0;
    for (uint32_t k = 0; k < show->value_count; k++) {
        const struct dia_show_value *value = &show->values[k];
        const char *name = value->from[0] ? value->from : "standard input";
        size_t at = 0;
        if (value->source != DIA_VALUE_INPUT || (!value->from[0] && isatty(STDIN_FILENO)))
            continue;
        while (at < count && strcmp(sources[at].name, name) != 0)
            at++;
        if (at < count) {
            sources[at].only = NULL;
            continue;
        }
        sources[at] = (struct source){.only = value->name};
        if (open_source(&sources[at], value->from) != 0)
            return cli_fail(CLI_BAD_INPUT, command, "%s: cannot be read: %s", value->from,
                            strerror(errno));
        count++;
    }
    return CLI_FINE;
}

int feed_is_on(void)
{
    return count != 0;
}

/* A number alone is for the one value that comes from here. */
static enum dia_status feed_line(struct source *from, struct dia_show *show, uint32_t ms,
                                 struct dia_diagnostic *wrong)
{
    char named[sizeof from->line + DIA_RIG_NAME + 1];
    const char *at = from->line + strspn(from->line, " \t");
    size_t word = strcspn(at, " \t");
    if (!from->only || word == 0 || at[word + strspn(at + word, " \t")])
        return dia_show_feed(show, from->line, ms, wrong);
    snprintf(named, sizeof named, "%s %s", from->only, at);
    return dia_show_feed(show, named, ms, wrong);
}

static void take_line(struct source *from, struct dia_show *show, uint32_t ms)
{
    struct dia_diagnostic wrong = {""};
    from->number++;
    from->line[from->used < sizeof from->line ? from->used : sizeof from->line - 1] = 0;
    from->line[strcspn(from->line, "\r")] = 0;
    enum dia_status status = feed_line(from, show, ms, &wrong);
    failed |= status == DIA_PORT_FAILED;
    if (status != DIA_OK && wrong_lines++ == 0) {
        first_wrong = from->number;
        wrong_source = from->name;
        why = wrong;
    }
    from->used = 0;
}

static void take_bytes(struct source *from, struct dia_show *show, uint32_t ms, const char *bytes,
                       ssize_t n)
{
    for (ssize_t k = 0; k < n; k++) {
        if (bytes[k] == '\n')
            take_line(from, show, ms);
        else if (from->used < sizeof from->line)
            from->line[from->used++] = bytes[k];
    }
}

/* ms that a named pipe is waited for, where all is to be taken: for the first bytes, and for more
 */
#define FIRST 1000
#define MORE  50

static void take(struct source *from, struct dia_show *show, uint32_t ms, int all)
{
    char bytes[4096];
    struct pollfd wait = {.fd = from->fd, .events = POLLIN};
    int wait_ms = !all ? 0 : from->is_pipe ? FIRST : -1;
    while (from->fd >= 0 && poll(&wait, 1, wait_ms) > 0) {
        ssize_t n = read(from->fd, bytes, sizeof bytes);
        if (n < 0 && (errno == EINTR || errno == EAGAIN))
            continue;
        if (n <= 0) {
            if (from->fd != STDIN_FILENO)
                close(from->fd);
            from->fd = -1;
            if (from->used)
                take_line(from, show, ms);
            return;
        }
        take_bytes(from, show, ms, bytes, n);
        wait_ms = wait_ms > 0 ? MORE : wait_ms;
    }
}

void feed_take(struct dia_show *show, uint32_t ms, int all)
{
    for (size_t k = 0; k < count; k++)
        take(&sources[k], show, ms, all);
}

int feed_end(const char *command)
{
    for (size_t k = 0; k < count; k++) {
        if (sources[k].fd > STDIN_FILENO)
            close(sources[k].fd);
    }
    count = 0;
    if (wrong_lines)
        cli_fail(CLI_BAD_INPUT, command, "%s, line %u: %s%s", wrong_source, first_wrong, why.text,
                 wrong_lines > 1 ? "; others are wrong too" : "");
    return failed ? CLI_MACHINE : wrong_lines ? CLI_BAD_INPUT : CLI_FINE;
}
