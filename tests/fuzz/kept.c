/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

/*
 * Gives a target, without a fuzzer, what fuzzing has found to go other ways through the code:
 *
 *   kept show tests/fuzz/kept/show
 *
 * keep.sh makes such a file: a line with how many bytes there are, the bytes, a line end, and so
 * on. What is wrong ends by a signal.
 */
typedef int takes(const uint8_t *data, size_t size);

/* TARGETS is X(name) for each fuzz_name.c, where its function has that name (tests/CMakeLists.txt).
 */
#define X(name) takes fuzz_##name;
TARGETS
#undef X
#define X(name) {#name, fuzz_##name},
static const struct {
    const char *name;
    takes *take;
} targets[] = {TARGETS};

static unsigned all_of(FILE *file, takes *take)
{
    unsigned long size;
    unsigned inputs = 0;
    while (fscanf(file, "%lu", &size) == 1 && fgetc(file) == '\n') {
        uint8_t *bytes = malloc(size + 1);
        if (!bytes || fread(bytes, 1, size, file) != size)
            abort();
        take(bytes, size);
        free(bytes);
        inputs++;
    }
    return feof(file) ? inputs : 0; /* a file that is cut off is no test */
}

int main(int argc, char **argv)
{
    FILE *file = argc == 3 ? fopen(argv[2], "rb") : NULL;
    for (size_t k = 0; file && k < sizeof targets / sizeof targets[0]; k++) {
        if (strcmp(argv[1], targets[k].name) != 0)
            continue;
        unsigned inputs = all_of(file, targets[k].take);
        printf("%u inputs\n", inputs);
        fclose(file);
        return inputs ? 0 : 1;
    }
    fprintf(stderr, "usage: kept TARGET FILE\n");
    return 2;
}
