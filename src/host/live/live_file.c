/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "host_private.h"
#include "live_private.h"

/* ---- the text of a show ---------------------------------------------------------------------- */

static char *read_text(const char *path, int *failed, struct dia_diagnostic *wrong)
{
    FILE *file = fopen(path, "r");
    char *text = file ? malloc(LIVE_TEXT + 1) : NULL;
    size_t n = text ? fread(text, 1, LIVE_TEXT, file) : 0;
    int unread = !file || !text || ferror(file);
    *failed = file && !text;
    if (unread)
        dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    else if (n == LIVE_TEXT)
        dia_host_wrong(wrong, "%s: a show has at most %u bytes", path, LIVE_TEXT - 1);
    else if (memchr(text, 0, n))
        dia_host_wrong(wrong, "%s: this is no text: it has a byte 0", path);
    if (file)
        fclose(file);
    if (!unread && n < LIVE_TEXT && !memchr(text, 0, n)) {
        text[n] = 0;
        return text;
    }
    free(text);
    return NULL;
}

struct dia_live *dia_live_load(const struct dia_rig *rig, const char *path, int *failed,
                               struct dia_diagnostic *wrong)
{
    int none = 0;
    failed = failed ? failed : &none;
    char *text = read_text(path, failed, wrong);
    struct dia_live *live = text ? dia_live_new(rig, text, path, failed, wrong) : NULL;
    free(text);
    return live;
}

/* ---- changes as they were recorded: a line each, with its time before it --------------------- */

#define MOST_CHANGES 10000000u

static enum dia_status keep(struct dia_changes *changes, uint64_t ms, const char *line, unsigned at)
{
    if (changes->count == changes->room) {
        uint32_t room = changes->room ? 2 * changes->room : 64;
        struct dia_change *more =
            room <= MOST_CHANGES ? realloc(changes->changes, room * sizeof *more) : NULL;
        if (!more)
            return DIA_PORT_FAILED;
        changes->changes = more;
        changes->room = room;
    }
    struct dia_change *change = &changes->changes[changes->count];
    change->line = strdup(line);
    if (!change->line)
        return DIA_PORT_FAILED;
    change->ms = ms;
    change->at = at;
    changes->count++;
    return DIA_OK;
}

static enum dia_status take_line(struct dia_changes *changes, char *line, unsigned at,
                                 struct dia_diagnostic *wrong)
{
    struct dia_diagnostic why = {""};
    int64_t ms = 0;
    char *begin = line + strspn(line, " \t"), *end = begin + strcspn(begin, " \t");
    if (*begin == 0 || *begin == '#')
        return DIA_OK;
    int alone = *end == 0;
    *end = 0;
    if (dia_quantity_read(begin, DIA_TIME, 0, INT64_C(1) << 50, "the time of a change", &ms,
                          &why) != DIA_OK)
        return dia_host_wrong(wrong, "%s:%u: %.300s", changes->name, at, why.text);
    if (alone)
        return dia_host_wrong(wrong, "%s:%u: a change follows its time, as in '12.5s pause'",
                              changes->name, at);
    if (changes->count && changes->changes[changes->count - 1].ms > (uint64_t)ms)
        return dia_host_wrong(wrong, "%s:%u: times rise; %s comes behind a later one",
                              changes->name, at, begin);
    enum dia_status status = keep(changes, (uint64_t)ms, end + 1, at);
    if (status != DIA_OK)
        dia_host_wrong(wrong, "%s: out of memory", changes->name);
    return status;
}

enum dia_status dia_changes_load(struct dia_changes *changes, const char *path,
                                 struct dia_diagnostic *wrong)
{
    enum dia_status status = DIA_OK;
    char *line = malloc(2 * LIVE_TEXT);
    unsigned at = 0;
    memset(changes, 0, sizeof *changes);
    snprintf(changes->name, sizeof changes->name, "%s", path);
    FILE *file = line ? fopen(path, "r") : NULL;
    if (!file) {
        status = dia_host_wrong(wrong, line ? "%s: cannot be read: %s" : "%s: %s", path,
                                strerror(errno));
        if (!line)
            status = DIA_PORT_FAILED;
        free(line);
        return status;
    }
    while (status == DIA_OK && fgets(line, 2 * LIVE_TEXT, file)) {
        at++;
        line[strcspn(line, "\r\n")] = 0;
        status = take_line(changes, line, at, wrong);
    }
    if (status == DIA_OK && ferror(file))
        status = dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    fclose(file);
    free(line);
    if (status != DIA_OK)
        dia_changes_free(changes);
    return status;
}

void dia_changes_free(struct dia_changes *changes)
{
    for (uint32_t k = 0; k < changes->count; k++)
        free(changes->changes[k].line);
    free(changes->changes);
    changes->changes = NULL;
    changes->count = changes->room = 0;
}

enum dia_status dia_changes_make(const struct dia_changes *changes, uint32_t *next,
                                 struct dia_live *live, uint64_t ms, struct dia_diagnostic *wrong)
{
    for (; *next < changes->count && changes->changes[*next].ms <= ms; ++*next) {
        const struct dia_change *change = &changes->changes[*next];
        struct dia_diagnostic why = {""};
        enum dia_status status =
            dia_live_change(live, change->line, change->ms, DIA_LIVE_OWNER, &why);
        if (status != DIA_OK) {
            dia_host_wrong(wrong, "%s:%u: %.400s", changes->name, change->at, why.text);
            return status;
        }
    }
    return DIA_OK;
}
