/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <string.h>

#include <diachrome/drawings.h>
#include <diachrome/text.h>

#include "../../src/host/glyphs/glyphs_private.h"

/* Text with drawings, or with STARTFONT before it a font. What is read is written, read again and
 * the same; its face shows. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_drawings drawings, again;
    int is_bdf = size >= 9 && memcmp(data, "STARTFONT", 9) == 0;
    const char *text = (const char *)data;
    enum dia_status status = is_bdf ? dia_bdf_read(&drawings, "t", text, size, &wrong)
                                    : dia_drawings_read(&drawings, "t", text, size, &wrong);
    said(status, &wrong);
    if (status != DIA_OK)
        return 0;
    char *written = NULL;
    size_t length = 0;
    FILE *out = open_memstream(&written, &length);
    dia_drawings_text_write(&drawings, out);
    fclose(out);
    if (dia_drawings_read(&again, "t", written, length, &wrong) != DIA_OK ||
        again.count != drawings.count || again.dots != drawings.dots)
        abort();
    for (uint32_t k = 0; k < again.count; k++) {
        const struct dia_dots *a = &drawings.items[k], *b = &again.items[k];
        if (a->code != b->code || a->columns != b->columns || a->rows != b->rows ||
            memcmp(a->cells, b->cells, (size_t)a->columns * a->rows * a->frames) != 0)
            abort();
    }
    struct dia_face *face = drawings.face[0] ? dia_drawings_face(&drawings) : NULL;
    if (face) {
        struct dia_text shown = {.says = "Abc \303\244\n0", .face = face};
        struct dia_screen screen = {40, 16, 1000};
        uint8_t dots[40];
        dia_text_columns(&shown, &screen, 0, 0, 40, 8, dots);
    }
    dia_drawings_face_free(face);
    out = fopen("/dev/null", "w");
    dia_drawings_c_write(&drawings, 0, out);
    dia_bdf_write(&drawings, out);
    fclose(out);
    free(written);
    dia_drawings_free(&again);
    dia_drawings_free(&drawings);
    return 0;
}
