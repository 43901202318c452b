/* SPDX-License-Identifier: MIT */
#include <stdarg.h>

#include "report_private.h"

void dia_report_text(FILE *file, const char *text)
{
    for (; *text; text++) {
        switch (*text) {
        case '&':
            fputs("&amp;", file);
            break;
        case '<':
            fputs("&lt;", file);
            break;
        case '>':
            fputs("&gt;", file);
            break;
        case '"':
            fputs("&quot;", file);
            break;
        default:
            fputc(*text, file);
        }
    }
}

void dia_report_say(FILE *file, const char *format, ...)
{
    char text[600];
    va_list args;
    va_start(args, format);
    vsnprintf(text, sizeof text, format, args);
    va_end(args);
    dia_report_text(file, text);
}

static void three(struct base64 *to)
{
    static const char signs[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    uint32_t bits = (uint32_t)to->kept[0] << 16 | (uint32_t)to->kept[1] << 8 | to->kept[2];
    char out[4];
    for (int k = 0; k < 4; k++)
        out[k] = signs[bits >> (18 - 6 * k) & 63];
    for (uint32_t k = to->count + 1; k < 4; k++)
        out[k] = '=';
    fwrite(out, 1, 4, to->file);
    to->count = 0;
}

void dia_base64_put(struct base64 *to, const uint8_t *bytes, size_t n)
{
    for (; n != 0; n--, bytes++) {
        to->kept[to->count++] = *bytes;
        if (to->count == 3)
            three(to);
    }
}

void dia_base64_end(struct base64 *to)
{
    if (to->count == 0)
        return;
    for (uint32_t k = to->count; k < 3; k++)
        to->kept[k] = 0;
    three(to);
}
