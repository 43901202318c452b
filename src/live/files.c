/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <fcntl.h>
#include <inttypes.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <time.h>
#include <unistd.h>

#include "file_replace.h"
#include "files.h"
#include "presets.h"
#include "sum.h"

#define HAS       (2 * FILES_MOST + 1)
#define ARRIVES_S 10
#define LOSSES    3 /* connections that ended while a file was on its way: then it stays here */

struct files {
    pthread_mutex_t lock; /* of paths, count, next, and of came, come, told */
    int takes, is_known;
    const struct dia_serve_options *options;
    char *paths[FILES_MOST];
    uint32_t count, next; /* of them, and that which is looked at next */
    struct {
        char name[FILES_NAME]; /* "" the rig */
        uint64_t sum;
    } has[HAS]; /* the broker */
    uint32_t has_count;
    int is_going;          /* one is on its way: */
    char goes[FILES_NAME]; /* "": the rig */
    double goes_s;
    uint64_t goes_sum, lost_sum; /* lost_sum: of one that was lost there, */
    uint32_t losses;             /* so often, one after the other */
    char came[FILES_MOST][FILES_NAME];
    uint32_t come, told;
    void *rig; /* one that was not fine: another file may be missing */
    size_t rig_size;
};

static double seconds(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (double)at.tv_sec + (double)at.tv_nsec / 1e9;
}

/* Names that nobody minds to have taken: without a path, not hidden, of a kind that shows name. */
static int may_be(const char *name)
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

static void say(const struct files *files, const char *what, const char *name, const char *why)
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

static void forget_paths(struct files *files)
{
    while (files->count)
        free(files->paths[--files->count]);
    files->next = 0;
}

void dia_files_free(struct files *files)
{
    if (!files)
        return;
    forget_paths(files);
    free(files->rig);
    pthread_mutex_destroy(&files->lock);
    free(files);
}

/* All of a file on the heap; NULL and why. */
static void *read_all(const char *path, size_t *size, const char **why)
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

/* ---- what is sent ---------------------------------------------------------------------------- */

void dia_files_offer(struct files *files)
{
    const struct dia_serve_options *options = files->options;
    const char *path;
    if (files->takes)
        return;
    pthread_mutex_lock(&files->lock);
    forget_paths(files);
    for (uint32_t k = 0; options->named && (path = options->named(k)); k++) {
        int is_show = options->show && strcmp(path, options->show) == 0;
        if (!is_show && files->count == FILES_MOST)
            say(files, "not-sent", path, "128 others go already");
        else if (!is_show && (files->paths[files->count] = strdup(path)) != NULL)
            files->count++;
    }
    pthread_mutex_unlock(&files->lock);
}

/* 1: the broker had another, or none; now it has this. */
static int is_new(struct files *files, const char *name, uint64_t sum)
{
    uint32_t k = 0;
    while (k < files->has_count && strncmp(files->has[k].name, name, FILES_NAME - 1) != 0)
        k++;
    if (k < files->has_count && files->has[k].sum == sum)
        return 0;
    if (k == HAS)
        return 1; /* there is no room to know */
    files->has_count += k == files->has_count;
    snprintf(files->has[k].name, FILES_NAME, "%s", name);
    files->has[k].sum = sum;
    return 1;
}

/* The path that is looked at next; the caller's. */
static char *next_path(struct files *files)
{
    pthread_mutex_lock(&files->lock);
    char *path = files->next < files->count ? strdup(files->paths[files->next++]) : NULL;
    pthread_mutex_unlock(&files->lock);
    return path;
}

/* 1: this one goes out. */
static int put_out(struct files *files, const char *name, struct files_out *out)
{
    const char *rig = files->options->rig_path, *why = NULL;
    int is_rig = rig && strcmp(name, rig) == 0;
    if (strchr(name, '/'))
        why = "it is in another folder";
    else if (!is_rig && !may_be(name))
        why = "its name has other letters than a-z, A-Z, 0-9, '.', '_', '-', or does not end in "
              ".drawings, .bdf, .csv, .gpl, .png, .apng, .gif, .pbm, .pgm, .ppm or .y4m";
    out->bytes = why ? NULL : read_all(name, &out->size, &why);
    if (!out->bytes) {
        if (is_new(files, name, 0)) /* said once */
            say(files, "not-sent", name, why);
        return 0;
    }
    uint64_t sum = sum_on(SUM_BEGINS, out->bytes, out->size);
    int is_lost = files->losses >= LOSSES && files->lost_sum == sum;
    if (!is_new(files, is_rig ? "" : name, sum) || is_lost) {
        if (is_lost)
            say(files, "not-sent", name, "the broker ends the connection; is it too long for it?");
        free(out->bytes);
        return 0;
    }
    snprintf(files->goes, sizeof files->goes, "%s", is_rig ? "" : name);
    files->goes_sum = sum;
    files->goes_s = seconds();
    files->is_going = 1;
    snprintf(out->topic, sizeof out->topic, is_rig ? "run/rig" : "run/file/%s", name);
    return 1;
}

/* What the broker tells: what it had, or that ours has come. */
static void has_now(struct files *files, const char *name, uint64_t sum)
{
    is_new(files, name, sum);
    if (!files->is_going || strcmp(name, files->goes) != 0 || sum != files->goes_sum)
        return;
    files->is_going = 0;
    files->losses = 0;
    say(files, "sent", name[0] ? name : "rig", "");
}

int dia_files_out(struct files *files, struct files_out *out)
{
    char *path;
    int found = 0;
    if (files->is_going && seconds() > files->goes_s + ARRIVES_S)
        dia_files_refused(files, "the broker does not keep it; may this user write there?");
    while (!files->takes && files->is_known && !files->is_going && !found &&
           (path = next_path(files))) {
        found = put_out(files, path, out);
        free(path);
    }
    return found;
}

/* ---- what is taken --------------------------------------------------------------------------- */

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
        say(self, "refused", "rig", why);
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
        say(files, "refused", name, "there is a link or a folder of that name");
        return -1;
    }
    void *had = is_there ? read_all(path, &had_size, &no) : NULL;
    int is_same = had && had_size == size && memcmp(had, bytes, size) == 0;
    free(had);
    if (is_same)
        return 1;
    int done = dia_file_replace(path, bytes, size, is_there ? about.st_mode & 07777 : 0644,
                                is_rig ? is_rig_fine : NULL, files);
    if (done < 0)
        say(files, "refused", name, strerror(errno));
    else if (done == 0)
        say(files, "taken", name, "");
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
    if (!may_be(name)) {
        say(files, "refused", "unknown", "it has a name that is not taken");
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
        say(files, "refused", name, "128 others have come; shows may not name it");
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
            say(files, "refused",
                is_rig             ? "rig"
                : may_be(what + 5) ? what + 5
                                   : "unknown",
                "it is longer than 4 MiB");
        return;
    }
    if (!files->takes) {
        if (is_rig || may_be(what + 5))
            has_now(files, is_rig ? "" : what + 5, sum_on(SUM_BEGINS, bytes, size));
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

/* ---- the broker ------------------------------------------------------------------------------ */

void dia_files_known(struct files *files)
{
    files->is_known = 1;
}

void dia_files_refused(struct files *files, const char *why)
{
    say(files, "not-sent", files->goes[0] ? files->goes : "rig", why);
    files->is_going = 0;
}

void dia_files_lost(struct files *files)
{
    if (files->is_going) {
        files->losses = files->goes_sum == files->lost_sum ? files->losses + 1 : 1;
        files->lost_sum = files->goes_sum;
    }
    files->is_going = 0;
    files->is_known = 0;
    files->has_count = 0;
    pthread_mutex_lock(&files->lock);
    files->next = 0;
    pthread_mutex_unlock(&files->lock);
}

/* ---- the list of nodes ----------------------------------------------------------------------- */

uint32_t dia_files_sum(const struct dia_live *live)
{
    uint64_t all = 0;
    char name[300];
    const char *why;
    for (uint32_t k = 0; dia_live_file(live, k, name, sizeof name); k++) {
        size_t size;
        void *bytes = read_all(name, &size, &why);
        all = sum_on(sum_on(all ^ SUM_BEGINS, name, strlen(name) + 1), bytes ? bytes : "", size);
        free(bytes);
    }
    return sum_short(all);
}
