/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "glyphs_private.h"
#include "host_private.h"

/* Several files of drawings, whose names are looked up together. */

void dia_drawing_files_free(struct dia_drawing_files *files)
{
    for (uint32_t k = 0; k < files->count; k++) {
        dia_drawings_free(files->drawings[k]);
        dia_drawings_face_free(files->faces[k]);
        free(files->drawings[k]);
    }
    files->count = 0;
}

enum dia_status dia_drawing_files_add(struct dia_drawing_files *files, const char *path,
                                      struct dia_diagnostic *wrong)
{
    if (files->count == DIA_DRAWING_FILES)
        return dia_host_wrong(wrong, "at most %d files of drawings at once", DIA_DRAWING_FILES);
    struct dia_drawings *drawings = malloc(sizeof *drawings);
    if (!drawings) {
        dia_host_wrong(wrong, "%s: out of memory", path);
        return DIA_PORT_FAILED;
    }
    enum dia_status status = dia_drawings_load(drawings, path, wrong);
    struct dia_face *face = NULL;
    if (status == DIA_OK && drawings->face[0] && !(face = dia_drawings_face(drawings))) {
        dia_host_wrong(wrong, "%s: its face is too large, or memory ran out", path);
        dia_drawings_free(drawings);
        status = DIA_PORT_FAILED;
    }
    if (status != DIA_OK) {
        free(drawings);
        return status;
    }
    files->drawings[files->count] = drawings;
    files->faces[files->count++] = face;
    return DIA_OK;
}

const struct dia_face *dia_drawing_files_face(const struct dia_drawing_files *files,
                                              const char *name)
{
    for (uint32_t k = 0; k < files->count; k++) {
        if (files->faces[k] && strcmp(files->drawings[k]->face, name) == 0)
            return files->faces[k];
    }
    return NULL;
}

const struct dia_dots *dia_drawing_files_find(const struct dia_drawing_files *files,
                                              const char *name, const struct dia_drawings **of,
                                              struct dia_diagnostic *wrong)
{
    struct dia_diagnostic why = {""};
    const char *names[65] = {NULL};
    uint32_t n = 0;
    for (uint32_t k = 0; k < files->count; k++) {
        const struct dia_dots *item = dia_drawings_find(files->drawings[k], name, &why);
        *of = files->drawings[k];
        if (item)
            return item;
        for (uint32_t i = 0; i < (*of)->count && n < 64; i++) {
            if (!(*of)->items[i].code)
                names[n++] = (*of)->items[i].name;
        }
    }
    const char *near = dia_nearest(name, names);
    if (near)
        dia_host_wrong(wrong, "there is no drawing '%.40s'; did you mean '%s'?", name, near);
    else
        dia_host_wrong(wrong,
                       "there is no drawing '%.40s'; 'drawings FILE' reads some, or write the name "
                       "of a .png",
                       name);
    return NULL;
}

#define LAST_SIGN 0xf8ffu /* of Unicode's private use */

uint16_t dia_drawing_files_sign(const struct dia_drawing_files *files, const char *name)
{
    uint32_t sign = DIA_DRAWING_SIGN;
    for (uint32_t k = 0; k < files->count; k++) {
        for (uint32_t i = 0; i < files->drawings[k]->count && sign <= LAST_SIGN; i++, sign++) {
            const struct dia_dots *item = &files->drawings[k]->items[i];
            if (!item->code && strcmp(item->name, name) == 0)
                return (uint16_t)sign;
        }
    }
    return 0;
}

const struct dia_dots *dia_drawing_files_of_sign(const struct dia_drawing_files *files,
                                                 uint16_t sign)
{
    uint32_t at = sign - DIA_DRAWING_SIGN;
    if (sign < DIA_DRAWING_SIGN || sign > LAST_SIGN)
        return NULL;
    for (uint32_t k = 0; k < files->count; k++) {
        if (at < files->drawings[k]->count)
            return &files->drawings[k]->items[at];
        at -= files->drawings[k]->count;
    }
    return NULL;
}

int dia_dots_cell(const struct dia_dots *item, uint32_t frame, uint8_t rows[8])
{
    memset(rows, 0, 8);
    if (item->columns > 5 || item->rows > 8)
        return 0;
    const uint8_t *cell = item->cells + (size_t)frame * item->columns * item->rows;
    for (uint32_t row = 0; row < item->rows; row++) {
        for (uint32_t column = 0; column < item->columns; column++)
            rows[row] |= (uint8_t)((*cell++ != 0) << (4 - column));
    }
    return 1;
}
