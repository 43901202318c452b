/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <fcntl.h>
#include <stdio.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include "file_replace.h"

static int write_all(int to, const char *bytes, size_t size)
{
    while (size) {
        ssize_t n = write(to, bytes, size);
        if (n < 0 && errno == EINTR)
            continue;
        if (n <= 0)
            return -1;
        bytes += n;
        size -= (size_t)n;
    }
    return fsync(to);
}

int dia_file_replace(const char *path, const void *bytes, size_t size, mode_t mode,
                     int (*is_fine)(const char *beside, void *self), void *self)
{
    char beside[400];
    const char *slash = strrchr(path, '/'), *name = slash ? slash + 1 : path;
    int n = snprintf(beside, sizeof beside, "%.*s.%s.new", (int)(name - path), path, name);
    errno = ENAMETOOLONG;
    if (n >= (int)sizeof beside)
        return -1;
    unlink(beside); /* of a process that was killed */
    int to = open(beside, O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0600);
    if (to < 0)
        return -1;
    int failed = write_all(to, bytes, size) != 0 || fchmod(to, mode) != 0, why = errno;
    if (close(to) != 0 && !failed) {
        failed = 1;
        why = errno;
    }
    int refused = !failed && is_fine && !is_fine(beside, self);
    if (!failed && !refused && rename(beside, path) != 0) {
        failed = 1;
        why = errno;
    }
    if (failed || refused)
        unlink(beside);
    errno = why;
    return failed ? -1 : refused;
}
