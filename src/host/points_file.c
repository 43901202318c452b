/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <inttypes.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/points_file.h>

#include "host_private.h"

#define FURTHEST_MM 500000.0

struct points {
    const char *path;
    unsigned line;
    struct dia_point *points;
    uint8_t *there; /* which have been read */
    uint32_t count;
    int with_z;
    struct dia_diagnostic *wrong;
};

/* A number up to the next comma or the end; what follows the comma, or NULL when it is none. */
static const char *number(const char *text, double *value, int last)
{
    char *end;
    errno = 0;
    *value = strtod(text, &end);
    if (end == text || errno == ERANGE || !isfinite(*value))
        return NULL;
    end += strspn(end, " \t");
    if (last)
        return *end == 0 ? end : NULL;
    return *end == ',' ? end + 1 : NULL;
}

static enum dia_status take_point(struct points *to, const char *line)
{
    double value[4] = {0, 0, 0, 0};
    int columns = to->with_z ? 4 : 3;
    const char *at = line;
    for (int k = 0; k < columns && at; k++)
        at = number(at, &value[k], k == columns - 1);
    if (!at)
        return dia_host_wrong(to->wrong, "%s:%u: a point is %s in mm, as in '%s'; found '%.40s'",
                              to->path, to->line, to->with_z ? "index,x,y,z" : "index,x,y",
                              to->with_z ? "0,12.5,40,0" : "0,12.5,40", line);
    if (value[0] < 0 || value[0] >= to->count || value[0] != floor(value[0]))
        return dia_host_wrong(to->wrong,
                              "%s:%u: index must be a whole number of 0 to %" PRIu32 "; found %g",
                              to->path, to->line, to->count - 1, value[0]);
    uint32_t i = (uint32_t)value[0];
    if (to->there[i])
        return dia_host_wrong(to->wrong,
                              "%s:%u: index %" PRIu32 " is there already; each is there once",
                              to->path, to->line, i);
    for (int k = 1; k < 4; k++) {
        if (fabs(value[k]) > FURTHEST_MM)
            return dia_host_wrong(to->wrong,
                                  "%s:%u: a place is within 500 m, which are 500000 mm; found %g",
                                  to->path, to->line, value[k]);
    }
    to->there[i] = 1;
    to->points[i].x_um = (int32_t)lround(value[1] * 1000);
    to->points[i].y_um = (int32_t)lround(value[2] * 1000);
    return DIA_OK;
}

static enum dia_status take_heading(struct points *to, const char *line)
{
    to->with_z = strcmp(line, "index,x,y,z") == 0;
    if (to->with_z || strcmp(line, "index,x,y") == 0)
        return DIA_OK;
    return dia_host_wrong(
        to->wrong, "%s:1: points begin with a line 'index,x,y' or 'index,x,y,z'; found '%.40s'",
        to->path, line);
}

static enum dia_status take_lines(struct points *to, FILE *file)
{
    char line[200];
    enum dia_status status = DIA_OK;
    while (status == DIA_OK && fgets(line, sizeof line, file)) {
        size_t length = strcspn(line, "\r\n");
        to->line++;
        if (line[length] == 0 && !feof(file))
            return dia_host_wrong(to->wrong, "%s:%u: a line is at most %d characters long",
                                  to->path, to->line, (int)sizeof line - 2);
        line[length] = 0;
        if (to->line == 1)
            status = take_heading(to, line);
        else if (line[0])
            status = take_point(to, line);
    }
    if (status != DIA_OK)
        return status;
    if (to->line == 0)
        return dia_host_wrong(
            to->wrong, "%s:1: points begin with a line 'index,x,y'; found nothing", to->path);
    for (uint32_t i = 0; i < to->count; i++) {
        if (!to->there[i])
            return dia_host_wrong(
                to->wrong, "%s:%u: index %" PRIu32 " is not there; there must be 0 to %" PRIu32,
                to->path, to->line, i, to->count - 1);
    }
    return DIA_OK;
}

enum dia_status dia_points_read(const char *path, struct dia_point *points, uint32_t count,
                                struct dia_diagnostic *wrong)
{
    struct points to = {path, 0, points, calloc(count ? count : 1, 1), count, 0, wrong};
    FILE *file = fopen(path, "r");
    enum dia_status status;
    if (!to.there || !file) {
        dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
        status = to.there ? DIA_BAD_VALUE : DIA_PORT_FAILED;
    } else {
        status = take_lines(&to, file);
        if (status == DIA_OK && ferror(file))
            status = dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    }
    if (file)
        fclose(file);
    free(to.there);
    return status;
}
