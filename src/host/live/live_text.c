/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "live_private.h"
#include "show_private.h"

/*
 * The text of a show, changed in one place: all else stays byte for byte. A line of a show is one
 * that does not begin with a space, and those behind it that do.
 */

static const char *line_end(const char *at)
{
    at += strcspn(at, "\n");
    return *at ? at + 1 : at;
}

/* Where the line that begins here is over, with those that go on with it. Comments and empty lines
 * behind the last of those belong to what follows. */
static const char *block_end(const char *at)
{
    const char *end = line_end(at);
    for (const char *next = end; *next == ' ' || *next == '\t'; next = line_end(next)) {
        if (next[strspn(next, " \t\r")] != '\n')
            end = line_end(next);
    }
    return end;
}

static int is_layer(const char *at)
{
    return strncmp(at, "layer", 5) == 0 && (at[5] == ' ' || at[5] == '\t');
}

/* Where a layer begins, with or without a line; the end of the text when there is none. */
static const char *find(const char *text, uint32_t layer)
{
    while (*text && !(is_layer(text) && layer-- == 0))
        text = block_end(text);
    return text;
}

/* before, the line, behind. */
static char *join(const char *text, size_t before, const char *line, const char *behind)
{
    size_t length = line ? strlen(line) : 0, rest = strlen(behind);
    int ends = before == 0 || text[before - 1] == '\n';
    char *out = malloc(before + length + rest + 3);
    if (!out)
        return NULL;
    char *at = out;
    memcpy(at, text, before);
    at += before;
    if (line) {
        if (!ends)
            *at++ = '\n';
        memcpy(at, line, length);
        at += length;
        *at++ = '\n';
    }
    memcpy(at, behind, rest + 1);
    return out;
}

char *dia_live_replace(const char *text, uint32_t layer, const char *line)
{
    const char *at = find(text, layer);
    return *at ? join(text, (size_t)(at - text), line, block_end(at)) : NULL;
}

char *dia_live_append(const char *text, const char *line)
{
    return join(text, strlen(text), line, "");
}

char *dia_live_move(const char *text, uint32_t layer, uint32_t to)
{
    const char *at = find(text, layer), *end = block_end(at);
    if (!*at)
        return NULL;
    size_t length = (size_t)(end - at);
    char *block = malloc(length + 1), *without = join(text, (size_t)(at - text), NULL, end);
    char *moved = NULL;
    if (block && without) {
        memcpy(block, at, length);
        while (length && (block[length - 1] == '\n' || block[length - 1] == '\r'))
            length--;
        block[length] = 0;
        const char *there = find(without, to);
        if (!*there) { /* above the highest: behind it, before the cues that may follow */
            const char *last = without;
            there = without + strlen(without);
            for (uint32_t k = 0; *(last = find(without, k)); k++)
                there = block_end(last);
        }
        moved = join(without, (size_t)(there - without), block, there);
    }
    free(block);
    free(without);
    return moved;
}

/* Cuts a comment off, as show_file.c does. */
static size_t without_comment(const char *line, size_t length)
{
    int quoted = 0;
    for (size_t k = 0; k < length; k++) {
        quoted ^= line[k] == '"' && (k == 0 || line[k - 1] != '\\');
        if (line[k] != '#' || quoted)
            continue;
        if (k == 0 || (isspace((unsigned char)line[k - 1]) &&
                       (k + 1 == length || isspace((unsigned char)line[k + 1]))))
            return k;
    }
    return length;
}

/* A line with those that go on with it, without comments, as the reader of shows sees it. */
static void whole_line(const char *at, const char *end, char line[LIVE_LINE])
{
    size_t used = 0;
    while (at < end) {
        size_t length = without_comment(at, strcspn(at, "\r\n"));
        size_t blank = used ? strspn(at, " \t") : 0;
        blank = blank < length ? blank : length;
        if (used && length > blank && used < LIVE_LINE - 1)
            line[used++] = ' ';
        length -= blank;
        if (used + length >= LIVE_LINE)
            length = LIVE_LINE - 1 - used;
        memcpy(line + used, at + blank, length);
        used += length;
        while (used && (line[used - 1] == ' ' || line[used - 1] == '\t'))
            used--;
        at = line_end(at);
    }
    line[used] = 0;
}

int dia_live_line(const char *text, uint32_t layer, char line[LIVE_LINE])
{
    const char *at = find(text, layer);
    whole_line(at, block_end(at), line);
    return *at != 0;
}

/* ---- words of a line ------------------------------------------------------------------------- */

/* Behind "layer NAME: LOOK". */
static const char *behind_look(const char *line)
{
    char word[SHOW_WORD];
    const char *at = line;
    dia_show_word(&at, word);
    const char *name = at + strspn(at, " \t");
    size_t n = 0;
    while (isalnum((unsigned char)name[n]) || name[n] == '-' || name[n] == '_')
        n++;
    if (name[n] == ':')
        at = name + n + 1;
    dia_show_word(&at, word);
    return at;
}

/* Where a word with its value begins and ends, and its value; else both where settings end. */
struct found {
    const char *begin, *value, *end;
};
static struct found find_word(const char *line, const char *word, int is_key)
{
    char here[SHOW_WORD], value[SHOW_WORD];
    const char *at = behind_look(line);
    struct found found = {at, NULL, at};
    size_t length = strlen(word);
    for (;;) {
        const char *begin = at + strspn(at, " \t");
        if (!dia_show_word(&at, here))
            return found;
        const char *equals = strchr(here, '='), *bracket = strchr(here, '(');
        int sets = equals && (!bracket || equals < bracket);
        if (sets && is_key && strncmp(here, word, length) == 0 && here[length] == '=')
            return (struct found){begin, begin + length + 1, at};
        if (sets) {
            found.begin = found.end = at;
            continue;
        }
        const char *behind = at + strspn(at, " \t");
        int there = dia_show_word(&at, value);
        if (!is_key && strcmp(here, word) == 0 && there)
            return (struct found){begin, behind, at};
        if (!is_key)
            found.begin = found.end = at;
    }
}

void dia_live_get(const char *line, const char *word, int is_key, char *value, size_t size)
{
    struct found found = find_word(line, word, is_key);
    size_t length = found.value ? (size_t)(found.end - found.value) : 0;
    snprintf(value, size, "%.*s", (int)length, found.value ? found.value : "");
}

int dia_live_put(char line[LIVE_LINE], const char *word, int is_key, const char *value)
{
    struct found found = find_word(line, word, is_key);
    char changed[2 * LIVE_LINE];
    size_t before = (size_t)(found.begin - line);
    while (before && (line[before - 1] == ' ' || line[before - 1] == '\t'))
        before--;
    int n = value ? snprintf(changed, sizeof changed, "%.*s %s%s%s%s", (int)before, line, word,
                             is_key ? "=" : " ", value, found.end)
                  : snprintf(changed, sizeof changed, "%.*s%s", (int)before, line, found.end);
    if (n < 0 || n >= LIVE_LINE)
        return 0;
    memcpy(line, changed, (size_t)n + 1);
    return 1;
}

/* ---- files ----------------------------------------------------------------------------------- */

/* A word of a line that names a file. Those of palettes begin with @. */
static int names_file(const char *word, const char *before)
{
    return strcmp(before, "drawings") == 0 ||
           (strcmp(before, "sprite") == 0 && strpbrk(word, "./\\")) ||
           strncmp(word, "file=", 5) == 0 || strstr(word, "=@") || strstr(word, "=\"@");
}

/* Calls each with every word of a text that names a file, until it says 1. */
static int each_file(const char *text, int (*each)(const char *word, void *self), void *self)
{
    char line[LIVE_LINE], word[SHOW_WORD], before[SHOW_WORD];
    for (const char *end; *text; text = end) {
        const char *at = line;
        end = block_end(text);
        whole_line(text, end, line);
        for (before[0] = 0; dia_show_word(&at, word); memcpy(before, word, sizeof before)) {
            if (names_file(word, before) && each(word, self))
                return 1;
        }
    }
    return 0;
}

/* The file that a word names, without what stands around it. */
static void bare(const char *word, char file[SHOW_WORD])
{
    const char *at = word, *equals = strchr(word, '=');
    if (equals && strncmp(equals, "=@", 2) == 0)
        at = equals + 2;
    else if (equals && strncmp(equals, "=\"@", 3) == 0)
        at = equals + 3;
    else if (strncmp(word, "file=", 5) == 0)
        at = word + 5;
    at += *at == '"';
    snprintf(file, SHOW_WORD, "%.*s", (int)strcspn(at, "\""), at);
}

struct counted {
    uint32_t k;
    char *name;
    size_t size;
};

static int is_kth(const char *word, void *self)
{
    struct counted *to = self;
    char file[SHOW_WORD];
    if (to->k--)
        return 0;
    bare(word, file);
    snprintf(to->name, to->size, "%s", file);
    return 1;
}

int dia_live_file(const struct dia_live *live, uint32_t k, char *name, size_t size)
{
    struct counted to = {k, name, size};
    return each_file(live->text, is_kth, &to);
}

struct looked_for {
    const char *in; /* where it must be, or the word itself */
    char *word;
    size_t size;
};

static int is_it(const char *word, void *self)
{
    char file[SHOW_WORD];
    bare(word, file);
    return strcmp(file, self) == 0;
}

static int is_unknown(const char *word, void *self)
{
    struct looked_for *to = self;
    char file[SHOW_WORD];
    bare(word, file);
    if (each_file(to->in, is_it, file))
        return 0;
    snprintf(to->word, to->size, "%s", word);
    return 1;
}

int dia_live_new_file(const char *text, const char *known, char *word, size_t size)
{
    struct looked_for to = {known, word, size};
    return each_file(text, is_unknown, &to);
}
