/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "watch.h"

#define MOST_TEXT (1u << 20) /* bytes that are looked through for names */

/* Another time in ns, size or file: editors write a new one and give it the old name. */
static int is_another(const struct stat *a, const struct stat *b)
{
    return a->st_ino != b->st_ino || a->st_size != b->st_size ||
           a->st_mtim.tv_sec != b->st_mtim.tv_sec || a->st_mtim.tv_nsec != b->st_mtim.tv_nsec;
}

static void look(const char *path, struct stat *is)
{
    if (stat(path, is) != 0 || !S_ISREG(is->st_mode))
        memset(is, 0, sizeof *is);
}

static void add(struct watch *watch, const char *path)
{
    struct stat is;
    look(path, &is);
    for (int k = 0; k < watch->count; k++) {
        if (strcmp(watch->files[k].path, path) == 0)
            return;
    }
    if (watch->count < WATCH_FILES && (watch->files[watch->count].path = strdup(path)) != NULL)
        watch->files[watch->count++].was = is;
}

/* A word may be the name of a file, from here or from the folder of the file that has it. */
static void add_named(struct watch *watch, const char *word, const char *beside)
{
    char path[1024];
    struct stat is;
    const char *slash = strrchr(beside, '/');
    look(word, &is);
    if (is.st_ino) {
        add(watch, word);
    } else if (slash && word[0] != '/') {
        snprintf(path, sizeof path, "%.*s/%s", (int)(slash - beside), beside, word);
        look(path, &is);
        if (is.st_ino)
            add(watch, path);
    }
}

static void add_all_named(struct watch *watch, const char *path)
{
    static const char between[] = " \t\r\n=@,\"'{}[]()";
    struct stat is;
    look(path, &is); /* a pipe would wait for a writer, and have been read already */
    FILE *file = is.st_ino ? fopen(path, "r") : NULL;
    char *text = file ? malloc(MOST_TEXT + 1) : NULL, *rest = NULL;
    size_t n = text ? fread(text, 1, MOST_TEXT, file) : 0;
    if (text) {
        text[n] = 0;
        for (char *word = strtok_r(text, between, &rest); word;
             word = strtok_r(NULL, between, &rest))
            add_named(watch, word, path);
    }
    free(text);
    if (file)
        fclose(file);
}

void watch_file(struct watch *watch, const char *path)
{
    add(watch, path);
    add_all_named(watch, path);
}

int watch_changed(struct watch *watch)
{
    int changed = 0;
    for (int k = 0; k < watch->count; k++) {
        struct stat is;
        look(watch->files[k].path, &is);
        changed |= is_another(&is, &watch->files[k].was);
        watch->files[k].was = is;
    }
    return changed;
}

void watch_free(struct watch *watch)
{
    for (int k = 0; k < watch->count; k++)
        free(watch->files[k].path);
    watch->count = 0;
}
