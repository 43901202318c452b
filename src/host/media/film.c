/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include "film_inlet.h"

enum dia_status dia_film_wrong(struct dia_film *film, int64_t number, const char *format, ...)
{
    char what[400];
    va_list args;
    va_start(args, format);
    vsnprintf(what, sizeof what, format, args);
    va_end(args);
    const char *name = strcmp(film->path, "-") == 0 ? "standard input" : film->path;
    if (number < 0)
        return dia_host_wrong(film->wrong, "%.400s: %s", name, what);
    return dia_host_wrong(film->wrong, "%.400s: frame %u: %s", name, (unsigned)(number + 1), what);
}

enum dia_status dia_film_no_memory(struct dia_film *film)
{
    dia_host_wrong(film->wrong, "%.400s: out of memory", film->path);
    return DIA_PORT_FAILED;
}

enum dia_status dia_film_size(struct dia_film *film, uint64_t columns, uint64_t rows)
{
    if (columns == 0 || rows == 0)
        return dia_film_wrong(film, -1, "a picture has at least 1 by 1 pixels");
    if (columns > DIA_FILM_PIXELS || rows > DIA_FILM_PIXELS || columns * rows > DIA_FILM_PIXELS)
        return dia_film_wrong(
            film, -1, "%llu by %llu pixels are too many; at most %u, such as 8192 by 4096",
            (unsigned long long)columns, (unsigned long long)rows, DIA_FILM_PIXELS);
    film->columns = (uint32_t)columns;
    film->rows = (uint32_t)rows;
    film->pixels = calloc((size_t)columns * rows, sizeof *film->pixels);
    return film->pixels ? DIA_OK : dia_film_no_memory(film);
}

enum dia_status dia_film_add(struct dia_film *film, uint64_t at)
{
    if (film->frames == DIA_FILM_FRAMES)
        return dia_film_wrong(film, -1, "a film has at most %u frames", DIA_FILM_FRAMES);
    if (film->frames == film->room) {
        uint32_t room = film->room ? film->room * 2 : 64;
        uint64_t *larger = realloc(film->at, room * sizeof *larger);
        if (!larger)
            return dia_film_no_memory(film);
        film->at = larger;
        film->room = room;
    }
    film->at[film->frames++] = at;
    return DIA_OK;
}

enum dia_status dia_film_bytes(struct dia_film *film, int64_t number, void *to, size_t n)
{
    if (fread(to, 1, n, film->file) == n)
        return DIA_OK;
    if (ferror(film->file))
        return dia_film_wrong(film, number, "cannot be read: %s", strerror(errno));
    return dia_film_wrong(film, number, "ends too early");
}

/* ---- parts of frames over others ------------------------------------------------------------- */

static uint8_t mixed(uint32_t upper, uint32_t alpha, uint32_t lower, uint32_t below)
{
    uint32_t all = alpha * 255 + below * (255 - alpha); /* of the mixture, times 255 */
    return all == 0
               ? 0
               : (uint8_t)((upper * alpha * 255 + lower * below * (255 - alpha) + all / 2) / all);
}

static uint32_t over(uint32_t upper, uint32_t lower)
{
    uint32_t alpha = upper >> 24, below = lower >> 24;
    if (alpha == 255 || below == 0)
        return upper;
    if (alpha == 0)
        return lower;
    return DIA_FILM_PIXEL(mixed(upper & 255, alpha, lower & 255, below),
                          mixed(upper >> 8 & 255, alpha, lower >> 8 & 255, below),
                          mixed(upper >> 16 & 255, alpha, lower >> 16 & 255, below),
                          alpha + (below * (255 - alpha) + 127) / 255);
}

void dia_film_lay(struct dia_film *film, const struct film_part *part, int is_over)
{
    for (uint32_t y = 0; y < part->rows; y++) {
        const uint32_t *from = part->pixels + (size_t)y * part->columns;
        uint32_t *to = film->pixels + (size_t)(part->y + y) * film->columns + part->x;
        for (uint32_t x = 0; x < part->columns; x++)
            to[x] = is_over ? over(from[x], to[x]) : from[x];
    }
}

void dia_film_clear(struct dia_film *film, const struct film_part *part)
{
    for (uint32_t y = 0; y < part->rows; y++)
        memset(film->pixels + (size_t)(part->y + y) * film->columns + part->x, 0,
               part->columns * sizeof *film->pixels);
}

uint8_t dia_film_is_opaque(const struct dia_film *film)
{
    size_t n = (size_t)film->columns * film->rows;
    uint32_t all = UINT32_MAX;
    for (size_t k = 0; k < n; k++)
        all &= film->pixels[k];
    return all >> 24 == 255;
}

/* ---- opening --------------------------------------------------------------------------------- */

static const struct film_format *known_by(const uint8_t *head, size_t n)
{
    static const struct {
        const char *begins;
        size_t n;
        const struct film_format *format;
    } known[] = {{"\x89PNG\r\n\x1a\n", 8, &dia_film_png},
                 {"GIF87a", 6, &dia_film_gif},
                 {"GIF89a", 6, &dia_film_gif},
                 {"YUV4MPEG2", 9, &dia_film_y4m}};
    for (size_t k = 0; k < sizeof known / sizeof known[0]; k++) {
        if (n >= known[k].n && memcmp(head, known[k].begins, known[k].n) == 0)
            return known[k].format;
    }
    return n >= 2 && head[0] == 'P' && head[1] >= '1' && head[1] <= '6' ? &dia_film_pnm : NULL;
}

/* A stream has nothing to go back to: its first letter is all that is looked at. */
static const struct film_format *format_of(struct dia_film *film)
{
    uint8_t head[9];
    if (film->is_stream) {
        int first = getc(film->file);
        ungetc(first, film->file);
        return first == 'Y'   ? &dia_film_y4m
               : first == 'P' ? &dia_film_pnm
               : first == 'R' ? &dia_film_raw
                              : NULL;
    }
    size_t n = fread(head, 1, sizeof head, film->file);
    rewind(film->file);
    return known_by(head, n);
}

static enum dia_status find_format(struct dia_film *film)
{
    film->format = format_of(film);
    if (film->format)
        return DIA_OK;
    if (ferror(film->file))
        return dia_film_wrong(film, -1, "cannot be read: %s", strerror(errno));
    if (film->is_stream)
        return dia_film_wrong(
            film, -1,
            "brings no pictures; YUV4MPEG2, PNM and raw frames (a line 'RGB 60 8' "
            "first) can be piped in");
    return dia_film_wrong(film, -1, "is no picture; PNG, APNG, GIF, PNM and YUV4MPEG2 are");
}

static enum dia_status open_file(struct dia_film *film)
{
    struct stat about;
    film->is_stream = strcmp(film->path, "-") == 0;
    if (film->is_stream && isatty(STDIN_FILENO))
        return dia_film_wrong(film, -1, "is a terminal; pipe a film into it");
    film->file = film->is_stream ? stdin : fopen(film->path, "rb");
    if (!film->file)
        return dia_film_wrong(film, -1, "cannot be read: %s", strerror(errno));
    if (!film->is_stream && fstat(fileno(film->file), &about) == 0) {
        if (S_ISDIR(about.st_mode))
            return dia_film_wrong(film, -1, "is a folder; a picture is a file");
        film->is_stream = !S_ISREG(about.st_mode); /* a named pipe */
    }
    return find_format(film);
}

/* From where it comes is known by its path, or it is the file. */
static enum dia_status open_film(struct dia_film **film, FILE *file, const char *path, int live,
                                 uint32_t rate_mhz, struct dia_diagnostic *wrong)
{
    struct dia_film *opened = calloc(1, sizeof *opened);
    struct dia_film_frame first;
    *film = NULL;
    if (!opened || strlen(path) >= sizeof opened->path) {
        dia_host_wrong(wrong,
                       opened ? "%.100s...: is longer than a path may be" : "%.400s: out of memory",
                       path);
        enum dia_status status = opened ? DIA_BAD_VALUE : DIA_PORT_FAILED;
        free(opened);
        return status;
    }
    memcpy(opened->path, path, strlen(path));
    opened->wrong = wrong;
    opened->current = -1;
    opened->rate = rate_mhz ? rate_mhz : 1;
    opened->per = 1000;
    enum dia_status status = DIA_OK;
    opened->file = file;
    opened->is_stream = file != NULL;
    if (file)
        status = find_format(opened);
    else if (live && dia_film_is_inlet(path))
        opened->format = &dia_film_inlet;
    else if (strncmp(path, "unix:", 5) == 0)
        status = dia_film_wrong(opened, -1, "frames come in by a socket while run or serve plays");
    else if (strchr(path, '['))
        opened->format = &dia_film_files;
    else
        status = open_file(opened);
    if (status == DIA_OK)
        status = opened->format->begin(opened);
    if (status == DIA_OK)
        status = dia_film_at(opened, 0, &first, wrong);
    if (status == DIA_OK) {
        *film = opened;
        return status;
    }
    if (file) /* it stays the caller's */
        opened->file = NULL;
    dia_film_close(opened);
    return status;
}

enum dia_status dia_film_open(struct dia_film **film, const char *path, uint32_t rate_mhz,
                              struct dia_diagnostic *wrong)
{
    return open_film(film, NULL, path, 0, rate_mhz, wrong);
}

enum dia_status dia_film_open_live(struct dia_film **film, const char *path, uint32_t rate_mhz,
                                   struct dia_diagnostic *wrong)
{
    return open_film(film, NULL, path, 1, rate_mhz, wrong);
}

enum dia_status dia_film_open_stream(struct dia_film **film, FILE *file, const char *path,
                                     struct dia_diagnostic *wrong)
{
    return open_film(film, file, path, 0, 1000000, wrong);
}

void dia_film_close(struct dia_film *film)
{
    if (!film)
        return;
    if (film->format && film->format->end)
        film->format->end(film);
    if (film->file && film->file != stdin)
        fclose(film->file);
    free(film->pixels);
    free(film->at);
    free(film);
}

const char *dia_film_trouble(const struct dia_film *film)
{
    return film->trouble.text;
}

/* ---- frames and times ------------------------------------------------------------------------ */

uint32_t dia_film_frames(const struct dia_film *film)
{
    return film->frames;
}

uint64_t dia_film_length_us(const struct dia_film *film)
{
    if (film->frames == 0)
        return 0;
    return film->rate ? (uint64_t)film->frames * film->per * 1000000u / film->rate
                      : film->at[film->frames - 1];
}

static uint32_t number_at(const struct dia_film *film, uint64_t us)
{
    uint64_t number = 0;
    if (film->rate) { /* the product may be large: seconds, then the rest */
        uint64_t per_us = (uint64_t)film->per * 1000000u;
        number = us / per_us * film->rate + us % per_us * film->rate / per_us;
    } else {
        uint32_t low = 0, high = film->frames; /* the first that ends later */
        while (low < high) {
            uint32_t middle = (low + high) / 2;
            if (film->at[middle] > us)
                high = middle;
            else
                low = middle + 1;
        }
        number = low;
    }
    uint64_t last = film->frames ? film->frames - 1 : UINT32_MAX - 1;
    return (uint32_t)(number < last ? number : last);
}

static enum dia_status go_to(struct dia_film *film, uint32_t number)
{
    int64_t next = film->format->any && !film->is_stream ? number : film->current + 1;
    if (number < film->current && film->is_stream)
        return DIA_OK;
    if (number < film->current && !film->format->any)
        next = 0;
    for (; next <= number; next++) {
        enum dia_status status = film->format->frame(film, (uint32_t)next);
        if (status != DIA_OK) {
            film->current = -1;
            return status;
        }
        if (film->is_stream && film->frames && next >= film->frames)
            return DIA_OK; /* it has ended: the last one stays */
        film->current = next;
    }
    return DIA_OK;
}

enum dia_status dia_film_at(struct dia_film *film, uint64_t us, struct dia_film_frame *frame,
                            struct dia_diagnostic *wrong)
{
    uint32_t number = number_at(film, us);
    film->wrong = wrong;
    enum dia_status status = number == film->current ? DIA_OK : go_to(film, number);
    film->wrong = NULL;
    if (status != DIA_OK)
        film->trouble = *wrong;
    *frame = (struct dia_film_frame){film->columns, film->rows, film->pixels, film->opaque};
    return status;
}
