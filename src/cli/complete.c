/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/drawings.h>
#include <diachrome/rig_layer.h>

#include "cli.h"

/*
 * What the last word of a line may be: one candidate a line, behind a tab what it is. Shells ask:
 *
 *   diachrome complete WORDS... WORD-SO-FAR        the words behind "diachrome"
 *
 * A line ":files" says that a file belongs there. Nothing is ever wrong: a line that makes no sense
 * has no candidates.
 */
static void candidate(const char *so_far, const char *before, const char *word, const char *after,
                      const char *help)
{
    char whole[256];
    snprintf(whole, sizeof whole, "%s%s%s", before, word, after);
    if (strncmp(whole, so_far, strlen(so_far)) == 0)
        printf("%s\t%s\n", whole, help ? help : "");
}

/* A line that is being written. */
struct line {
    int count;
    const char **words; /* behind the command */
    const struct cli_command *command;
    const char *so_far;
};

static const struct poptOption *option_of(const struct line *line, const char *word)
{
    for (const struct poptOption *o = line->command->options; o->longName || o->arg; o++) {
        if (!o->longName || o->argInfo == POPT_ARG_INCLUDE_TABLE)
            continue;
        if ((strncmp(word, "--", 2) == 0 && strcmp(word + 2, o->longName) == 0) ||
            (word[0] == '-' && o->shortName && word[1] == o->shortName && word[2] == 0))
            return o;
    }
    return NULL;
}

static int takes_value(const struct poptOption *option)
{
    return option && (option->argInfo & POPT_ARG_MASK) == POPT_ARG_STRING;
}

/* The word behind an option on the line, or NULL. */
static const char *value_on_line(const struct line *line, const char *name)
{
    for (int k = 0; k + 1 < line->count; k++) {
        const struct poptOption *option = option_of(line, line->words[k]);
        if (takes_value(option) && strcmp(option->longName, name) == 0)
            return line->words[k + 1];
    }
    return NULL;
}

/* The rig on the line, if there is one and it can be read. */
static const struct dia_rig *rig_on_line(const struct line *line)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong;
    const char *given = value_on_line(line, "rig");
    if (given)
        return dia_rig_load(&rig, given, &wrong) == DIA_OK ? &rig : NULL;
    for (int k = 0; k < line->count; k++) {
        if (takes_value(option_of(line, line->words[k])))
            k++;
        else if (line->words[k][0] != '-' && dia_rig_load(&rig, line->words[k], &wrong) == DIA_OK)
            return &rig;
    }
    return NULL;
}

static void looks(const char *so_far)
{
    for (const struct dia_look *const *look = dia_looks; *look; look++)
        candidate(so_far, "", (*look)->name, "", (*look)->help);
    for (int k = 0; dia_desk_looks[k]; k++)
        candidate(so_far, "", dia_desk_looks[k]->name, "", dia_desk_looks[k]->help);
}

/* "key=" of the look on the line; of a choice also its words. */
static void settings(const struct line *line)
{
    const char *name = value_on_line(line, "look");
    struct dia_diagnostic none = {""};
    const struct dia_look *look = name ? dia_look_named(name, &none) : NULL;
    for (int k = 0; look && k < look->param_count; k++) {
        const struct dia_param *param = &look->params[k];
        char before[24], word[32];
        snprintf(before, sizeof before, "%s=", param->key);
        if (param->kind != DIA_PARAM_CHOICE)
            candidate(line->so_far, before, "", "", param->help);
        for (const char *at = param->kind == DIA_PARAM_CHOICE ? param->words : ""; *at;) {
            size_t n = strcspn(at, " ");
            snprintf(word, sizeof word, "%.*s", (int)n, at);
            candidate(line->so_far, before, word, "", param->help);
            at += n + (at[n] == ' ');
        }
    }
}

/* Names of the rig's lanes, devices and, where they count, supplies. */
static void names(const struct line *line, const char *after, int supplies)
{
    const struct dia_rig *rig = rig_on_line(line);
    for (uint32_t i = 0; rig && i < rig->lane_count; i++)
        candidate(line->so_far, "", rig->lanes[i].name, after, rig->lanes[i].part.name);
    for (uint32_t i = 0; rig && i < rig->device_count; i++)
        candidate(line->so_far, "", rig->devices[i].name, after, rig->devices[i].chip);
    for (uint32_t i = 0; rig && supplies && i < rig->supply_count; i++)
        candidate(line->so_far, "", rig->supplies[i].name, after, "supply");
}

/* Names of the drawings of a file on the line: 1, or 0 where there is none. */
static int drawings(const struct line *line)
{
    struct dia_drawings of;
    struct dia_diagnostic wrong;
    char sign[8];
    for (int k = 0; k < line->count; k++) {
        if (takes_value(option_of(line, line->words[k])))
            k++;
        else if (line->words[k][0] != '-' &&
                 dia_drawings_load(&of, line->words[k], &wrong) == DIA_OK) {
            for (uint32_t i = 0; i < of.count; i++)
                candidate(line->so_far, "",
                          of.items[i].code ? dia_sign_text(of.items[i].code, sign)
                                           : of.items[i].name,
                          "", NULL);
            dia_drawings_free(&of);
            return 1;
        }
    }
    return 0;
}

static void words(const char *so_far, const char *const *list)
{
    for (; *list; list++)
        candidate(so_far, "", *list, "", NULL);
}

static void values(const struct line *line, const char *option)
{
    static const char *const views[] = {"desk", "parts", NULL};
    static const char *const files[] = {"answers", "drawings", "out", "record",
                                        "rig",     "show",     NULL};
    if (strcmp(option, "look") == 0 || strcmp(option, "layer") == 0)
        looks(line->so_far);
    else if (strcmp(option, "set") == 0)
        settings(line);
    else if (strcmp(option, "along") == 0)
        words(line->so_far, dia_axis_words);
    else if (strcmp(option, "view") == 0)
        words(line->so_far, views);
    else if (strcmp(option, "element") == 0)
        names(line, "[", 0);
    else if (strcmp(option, "fault") == 0)
        names(line, ": ", 1);
    else if (strcmp(option, "only") == 0 || strcmp(option, "as") == 0)
        names(line, "", strcmp(option, "only") == 0);
    for (const char *const *file = files; *file; file++) {
        if (strcmp(option, *file) == 0)
            puts(":files");
    }
}

static void options(const struct line *line)
{
    for (const struct poptOption *o = line->command->options; o->longName || o->arg; o++) {
        if (o->longName && o->argInfo != POPT_ARG_INCLUDE_TABLE)
            candidate(line->so_far, "--", o->longName, "", o->descrip);
    }
    candidate(line->so_far, "--", "help", "", "what there is");
}

static void commands(const char *so_far)
{
    for (const struct cli_command *command = cli_commands; command->name; command++)
        candidate(so_far, "", command->name, "", command->help);
    candidate(so_far, "--", "help", "", "what there is");
    candidate(so_far, "--", "version", "", "which one this is");
}

int cli_complete(int argc, const char **argv)
{
    if (argc < 2) {
        commands(argc == 1 ? argv[0] : "");
        return cli_finish(CLI_FINE);
    }
    struct line line = {argc - 2, argv + 1, cli_commands, argv[argc - 1]};
    while (line.command->name && strcmp(line.command->name, argv[0]) != 0)
        line.command++;
    if (!line.command->name)
        return CLI_FINE;
    const struct poptOption *before =
        line.count ? option_of(&line, line.words[line.count - 1]) : NULL;
    if (takes_value(before))
        values(&line, before->longName);
    else if (line.so_far[0] == '-')
        options(&line);
    else if (strcmp(line.command->name, "looks") == 0)
        looks(line.so_far);
    else if (strcmp(line.command->name, "glyphs") == 0 ? !drawings(&line) : !rig_on_line(&line))
        puts(":files");
    return cli_finish(CLI_FINE);
}
