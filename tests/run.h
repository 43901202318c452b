/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_RUN_H
#define DIA_TESTS_RUN_H

#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#include "support.h"

/* What the last run printed, standard output and standard error together. */
static char output[1 << 20];

/* Runs a shell command in which $D is the diachrome command; its exit code. */
__attribute__((format(printf, 1, 2))) static inline int run(const char *format, ...)
{
    char command[4096];
    va_list args;
    int n = snprintf(command, sizeof command, "D='%s'; { ", getenv("DIACHROME"));
    va_start(args, format);
    n += vsnprintf(command + n, sizeof command - (size_t)n, format, args);
    va_end(args);
    snprintf(command + n, sizeof command - (size_t)n, "; } 2>&1");
    FILE *pipe = popen(command, "r");
    assert_non_null(pipe);
    size_t length = fread(output, 1, sizeof output - 1, pipe);
    output[length] = 0;
    int status = pclose(pipe);
    assert_true(WIFEXITED(status));
    return WEXITSTATUS(status);
}

/* The output of the last run has the text in it. */
static inline void says(const char *text)
{
    if (!strstr(output, text))
        print_error("not said: %s\nsaid: %s\n", text, output);
    assert_non_null(strstr(output, text));
}

static inline void write_file(const char *path, const char *text, size_t length)
{
    FILE *file = fopen(path, "wb");
    assert_non_null(file);
    assert_int_equal(fwrite(text, 1, length, file), length);
    assert_int_equal(fclose(file), 0);
}

/* The whole of a file, to be freed; its length too if wanted. */
static inline char *read_file(const char *path, size_t *length)
{
    FILE *file = fopen(path, "rb");
    if (!file)
        print_error("cannot read %s\n", path);
    assert_non_null(file);
    fseek(file, 0, SEEK_END);
    long size = ftell(file);
    rewind(file);
    char *text = malloc((size_t)size + 1);
    assert_non_null(text);
    assert_int_equal(fread(text, 1, (size_t)size, file), (size_t)size);
    text[size] = 0;
    fclose(file);
    if (length)
        *length = (size_t)size;
    return text;
}

/*
 * The next case of a list such as rigs/mistakes.txt: a line, of which " \302\266 " is a line end,
 * and what is said of it, in the lines below that begin with spaces, so many of which are left out.
 * 0: there is none. Each line of both ends with a line end. # begins a line that is for people.
 */
static inline int next_case(const char **list, size_t indent, char *line, char *said)
{
    const char *at = *list;
    while (*at == '#')
        at = strchr(at, '\n') + 1;
    if (*at == 0)
        return 0;
    for (; *at != '\n'; at++) {
        int ends = strncmp(at, " \302\266 ", 4) == 0;
        *line++ = ends ? '\n' : *at;
        at += ends ? 3 : 0;
    }
    for (at++; *at == ' '; at++) {
        for (at += indent; *at != '\n'; at++)
            *said++ = *at;
        *said++ = '\n';
    }
    *line++ = '\n';
    *line = *said = 0;
    *list = at;
    return 1;
}

#endif
