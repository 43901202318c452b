/* SPDX-License-Identifier: MIT */
#ifndef TESTS_FUZZ_H
#define TESTS_FUZZ_H

#include <stddef.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <unistd.h>

#include <diachrome/diagnostic.h>
#include <diachrome/status.h>

/* What a fuzzer calls with bytes of its own (libFuzzer). */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

/* The bytes as a text; the caller frees it. */
static inline char *text_of(const uint8_t *data, size_t size)
{
    char *text = malloc(size + 1);
    if (!text)
        abort();
    if (size)
        memcpy(text, data, size);
    text[size] = 0;
    return text;
}

/* The bytes as a file that has no name but this. */
static inline const char *file_of(const uint8_t *data, size_t size)
{
    static char path[40];
    static int file = -1;
    if (file < 0)
        file = memfd_create("fuzz", 0);
    snprintf(path, sizeof path, "/proc/self/fd/%d", file);
    if (file < 0 || ftruncate(file, 0) != 0 || pwrite(file, data, size, 0) != (ssize_t)size)
        abort();
    return path;
}

/* What is refused must be said. */
static inline void said(enum dia_status status, const struct dia_diagnostic *wrong)
{
    if (status != DIA_OK && wrong->text[0] == 0)
        abort();
}

#endif
