/* SPDX-License-Identifier: MIT */
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include "files_private.h"
#include "presets.h"
#include "sum.h"

int dia_files_may_be(const char *name)
{
    static const char *const ends[] = {".drawings", ".bdf", ".csv", ".gpl", ".png", ".apng",
                                       ".gif",      ".pbm", ".pgm", ".ppm", ".y4m"};
    static const char letters[] =
        "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789._-";
    size_t length = strlen(name);
    if (length >= FILES_NAME || name[0] == '.' || strspn(name, letters) != length)
        return 0;
    for (size_t k = 0; k < sizeof ends / sizeof ends[0]; k++) {
        size_t n = strlen(ends[k]);
        if (length > n && strcmp(name + length - n, ends[k]) == 0)
            return 1;
    }
    return 0;
}

void dia_files_say(const struct files *files, const char *what, const char *name, const char *why)
{
    char line[500];
    size_t length = strcspn(why, "\n");
    snprintf(line, sizeof line, "file-%s name=%.64s%s%.*s%s", what, name,
             length ? " reason=\"" : "", (int)(length < 350 ? length : 350), why,
             length ? "\"" : "");
    if (files->options->log)
        files->options->log(line);
}

struct files *dia_files_new(const struct dia_serve_options *options, int *failed,
                            struct dia_diagnostic *wrong)
{
    const char *rig = options->rig_path ? options->rig_path : "";
    const char *away = strchr(rig, '/')                              ? rig
                       : options->show && strchr(options->show, '/') ? options->show
                                                                     : NULL;
    *failed = 0;
    if (away) {
        dia_live_wrong(wrong,
                       "%.200s: it is in another folder; files go over the broker where serve is "
                       "begun in the folder of rig and show",
                       away);
        return NULL;
    }
    struct files *files = calloc(1, sizeof *files);
    if (!files || pthread_mutex_init(&files->lock, NULL) != 0) {
        dia_live_wrong(wrong, "out of memory");
        *failed = 1;
        free(files);
        return NULL;
    }
    files->options = options;
    files->takes = options->files == DIA_SERVE_FILES_TAKE;
    return files;
}

void dia_files_free(struct files *files)
{
    if (!files)
        return;
    dia_files_forget_paths(files);
    free(files->rig);
    pthread_mutex_destroy(&files->lock);
    free(files);
}

void *dia_files_read(const char *path, size_t *size, const char **why)
{
    struct stat about;
    int fd = open(path, O_RDONLY | O_NONBLOCK | O_CLOEXEC); /* a pipe would wait for a writer */
    FILE *file = fd >= 0 ? fdopen(fd, "rb") : NULL;
    void *bytes = NULL;
    *size = 0;
    *why = "it cannot be read";
    if (fd >= 0 && !file)
        close(fd);
    if (file && fstat(fd, &about) == 0 && S_ISREG(about.st_mode)) {
        *why = about.st_size == 0                      ? "it is empty"
               : (uint64_t)about.st_size > FILES_BYTES ? "it is longer than 4 MiB"
                                                       : NULL;
        bytes = *why ? NULL : malloc((size_t)about.st_size);
        *size = bytes ? fread(bytes, 1, (size_t)about.st_size, file) : 0;
        if (!*why && (!bytes || *size != (size_t)about.st_size)) {
            *why = bytes ? "it changes while it is read" : "out of memory";
            free(bytes);
            bytes = NULL;
        }
    }
    if (file)
        fclose(file);
    return bytes;
}

uint32_t dia_files_sum(const struct dia_live *live)
{
    uint64_t all = 0;
    char name[300];
    const char *why;
    for (uint32_t k = 0; dia_live_file(live, k, name, sizeof name); k++) {
        size_t size;
        void *bytes = dia_files_read(name, &size, &why);
        all = sum_on(sum_on(all ^ SUM_BEGINS, name, strlen(name) + 1), bytes ? bytes : "", size);
        free(bytes);
    }
    return sum_short(all);
}
