/* SPDX-License-Identifier: MIT */
/* Writes files into a table in C, each with its path, type and a tag of what is in it.
 * Usage: embed FILE.c FOLDER PATH=TYPE...      PATH: "/" is index.html */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static int embed(const char *folder, const char *path, unsigned number)
{
    char name[1024];
    uint64_t hash = UINT64_C(14695981039346656037); /* FNV-1a */
    long length = 0;
    int byte;
    snprintf(name, sizeof name, "%s%s", folder, strcmp(path, "/") == 0 ? "/index.html" : path);
    FILE *file = fopen(name, "rb");
    if (!file) {
        fprintf(stderr, "embed: %s cannot be read\n", name);
        return -1;
    }
    printf("static const unsigned char bytes%u[] = {", number);
    while ((byte = getc(file)) != EOF) {
        hash = (hash ^ (unsigned)byte) * UINT64_C(1099511628211);
        printf("%s%d,", length++ % 32 ? "" : "\n", byte);
    }
    printf("};\n#define LENGTH%u %ldu\n#define TAG%u \"\\\"%016" PRIx64 "\\\"\"\n", number, length,
           number, hash);
    return fclose(file);
}

int main(int argc, char **argv)
{
    if (argc < 3 || !freopen(argv[1], "w", stdout))
        return 3;
    puts("/* made by tools/embed.c */\n#include \"web_private.h\"\n");
    for (int k = 3; k < argc; k++) {
        char path[256];
        snprintf(path, sizeof path, "%.*s", (int)strcspn(argv[k], "="), argv[k]);
        if (embed(argv[2], path, (unsigned)k) != 0)
            return 3;
    }
    puts("const struct web_file dia_web_files[] = {");
    for (int k = 3; k < argc; k++) {
        size_t length = strcspn(argv[k], "=");
        printf("    {\"%.*s\", \"%s\", bytes%d, LENGTH%d, TAG%d},\n", (int)length, argv[k],
               argv[k] + length + 1, k, k, k);
    }
    puts("    {NULL, NULL, NULL, 0, NULL}};");
    return fclose(stdout) == 0 ? 0 : 3;
}
