/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE /* memmem */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/*
 * Small mistakes in a source file, one at a time, to see whether a test notices them
 * (tools/mutate).
 *
 *   mutate FILE      lists them: NUMBER LINE WHAT
 *   mutate FILE K    the file with mistake K, on standard output
 */
static char *text;
static long wanted = -1, found;
static int line = 1;

static void put(const char *from, const char *to)
{
    fwrite(from, 1, (size_t)(to - from), stdout);
}

/* On one line, however many it has. */
static void tell(const char *at, size_t length)
{
    for (size_t k = 0; k < length; k++) {
        int is_space = at[k] == ' ' || at[k] == '\n';
        if (!is_space || k == 0 || (at[k - 1] != ' ' && at[k - 1] != '\n'))
            putchar(is_space ? ' ' : at[k]);
    }
}

/* A mistake: `length` bytes at a place become `other`. */
static void mistake(const char *at, size_t length, const char *other)
{
    if (wanted < 0) {
        printf("%ld %d '", found, line);
        tell(at, length);
        printf("' becomes '%s'\n", other);
    } else if (found == wanted) {
        put(text, at);
        printf("%s%s", other, at + length);
        exit(0);
    }
    found++;
}

/* Longer ones first. */
static const struct {
    const char *is, *becomes;
} operators[] = {
    {"<<=", ">>="},  {">>=", "<<="}, {"<<", ">>"},   {">>", "<<"},   {"<=", "<"},
    {">=", ">"},     {"==", "!="},   {"!=", "=="},   {"&&", "||"},   {"||", "&&"},
    {"+=", "-="},    {"-=", "+="},   {"|=", "&="},   {"&=", "|="},   {"^=", "|="},
    {"++", "--"},    {"--", "++"},   {"->", NULL},   {"*=", "/="},   {" < ", " <= "},
    {" > ", " >= "}, {" + ", " - "}, {" - ", " + "}, {" & ", " | "}, {" | ", " & "},
    {" % ", " / "},  {" / ", " * "},
};

/* More memory than is needed is no mistake: what is allocated, and how long an array is. */
static int is_of_memory(const char *at)
{
    static const char *const types[] = {"uint", "int", "char", "struct ", "static ", "const "};
    const char *begin = at;
    while (begin > text && begin[-1] != '\n')
        begin--;
    begin += strspn(begin, " ");
    for (size_t k = 0; at[-1] == '[' && k < sizeof types / sizeof types[0]; k++) {
        if (strncmp(begin, types[k], strlen(types[k])) == 0 &&
            !memchr(begin, '=', (size_t)(at - begin)) && !memchr(begin, '(', (size_t)(at - begin)))
            return 1;
    }
    while (at > text && !strchr(";{}", at[-1]))
        at--;
    return memmem(at, strcspn(at, ";"), "alloc(", 6) != NULL;
}

/* A number of code: one more. */
static const char *number_at(const char *at)
{
    char *end, other[40];
    unsigned long value = strtoul(at, &end, 0);
    const char *last = end;
    while (isalnum((unsigned char)*last) || *last == '.')
        last++;
    if (last - end <= 3 && value < 0xffffffff && !is_of_memory(at)) {
        snprintf(other, sizeof other, "%lu%.*s", value + 1, (int)(last - end), end);
        mistake(at, (size_t)(last - at), other);
    }
    return last;
}

/* A statement that is an assignment or a call: left out. Declarations begin with a type. */
static void statement_at(const char *at)
{
    const char *end = strchr(at, ';'), *brace = strchr(at, '{');
    size_t name = strspn(at, "abcdefghijklmnopqrstuvwxyz_0123456789->.[]*");
    int keyword = strncmp(at, "return", 6) == 0 || strncmp(at, "break", 5) == 0 ||
                  strncmp(at, "continue", 8) == 0 || strncmp(at, "goto", 4) == 0;
    if (!end || (brace && brace < end) || name == 0 || keyword)
        return;
    if (at[name] == '(' || strncmp(at + name, " = ", 3) == 0 ||
        strncmp(at + name, " += ", 4) == 0 || strncmp(at + name, " |= ", 4) == 0 ||
        strncmp(at + name, "++", 2) == 0)
        mistake(at, (size_t)(end - at), "(void)0");
}

static const char *past_text(const char *at, char quote)
{
    for (at++; *at && *at != quote; at++)
        at += *at == '\\' && at[1];
    return *at ? at + 1 : at;
}

static const char *past_line(const char *at)
{
    while (*at && *at != '\n')
        at++;
    return at;
}

/* 1: a statement may begin here: only spaces before it on its line, which end one before. */
static int begins_statement(const char *at)
{
    const char *before = at;
    while (before > text && (before[-1] == ' ' || before[-1] == '\n'))
        before--;
    return before > text && at > text && at[-1] == ' ' && strchr(";{})", before[-1]) &&
           memchr(before, '\n', (size_t)(at - before));
}

static const char *code_at(const char *at)
{
    if (isalpha((unsigned char)*at) || *at == '_') {
        if (begins_statement(at))
            statement_at(at);
        if (strncmp(at, "if (", 4) == 0)
            mistake(at, 4, "if (!");
        while (isalnum((unsigned char)*at) || *at == '_')
            at++;
        return at;
    }
    if (isdigit((unsigned char)*at))
        return number_at(at);
    for (size_t k = 0; k < sizeof operators / sizeof operators[0]; k++) {
        size_t n = strlen(operators[k].is);
        if (strncmp(at, operators[k].is, n) != 0)
            continue;
        if (operators[k].becomes)
            mistake(at, n, operators[k].becomes);
        return at + (operators[k].is[0] == ' ' ? 1 : n);
    }
    return at + 1;
}

int main(int argc, char **argv)
{
    FILE *file = argc > 1 ? fopen(argv[1], "rb") : NULL;
    if (!file) {
        fprintf(stderr, "mutate: write mutate FILE, or mutate FILE NUMBER\n");
        return 2;
    }
    text = calloc(1, 1 << 20);
    if (!text || fread(text, 1, (1 << 20) - 1, file) == 0)
        return 3;
    wanted = argc > 2 ? atol(argv[2]) : -1;
    int inside = 0; /* braces: outside of functions there are only tables and names */
    for (const char *at = text; *at;) {
        if (*at == '\n')
            line++;
        if (strncmp(at, "/*", 2) == 0) {
            const char *end = strstr(at, "*/");
            for (; at < end; at++)
                line += *at == '\n';
            at += 2;
        } else if (*at == '#') {
            at = past_line(at);
        } else if (*at == '"' || *at == '\'') {
            at = past_text(at, *at);
        } else if (*at == '{' || *at == '}') {
            inside += *at == '{' ? 1 : -1;
            at++;
        } else {
            at = inside > 0 ? code_at(at) : at + 1;
        }
    }
    free(text);
    return wanted >= 0 ? 2 : 0;
}
