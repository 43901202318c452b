/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <string.h>

#include "findings_text.h"

#define WIDTH  80
#define INDENT 10

static const char *colour_of(enum dia_finding_level level)
{
    return level == DIA_ERROR ? "\033[31m" : level == DIA_WARNING ? "\033[33m" : "\033[36m";
}

void text_wrapped(FILE *out, const char *text, int indent)
{
    int column = indent;
    while (*text) {
        int length = (int)strcspn(text, " ");
        if (column > indent && column + 1 + length > WIDTH) {
            fprintf(out, "\n%*s", indent, "");
            column = indent;
        } else if (column > indent) {
            fputc(' ', out);
            column++;
        }
        fprintf(out, "%.*s", length, text);
        column += length;
        text += length;
        text += strspn(text, " ");
    }
}

void finding_print(FILE *out, const struct dia_finding *finding, int in_colour)
{
    char text[512];
    int n = snprintf(text, sizeof text, "%s: %s", finding->place, finding->text);
    if (finding->times > 1)
        n += snprintf(text + n, sizeof text - (size_t)n,
                      " (first at %" PRIu64 ".%03" PRIu64 " ms, %" PRIu32 " times)",
                      finding->t_ns / 1000000, finding->t_ns / 1000 % 1000, finding->times);
    else if (finding->t_ns)
        n += snprintf(text + n, sizeof text - (size_t)n, " (at %" PRIu64 ".%03" PRIu64 " ms)",
                      finding->t_ns / 1000000, finding->t_ns / 1000 % 1000);
    if (finding->source[0])
        snprintf(text + n, sizeof text - (size_t)n, " [%s]", finding->source);
    fprintf(out, "%s%-*s%s", in_colour ? colour_of(finding->level) : "", INDENT,
            dia_finding_level_text(finding->level), in_colour ? "\033[0m" : "");
    text_wrapped(out, text, INDENT);
    fputc('\n', out);
}

void findings_print(FILE *out, const struct dia_findings *all, int in_colour)
{
    for (int level = DIA_ERROR; level >= DIA_NOTE; level--) {
        for (uint32_t i = 0; i < all->count; i++) {
            if ((int)all->items[i].level == level)
                finding_print(out, &all->items[i], in_colour);
        }
    }
}
