/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DRAWINGS_H
#define DIACHROME_DRAWINGS_H

#include <stddef.h>
#include <stdint.h>

#include "colour.h"
#include "diagnostic.h"
#include "face.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Drawings: glyphs, sprites and faces as text made of dots, one character a dot. docs/drawings.md
 * has the format.
 *
 *   struct dia_drawings drawings;
 *   dia_drawings_load(&drawings, "signs.drawings", &wrong);
 *   dia_drawings_write(&drawings, "signs.h", &wrong);          C tables for a controller
 *   dia_drawings_free(&drawings);
 *
 * Memory: a byte a dot and some 60 bytes a drawing, on the heap, until dia_drawings_free.
 * Cost: reading and writing take one pass; milliseconds for a face of 400 glyphs.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_DRAWING_NAME 48          /* longest name of a drawing or face, the zero included */
#define DIA_DRAWING_SIDE 255         /* dots wide and high, at most */
#define DIA_DRAWING_MOST 8192        /* drawings and glyphs of a file */
#define DIA_DRAWING_DOTS (16u << 20) /* dots of all of them */

/* A drawing, or a glyph of a face. */
struct dia_dots {
    char name[DIA_DRAWING_NAME]; /* of a drawing; "" of a glyph */
    uint16_t code;               /* of a glyph: its code point; 0 of a drawing */
    uint8_t columns, rows;
    uint16_t frames;      /* 1..255, one behind the other in cells */
    uint16_t each_ms;     /* how long each frame shows, where there are several */
    uint8_t *cells;       /* row after row: 0 dark, k colour k - 1 */
    uint32_t line, lines; /* of the file: where it begins, and how many it takes */
};

struct dia_drawings {
    char face[DIA_DRAWING_NAME]; /* name of the face its glyphs belong to; "": there are none */
    uint8_t rows, baseline, spacing, leading, capitals; /* of the face, as in face.h */
    struct dia_rgb colours[255];                        /* colour 0 is what '#' stands for: white */
    uint32_t keys[255];      /* the character that stands for each colour */
    uint32_t key_lines[255]; /* the line of the file that says so, or 0 */
    uint32_t colour_count;
    struct dia_dots *items;
    uint32_t count;
    uint32_t dots; /* of all of them */
};

/* Nothing in it. */
void dia_drawings_init(struct dia_drawings *drawings);
void dia_drawings_free(struct dia_drawings *drawings);

/* Reads a text in our format; `name` stands before diagnostics, which begin with name:line:column.
 * DIA_BAD_VALUE: it is wrong. DIA_PORT_FAILED: memory ran out. The drawings are empty then. */
enum dia_status dia_drawings_read(struct dia_drawings *drawings, const char *name, const char *text,
                                  size_t size, struct dia_diagnostic *wrong);

/* Reads a file: our format, .bdf (Glyph Bitmap Distribution Format 2.2), or a picture or film
 * (.png, .apng, .gif, .pbm, .pgm, .ppm, see film.h), which becomes a drawing that is called as the
 * file is. */
enum dia_status dia_drawings_load(struct dia_drawings *drawings, const char *path,
                                  struct dia_diagnostic *wrong);

/* Writes a file, whole or not at all, as its name ends: .drawings our format, .c and .h tables in
 * C, .bdf, .png a picture of all of them; a single one as .apng, .gif, .pbm, .pgm or
 * .ppm, dot by dot. */
enum dia_status dia_drawings_write(const struct dia_drawings *drawings, const char *path,
                                   struct dia_diagnostic *wrong);

/* Keeps the glyphs of the signs of a text in UTF-8, and no drawing. DIA_BAD_VALUE and a diagnostic
 * when the face lacks one of them. */
enum dia_status dia_drawings_only(struct dia_drawings *drawings, const char *signs,
                                  struct dia_diagnostic *wrong);

/* Keeps n drawings or glyphs, which are items of it, and no others. */
void dia_drawings_keep(struct dia_drawings *drawings, const struct dia_dots *const *items,
                       uint32_t n);

/* The drawing of that name, or the glyph of that sign ("A" or "U+0041"); NULL and a diagnostic when
 * there is none. */
const struct dia_dots *dia_drawings_find(const struct dia_drawings *drawings, const char *name,
                                         struct dia_diagnostic *wrong);

/* How a sign is written: itself in UTF-8, or as U+0020 where it cannot be seen. Returns text. */
char *dia_sign_text(uint16_t code, char text[8]);

/* The face of the glyphs, for text.h, in memory of its own; NULL when memory ran out. Give it back
 * with dia_drawings_face_free. */
struct dia_face *dia_drawings_face(const struct dia_drawings *drawings);
void dia_drawings_face_free(struct dia_face *face);

/* Several files, whose names are looked up together: {0} before the first. */
#define DIA_DRAWING_FILES  8
#define DIA_DRAWING_JOINED (DIA_DRAWING_FILES + 4) /* faces: theirs, and those compiled in */
struct dia_drawing_text { /* in place of what a file has, while somebody edits it */
    const char *path, *text;
    size_t size;
};
struct dia_drawing_files {
    struct dia_drawings *drawings[DIA_DRAWING_FILES];
    char *paths[DIA_DRAWING_FILES]; /* as they were given */
    const struct dia_drawing_text
        *instead; /* the caller's, set before files are added; NULL: none */
    struct dia_face *faces[DIA_DRAWING_FILES]; /* NULL where a file has none */
    uint32_t count;
    /* private: faces with drawings behind their glyphs */
    struct {
        const struct dia_face *of;
        struct dia_face *with;
    } joined[DIA_DRAWING_JOINED];
    uint32_t joined_count;
};
enum dia_status dia_drawing_files_add(struct dia_drawing_files *files, const char *path,
                                      struct dia_diagnostic *wrong);
void dia_drawing_files_free(struct dia_drawing_files *files);

/* The face of that name, or NULL. */
const struct dia_face *dia_drawing_files_face(const struct dia_drawing_files *files,
                                              const char *name);

/* As dia_drawings_find; `of` is the file it is in. */
const struct dia_dots *dia_drawing_files_find(const struct dia_drawing_files *files,
                                              const char *name, const struct dia_drawings **of,
                                              struct dia_diagnostic *wrong);

/* A drawing as a sign in a text: signs of Unicode's private use from here on, one for each drawing
 * of all files. A character display shows it as one of its glyphs; where letters are made of dots,
 * the face must be dia_drawing_files_with. 0: there is none of that name, or it is too far behind
 * in its files. */
#define DIA_DRAWING_SIGN 0xe100u
uint16_t dia_drawing_files_sign(const struct dia_drawing_files *files, const char *name);
const struct dia_dots *dia_drawing_files_of_sign(const struct dia_drawing_files *files,
                                                 uint16_t sign);

/* A face with the first frame of each drawing as such a sign, if it is no higher than the face. It
 * belongs to the files, until they are freed or get another file. NULL: memory ran out, or they
 * have more than 65535 columns of dots. */
const struct dia_face *dia_drawing_files_with(struct dia_drawing_files *files,
                                              const struct dia_face *face);

/* The dots of a frame of a drawing as the rows of a cell, bit 4 at the left. 0: it is larger than
 * 5 by 8 dots. */
int dia_dots_cell(const struct dia_dots *item, uint32_t frame, uint8_t rows[8]);

DIA_END

#endif
