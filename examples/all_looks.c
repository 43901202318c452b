/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/diachrome.h>

/* Every look there is, by its name and with its defaults, on a strip of 24 at 1.5 s; and one whose
 * parameter is changed. */
#define COUNT 24

static void show(const char *name, const struct dia_rgb *pixels)
{
    printf("%-10s", name);
    for (int i = 0; i < COUNT; i++)
        putchar(" .:-=+*#%@"[dia_lamp_of(pixels[i]) * 9 / 255]);
    putchar('\n');
}

int main(void)
{
    union dia_look_values values; /* room for the parameters of any look */
    struct dia_surface line;
    struct dia_rgb pixels[COUNT];

    if (dia_surface_line(&line, COUNT, 0, 16667) != DIA_OK)
        return 1;
    for (int k = 0; dia_looks[k]; k++) {
        memset(pixels, 0, sizeof pixels); /* drawings go over what is there */
        dia_looks[k]->defaults(&values);
        dia_looks[k]->render(&values, &line, 1500, 0, COUNT, pixels);
        show(dia_looks[k]->name, pixels);
    }
    const struct dia_look *chase = dia_look_find("chase");
    chase->defaults(&values);
    values.chase.lights = 3;
    if (dia_look_check(chase, &values) != NULL)
        return 1; /* a parameter out of its range */
    chase->render(&values, &line, 0, 0, COUNT, pixels);
    show("3 lights", pixels);
    return 0;
}
