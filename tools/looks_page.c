/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cairo.h>

#include <diachrome/look_text.h>
#include <diachrome/layout.h>

/*
 * Writes docs/looks.md from the descriptors of the looks, and a picture of each.
 * Usage: looks-page DOCS-FOLDER      (make docs)
 *
 * A picture: a strip of 60 pixels, 1 m long, over 4 seconds, time downwards; and a wall of 16 by
 * 16, 10 mm apart, at three moments.
 */
#define WIDTH      960
#define HEIGHT     200
#define STRIP      60
#define SIDE       16
#define ROWS       160
#define RUN_MS     4000
#define DRAWN_UM_S 100000 /* how fast what is at rest by default scrolls, to be seen */

static void square(cairo_t *cr, double x, double y, double size, struct dia_rgb colour)
{
    cairo_set_source_rgb(cr, colour.r / 255.0, colour.g / 255.0, colour.b / 255.0);
    cairo_rectangle(cr, x, y, size, size);
    cairo_fill(cr);
}

static void strip(cairo_t *cr, const struct dia_look *look, const void *values)
{
    struct dia_surface line;
    struct dia_rgb row[STRIP];
    dia_surface_line(&line, STRIP, 0, 16667);
    for (int k = 0; k < ROWS; k++) {
        memset(row, 0, sizeof row); /* for what draws over it */
        look->render(values, &line, (uint32_t)(k * RUN_MS / ROWS), 0, STRIP, row);
        for (int i = 0; i < STRIP; i++) {
            cairo_set_source_rgb(cr, row[i].r / 255.0, row[i].g / 255.0, row[i].b / 255.0);
            cairo_rectangle(cr, 16 + i * 6, 20 + k, 6, 1);
            cairo_fill(cr);
        }
    }
}

static void wall(cairo_t *cr, const struct dia_look *look, const void *values, uint32_t ms,
                 double left)
{
    struct dia_grid grid = {SIDE, SIDE, 0};
    struct dia_surface surface;
    struct dia_rgb frame[SIDE * SIDE] = {{0}};
    dia_surface_grid(&surface, &grid, 10000);
    look->render(values, &surface, ms, 0, SIDE * SIDE, frame);
    cairo_set_source_rgb(cr, 0.1, 0.105, 0.12);
    cairo_rectangle(cr, left - 2, 18, 164, 164);
    cairo_fill(cr);
    for (int i = 0; i < SIDE * SIDE; i++)
        square(cr, left + i % SIDE * 10 + 1.5, 20 + i / SIDE * 10 + 1.5, 7, frame[i]);
}

static int picture(const struct dia_look *look, const char *path)
{
    union dia_look_values values;
    cairo_surface_t *surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, WIDTH, HEIGHT);
    cairo_t *cr = cairo_create(surface);
    look->defaults(&values);
    if (look == &dia_look_draw)
        values.draw.speed_x_um_s = DRAWN_UM_S;
    if (look == &dia_look_text) {
        values.lettering.text.form.motion = DIA_TEXT_LEFT;
        values.lettering.text.form.place = DIA_TEXT_IN_MIDDLE;
        values.lettering.palette.colours[0] = (struct dia_rgb){255, 190, 60};
    }
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    strip(cr, look, &values);
    for (uint32_t k = 0; k < 3; k++)
        wall(cr, look, &values, 400 + k * 750, 410 + k * 180);
    int failed = cairo_surface_write_to_png(surface, path) != CAIRO_STATUS_SUCCESS;
    cairo_destroy(cr);
    cairo_surface_destroy(surface);
    return failed;
}

static void parameters(FILE *page, const struct dia_look *look)
{
    union dia_look_values values;
    look->defaults(&values);
    fputs("| parameter | what it is | range | default |\n|---|---|---|---|\n", page);
    for (int i = 0; i < look->param_count; i++) {
        char range[80], value[120];
        fprintf(page, "| `%s` | %s | %s | `%s` |\n", look->params[i].key, look->params[i].help,
                dia_param_range_text(&look->params[i], range, sizeof range),
                dia_param_value_text(&look->params[i], &values, value, sizeof value));
    }
}

int main(int argc, char **argv)
{
    char path[4096];
    if (argc != 2) {
        fputs("usage: looks-page DOCS-FOLDER\n", stderr);
        return 2;
    }
    snprintf(path, sizeof path, "%s/looks.md", argv[1]);
    FILE *page = fopen(path, "w");
    if (!page) {
        perror(path);
        return 3;
    }
    fputs("# Looks\n\n"
          "Made by `make docs` from the looks' own descriptions. Each picture has a strip of 1 m "
          "with 60\n"
          "pixels over four seconds, time downwards, and a wall of 16 by 16 pixels 10 mm apart at "
          "three\n"
          "moments. All with their defaults; `--set KEY=VALUE` changes a parameter.\n\n"
          "A look runs along one coordinate, the length of a line or the columns of a wall unless\n"
          "`--along` or the surface says another: x, y, radius, angle. Rings and beam always go "
          "round the\n"
          "middle; columns, flame and water use x and y.\n\n"
          "Colours are written as CSS has them (`darkorange`, `#ff8800`, `rgb(255 136 0)`, `hsl(32 "
          "100% "
          "50%)`,\n"
          "`oklch(0.75 0.17 60)`) or as a temperature (`2700K`). Several are written with commas, "
          "from "
          "a GIMP\n"
          "palette file (`@tide.gpl`), or as a gradient of up to 16 stops, `gradient(oklab navy, "
          "orange "
          "60%,\n"
          "gold)`: mixed in `light` or evenly to the eye (`oklab`), without a place evenly between "
          "its "
          "neighbours.\n",
          page);
    int failed = 0;
    for (const struct dia_look *const *look = dia_looks; *look && !failed; look++) {
        fprintf(page, "\n## %s\n\n%c%s.\n\n![%s](looks/%s.png)\n\n", (*look)->name,
                (*look)->help[0] - 'a' + 'A', (*look)->help + 1, (*look)->name, (*look)->name);
        if (*look == &dia_look_draw)
            fprintf(page, "Here with `speed-x=%dmm/s`.\n\n", DRAWN_UM_S / 1000);
        if (*look == &dia_look_text)
            fputs(
                "Here with `motion=left place=middle colour=#ffbe3c`. See [text.md](text.md).\n\n",
                page);
        parameters(page, *look);
        snprintf(path, sizeof path, "%s/looks/%s.png", argv[1], (*look)->name);
        failed = picture(*look, path);
    }
    failed |= fclose(page) != 0;
    if (failed)
        fprintf(stderr, "looks-page: %s cannot be written\n", path);
    return failed ? 3 : 0;
}
