/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/palette_file.h>

#include "host_private.h"

#define MOST_BYTES (1 << 20)

/* "255 136 0", and what follows is a name. */
static int read_colour(const char *line, struct dia_rgb *colour)
{
    uint8_t of[3];
    for (int k = 0; k < 3; k++) {
        char *end;
        while (*line == ' ' || *line == '\t')
            line++;
        if (!isdigit((unsigned char)*line))
            return 0;
        unsigned long value = strtoul(line, &end, 10);
        if (value > 255 || (*end && !isspace((unsigned char)*end)))
            return 0;
        of[k] = (uint8_t)value;
        line = end;
    }
    *colour = (struct dia_rgb){of[0], of[1], of[2]};
    return 1;
}

static enum dia_status take_line(const char *path, unsigned number, const char *line,
                                 struct dia_palette *palette, struct dia_diagnostic *wrong)
{
    if (number == 1)
        return strcmp(line, "GIMP Palette") == 0
                   ? DIA_OK
                   : dia_host_wrong(wrong, "%s:1: a palette begins with a line 'GIMP Palette'",
                                    path);
    if (line[0] == 0 || line[0] == '#' || strncmp(line, "Name:", 5) == 0 ||
        strncmp(line, "Columns:", 8) == 0)
        return DIA_OK;
    if (palette->count == DIA_PALETTE_MAX)
        return dia_host_wrong(wrong, "%s:%u: a look takes at most %d colours; this is one more",
                              path, number, DIA_PALETTE_MAX);
    if (!read_colour(line, &palette->colours[palette->count]))
        return dia_host_wrong(
            wrong,
            "%s:%u: a colour is three numbers of 0 to 255, as in '255 136 0 orange'; "
            "found '%.40s'",
            path, number, line);
    palette->count++;
    return DIA_OK;
}

static enum dia_status read_lines(const char *path, FILE *file, struct dia_palette *palette,
                                  struct dia_diagnostic *wrong)
{
    char line[512];
    unsigned number = 0;
    long bytes = 0;
    enum dia_status status = DIA_OK;
    while (status == DIA_OK && fgets(line, sizeof line, file) && (bytes += 512) < MOST_BYTES) {
        line[strcspn(line, "\r\n")] = 0;
        status = take_line(path, ++number, line, palette, wrong);
    }
    if (status == DIA_OK && number == 0)
        status = dia_host_wrong(wrong, "%s:1: a palette begins with a line 'GIMP Palette'", path);
    if (status == DIA_OK && palette->count == 0)
        status = dia_host_wrong(wrong, "%s: there is no colour in it", path);
    return status;
}

enum dia_status dia_palette_read(const char *path, struct dia_palette *palette,
                                 struct dia_diagnostic *wrong)
{
    struct dia_palette read = *palette;
    FILE *file = fopen(path, "r");
    read.count = read.placed = 0;
    if (!file) {
        dia_host_failed(wrong, path, "cannot be read");
        return DIA_BAD_VALUE;
    }
    enum dia_status status = read_lines(path, file, &read, wrong);
    if (status == DIA_OK && ferror(file)) {
        dia_host_failed(wrong, path, "cannot be read");
        status = DIA_BAD_VALUE;
    }
    fclose(file);
    if (status == DIA_OK)
        *palette = read;
    return status;
}

enum dia_status dia_palette_write(const char *path, const char *name,
                                  const struct dia_palette *palette, struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    fprintf(out.file, "GIMP Palette\nName: %s\nColumns: %d\n#\n", name, palette->count);
    for (uint8_t k = 0; k < palette->count; k++)
        fprintf(out.file, "%3d %3d %3d\tcolour %d\n", palette->colours[k].r, palette->colours[k].g,
                palette->colours[k].b, k + 1);
    return dia_host_output_close(&out, wrong);
}
