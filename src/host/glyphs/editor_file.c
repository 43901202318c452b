/* SPDX-License-Identifier: MIT */
#define _POSIX_C_SOURCE 200809L
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "editor_private.h"
#include "glyphs_private.h"
#include "host_private.h"

/* The file of an editor: what was not changed keeps its lines. */

/* ---- opening --------------------------------------------------------------------------------- */

static enum dia_status name_is_fine(const char *name, struct dia_diagnostic *wrong)
{
    size_t n = strlen(name);
    for (size_t k = 0; k < n; k++) {
        if (!isalnum((unsigned char)name[k]) && name[k] != '_')
            return dia_host_wrong(wrong, "a name has letters, digits and '_'; found '%.40s'", name);
    }
    if (n == 0 || isdigit((unsigned char)name[0]))
        return dia_host_wrong(wrong, "a name begins with a letter; found '%.40s'", name);
    if (n >= DIA_DRAWING_NAME)
        return dia_host_wrong(wrong, "a name has at most %d letters", DIA_DRAWING_NAME - 1);
    return DIA_OK;
}

/* A glyph where the file has a face and the name is one sign, else a drawing. */
static enum dia_status add_new(struct dia_editor *editor, const char *name,
                               const struct dia_editor_size *size, struct dia_diagnostic *wrong)
{
    struct dia_drawings *drawings = &editor->drawings;
    struct dia_diagnostic none;
    struct dia_dots like = {
        .columns = size->columns, .rows = size->rows, .frames = 1, .each_ms = 200};
    if (!name)
        return dia_host_wrong(wrong, "%s: say how the new drawing is called", editor->path);
    if (drawings->count && dia_drawings_find(drawings, name, &none))
        return dia_host_wrong(wrong, "%s: '%s' is there already", editor->path, name);
    if (drawings->face[0])
        like.code = dia_sign_read(name);
    enum dia_status status = DIA_OK;
    if (like.code)
        like.rows = drawings->rows;
    else if ((status = name_is_fine(name, wrong)) == DIA_OK)
        memcpy(like.name, name, strlen(name) + 1);
    if (status == DIA_OK && (like.columns == 0 || like.rows == 0))
        status = dia_host_wrong(wrong, "a drawing is 1 to %d dots wide and high", DIA_DRAWING_SIDE);
    if (status == DIA_OK)
        status = dia_drawings_add(drawings, editor->path, like, wrong);
    editor->item = status == DIA_OK ? drawings->count - 1 : 0;
    return status;
}

static enum dia_status make_room(struct dia_editor *editor, struct dia_diagnostic *wrong)
{
    editor->changed = calloc(editor->drawings.count, 1);
    editor->steps = calloc(DIA_EDITOR_STEPS, sizeof *editor->steps);
    if (editor->changed && editor->steps)
        return DIA_OK;
    dia_host_wrong(wrong, "%s: out of memory", editor->path);
    return DIA_PORT_FAILED;
}

static enum dia_status read_file(struct dia_editor *editor, int may_be_new,
                                 struct dia_diagnostic *wrong)
{
    enum dia_status status;
    if (may_be_new && access(editor->path, F_OK) != 0 && errno == ENOENT) {
        editor->source = calloc(1, 1);
        return editor->source ? DIA_OK : DIA_PORT_FAILED;
    }
    editor->source = dia_drawings_read_all(editor->path, &editor->size, wrong, &status);
    return editor->source ? dia_drawings_read(&editor->drawings, editor->path, editor->source,
                                              editor->size, wrong)
                          : status;
}

enum dia_status dia_editor_open(struct dia_editor *editor, const char *path, const char *name,
                                const struct dia_editor_size *size, struct dia_diagnostic *wrong)
{
    memset(editor, 0, sizeof *editor);
    dia_drawings_init(&editor->drawings);
    editor->pen = 1;
    if (!dia_host_ends(path, ".drawings"))
        return dia_host_wrong(wrong,
                              "%s: what is edited is a file that ends with .drawings; make one "
                              "with 'diachrome glyphs %s --out NAME.drawings'",
                              path, path);
    editor->path = strdup(path);
    enum dia_status status = DIA_PORT_FAILED;
    dia_host_wrong(wrong, "%s: out of memory", path);
    if (editor->path)
        status = read_file(editor, size != NULL, wrong);
    if (status == DIA_OK && size) {
        status = add_new(editor, name, size, wrong);
    } else if (status == DIA_OK && name) {
        const struct dia_dots *item = dia_drawings_find(&editor->drawings, name, wrong);
        status = item ? DIA_OK : DIA_BAD_VALUE;
        editor->item = item ? (uint32_t)(item - editor->drawings.items) : 0;
    }
    if (status == DIA_OK)
        status = make_room(editor, wrong);
    if (status == DIA_OK && size)
        editor->changed[editor->item] = 1;
    if (status != DIA_OK)
        dia_editor_free(editor);
    return status;
}

void dia_editor_free(struct dia_editor *editor)
{
    dia_editor_steps_free(editor);
    dia_drawings_free(&editor->drawings);
    free(editor->changed);
    free(editor->source);
    free(editor->path);
    memset(editor, 0, sizeof *editor);
}

/* ---- saving ---------------------------------------------------------------------------------- */

uint32_t dia_editor_unsaved(const struct dia_editor *editor)
{
    uint32_t n = 0;
    for (uint32_t k = 0; k < editor->drawings.count; k++)
        n += editor->changed[k] != 0;
    return n;
}

/* The drawing that begins with a line, or NULL. */
static struct dia_dots *begins_at(const struct dia_editor *editor, uint32_t line)
{
    for (uint32_t k = 0; k < editor->drawings.count; k++) {
        if (editor->drawings.items[k].line == line)
            return &editor->drawings.items[k];
    }
    return NULL;
}

static const char *next_line(const char *at, const char *end)
{
    const char *newline = memchr(at, '\n', (size_t)(end - at));
    return newline ? newline + 1 : end;
}

/* Keys that the file says below a drawing that has them now: a key comes before its drawings. */
struct late_keys {
    uint32_t last; /* the highest of these colours, or 0 */
    uint32_t line; /* the first drawing that has one: they move up to it, all others with them */
};

static struct late_keys find_late_keys(const struct dia_editor *editor)
{
    struct late_keys late = {0, 0};
    for (uint32_t k = 0; k < editor->drawings.count; k++) {
        const struct dia_dots *item = &editor->drawings.items[k];
        if (!editor->changed[k] || !item->line)
            continue;
        for (size_t i = 0; i < dia_editor_dots(item); i++) {
            uint32_t colour = item->cells[i];
            if (colour == 0 || editor->drawings.key_lines[colour - 1] < item->line)
                continue;
            late.last = colour > late.last ? colour : late.last;
            late.line = late.line == 0 || item->line < late.line ? item->line : late.line;
        }
    }
    return late;
}

/* 1: a key that moves up. Those before the last move too, so that colours keep their order. */
static int moves(const struct dia_editor *editor, struct late_keys late, uint32_t colour)
{
    return colour <= late.last && editor->drawings.key_lines[colour - 1] > late.line;
}

static int is_moved_line(const struct dia_editor *editor, struct late_keys late, uint32_t line)
{
    for (uint32_t colour = 1; colour <= late.last; colour++) {
        if (editor->drawings.key_lines[colour - 1] == line)
            return moves(editor, late, colour);
    }
    return 0;
}

static void write_late_keys(const struct dia_editor *editor, struct late_keys late, FILE *out)
{
    for (uint32_t colour = 1; colour <= late.last; colour++) {
        if (moves(editor, late, colour))
            dia_drawings_key_write(&editor->drawings, colour, out);
    }
    fputc('\n', out);
}

/* The file as it is to be. */
static void write_all(const struct dia_editor *editor, FILE *out)
{
    struct late_keys late = find_late_keys(editor);
    const char *at = editor->source, *end = at + editor->size;
    if (editor->size >= 3 && memcmp(at, "\xef\xbb\xbf", 3) == 0) { /* stays the first */
        fwrite(at, 1, 3, out);
        at += 3;
    }
    int whole = 1; /* the last line has its end */
    for (uint32_t line = 1; at < end; line++) {
        const char *next = next_line(at, end);
        if (line == late.line)
            write_late_keys(editor, late, out);
        if (!is_moved_line(editor, late, line)) {
            fwrite(at, 1, (size_t)(next - at), out);
            whole = next[-1] == '\n';
        }
        at = next;
        const struct dia_dots *item = begins_at(editor, line);
        if (!item || !editor->changed[item - editor->drawings.items])
            continue;
        dia_drawings_dots_write(&editor->drawings, item, out);
        for (uint32_t k = 1; k < item->lines; k++, line++)
            at = next_line(at, end);
    }
    for (uint32_t k = 0; k < editor->drawings.count; k++) {
        const struct dia_dots *item = &editor->drawings.items[k];
        if (item->line)
            continue;
        fprintf(out, "%s%s", whole ? "" : "\n", editor->size || k ? "\n" : "");
        dia_drawings_item_write(&editor->drawings, item, out);
        whole = 1;
    }
}

/* Where each drawing and key is in the text that was written. */
static void find_lines(struct dia_editor *editor, const struct dia_drawings *written)
{
    for (uint32_t k = 0; k < editor->drawings.count; k++) {
        struct dia_dots *item = &editor->drawings.items[k];
        for (uint32_t i = 0; i < written->count; i++) {
            const struct dia_dots *is = &written->items[i];
            if (is->code == item->code && strcmp(is->name, item->name) == 0) {
                item->line = is->line;
                item->lines = is->lines;
            }
        }
    }
    for (uint32_t k = 0; k < editor->drawings.colour_count; k++) {
        for (uint32_t i = 0; i < written->colour_count; i++) {
            if (written->keys[i] == editor->drawings.keys[k])
                editor->drawings.key_lines[k] = written->key_lines[i];
        }
    }
}

char *dia_editor_text(const struct dia_editor *editor, size_t *size, struct dia_diagnostic *wrong)
{
    char *text = NULL;
    FILE *out = open_memstream(&text, size);
    if (out) {
        write_all(editor, out);
        int failed = ferror(out);
        if (fclose(out) == 0 && !failed)
            return text;
    }
    free(text);
    dia_host_wrong(wrong, "%s: out of memory", editor->path);
    return NULL;
}

static enum dia_status write_text(const char *path, const char *text, size_t size,
                                  struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    fwrite(text, 1, size, out.file);
    return dia_host_output_close(&out, wrong);
}

/* 1: the file is as it was read. */
static int is_untouched(const struct dia_editor *editor)
{
    struct dia_diagnostic none;
    enum dia_status status;
    size_t size;
    if (access(editor->path, F_OK) != 0)
        return editor->size == 0;
    char *now = dia_drawings_read_all(editor->path, &size, &none, &status);
    int same = now && size == editor->size && memcmp(now, editor->source, size) == 0;
    free(now);
    return same;
}

enum dia_status dia_editor_save_beside(const struct dia_editor *editor, const char *path,
                                       struct dia_diagnostic *wrong)
{
    size_t size;
    char *text = dia_editor_text(editor, &size, wrong);
    if (!text)
        return DIA_PORT_FAILED;
    enum dia_status status = write_text(path, text, size, wrong);
    free(text);
    return status;
}

enum dia_status dia_editor_save(struct dia_editor *editor, struct dia_diagnostic *wrong)
{
    struct dia_drawings written;
    size_t size;
    if (!is_untouched(editor))
        return dia_host_wrong(wrong, "%s: was changed by somebody else since it was read",
                              editor->path);
    char *text = dia_editor_text(editor, &size, wrong);
    if (!text)
        return DIA_PORT_FAILED;
    enum dia_status status = dia_drawings_read(&written, editor->path, text, size, wrong);
    if (status == DIA_OK)
        status = write_text(editor->path, text, size, wrong);
    if (status != DIA_OK) {
        dia_drawings_free(&written);
        free(text);
        return status;
    }
    find_lines(editor, &written);
    dia_drawings_free(&written);
    free(editor->source);
    editor->source = text;
    editor->size = size;
    memset(editor->changed, 0, editor->drawings.count);
    return DIA_OK;
}
