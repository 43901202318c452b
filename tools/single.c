/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/*
 * Writes core and wire as one header and one source, for who would rather copy two files than build
 * a library:
 *
 *   single SOURCE-FOLDER OUT-FOLDER FILE...        the .c files, relative to SOURCE-FOLDER
 *
 * Headers are put where they are first included. What is static in a file has the name of that file
 * behind its own, since all share one file now: functions, tables, types, constants; its macros end
 * with it. Files of src/core/large and src/core/small stand side by side, chosen by DIA_SMALL.
 */
#define NAMES 512

static const char *source_folder;
static char *seen[256]; /* headers that stand in the output already */
static int seen_count;

static char *read_file(const char *folder, const char *path)
{
    char whole[512];
    snprintf(whole, sizeof whole, "%s/%s", folder, path);
    FILE *file = fopen(whole, "rb");
    if (!file)
        return NULL;
    fseek(file, 0, SEEK_END);
    long size = ftell(file);
    rewind(file);
    char *text = calloc(1, (size_t)size + 1);
    if (!text || fread(text, 1, (size_t)size, file) != (size_t)size)
        exit(3);
    fclose(file);
    size_t licence = strncmp(text, "/* SPDX", 7) == 0 ? strcspn(text, "\n") + 1 : 0;
    memmove(text, text + licence, (size_t)size + 1 - licence); /* stands once, at the top */
    return text;
}

static int is_word(int c)
{
    return isalnum(c) || c == '_';
}

/* Length of what begins here: a comment, a text, a character, a word, a number or one sign. */
static size_t token(const char *at)
{
    size_t n = 1;
    if (at[0] == '/' && at[1] == '*') {
        const char *end = strstr(at + 2, "*/");
        return end ? (size_t)(end - at) + 2 : strlen(at);
    }
    if (at[0] == '/' && at[1] == '/')
        return strcspn(at, "\n");
    if (at[0] == '"' || at[0] == '\'') {
        while (at[n] && at[n] != at[0])
            n += at[n] == '\\' ? 2 : 1;
        return n + 1;
    }
    while (is_word((unsigned char)at[0]) && is_word((unsigned char)at[n]))
        n++;
    return n;
}

struct names {
    char name[NAMES][64];
    int count;
    char macro[NAMES][64];
    int macros;
};

static void keep(char list[NAMES][64], int *count, const char *at, size_t n)
{
    for (int k = 0; k < *count; k++) {
        if (strlen(list[k]) == n && memcmp(list[k], at, n) == 0)
            return;
    }
    if (*count == NAMES || n > 63)
        exit(3);
    snprintf(list[(*count)++], 64, "%.*s", (int)n, at);
}

static int is(const char *at, size_t n, const char *word)
{
    return strlen(word) == n && memcmp(at, word, n) == 0;
}

/* Skips what is between brackets that begin here. */
static const char *skip(const char *at)
{
    int depth = 0;
    do {
        size_t n = token(at);
        depth += strchr("([{", *at) != NULL;
        depth -= strchr(")]}", *at) != NULL;
        at += n;
    } while (*at && depth > 0);
    return at;
}

/* The words of an enum's list that begins here. */
static void constants(struct names *names, const char *at)
{
    const char *end = skip(at);
    int first = 1;
    for (at++; at < end; at += token(at)) {
        if (first && is_word((unsigned char)*at)) {
            keep(names->name, &names->count, at, token(at));
            first = 0;
        }
        first |= *at == ',';
        if (*at == '(')
            at = skip(at) - 1;
    }
}

/* What a declaration at the outer level makes that only this file knows. Returns its end. */
static const char *declaration(struct names *names, const char *at)
{
    const char *last = NULL;
    size_t last_n = 0, n;
    int is_static = 0, is_typedef = 0, has_value = 0;
    for (; *at; at += n) {
        n = token(at);
        if (isspace((unsigned char)*at) || (at[0] == '/' && (at[1] == '*' || at[1] == '/')))
            continue;
        if (is(at, n, "static"))
            is_static = 1;
        else if (is(at, n, "typedef"))
            is_typedef = 1;
        else if (is(at, n, "__attribute__")) {
            at += n;
            n = (size_t)(skip(at) - at);
        } else if (is(at, n, "struct") || is(at, n, "enum") || is(at, n, "union")) {
            int is_enum = is(at, n, "enum");
            const char *tag = at + n + strspn(at + n, " \n"), *body = tag;
            if (is_word((unsigned char)*tag))
                body = tag + token(tag);
            body += strspn(body, " \n");
            if (*body == '{') {
                if (is_word((unsigned char)*tag))
                    keep(names->name, &names->count, tag, token(tag));
                if (is_enum)
                    constants(names, body);
                n = (size_t)(skip(body) - at);
            } else if (is_word((unsigned char)*tag)) {
                n = (size_t)(tag + token(tag) - at);
            }
        } else if (is_word((unsigned char)*at) && !has_value) {
            last = at;
            last_n = n;
        } else if (*at == '=') {
            has_value = 1;
        } else if (*at == '(' || *at == '[' || *at == '{') {
            const char *end = skip(at);
            int is_body = *at == '{' && !has_value;
            if (is_static && last && *at == '(' && !has_value)
                keep(names->name, &names->count, last, last_n);
            if (*at == '(' && !has_value)
                last = NULL;
            if (is_body)
                return end;
            n = (size_t)(end - at);
        } else if (*at == ',' || *at == ';') {
            if ((is_static || is_typedef) && last)
                keep(names->name, &names->count, last, last_n);
            last = NULL;
            has_value = 0;
            if (*at == ';')
                return at + 1;
        } else if (*at == '#') {
            n = strcspn(at, "\n");
        }
    }
    return at;
}

static size_t directive(const char *at)
{
    size_t n = 0;
    while (at[n] && !(at[n] == '\n' && at[n - 1] != '\\')) {
        if (at[n] == '/' && at[n + 1] == '*')
            n += token(at + n);
        else
            n++;
    }
    return n;
}

/* All that a file keeps to itself. */
static void find_names(struct names *names, const char *text)
{
    names->count = names->macros = 0;
    for (const char *at = text; *at;) {
        if (*at == '#') {
            if (strncmp(at, "#define ", 8) == 0)
                keep(names->macro, &names->macros, at + 8, token(at + 8));
            at += directive(at);
        } else if (isspace((unsigned char)*at) || *at == '/') {
            at += token(at);
        } else {
            at = declaration(names, at);
        }
    }
}

static int knows(const struct names *names, const char *at, size_t n)
{
    for (int k = 0; k < names->count; k++) {
        if (is(at, n, names->name[k]))
            return 1;
    }
    return 0;
}

static void include(FILE *out, const char *folder, const char *line);

/* Copies a text; names of the file get its own behind them, but for fields of structs. */
static void copy(FILE *out, const char *folder, const char *text, const struct names *names,
                 const char *file)
{
    int in_struct = 0, depth = 0;
    char before = 0;
    const char *word = "";
    size_t word_n = 0;
    for (const char *at = text; *at;) {
        size_t n = token(at);
        if (strncmp(at, "#include", 8) == 0) {
            include(out, folder, at);
            at += strcspn(at, "\n");
            continue;
        }
        int is_tag =
            is(word, word_n, "struct") || is(word, word_n, "enum") || is(word, word_n, "union");
        int is_field = before == '.' || (before == '>' && at[-1] == '>') ||
                       (in_struct && depth >= in_struct && !is_tag);
        fwrite(at, 1, n, out);
        if (names && is_word((unsigned char)*at) && !is_field && knows(names, at, n))
            fprintf(out, "_in_%s", file);
        if (*at == '{' && !in_struct) {
            /* struct NAME { or struct {: what is in there are fields */
            const char *back = at;
            while (back > text &&
                   (isspace((unsigned char)back[-1]) || is_word((unsigned char)back[-1])))
                back--;
            back += strspn(back, " \n");
            if (strncmp(back, "struct", 6) == 0 ||
                strncmp(back, "static const struct {", 20) == 0 ||
                (strstr(back, "struct {") && strstr(back, "struct {") < at))
                in_struct = depth + 1;
        }
        depth += *at == '{';
        depth -= *at == '}';
        if (*at == '}' && depth < in_struct)
            in_struct = 0;
        if (is_word((unsigned char)*at)) {
            word = at;
            word_n = n;
        } else if (!isspace((unsigned char)*at)) {
            word = "";
            word_n = 0;
        }
        if (!isspace((unsigned char)*at))
            before = at[n - 1];
        at += n;
    }
}

/* A header at its first place; system headers as they are. */
static void include(FILE *out, const char *folder, const char *line)
{
    char name[128], path[384];
    if (sscanf(line, "#include <diachrome/%127[^>]>", name) == 1) {
        snprintf(path, sizeof path, "include/diachrome/%s", name);
    } else if (sscanf(line, "#include \"%127[^\"]\"", name) == 1) {
        snprintf(path, sizeof path, "%s/%s", folder, name);
        char *up = strstr(path, "/../"), *from = up; /* "src/core/look/../noise.h" */
        while (from && from > path && from[-1] != '/')
            from--;
        if (up)
            memmove(from, up + 4, strlen(up + 4) + 1);
    } else {
        fprintf(out, "%.*s", (int)strcspn(line, "\n"), line);
        return;
    }
    for (int k = 0; k < seen_count; k++) {
        if (strcmp(seen[k], path) == 0)
            return;
    }
    seen[seen_count++] = strdup(path);
    char *text = read_file(source_folder, path);
    if (!text) {
        fprintf(stderr, "single: there is no %s\n", path);
        exit(2);
    }
    char *slash = strrchr(path, '/');
    *slash = 0;
    fprintf(out, "/* ---- %s ---- */\n", slash + 1);
    copy(out, path, text, NULL, "");
    free(text);
}

static void source(FILE *out, const char *path)
{
    static struct names names;
    char folder[384], name[64];
    char *text = read_file(source_folder, path);
    if (!text) {
        fprintf(stderr, "single: there is no %s\n", path);
        exit(2);
    }
    snprintf(folder, sizeof folder, "%s", path);
    char *slash = strrchr(folder, '/');
    *slash = 0;
    snprintf(name, sizeof name, "%.*s", (int)strcspn(slash + 1, "."), slash + 1);
    int large = strstr(path, "/large/") != NULL, small = strstr(path, "/small/") != NULL;
    find_names(&names, text);
    fprintf(out, "\n/* ======== %s ======== */\n", path);
    if (large || small)
        fprintf(out, "#if%sdef DIA_SMALL\n", small ? "" : "n");
    copy(out, folder, text, &names, name);
    for (int k = 0; k < names.macros; k++)
        fprintf(out, "#undef %s\n", names.macro[k]);
    if (large || small)
        fprintf(out, "#endif\n");
    free(text);
}

static FILE *create(const char *folder, const char *name)
{
    char path[512];
    snprintf(path, sizeof path, "%s/%s", folder, name);
    FILE *file = fopen(path, "w");
    if (!file) {
        perror(path);
        exit(3);
    }
    return file;
}

int main(int argc, char **argv)
{
    if (argc < 4) {
        fprintf(stderr, "usage: single SOURCE-FOLDER OUT-FOLDER FILE...\n");
        return 2;
    }
    source_folder = argv[1];
    FILE *out = create(argv[2], "diachrome.h");
    fprintf(out,
            "/* SPDX-License-Identifier: MIT */\n"
            "/* Diachrome as one header, made by `make single`. Its source is diachrome.c. */\n"
            "#ifndef DIACHROME_SINGLE_H\n#define DIACHROME_SINGLE_H\n");
    include(out, "", "#include <diachrome/diachrome.h>");
    fprintf(out, "\n#endif\n");
    if (fclose(out) != 0)
        return 3;
    out = create(argv[2], "diachrome.c");
    fprintf(out,
            "/* SPDX-License-Identifier: MIT */\n"
            "/*\n"
            " * Diachrome as one source, made by `make single`. Compile it with diachrome.h beside "
            "it, as C11\n"
            " * or later, or as C++20. A small controller says -DDIA_SMALL, and -DDIA_RUN=16u\n"
            " * -DDIA_STACK_RUN=16u; an AVR also -DDIA_ROM=__flash (in C). The program is told the "
            "same.\n"
            " */\n"
            "#include \"diachrome.h\"\n\n"
            "#include <stddef.h>\n#include <string.h>\n\n"
            "#ifdef __cplusplus\nextern \"C\" {\n#endif\n");
    seen[seen_count++] = strdup("/diachrome.h");
    for (int k = 3; k < argc; k++)
        source(out, argv[k]);
    fprintf(out, "\n#ifdef __cplusplus\n}\n#endif\n");
    return fclose(out) == 0 ? 0 : 3;
}
