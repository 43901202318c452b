/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#include "film_private.h"

/*
 * YUV4MPEG2: a line of what it is, then frames, each a line FRAME and planes of bytes. Codes by
 * ITU-R BT.601, 16 to 235 and 240 unless the line says XCOLORRANGE=FULL.
 */
struct y4m {
    uint8_t halved_x, halved_y; /* colour has half the columns, half the rows */
    uint8_t is_grey, is_full;
    uint8_t *planes;
    size_t luma, chroma; /* bytes of a plane */
    uint32_t chroma_columns;
};
#define MOST_LINE 1024
#define MOST_RATE 1000000u /* so that times fit 64 bits */

/* A line without its end. 0: the file ends before it. */
static enum dia_status read_line(struct dia_film *film, int64_t number, char *line, int *ended)
{
    size_t n = 0;
    int c = getc(film->file);
    *ended = c == EOF && !ferror(film->file);
    for (; c != EOF && c != '\n' && n < MOST_LINE - 1; c = getc(film->file))
        line[n++] = (char)c;
    line[n] = 0;
    if (*ended || c == '\n')
        return DIA_OK;
    return dia_film_wrong(film, number, c == EOF ? "ends too early" : "its line is too long");
}

static enum dia_status take_colour(struct dia_film *film, struct y4m *y4m, const char *word)
{
    static const struct {
        const char *name;
        uint8_t halved_x, halved_y, is_grey;
    } kinds[] = {{"420jpeg", 1, 1, 0}, {"420mpeg2", 1, 1, 0}, {"420paldv", 1, 1, 0},
                 {"420", 1, 1, 0},     {"422", 1, 0, 0},      {"444", 0, 0, 0},
                 {"mono", 0, 0, 1}};
    for (size_t k = 0; k < sizeof kinds / sizeof kinds[0]; k++) {
        if (strcmp(kinds[k].name, word) != 0)
            continue;
        y4m->halved_x = kinds[k].halved_x;
        y4m->halved_y = kinds[k].halved_y;
        y4m->is_grey = kinds[k].is_grey;
        return DIA_OK;
    }
    return dia_film_wrong(film, -1, "colours C%.20s are not read; C420, C422, C444 and Cmono are",
                          word);
}

static enum dia_status take_word(struct dia_film *film, struct y4m *y4m, const char *word,
                                 unsigned long size[2])
{
    unsigned rate, per;
    char behind;
    switch (word[0]) {
    case 'W':
    case 'H':
        errno = 0;
        size[word[0] == 'H'] = strtoul(word + 1, NULL, 10);
        return DIA_OK;
    case 'F':
        if (sscanf(word + 1, "%9u:%9u%c", &rate, &per, &behind) != 2 || rate == 0 || per == 0)
            return dia_film_wrong(film, -1, "its rate must be as F25:1; found '%.40s'", word);
        for (; rate > MOST_RATE || per > MOST_RATE; rate /= 2, per /= 2)
            if (rate < 2 || per < 2)
                return dia_film_wrong(film, -1, "a rate of %.40s is not read", word);
        film->rate = rate;
        film->per = per;
        return DIA_OK;
    case 'C':
        return take_colour(film, y4m, word + 1);
    case 'X':
        y4m->is_full |= strcmp(word, "XCOLORRANGE=FULL") == 0;
        return DIA_OK;
    default: /* interlacing, shape of pixels: of no use here */
        return DIA_OK;
    }
}

static enum dia_status read_head(struct dia_film *film, struct y4m *y4m)
{
    char line[MOST_LINE], *rest = NULL;
    unsigned long size[2] = {0, 0};
    int ended;
    enum dia_status status = read_line(film, -1, line, &ended);
    if (status != DIA_OK)
        return status;
    char *word = strtok_r(line, " ", &rest);
    if (!word || strcmp(word, "YUV4MPEG2") != 0)
        return dia_film_wrong(film, -1, "does not begin with YUV4MPEG2");
    y4m->halved_x = y4m->halved_y = 1; /* as the format has it where nothing is said */
    while (status == DIA_OK && (word = strtok_r(NULL, " ", &rest)))
        status = take_word(film, y4m, word, size);
    return status == DIA_OK ? dia_film_size(film, size[0], size[1]) : status;
}

static size_t frame_bytes(const struct y4m *y4m)
{
    return y4m->luma + (y4m->is_grey ? 0 : 2 * y4m->chroma);
}

static enum dia_status find_frames(struct dia_film *film, const struct y4m *y4m)
{
    char line[MOST_LINE];
    struct stat about;
    int ended = 0;
    fstat(fileno(film->file), &about);
    while (!ended) {
        uint32_t number = film->frames;
        enum dia_status status = read_line(film, number, line, &ended);
        if (status != DIA_OK || ended)
            return status != DIA_OK || number ? status
                                              : dia_film_wrong(film, -1, "there is no frame in it");
        if (strncmp(line, "FRAME", 5) != 0)
            return dia_film_wrong(film, number, "does not begin with FRAME");
        off_t at = ftello(film->file), end = at + (off_t)frame_bytes(y4m);
        if (end > about.st_size || fseeko(film->file, end, SEEK_SET) != 0)
            return dia_film_wrong(film, number, "ends too early");
        status = dia_film_add(film, (uint64_t)at);
        if (status != DIA_OK)
            return status;
    }
    return DIA_OK;
}

static enum dia_status begin(struct dia_film *film)
{
    struct y4m *y4m = calloc(1, sizeof *y4m);
    film->decoder = y4m;
    film->opaque = 1;
    if (!y4m)
        return dia_film_no_memory(film);
    enum dia_status status = read_head(film, y4m);
    if (status != DIA_OK)
        return status;
    y4m->chroma_columns = y4m->halved_x ? (film->columns + 1) / 2 : film->columns;
    y4m->luma = (size_t)film->columns * film->rows;
    y4m->chroma = (size_t)y4m->chroma_columns * (y4m->halved_y ? (film->rows + 1) / 2 : film->rows);
    y4m->planes = malloc(frame_bytes(y4m));
    if (!y4m->planes)
        return dia_film_no_memory(film);
    return film->is_stream ? DIA_OK : find_frames(film, y4m);
}

/* What a step of luma and of the two colours makes of each channel, in 16384ths (BT.601). */
struct matrix {
    int32_t black, luma, red, green_u, green_v, blue;
};
static const struct matrix video = {16, 19077, 26149, 6419, 13320, 33050},
                           full = {0, 16384, 22970, 5638, 11700, 29032};

static inline uint32_t code_of(int32_t sum)
{
    int32_t code = (sum + 8192) >> 14;
    return (uint32_t)(code < 0 ? 0 : code > 255 ? 255 : code);
}

#define AT_ONCE 256u

/* What the colours add to each channel, as many pixels as there are luma bytes. */
struct colours {
    int32_t red[AT_ONCE], green[AT_ONCE], blue[AT_ONCE];
};

static void colours_of(const struct matrix *m, const uint8_t *u, const uint8_t *v, uint32_t n,
                       unsigned halved, struct colours *to)
{
    for (uint32_t x = 0; x < n; x += 1u + halved) {
        int32_t cu = u[x >> halved] - 128, cv = v[x >> halved] - 128;
        to->red[x] = to->red[x + halved] = cv * m->red;
        to->green[x] = to->green[x + halved] = -cu * m->green_u - cv * m->green_v;
        to->blue[x] = to->blue[x + halved] = cu * m->blue;
    }
}

static void codes_of(const struct matrix *m, const uint8_t *luma, const struct colours *colours,
                     uint32_t n, uint32_t *to)
{
    for (uint32_t x = 0; x < n; x++) {
        int32_t y = (luma[x] - m->black) * m->luma;
        to[x] = DIA_FILM_PIXEL(code_of(y + colours->red[x]), code_of(y + colours->green[x]),
                               code_of(y + colours->blue[x]), 255);
    }
}

static void row_of(const struct matrix *m, const uint8_t *luma, const uint8_t *u, const uint8_t *v,
                   uint32_t n, unsigned halved, uint32_t *to)
{
    struct colours colours;
    for (uint32_t x = 0; x < n; x += AT_ONCE) {
        uint32_t some = n - x < AT_ONCE ? n - x : AT_ONCE;
        colours_of(m, u + (x >> halved), v + (x >> halved), some, halved, &colours);
        codes_of(m, luma + x, &colours, some, to + x);
    }
}

static void grey_row(const struct matrix *m, const uint8_t *luma, uint32_t n, uint32_t *to)
{
    for (uint32_t x = 0; x < n; x++) {
        uint32_t code = code_of((luma[x] - m->black) * m->luma);
        to[x] = DIA_FILM_PIXEL(code, code, code, 255);
    }
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    struct y4m *y4m = film->decoder;
    const struct matrix *m = y4m->is_full ? &full : &video;
    char line[MOST_LINE];
    int ended = 0;
    if (!film->is_stream && fseeko(film->file, (off_t)film->at[number], SEEK_SET) != 0)
        return dia_film_wrong(film, number, "cannot be read");
    enum dia_status status = film->is_stream ? read_line(film, number, line, &ended) : DIA_OK;
    if (status == DIA_OK && ended && number == 0)
        return dia_film_wrong(film, -1, "there is no frame in it");
    if (status != DIA_OK || ended) {
        film->frames = ended ? number : 0;
        return status;
    }
    if (film->is_stream && strncmp(line, "FRAME", 5) != 0)
        return dia_film_wrong(film, number, "does not begin with FRAME");
    status = dia_film_bytes(film, number, y4m->planes, frame_bytes(y4m));
    for (uint32_t y = 0; status == DIA_OK && y < film->rows; y++) {
        uint32_t *to = film->pixels + (size_t)y * film->columns;
        const uint8_t *luma = y4m->planes + (size_t)y * film->columns;
        const uint8_t *u =
            y4m->planes + y4m->luma + (size_t)(y >> y4m->halved_y) * y4m->chroma_columns;
        if (y4m->is_grey)
            grey_row(m, luma, film->columns, to);
        else
            row_of(m, luma, u, u + y4m->chroma, film->columns, y4m->halved_x, to);
    }
    return status;
}

static void end(struct dia_film *film)
{
    struct y4m *y4m = film->decoder;
    if (y4m)
        free(y4m->planes);
    free(y4m);
}

const struct film_format dia_film_y4m = {"YUV4MPEG2", begin, frame, 1, end};
