/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_FILES_PRIVATE_H
#define DIA_LIVE_FILES_PRIVATE_H

#include <pthread.h>

#include "files.h"

#define FILES_HAS (2 * FILES_MOST + 1)

/* files.c has what both need, files_send.c what goes out, files_take.c what comes in. */
struct files {
    pthread_mutex_t lock; /* of paths, count, next, and of came, come, told */
    int takes, is_known;
    const struct dia_serve_options *options;
    char *paths[FILES_MOST];
    uint32_t count, next; /* of them, and that which is looked at next */
    struct {
        char name[FILES_NAME]; /* "" the rig */
        uint64_t sum;
    } has[FILES_HAS]; /* the broker */
    uint32_t has_count;
    int is_going;          /* one is on its way: */
    char goes[FILES_NAME]; /* "": the rig */
    uint64_t goes_ms;
    uint64_t goes_sum, lost_sum; /* lost_sum: of one that was lost there, */
    uint32_t losses;             /* so often, one after the other */
    char came[FILES_MOST][FILES_NAME];
    uint32_t come, told;
    void *rig; /* one that was not fine: another file may be missing */
    size_t rig_size;
};

/* Names that nobody minds to have taken: without a path, not hidden, of a kind that shows name. */
int dia_files_may_be(const char *name);

void dia_files_say(const struct files *files, const char *what, const char *name, const char *why);

/* All of a file on the heap; NULL and why. */
void *dia_files_read(const char *path, size_t *size, const char **why);

void dia_files_forget_paths(struct files *files);

/* What the broker tells: what it had, or that ours has come. */
void dia_files_has_now(struct files *files, const char *name, uint64_t sum);

#endif
