/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/diachrome.h>

/* A fish that swims over a wall of 16 by 8, in front of a sun that goes down behind it. */
#define COLUMNS 16
#define ROWS    8

static const uint8_t cells[] = {2, 0, 1, 1, 0, /* one picture: tail, body, head */
                                0, 2, 1, 1, 1, 2, 0, 1, 1, 0};
static const struct dia_rgb colours[] = {{255, 200, 0}, {200, 80, 0}};
static const struct dia_sprite fish = {5, 3, 1, 0, cells, colours};

int main(void)
{
    static const struct dia_figure sun = {.kind = DIA_FIGURE_DISC,
                                          .filled = 1,
                                          .colour = {255, 60, 0},
                                          .at = {80000, 0},
                                          .size_um = 30000};
    static const struct dia_figure swimmer = {
        .kind = DIA_FIGURE_SPRITE, .at = {0, 40000}, .sprite = &fish};
    struct dia_drawing sky = {.figures = &sun, .count = 1};
    struct dia_drawing sea = {.figures = &swimmer, .count = 1, .speed_x_um_s = 20000};
    struct dia_grid grid;
    struct dia_surface wall;
    struct dia_rgb pixels[COLUMNS * ROWS];

    if (dia_grid_init(&grid, COLUMNS, ROWS) != DIA_OK ||
        dia_surface_grid(&wall, &grid, 10000) != DIA_OK)
        return 1;
    for (uint32_t ms = 2000; ms <= 7000; ms += 5000) {
        memset(pixels, 0, sizeof pixels);
        dia_drawing_render(&sky, &wall, ms, 0, wall.count, pixels);
        dia_drawing_render(&sea, &wall, ms, 0, wall.count, pixels);
        for (int i = 0; i < COLUMNS * ROWS; i++) {
            putchar(pixels[i].g == 200 ? 'O' : pixels[i].g == 80 ? '<' : pixels[i].r ? '*' : '.');
            if (i % COLUMNS == COLUMNS - 1)
                putchar('\n');
        }
    }
    return 0;
}
