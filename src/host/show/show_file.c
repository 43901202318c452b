/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <string.h>

#include "host_private.h"
#include "show_private.h"

/* The lines of a file. */

#define MOST_LINE 2000

struct lines {
    struct dia_show *show;
    const struct dia_rig *rig;
    const char *path;
    char text[MOST_LINE]; /* of the line that is being put together */
    unsigned number, begun;
    struct dia_diagnostic *wrong;
};

static enum dia_status take_line(struct lines *to)
{
    struct dia_diagnostic why = {""};
    enum dia_status status = dia_show_line(to->show, to->rig, to->text, &why);
    to->text[0] = 0;
    if (status != DIA_OK)
        dia_host_wrong(to->wrong, "%s:%u: %.400s", to->path, to->begun, why.text);
    return status;
}

/* # at the start of a word begins what is for people; colours have one inside a word, texts any. */
static void drop_comment(char *line)
{
    int quoted = 0;
    for (char *at = line; *at; at++) {
        quoted ^= *at == '"' && (at == line || at[-1] != '\\');
        if (*at != '#' || quoted)
            continue;
        if (at == line ||
            ((at[-1] == ' ' || at[-1] == '\t') && (at[1] == ' ' || at[1] == '\t' || at[1] == 0))) {
            *at = 0;
            return;
        }
    }
}

static enum dia_status take_lines(struct lines *to, FILE *file)
{
    char line[MOST_LINE];
    enum dia_status status = DIA_OK;
    while (status == DIA_OK && fgets(line, sizeof line, file)) {
        size_t length = strcspn(line, "\r\n"), used = strlen(to->text);
        to->number++;
        if (line[length] == 0 && !feof(file))
            return dia_host_wrong(to->wrong, "%s:%u: a line is at most %d characters long",
                                  to->path, to->number, MOST_LINE - 2);
        line[length] = 0;
        if (to->number == 1 && strncmp(line, "\xef\xbb\xbf", 3) == 0) /* some editors begin so */
            memmove(line, line + 3, length - 2);
        drop_comment(line);
        if (line[0] != ' ' && line[0] != '\t') {
            status = take_line(to);
            to->begun = to->number;
            used = 0;
        }
        if (used + strlen(line) >= MOST_LINE)
            return dia_host_wrong(to->wrong,
                                  "%s:%u: with those that go on with it a line is at most "
                                  "%d characters long",
                                  to->path, to->begun, MOST_LINE - 1);
        snprintf(to->text + used, sizeof to->text - used, "%s", line);
    }
    return status == DIA_OK ? take_line(to) : status;
}

static enum dia_status take_file(struct dia_show *show, const struct dia_rig *rig, FILE *file,
                                 const char *name, struct dia_diagnostic *wrong)
{
    struct lines to = {show, rig, name, "", 0, 1, wrong};
    enum dia_status status = take_lines(&to, file);
    if (status == DIA_OK && ferror(file))
        status = dia_host_wrong(wrong, "%s: cannot be read: %s", name, strerror(errno));
    fclose(file);
    return status;
}

enum dia_status dia_show_read(struct dia_show *show, const struct dia_rig *rig, const char *text,
                              const char *name, struct dia_diagnostic *wrong)
{
    char nothing[] = "\n";
    FILE *file =
        fmemopen(text[0] ? (void *)(uintptr_t)text : nothing, text[0] ? strlen(text) : 1, "r");
    if (!file)
        return dia_host_failed(wrong, name, "cannot be read");
    return take_file(show, rig, file, name, wrong);
}

enum dia_status dia_show_load(struct dia_show *show, const struct dia_rig *rig, const char *path,
                              struct dia_diagnostic *wrong)
{
    FILE *file = fopen(path, "r");
    if (!file)
        return dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    enum dia_status status = take_file(show, rig, file, path, wrong);
    if (status == DIA_OK && show->layer_count == 0)
        return dia_host_wrong(wrong, "%s: a show has at least one line 'layer ...'", path);
    return status;
}

enum dia_status dia_show_write(const char *path, const char *text, struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    fputs(text, out.file); /* closing tells what has gone wrong */
    return dia_host_output_close(&out, wrong);
}
