/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <dirent.h>
#include <errno.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include <diachrome/show.h>

#include "presets.h"

#define ENDING  ".show"
#define LARGEST (1 << 18)

enum dia_status dia_live_wrong(struct dia_diagnostic *wrong, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(wrong->text, sizeof wrong->text, format, args);
    va_end(args);
    return DIA_BAD_VALUE;
}

/* Letters, digits, - and _, a letter first: no point, no slash, so no path. */
static int is_name(const char *name, size_t length)
{
    if (length == 0 || length >= DIA_RIG_NAME || !isalpha((unsigned char)name[0]))
        return 0;
    for (size_t k = 0; k < length; k++) {
        if (!isalnum((unsigned char)name[k]) && name[k] != '-' && name[k] != '_')
            return 0;
    }
    return 1;
}

static int find(const struct presets *presets, const char *name)
{
    for (uint32_t k = 0; k < presets->count; k++) {
        if (strcmp(presets->names[k], name) == 0)
            return (int)k;
    }
    return -1;
}

/* In its place of the alphabet. There is room. */
static uint32_t put(struct presets *presets, const char *name)
{
    uint32_t at = presets->count++;
    for (; at > 0 && strcmp(presets->names[at - 1], name) > 0; at--) {
        memcpy(presets->names[at], presets->names[at - 1], sizeof presets->names[at]);
        presets->texts[at] = presets->texts[at - 1];
    }
    snprintf(presets->names[at], sizeof presets->names[at], "%s", name);
    presets->texts[at] = NULL;
    return at;
}

enum dia_status dia_presets_open(struct presets *presets, const char *folder,
                                 struct dia_diagnostic *wrong)
{
    memset(presets, 0, sizeof *presets);
    presets->folder = folder;
    if (!folder)
        return DIA_OK;
    if (mkdir(folder, 0777) != 0 && errno != EEXIST)
        return dia_live_wrong(wrong, "%s: the folder of presets cannot be made: %s", folder,
                              strerror(errno));
    DIR *dir = opendir(folder);
    if (!dir)
        return dia_live_wrong(wrong, "%s: the folder of presets cannot be read: %s", folder,
                              strerror(errno));
    for (struct dirent *entry; (entry = readdir(dir)) != NULL && presets->count < PRESETS;) {
        size_t length = strlen(entry->d_name), end = strlen(ENDING);
        char name[DIA_RIG_NAME];
        if (length <= end || strcmp(entry->d_name + length - end, ENDING) != 0 ||
            !is_name(entry->d_name, length - end))
            continue;
        snprintf(name, sizeof name, "%.*s", (int)(length - end), entry->d_name);
        put(presets, name);
    }
    closedir(dir);
    return DIA_OK;
}

void dia_presets_free(struct presets *presets)
{
    while (presets->count)
        free(presets->texts[--presets->count]);
}

static void path_of(const struct presets *presets, const char *name, char *path, size_t size)
{
    snprintf(path, size, "%s/%s" ENDING, presets->folder, name);
}

static enum dia_status failed(struct dia_diagnostic *wrong, const char *path)
{
    dia_live_wrong(wrong, "%s: cannot be written: %s", path, strerror(errno));
    return DIA_PORT_FAILED;
}

static enum dia_status no_name(struct dia_diagnostic *wrong)
{
    return dia_live_wrong(wrong,
                          "the name of a preset has letters, digits, - and _, a letter first, "
                          "at most %d of them",
                          DIA_RIG_NAME - 1);
}

enum dia_status dia_presets_save(struct presets *presets, const char *name, const char *text,
                                 struct dia_diagnostic *wrong)
{
    char path[4096];
    enum dia_status status = DIA_OK;
    if (!is_name(name, strlen(name)))
        return no_name(wrong);
    int at = find(presets, name);
    if (at < 0 && presets->count == PRESETS)
        return dia_live_wrong(wrong, "there are %d presets already; drop one", PRESETS);
    char *copy = presets->folder ? NULL : strdup(text);
    if (presets->folder) {
        path_of(presets, name, path, sizeof path);
        status = dia_show_write(path, text, wrong);
    } else if (!copy) {
        dia_live_wrong(wrong, "out of memory");
        status = DIA_PORT_FAILED;
    }
    if (status != DIA_OK)
        return status;
    uint32_t k = at < 0 ? put(presets, name) : (uint32_t)at;
    free(presets->texts[k]);
    presets->texts[k] = copy;
    return DIA_OK;
}

char *dia_presets_text(const struct presets *presets, const char *name,
                       struct dia_diagnostic *wrong)
{
    char path[4096], *text = NULL;
    int at = find(presets, name);
    if (at < 0) {
        dia_live_wrong(wrong, "there is no preset '%.40s'", name);
        return NULL;
    }
    if (!presets->folder) {
        text = strdup(presets->texts[at]);
    } else {
        path_of(presets, name, path, sizeof path);
        FILE *file = fopen(path, "r");
        if (!file) {
            dia_live_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
            return NULL;
        }
        text = malloc(LARGEST);
        size_t n = text ? fread(text, 1, LARGEST - 1, file) : 0;
        fclose(file);
        if (text)
            text[n] = 0;
    }
    if (!text)
        dia_live_wrong(wrong, "out of memory");
    return text;
}

enum dia_status dia_presets_drop(struct presets *presets, const char *name,
                                 struct dia_diagnostic *wrong)
{
    char path[4096];
    int at = find(presets, name);
    if (at < 0)
        return dia_live_wrong(wrong, "there is no preset '%.40s'", name);
    if (presets->folder) {
        path_of(presets, name, path, sizeof path);
        if (unlink(path) != 0)
            return failed(wrong, path);
    }
    free(presets->texts[at]);
    presets->count--;
    for (uint32_t k = (uint32_t)at; k < presets->count; k++) {
        memcpy(presets->names[k], presets->names[k + 1], sizeof presets->names[k]);
        presets->texts[k] = presets->texts[k + 1];
    }
    return DIA_OK;
}
