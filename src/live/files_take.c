/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#include "file_replace.h"
#include "files_private.h"
#include "sum.h"

/* The rig is taken only if this node could play it. */
static int is_rig_fine(const char *beside, void *self)
{
    const struct dia_serve_options *options = ((struct files *)self)->options;
    const char *node = strcmp(options->node, DIA_SERVE_WHOLE) == 0 ? NULL : options->node;
    struct dia_rig *rig = malloc(sizeof *rig);
    struct dia_diagnostic wrong = {"out of memory"};
    int fine = rig && dia_rig_load_node(rig, beside, node, &wrong) == DIA_OK;
    const char *rest = wrong.text + strlen(beside);
    char why[sizeof wrong.text + 64];
    if (strncmp(wrong.text, beside, strlen(beside)) == 0)
        snprintf(why, sizeof why, "%.60s%s", options->rig_path, rest);
    else
        snprintf(why, sizeof why, "%s", wrong.text);
    if (!fine)
        dia_files_say(self, "refused", "rig", why);
    if (rig)
        dia_rig_free(rig);
    free(rig);
    return fine;
}

/* 1: the file has these bytes, now or already; 0: the rig is not fine; -1: it was said why not. */
static int put_in(struct files *files, const char *path, const void *bytes, size_t size, int is_rig)
{
    struct stat about;
    const char *name = is_rig ? "rig" : path, *no;
    size_t had_size;
    int is_there = lstat(path, &about) == 0;
    if (is_there && !S_ISREG(about.st_mode)) {
        dia_files_say(files, "refused", name, "there is a link or a folder of that name");
        return -1;
    }
    void *had = is_there ? dia_files_read(path, &had_size, &no) : NULL;
    int is_same = had && had_size == size && memcmp(had, bytes, size) == 0;
    free(had);
    if (is_same)
        return 1;
    int done = dia_file_replace(path, bytes, size, is_there ? about.st_mode & 07777 : 0644,
                                is_rig ? is_rig_fine : NULL, files);
    if (done < 0)
        dia_files_say(files, "refused", name, strerror(errno));
    else if (done == 0)
        dia_files_say(files, "taken", name, "");
    return done == 0 ? 1 : done < 0 ? -1 : 0;
}

/* One that is not fine waits for what it lacks. */
static void take_rig(struct files *files, const void *bytes, size_t size)
{
    void *copy = malloc(size);
    if (copy)
        memcpy(copy, bytes, size);
    free(files->rig);
    files->rig = copy;
    files->rig_size = size;
    if (copy && put_in(files, files->options->rig_path, copy, size, 1) != 0) {
        free(copy);
        files->rig = NULL;
    }
}

static void take_file(struct files *files, const char *name, const void *bytes, size_t size)
{
    if (!dia_files_may_be(name)) {
        dia_files_say(files, "refused", "unknown", "it has a name that is not taken");
        return;
    }
    if (put_in(files, name, bytes, size, 0) < 0)
        return;
    pthread_mutex_lock(&files->lock);
    uint32_t k = 0;
    while (k < files->come && strcmp(files->came[k], name) != 0)
        k++;
    int is_full = k == FILES_MOST;
    if (k == files->come && !is_full)
        snprintf(files->came[files->come++], FILES_NAME, "%s", name);
    files->told = files->told < k ? files->told : k; /* it may be what a show waits for */
    pthread_mutex_unlock(&files->lock);
    if (is_full)
        dia_files_say(files, "refused", name, "128 others have come; shows may not name it");
    if (files->rig) {
        void *rig = files->rig;
        files->rig = NULL;
        take_rig(files, rig, files->rig_size);
        free(rig);
    }
}

void dia_files_take(struct files *files, const char *what, const void *bytes, size_t size)
{
    int is_rig = strcmp(what, "rig") == 0;
    if (size == 0 || (!is_rig && strncmp(what, "file/", 5) != 0))
        return; /* it is kept no more */
    if (size > FILES_BYTES) {
        if (files->takes)
            dia_files_say(files, "refused",
                          is_rig                       ? "rig"
                          : dia_files_may_be(what + 5) ? what + 5
                                                       : "unknown",
                          "it is longer than 4 MiB");
        return;
    }
    if (!files->takes) {
        if (is_rig || dia_files_may_be(what + 5))
            dia_files_has_now(files, is_rig ? "" : what + 5, sum_on(SUM_BEGINS, bytes, size));
    } else if (is_rig) {
        take_rig(files, bytes, size);
    } else {
        take_file(files, what + 5, bytes, size);
    }
}

int dia_files_next(struct files *files, char name[FILES_NAME])
{
    pthread_mutex_lock(&files->lock);
    int any = files->told < files->come;
    if (any)
        memcpy(name, files->came[files->told++], FILES_NAME);
    pthread_mutex_unlock(&files->lock);
    return any;
}

void dia_files_again(struct files *files)
{
    pthread_mutex_lock(&files->lock);
    files->told = 0;
    pthread_mutex_unlock(&files->lock);
}
