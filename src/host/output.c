/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE /* O_TMPFILE, where there is one */
#include <errno.h>
#include <fcntl.h>
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
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

/*
 * What stands at a path already. A link is written through: what it leads to is the file. A pipe or
 * a device is written to as it is; a file keeps its mode.
 */
static enum dia_status look_at(struct host_output *out, const char *path,
                               struct dia_diagnostic *wrong)
{
    struct stat there;
    out->direct = 0;
    out->mode = 0;
    strcpy(out->path, path);
    if (lstat(path, &there) != 0) /* a name that is too long shows here, before the work */
        return errno == ENOENT ? DIA_OK : dia_host_failed(wrong, path, "cannot be written");
    if (S_ISLNK(there.st_mode)) {
        char *target = realpath(path, NULL);
        if (!target || strlen(target) >= sizeof out->path || stat(target, &there) != 0) {
            free(target);
            return dia_host_failed(wrong, path,
                                   "is a link, and what it leads to cannot be written");
        }
        strcpy(out->path, target);
        free(target);
    }
    if (S_ISDIR(there.st_mode))
        return dia_host_wrong(wrong, "%s: is a folder; add the name of a file", path);
    out->direct = !S_ISREG(there.st_mode);
    out->mode = there.st_mode & 07777;
    return DIA_OK;
}

enum dia_status dia_host_output_open(struct host_output *out, const char *path,
                                     struct dia_diagnostic *wrong)
{
    out->file = NULL;
    out->nameless = 0;
    if (strlen(path) >= sizeof out->path)
        return dia_host_wrong(wrong, "the name of the file to write is longer than %zu bytes",
                              sizeof out->path - 1);
    enum dia_status status = look_at(out, path, wrong);
    if (status != DIA_OK)
        return status;
    if (out->direct) {
        out->file = fopen(out->path, "wb");
        return out->file ? DIA_OK : dia_host_failed(wrong, path, "cannot be written");
    }
    const char *slash = strrchr(out->path, '/');
    int folder = slash ? (int)(slash - out->path) + 1 : 0;
    snprintf(out->partial, sizeof out->partial, "%.*s.partial-%ld", folder, out->path,
             (long)getpid());
    out->file = open_nameless(out->path);
    out->nameless = out->file != NULL;
    if (!out->file)
        out->file = fopen(out->partial, "wb");
    return out->file ? DIA_OK : dia_host_failed(wrong, path, "cannot be written");
}

/* All that was written is out. What failed long before has left its reason nowhere: one byte more
 * fails for the same one, in a file that is thrown away. */
int dia_host_is_out(FILE *file)
{
    if (fflush(file) != 0)
        return 0;
    if (!ferror(file))
        return 1;
    errno = EIO;
    clearerr(file);
    fputc(0, file);
    fflush(file);
    return 0;
}

/* Everything written and, without a name so far, given one. */
static int complete(struct host_output *out)
{
    int bad = !dia_host_is_out(out->file);
    if (!bad && out->mode)
        bad = fchmod(fileno(out->file), out->mode) != 0;
    if (!bad && out->nameless)
        bad = give_name(out) != 0;
    FILE *file = out->file;
    int why = errno;
    out->file = NULL;
    if (fclose(file) != 0 && !bad)
        return 0;
    errno = why;
    return !bad;
}

enum dia_status dia_host_output_close(struct host_output *out, struct dia_diagnostic *wrong)
{
    if (out->direct) {
        int bad = !dia_host_is_out(out->file), why = errno;
        bad |= fclose(out->file) != 0;
        out->file = NULL;
        errno = why ? why : errno;
        return bad ? dia_host_failed(wrong, out->path, "cannot be written") : DIA_OK;
    }
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
    if (!out->nameless && !out->direct)
        unlink(out->partial);
}
