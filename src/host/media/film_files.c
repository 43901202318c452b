/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "film_private.h"

/* "name-[001-240].png": a file for each frame. Numbers have as many digits as the first one. */
struct files {
    char before[4096], behind[4096];
    uint32_t first, last;
    int digits;
};
#define MOST_PATH 8300

static void path_of(const struct files *files, uint32_t number, char *path, size_t size)
{
    snprintf(path, size, "%s%0*u%s", files->before, files->digits,
             (unsigned)(files->first + number), files->behind);
}

/* What is missing is told at once, and not when its time comes. */
static enum dia_status all_there(struct dia_film *film, const struct files *files)
{
    char path[MOST_PATH];
    if (strchr(files->behind, '['))
        return dia_film_wrong(film, -1,
                              "numbers of files are written once, as in "
                              "wave-[001-240].png");
    for (uint32_t k = 0; k < film->frames; k++) {
        path_of(files, k, path, sizeof path);
        if (access(path, R_OK) != 0)
            return dia_host_wrong(film->wrong, "%.400s: cannot be read: %s", path, strerror(errno));
    }
    return DIA_OK;
}

static enum dia_status begin(struct dia_film *film)
{
    struct files *files = calloc(1, sizeof *files);
    const char *open = strchr(film->path, '[');
    unsigned first, last;
    int end = 0, dash = 0;
    film->decoder = files;
    if (!files)
        return dia_film_no_memory(film);
    if (!isdigit((unsigned char)open[1]) ||
        sscanf(open, "[%9u%n-%9u]%n", &first, &dash, &last, &end) != 2 || end == 0 || last < first)
        return dia_film_wrong(film, -1, "numbers of files are written as in wave-[001-240].png");
    if (last - first >= DIA_FILM_FRAMES)
        return dia_film_wrong(film, -1, "a film has at most %u frames", DIA_FILM_FRAMES);
    snprintf(files->before, sizeof files->before, "%.*s", (int)(open - film->path), film->path);
    snprintf(files->behind, sizeof files->behind, "%s", open + end);
    files->digits = dash - 1;
    files->first = first;
    files->last = last;
    film->frames = last - first + 1;
    return all_there(film, files);
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    const struct files *files = film->decoder;
    char path[MOST_PATH];
    struct dia_film *still;
    struct dia_film_frame got;
    path_of(files, number, path, sizeof path);
    enum dia_status status = dia_film_open(&still, path, film->rate, film->wrong);
    if (status != DIA_OK)
        return status;
    status = dia_film_at(still, 0, &got, film->wrong);
    if (status == DIA_OK && !film->pixels)
        status = dia_film_size(film, got.columns, got.rows);
    if (status == DIA_OK && (got.columns != film->columns || got.rows != film->rows))
        status = dia_host_wrong(film->wrong,
                                "%.400s: it is %u by %u pixels; all must be %u by %u, as the first "
                                "one is",
                                path, (unsigned)got.columns, (unsigned)got.rows,
                                (unsigned)film->columns, (unsigned)film->rows);
    if (status == DIA_OK) {
        memcpy(film->pixels, got.pixels, (size_t)got.columns * got.rows * sizeof *got.pixels);
        film->opaque = got.opaque;
    }
    dia_film_close(still);
    return status;
}

static void end(struct dia_film *film)
{
    free(film->decoder);
}

const struct film_format dia_film_files = {"files", begin, frame, 1, end};
