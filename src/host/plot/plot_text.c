/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/plot.h>
#include <diachrome/quantity.h>

#define ONE   8 /* rows of a curve by itself */
#define ROWS  5 /* of one of several, so that three fit a terminal of 24 rows */
#define LABEL 7 /* columns left of it */

/* The mean of what falls on a column, in eighths of a row. */
static uint32_t eighths(const struct dia_plot *plot, const uint16_t *values, int column, int wide,
                        uint32_t rows)
{
    uint64_t sum = 0;
    uint32_t first = (uint32_t)((uint64_t)plot->count * (unsigned)column / (unsigned)wide);
    uint32_t end = (uint32_t)((uint64_t)plot->count * (unsigned)(column + 1) / (unsigned)wide);
    end = end > first ? end : first + 1;
    for (uint32_t i = first; i < end; i++)
        sum += values[i];
    return (uint32_t)((sum * rows * 8 + (uint64_t)plot->most * (end - first) / 2) /
                      ((uint64_t)plot->most * (end - first)));
}

static const char *mark(uint32_t filled, int in_blocks)
{
    static const char *const blocks[] = {" ",
                                         "\342\226\201",
                                         "\342\226\202",
                                         "\342\226\203",
                                         "\342\226\204",
                                         "\342\226\205",
                                         "\342\226\206",
                                         "\342\226\207",
                                         "\342\226\210"};
    static const char *const plain[] = {" ", ".", ".", ".", ":", ":", "#", "#", "#"};
    return (in_blocks ? blocks : plain)[filled];
}

static void write_curve(const struct dia_plot *plot, uint8_t number, FILE *file, int wide,
                        int in_colour, int in_utf8)
{
    struct dia_rgb c = plot->curve[number].colour;
    int rows = plot->curves == 1 ? ONE : ROWS;
    for (int row = rows - 1; row >= 0; row--) {
        char line[1800];
        size_t used = 0;
        line[0] = 0;
        for (int x = 0; x < wide; x++) {
            uint32_t level = eighths(plot, plot->curve[number].values, x, wide, (uint32_t)rows);
            uint32_t below = (uint32_t)row * 8, filled = level <= below ? 0 : level - below;
            const char *what = mark(filled > 8 ? 8 : filled, in_colour && in_utf8);
            memcpy(line + used, what, strlen(what) + 1);
            used += strlen(what);
        }
        while (used && line[used - 1] == ' ')
            line[--used] = 0;
        char label[16] = "";
        if (row == rows - 1)
            snprintf(label, sizeof label, "%u", (unsigned)plot->most);
        else if (row == rows / 2)
            snprintf(label, sizeof label, "%.5s", plot->curve[number].name);
        else if (row == 0)
            snprintf(label, sizeof label, "0");
        if (in_colour)
            fprintf(file, "%5s |\033[38;2;%d;%d;%dm%s\033[0m\n", label, c.r, c.g, c.b, line);
        else
            fprintf(file, "%5s |%s\n", label, line);
    }
}

void dia_plot_write_text(const struct dia_plot *plot, FILE *file, int columns, int in_colour,
                         int in_utf8)
{
    int wide = (columns < 40 ? 40 : columns > 400 ? 400 : columns) - LABEL;
    char from[40], to[40];
    uint64_t last = plot->from_us + plot->step_us * (plot->count - 1);
    fprintf(file, in_colour ? "\033[1m%s\033[0m\n%s\n" : "%s\n%s\n", plot->title, plot->about);
    if (dia_plot_is_coarse(plot))
        fprintf(file, "%s\n", DIA_PLOT_COARSE);
    for (uint8_t k = 0; k < plot->curves; k++) {
        if (k)
            fputs("      |\n", file);
        write_curve(plot, k, file, wide, in_colour, in_utf8);
    }
    dia_quantity_write((int64_t)(plot->from_us / 1000), DIA_TIME, from, sizeof from);
    dia_quantity_write((int64_t)((last + 500) / 1000), DIA_TIME, to, sizeof to);
    fputs("      +", file);
    for (int x = 0; x < wide; x++)
        fputc('-', file);
    fprintf(file, "\n       %s%*s\n", from, wide - (int)strlen(from), to);
}
