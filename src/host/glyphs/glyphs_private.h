/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_GLYPHS_PRIVATE_H
#define DIA_HOST_GLYPHS_PRIVATE_H

#include <stdio.h>

#include <diachrome/drawings.h>

/* A drawing more, the last of them, as `like` but for its cells: it has its own, all dark.
 * DIA_BAD_VALUE: there are too many, or too many dots. */
enum dia_status dia_drawings_add(struct dia_drawings *drawings, const char *where,
                                 struct dia_dots like, struct dia_diagnostic *wrong);

/* 1: a path ends with that, in capitals or not. */
int dia_host_ends(const char *path, const char *with);

/* Glyphs in rising order of code points, drawings before them as they were. DIA_BAD_VALUE: a code
 * point, or a name, is there twice. */
enum dia_status dia_drawings_sort(struct dia_drawings *drawings, const char *where,
                                  struct dia_diagnostic *wrong);

/* The code point of "A" or "U+0041"; 0: it is neither. */
uint16_t dia_sign_read(const char *text);

enum dia_status dia_bdf_read(struct dia_drawings *drawings, const char *name, const char *text,
                             size_t size, struct dia_diagnostic *wrong);
enum dia_status dia_drawings_png_write(const struct dia_drawings *drawings, const char *path,
                                       struct dia_diagnostic *wrong);
/* A drawing of a picture or film, by the ending of its name; and a single drawing as PNM, or
 * as APNG or GIF. */
int dia_drawings_is_film(const char *path);
enum dia_status dia_drawings_film_read(struct dia_drawings *drawings, const char *path,
                                       struct dia_diagnostic *wrong);
enum dia_status dia_drawings_pnm_write(const struct dia_drawings *drawings, const char *path,
                                       struct dia_diagnostic *wrong);
enum dia_status dia_drawings_moving_write(const struct dia_drawings *drawings, const char *path,
                                          struct dia_diagnostic *wrong);
void dia_bdf_write(const struct dia_drawings *drawings, FILE *out);
void dia_drawings_text_write(const struct dia_drawings *drawings, FILE *out);
/* The line of a key (colour: 1 and more), a drawing with its first line, and its rows alone. */
void dia_drawings_key_write(const struct dia_drawings *drawings, uint32_t colour, FILE *out);
void dia_drawings_item_write(const struct dia_drawings *drawings, const struct dia_dots *item,
                             FILE *out);
void dia_drawings_dots_write(const struct dia_drawings *drawings, const struct dia_dots *item,
                             FILE *out);
void dia_drawings_c_write(const struct dia_drawings *drawings, int in_header, FILE *out);

#endif
