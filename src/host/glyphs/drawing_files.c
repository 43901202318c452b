/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "glyphs_private.h"
#include "host_private.h"

/* Several files of drawings, whose names are looked up together. */

static void free_joined(struct dia_drawing_files *files)
{
    for (uint32_t k = 0; k < files->joined_count; k++)
        free(files->joined[k].with);
    files->joined_count = 0;
}

void dia_drawing_files_free(struct dia_drawing_files *files)
{
    free_joined(files);
    for (uint32_t k = 0; k < files->count; k++) {
        dia_drawings_free(files->drawings[k]);
        dia_drawings_face_free(files->faces[k]);
        free(files->drawings[k]);
        free(files->paths[k]);
    }
    files->count = 0;
}

enum dia_status dia_drawing_files_add(struct dia_drawing_files *files, const char *path,
                                      struct dia_diagnostic *wrong)
{
    if (files->count == DIA_DRAWING_FILES)
        return dia_host_wrong(wrong, "at most %d files of drawings at once", DIA_DRAWING_FILES);
    struct dia_drawings *drawings = malloc(sizeof *drawings);
    char *own_path = strdup(path);
    if (!drawings || !own_path) {
        free(drawings);
        free(own_path);
        dia_host_wrong(wrong, "%s: out of memory", path);
        return DIA_PORT_FAILED;
    }
    const struct dia_drawing_text *instead = files->instead;
    int is_edited = instead && instead->text && strcmp(instead->path, path) == 0;
    enum dia_status status =
        is_edited ? dia_drawings_read(drawings, path, instead->text, instead->size, wrong)
                  : dia_drawings_load(drawings, path, wrong);
    struct dia_face *face = NULL;
    if (status == DIA_OK && drawings->face[0] && !(face = dia_drawings_face(drawings))) {
        dia_host_wrong(wrong, "%s: out of memory", path);
        dia_drawings_free(drawings);
        status = DIA_PORT_FAILED;
    }
    if (status != DIA_OK) {
        free(drawings);
        free(own_path);
        return status;
    }
    free_joined(files); /* they lack what comes now */
    files->drawings[files->count] = drawings;
    files->paths[files->count] = own_path;
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
