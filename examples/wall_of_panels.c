/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* Four panels of 4 x 4, each turned as its cable came out best; and rings over all of them. */
int main(void)
{
    static const struct dia_wall_place places[] = {{0, 0, 0}, {1, 0, 1}, {1, 1, 2}, {0, 1, 3}};
    struct dia_wall panels = {{4, 4, {DIA_TOP_LEFT, 0, 1}}, 2, 2, 4, places};
    struct dia_surface wall;
    struct dia_rings rings;
    struct dia_rgb pixels[64];
    char picture[8][9] = {""};

    if (dia_surface_wall(&wall, &panels, 10000) != DIA_OK)
        return 1;
    dia_rings_defaults(&rings);
    rings.spacing_um = 40000;
    dia_rings_render(&rings, &wall, 0, 0, wall.count, pixels);
    for (uint32_t i = 0; i < wall.count; i++) { /* pixels are in the order of the wire */
        struct dia_point at = dia_surface_point(&wall, i);
        picture[at.y_um / 10000][at.x_um / 10000] = pixels[i].g > 130 ? 'O' : '.';
    }
    for (int row = 0; row < 8; row++)
        puts(picture[row]);
    return 0;
}
