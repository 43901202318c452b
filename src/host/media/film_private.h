/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FILM_PRIVATE_H
#define DIA_HOST_FILM_PRIVATE_H

#include <stdio.h>

#include <diachrome/film.h>

#include "host_private.h"

struct film_format;

struct dia_film {
    const struct film_format *format;
    char path[4096];
    FILE *file;
    int is_stream;
    uint32_t columns, rows;
    uint32_t *pixels; /* of frame `current` */
    uint8_t opaque;
    int64_t current;    /* -1: none yet */
    uint32_t frames;    /* 0: nobody knows */
    uint32_t rate, per; /* frames in so many seconds, where they are even; else 0 */
    uint64_t *at;       /* of each frame: its end in us, where not even; else where it begins */
    uint32_t room;      /* in at */
    void *decoder;      /* the format's own */
    struct dia_diagnostic *wrong; /* of the call at work */
    struct dia_diagnostic trouble;
};

/*
 * How a format is read. All return DIA_OK, or another status and film->wrong filled in.
 *   begin   when the file is open: sizes, frames and times of all of it; of a stream what its
 *           beginning tells
 *   frame   decodes a frame, numbered from 0, into film->pixels. Frames come in rising order, but
 * for 0, which may come again at any time any     1: frames may be asked for in any order end gives
 * back film->decoder
 */
struct film_format {
    const char *name;
    enum dia_status (*begin)(struct dia_film *film);
    enum dia_status (*frame)(struct dia_film *film, uint32_t number);
    uint8_t any;
    void (*end)(struct dia_film *film);
};
extern const struct film_format dia_film_pnm, dia_film_y4m, dia_film_png, dia_film_gif,
    dia_film_files, dia_film_raw;

/* A film of a stream, of which the first frame is there: closing it closes the file. The path is
 * for messages. */
enum dia_status dia_film_open_stream(struct dia_film **film, FILE *file, const char *path,
                                     struct dia_diagnostic *wrong);

/* "path: frame 3: what", the frame numbered from 1; number < 0: of all of it. */
enum dia_status dia_film_wrong(struct dia_film *film, int64_t number, const char *format, ...)
    __attribute__((format(printf, 3, 4)));
enum dia_status dia_film_no_memory(struct dia_film *film);

/* Takes the size of the frames and makes room for one. Refuses what is too large. */
enum dia_status dia_film_size(struct dia_film *film, uint64_t columns, uint64_t rows);

/* One frame more, with what stands in `at` for it. */
enum dia_status dia_film_add(struct dia_film *film, uint64_t at);

/* n bytes, or the frame is cut off. */
enum dia_status dia_film_bytes(struct dia_film *film, int64_t number, void *to, size_t n);

/* Part of a frame over what is there: columns by rows at x, y. `is_over`: what is clear in it
 * leaves what is there; else it takes its place. */
struct film_part {
    uint32_t x, y, columns, rows;
    const uint32_t *pixels;
};
void dia_film_lay(struct dia_film *film, const struct film_part *part, int is_over);
void dia_film_clear(struct dia_film *film, const struct film_part *part);

/* 1: no pixel of its frame lets anything through. */
uint8_t dia_film_is_opaque(const struct dia_film *film);

#endif
