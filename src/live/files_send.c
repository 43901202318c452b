/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "files_private.h"
#include "node_clock.h"
#include "sum.h"

#define ARRIVES_MS 10000u
#define LOSSES     3 /* connections that ended while a file was on its way: then it stays here */

void dia_files_forget_paths(struct files *files)
{
    while (files->count)
        free(files->paths[--files->count]);
    files->next = 0;
}

void dia_files_offer(struct files *files)
{
    const struct dia_serve_options *options = files->options;
    const char *path;
    if (files->takes)
        return;
    pthread_mutex_lock(&files->lock);
    dia_files_forget_paths(files);
    for (uint32_t k = 0; options->named && (path = options->named(k)); k++) {
        int is_show = options->show && strcmp(path, options->show) == 0;
        if (!is_show && files->count == FILES_MOST)
            dia_files_say(files, "not-sent", path, "128 others go already");
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
    if (k == FILES_HAS)
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
    else if (!is_rig && !dia_files_may_be(name))
        why = "its name has other letters than a-z, A-Z, 0-9, '.', '_', '-', or does not end in "
              ".drawings, .bdf, .csv, .gpl, .png, .apng, .gif, .pbm, .pgm, .ppm or .y4m";
    out->bytes = why ? NULL : dia_files_read(name, &out->size, &why);
    if (!out->bytes) {
        if (is_new(files, name, 0)) /* said once */
            dia_files_say(files, "not-sent", name, why);
        return 0;
    }
    uint64_t sum = sum_on(SUM_BEGINS, out->bytes, out->size);
    int is_lost = files->losses >= LOSSES && files->lost_sum == sum;
    if (!is_new(files, is_rig ? "" : name, sum) || is_lost) {
        if (is_lost)
            dia_files_say(files, "not-sent", name,
                          "the broker ends the connection; is it too long for it?");
        free(out->bytes);
        return 0;
    }
    snprintf(files->goes, sizeof files->goes, "%s", is_rig ? "" : name);
    files->goes_sum = sum;
    files->goes_ms = dia_steady_ms();
    files->is_going = 1;
    snprintf(out->topic, sizeof out->topic, is_rig ? "run/rig" : "run/file/%s", name);
    return 1;
}

void dia_files_has_now(struct files *files, const char *name, uint64_t sum)
{
    is_new(files, name, sum);
    if (!files->is_going || strcmp(name, files->goes) != 0 || sum != files->goes_sum)
        return;
    files->is_going = 0;
    files->losses = 0;
    dia_files_say(files, "sent", name[0] ? name : "rig", "");
}

int dia_files_out(struct files *files, struct files_out *out)
{
    char *path;
    int found = 0;
    if (files->is_going && dia_steady_ms() > files->goes_ms + ARRIVES_MS)
        dia_files_refused(files, "the broker does not keep it; may this user write there?");
    while (!files->takes && files->is_known && !files->is_going && !found &&
           (path = next_path(files))) {
        found = put_out(files, path, out);
        free(path);
    }
    return found;
}

void dia_files_known(struct files *files)
{
    files->is_known = 1;
}

void dia_files_refused(struct files *files, const char *why)
{
    dia_files_say(files, "not-sent", files->goes[0] ? files->goes : "rig", why);
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
