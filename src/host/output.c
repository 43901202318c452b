/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdarg.h>
#include <string.h>
#include <unistd.h>

#include "host_private.h"

enum dia_status host_wrong(struct dia_diagnostic *wrong, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(wrong->text, sizeof wrong->text, format, args);
    va_end(args);
    return DIA_BAD_VALUE;
}

enum dia_status host_failed(struct dia_diagnostic *wrong, const char *path, const char *what)
{
    host_wrong(wrong, "%s: %s: %s", path, what, strerror(errno));
    return DIA_PORT_FAILED;
}

enum dia_status host_output_open(struct host_output *out, const char *path,
                                 struct dia_diagnostic *wrong)
{
    out->file = NULL;
    if (strlen(path) >= sizeof out->path)
        return host_wrong(wrong, "the name of the file to write is longer than %zu bytes",
                          sizeof out->path - 1);
    strcpy(out->path, path);
    snprintf(out->partial, sizeof out->partial, "%s.partial-%ld", path, (long)getpid());
    out->file = fopen(out->partial, "wb");
    return out->file ? DIA_OK : host_failed(wrong, path, "cannot be written");
}

enum dia_status host_output_close(struct host_output *out, struct dia_diagnostic *wrong)
{
    FILE *file = out->file;
    out->file = NULL;
    int bad = ferror(file);
    if (fclose(file) != 0 || bad || rename(out->partial, out->path) != 0) {
        enum dia_status status = host_failed(wrong, out->path, "cannot be written");
        unlink(out->partial);
        return status;
    }
    return DIA_OK;
}

void host_output_discard(struct host_output *out)
{
    if (!out->file)
        return;
    fclose(out->file);
    out->file = NULL;
    unlink(out->partial);
}
