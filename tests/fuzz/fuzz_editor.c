/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/editor.h>

/* What somebody types, up to a byte 255, and the file on which. What is saved is read again and the
 * same; with all steps undone, the drawings are those of the file. */
static const char *path(void)
{
    static char name[64];
    if (!name[0])
        snprintf(name, sizeof name, "/dev/shm/fuzz-%d.drawings", (int)getpid());
    return name;
}

static void put_file(const uint8_t *text, size_t size)
{
    FILE *file = fopen(path(), "wb");
    if (!file || fwrite(text, 1, size, file) != size || fclose(file) != 0)
        abort();
}

static void are_same(const struct dia_drawings *a, const struct dia_drawings *b)
{
    if (a->count != b->count || a->dots != b->dots)
        abort();
    for (uint32_t k = 0; k < a->count; k++) {
        const struct dia_dots *x = &a->items[k], *y = &b->items[k];
        if (x->code != y->code || strcmp(x->name, y->name) != 0 || x->columns != y->columns ||
            x->rows != y->rows || x->frames != y->frames ||
            memcmp(x->cells, y->cells, (size_t)x->columns * x->rows * x->frames) != 0)
            abort();
    }
}

static void type(struct dia_editor *editor, const uint8_t *keys, size_t n)
{
    struct dia_diagnostic wrong = {""};
    for (size_t k = 0; k < n; k++) {
        wrong.text[0] = 0;
        if (keys[k] >= 128)
            dia_editor_put(editor, keys[k] & 7u, keys[k] >> 3 & 7u, (uint8_t)(k % 3), keys[k] & 1u,
                           &wrong);
        else
            said(dia_editor_do(editor, (enum dia_edit)(keys[k] % (DIA_EDIT_PEN + 1)), &wrong),
                 &wrong);
        const struct dia_dots *item = dia_editor_item(editor);
        if (editor->column >= item->columns || editor->row >= item->rows ||
            editor->frame >= item->frames)
            abort();
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_drawings file;
    struct dia_editor editor, again;
    const uint8_t *end = memchr(data, 255, size < 200 ? size : 200);
    size_t keys = end ? (size_t)(end - data) : 0;
    const uint8_t *text = end ? end + 1 : data;
    put_file(text, size - (size_t)(text - data));
    enum dia_status status = dia_editor_open(&editor, path(), NULL, NULL, &wrong);
    said(status, &wrong);
    if (status != DIA_OK)
        return 0;
    type(&editor, data, keys);
    status = dia_editor_save(&editor, &wrong);
    said(status, &wrong);
    if (status != DIA_OK || dia_editor_open(&again, path(), NULL, NULL, &wrong) != DIA_OK)
        abort();
    are_same(&editor.drawings, &again.drawings);
    dia_editor_free(&again);
    while (dia_editor_do(&editor, DIA_EDIT_UNDO, &wrong) == DIA_OK)
        continue;
    put_file(text, size - (size_t)(text - data));
    if (dia_drawings_load(&file, path(), &wrong) != DIA_OK)
        abort();
    are_same(&editor.drawings, &file);
    dia_drawings_free(&file);
    dia_editor_free(&editor);
    return 0;
}
