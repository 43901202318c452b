/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "show_private.h"

const char *const dia_axis_words[] = {"along", "x", "y", "radius", "angle", "side", "index", NULL};

/* The words of a line. */

/* Whether a word is a number, or ends in one behind '=', that may still have a unit behind it. */
static int lacks_unit(const char *word, size_t length)
{
    size_t digits = 0;
    while (digits < length &&
           (isdigit((unsigned char)word[length - 1 - digits]) || word[length - 1 - digits] == '.'))
        digits++;
    size_t before = length - digits;
    if (before > 0 && (word[before - 1] == '-' || word[before - 1] == '+'))
        before--;
    return digits > 0 && (before == 0 || word[before - 1] == '=');
}

/* How long the unit is that a text begins with; 0: it begins with something else. */
static size_t unit_ahead(const char *text)
{
    static const char *const units[] = {"%",   "px",   "mm",   "cm",  "m",      "px/s",
                                        "%/s", "mm/s", "cm/s", "m/s", "turn/s", "turns/s",
                                        "s",   "ms",   "min",  "h"};
    size_t length = strcspn(text, " \t\n");
    for (size_t k = 0; k < sizeof units / sizeof units[0]; k++) {
        if (strlen(units[k]) == length && strncmp(units[k], text, length) == 0)
            return length;
    }
    return 0;
}

int dia_show_word(const char **at, char word[SHOW_WORD])
{
    size_t n = 0;
    int depth = 0, quoted = 0;
    *at += strspn(*at, " \t\n");
    for (; (*at)[n] && n < SHOW_WORD - 1; n++) {
        char c = (*at)[n];
        if (c == '"' && (n == 0 || (*at)[n - 1] != '\\'))
            quoted = !quoted;
        else if (!quoted && depth == 0 && strchr(" \t\n", c))
            break;
        else if (!quoted)
            depth += c == '(' ? 1 : c == ')' && depth > 0 ? -1 : 0;
    }
    memcpy(word, *at, n);
    *at += n;
    size_t unit = 0, gap = strspn(*at, " \t\n");
    if (gap > 0 && n < SHOW_WORD - 10 && lacks_unit(word, n))
        unit = unit_ahead(*at + gap);
    if (unit > 0) { /* "2.5 s" is one word */
        word[n++] = ' ';
        memcpy(word + n, *at + gap, unit);
        n += unit;
        *at += gap + unit;
    }
    word[n] = 0;
    return n != 0;
}

/* 1: it is one of the words. */
static int find_word(const char *word, const char *const *words, uint8_t *choice)
{
    for (uint8_t k = 0; words[k]; k++) {
        if (strcmp(words[k], word) == 0) {
            *choice = k;
            return 1;
        }
    }
    return 0;
}

/* All of them with commas between. */
static void list_words(const char *const *words, char *all, size_t size)
{
    all[0] = 0;
    for (; *words; words++) {
        size_t used = strlen(all);
        snprintf(all + used, size - used, "%s%s", used ? ", " : "", *words);
    }
}

enum dia_status dia_show_parameter(const char *of, const char *word, const char *const *words,
                                   uint8_t *choice, struct dia_diagnostic *wrong)
{
    char all[120];
    if (find_word(word, words, choice))
        return DIA_OK;
    list_words(words, all, sizeof all);
    const char *near = dia_nearest(word, words);
    if (near)
        return dia_host_wrong(wrong, "%s has no parameter '%.40s'; did you mean '%s'?", of, word,
                              near);
    return dia_host_wrong(wrong, "%s has no parameter '%.40s'; it has %s", of, word, all);
}

enum dia_status dia_show_choose(const char *what, const char *word, const char *const *words,
                                uint8_t *choice, struct dia_diagnostic *wrong)
{
    char all[120];
    if (find_word(word, words, choice))
        return DIA_OK;
    list_words(words, all, sizeof all);
    const char *near = dia_nearest(word, words);
    if (near)
        return dia_host_wrong(wrong, "%s: there is no '%.40s'; did you mean '%s'?", what, word,
                              near);
    return dia_host_wrong(wrong, "%s: there is no '%.40s'; there are %s", what, word, all);
}

enum dia_status dia_show_amount(const char *clause, const char *word, enum dia_quantity kind,
                                int64_t min, int64_t max, int64_t *value,
                                struct dia_diagnostic *wrong)
{
    char what[48];
    snprintf(what, sizeof what, "'%.40s'", clause);
    return dia_quantity_read(word, kind, min, max, what, value, wrong);
}

enum dia_status dia_show_brackets(const char *text, const char *example, char shape[SHOW_WORD],
                                  char inside[SHOW_WORD], struct dia_diagnostic *wrong)
{
    size_t length = strlen(text), before = strcspn(text, "(");
    inside[0] = 0;
    snprintf(shape, SHOW_WORD, "%.*s", (int)(before < SHOW_WORD ? before : SHOW_WORD - 1), text);
    if (before == length)
        return DIA_OK;
    if (text[length - 1] != ')')
        return dia_host_wrong(wrong, "'%.40s' does not end with its closing bracket, as in %s",
                              text, example);
    size_t within = length - before - 2;
    snprintf(inside, SHOW_WORD, "%.*s", (int)(within < SHOW_WORD ? within : SHOW_WORD - 1),
             text + before + 1);
    return DIA_OK;
}
