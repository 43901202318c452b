/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE /* O_TMPFILE, where there is one */
#include <errno.h>
#include <fcntl.h>
#include <stdarg.h>
#include <string.h>
#include <unistd.h>

#include "host_private.h"

enum dia_status dia_host_wrong(struct dia_diagnostic *wrong, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(wrong->text, sizeof wrong->text, format, args);
    va_end(args);
    return DIA_BAD_VALUE;
}

enum dia_status dia_host_failed(struct dia_diagnostic *wrong, const char *path, const char *what)
{
    dia_host_wrong(wrong, "%s: %s: %s", path, what, strerror(errno));
    return DIA_PORT_FAILED;
}

/*
 * Where the system has files without a name, the neighbour gets one only when it is complete: then
 * not even a program that is killed leaves anything behind.
 */
static FILE *open_nameless(const char *path)
{
#ifdef O_TMPFILE
    char folder[4096];
    const char *slash = strrchr(path, '/');
    if (slash)
        snprintf(folder, sizeof folder, "%.*s/", (int)(slash - path), path);
    else
        strcpy(folder, ".");
    int fd = open(folder, O_TMPFILE | O_WRONLY, 0666);
    if (fd >= 0) {
        FILE *file = fdopen(fd, "wb");
        if (!file)
            close(fd);
        return file;
    }
#else
    (void)path;
#endif
    return NULL;
}

static int give_name(const struct host_output *out)
{
    char link[64];
    snprintf(link, sizeof link, "/proc/self/fd/%d", fileno(out->file));
    return linkat(AT_FDCWD, link, AT_FDCWD, out->partial, AT_SYMLINK_FOLLOW);
}

enum dia_status dia_host_output_open(struct host_output *out, const char *path,
                                     struct dia_diagnostic *wrong)
{
    out->file = NULL;
    if (strlen(path) >= sizeof out->path)
        return dia_host_wrong(wrong, "the name of the file to write is longer than %zu bytes",
                              sizeof out->path - 1);
    strcpy(out->path, path);
    snprintf(out->partial, sizeof out->partial, "%s.partial-%ld", path, (long)getpid());
    out->file = open_nameless(path);
    out->nameless = out->file != NULL;
    if (!out->file)
        out->file = fopen(out->partial, "wb");
    return out->file ? DIA_OK : dia_host_failed(wrong, path, "cannot be written");
}

/* Everything written and, without a name so far, given one. */
static int complete(struct host_output *out)
{
    int bad = fflush(out->file) != 0 || ferror(out->file);
    if (!bad && out->nameless)
        bad = give_name(out) != 0;
    FILE *file = out->file;
    out->file = NULL;
    return fclose(file) == 0 && !bad;
}

enum dia_status dia_host_output_close(struct host_output *out, struct dia_diagnostic *wrong)
{
    if (complete(out) && rename(out->partial, out->path) == 0)
        return DIA_OK;
    enum dia_status status = dia_host_failed(wrong, out->path, "cannot be written");
    unlink(out->partial);
    return status;
}

void dia_host_output_discard(struct host_output *out)
{
    if (!out->file)
        return;
    fclose(out->file);
    out->file = NULL;
    if (!out->nameless)
        unlink(out->partial);
}
