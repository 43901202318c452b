/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <strings.h>

#include <diachrome/nearest.h>

#include "editor_private.h"
#include "glyphs_private.h"
#include "host_private.h"

#define MOST_FILE (32u << 20) /* bytes of a file that is read */

void dia_drawings_init(struct dia_drawings *drawings)
{
    memset(drawings, 0, sizeof *drawings);
    drawings->colours[0] = (struct dia_rgb){255, 255, 255};
    drawings->keys[0] = '#';
    drawings->colour_count = 1;
}

void dia_drawings_free(struct dia_drawings *drawings)
{
    for (uint32_t k = 0; k < drawings->count; k++)
        free(drawings->items[k].cells);
    free(drawings->items);
    dia_drawings_init(drawings);
}

static enum dia_status no_memory(const char *where, struct dia_diagnostic *wrong)
{
    dia_host_wrong(wrong, "%s: out of memory", where);
    return DIA_PORT_FAILED;
}

enum dia_status dia_drawings_add(struct dia_drawings *drawings, const char *where,
                                 struct dia_dots like, struct dia_diagnostic *wrong)
{
    uint32_t dots = (uint32_t)like.columns * like.rows * like.frames;
    if (drawings->count == DIA_DRAWING_MOST)
        return dia_host_wrong(wrong, "%s: a file has at most %d drawings", where, DIA_DRAWING_MOST);
    if (dots > DIA_DRAWING_DOTS - drawings->dots)
        return dia_host_wrong(wrong, "%s: all drawings of a file have at most %u dots together",
                              where, DIA_DRAWING_DOTS);
    if ((drawings->count & (drawings->count - 1)) == 0) { /* room doubles */
        uint32_t room = drawings->count ? drawings->count * 2 : 1;
        struct dia_dots *items = realloc(drawings->items, room * sizeof *items);
        if (!items)
            return no_memory(where, wrong);
        drawings->items = items;
    }
    struct dia_dots *item = &drawings->items[drawings->count];
    *item = like;
    item->cells = calloc(dots ? dots : 1, 1);
    if (!item->cells)
        return no_memory(where, wrong);
    drawings->dots += dots;
    drawings->count++;
    return DIA_OK;
}

static int by_code(const void *a, const void *b)
{
    const struct dia_dots *x = a, *y = b;
    if (x->code != y->code)
        return x->code < y->code ? -1 : 1;
    return x->line < y->line ? -1 : x->line > y->line;
}

enum dia_status dia_drawings_sort(struct dia_drawings *drawings, const char *where,
                                  struct dia_diagnostic *wrong)
{
    char sign[8];
    if (drawings->count)
        qsort(drawings->items, drawings->count, sizeof *drawings->items, by_code);
    for (uint32_t k = 1; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k], *before = item - 1;
        if (item->code && item->code == before->code)
            return dia_host_wrong(wrong, "%s:%u: the glyph %s is in line %u already", where,
                                  item->line, dia_sign_text(item->code, sign), before->line);
        for (uint32_t i = 0; !item->code && i < k; i++) {
            if (strcmp(drawings->items[i].name, item->name) == 0)
                return dia_host_wrong(wrong, "%s:%u: the drawing '%s' is in line %u already", where,
                                      item->line, item->name, drawings->items[i].line);
        }
    }
    return DIA_OK;
}

char *dia_sign_text(uint16_t code, char text[8])
{
    if (code <= 32 || (code >= 127 && code <= 0xa0) || code == 0xad || code == 0x3000 ||
        (code >= 0x2000 && code <= 0x200f) || (code >= 0x2028 && code <= 0x202f) ||
        (code >= 0x300 && code <= 0x36f) || code >= 0xd800)
        snprintf(text, 8, "U+%04X", code);
    else
        dia_utf8_of(code, text);
    return text;
}

uint16_t dia_sign_read(const char *text)
{
    if (strncmp(text, "U+", 2) == 0 && strlen(text) >= 6 &&
        strspn(text + 2, "0123456789ABCDEFabcdef") == strlen(text + 2)) {
        unsigned long code = strtoul(text + 2, NULL, 16);
        return code <= 0xffff && code > 0 ? (uint16_t)code : 0;
    }
    if (!text[0])
        return 0;
    uint16_t code = dia_utf8_next(&text);
    return *text || code == 0xfffd ? 0 : code;
}

const struct dia_dots *dia_drawings_find(const struct dia_drawings *drawings, const char *name,
                                         struct dia_diagnostic *wrong)
{
    uint16_t code = dia_sign_read(name);
    const char *names[65] = {NULL};
    uint32_t n = 0;
    for (uint32_t k = 0; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k];
        if (item->code ? item->code == code : strcmp(item->name, name) == 0)
            return item;
        if (!item->code && n < 64)
            names[n++] = item->name;
    }
    const char *near = dia_nearest(name, names);
    if (near)
        dia_host_wrong(wrong, "there is no drawing '%.40s'; did you mean '%s'?", name, near);
    else if (n)
        dia_host_wrong(wrong, "there is no drawing '%.40s'; the first one is '%s'", name, names[0]);
    else
        dia_host_wrong(wrong, "there is no glyph '%.40s'; write a sign, such as A or U+0041", name);
    return NULL;
}

enum dia_status dia_drawings_only(struct dia_drawings *drawings, const char *signs,
                                  struct dia_diagnostic *wrong)
{
    static uint8_t wanted[8192];
    uint32_t kept = 0;
    char sign[8];
    memset(wanted, 0, sizeof wanted);
    for (const char *at = signs; *at;) {
        uint16_t code = dia_utf8_next(&at);
        uint32_t k = 0;
        while (k < drawings->count && drawings->items[k].code != code)
            k++;
        if (k == drawings->count)
            return dia_host_wrong(wrong, "the face %s has no glyph for %s", drawings->face,
                                  dia_sign_text(code, sign));
        wanted[code >> 3] |= (uint8_t)(1u << (code & 7));
    }
    for (uint32_t k = 0; k < drawings->count; k++) {
        struct dia_dots *item = &drawings->items[k];
        if (item->code && wanted[item->code >> 3] >> (item->code & 7) & 1)
            drawings->items[kept++] = *item;
        else
            free(item->cells);
    }
    drawings->count = kept;
    return DIA_OK;
}

void dia_drawings_keep(struct dia_drawings *drawings, const struct dia_dots *const *items,
                       uint32_t n)
{
    uint32_t kept = 0;
    for (uint32_t k = 0; k < drawings->count; k++) {
        struct dia_dots item = drawings->items[k];
        uint32_t i = 0;
        while (i < n && items[i] != &drawings->items[k])
            i++;
        if (i < n)
            drawings->items[kept++] = item; /* at or before its place */
        else
            free(item.cells);
    }
    drawings->count = kept;
}

/* ---- files ------------------------------------------------------------------------------------
 */

int dia_host_ends(const char *path, const char *with)
{
    size_t length = strlen(path), end = strlen(with);
    return length > end && strcasecmp(path + length - end, with) == 0;
}

char *dia_drawings_read_all(const char *path, size_t *size, struct dia_diagnostic *wrong,
                            enum dia_status *status)
{
    FILE *file = fopen(path, "rb");
    *status = DIA_BAD_VALUE;
    if (!file) {
        dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
        return NULL;
    }
    char *text = NULL;
    size_t room = 0;
    *size = 0;
    for (size_t got = 1; got;) {
        if (*size == room) {
            room = room ? room * 2 : 65536;
            char *more = realloc(text, room);
            if (!more || room > MOST_FILE) {
                if (more)
                    dia_host_wrong(wrong, "%s: a file of drawings has at most %u bytes", path,
                                   MOST_FILE / 2);
                else
                    dia_host_wrong(wrong, "%s: out of memory", path);
                *status = more ? DIA_BAD_VALUE : DIA_PORT_FAILED;
                free(more ? more : text);
                fclose(file);
                return NULL;
            }
            text = more;
        }
        got = fread(text + *size, 1, room - *size, file);
        *size += got;
    }
    if (ferror(file)) {
        dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
        free(text);
        text = NULL;
    }
    fclose(file);
    return text;
}

enum dia_status dia_drawings_load(struct dia_drawings *drawings, const char *path,
                                  struct dia_diagnostic *wrong)
{
    size_t size;
    enum dia_status status;
    dia_drawings_init(drawings);
    if (dia_drawings_is_film(path))
        return dia_drawings_film_read(drawings, path, wrong);
    char *text = dia_drawings_read_all(path, &size, wrong, &status);
    if (!text)
        return status;
    status = dia_host_ends(path, ".bdf") ? dia_bdf_read(drawings, path, text, size, wrong)
                                         : dia_drawings_read(drawings, path, text, size, wrong);
    free(text);
    return status;
}

enum dia_status dia_drawings_write(const struct dia_drawings *drawings, const char *path,
                                   struct dia_diagnostic *wrong)
{
    struct host_output out;
    if (dia_host_ends(path, ".png"))
        return dia_drawings_png_write(drawings, path, wrong);
    if (dia_host_ends(path, ".pbm") || dia_host_ends(path, ".pgm") || dia_host_ends(path, ".ppm"))
        return dia_drawings_pnm_write(drawings, path, wrong);
    if (dia_host_ends(path, ".apng") || dia_host_ends(path, ".gif"))
        return dia_drawings_moving_write(drawings, path, wrong);
    int is_c = dia_host_ends(path, ".c"), is_h = dia_host_ends(path, ".h"),
        is_bdf = dia_host_ends(path, ".bdf");
    if (!is_c && !is_h && !is_bdf && !dia_host_ends(path, ".drawings"))
        return dia_host_wrong(wrong,
                              "%s: drawings are written as .drawings, .c, .h, .bdf or .png, and a "
                              "single one as .apng, .gif, .pbm, .pgm or .ppm",
                              path);
    if (is_bdf && !drawings->face[0])
        return dia_host_wrong(wrong, "%s: a .bdf holds the glyphs of a face; there are none here",
                              path);
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    if (is_bdf)
        dia_bdf_write(drawings, out.file);
    else if (is_c || is_h)
        dia_drawings_c_write(drawings, is_h, out.file);
    else
        dia_drawings_text_write(drawings, out.file);
    return dia_host_output_close(&out, wrong);
}
