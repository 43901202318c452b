/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_WATCH_H
#define DIA_CLI_WATCH_H

#include <sys/stat.h>

/* Files that are looked at again and again, to see whether somebody has changed them. */
#define WATCH_FILES 64

struct watch {
    struct {
        char *path;
        struct stat was; /* st_ino 0: it is not there */
    } files[WATCH_FILES];
    int count;
};

/* Watches a file, and those that its text names: by a word of it, as seen from here or from the
 * folder of that file. One that is watched already stays as it was last seen. Beyond WATCH_FILES
 * they are left out. */
void watch_file(struct watch *watch, const char *path);

/* 1: one of them is another than when it was last asked for. */
int watch_changed(struct watch *watch);

/* Watches nothing any more. */
void watch_free(struct watch *watch);

#endif
