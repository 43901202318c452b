/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/diachrome.h>

#include "float_looks.h"
#include "look_speed.h"

#define COUNT      100000u
#define STRETCH    8192u /* rendered and developed while they are in the nearest cache */
#define ROUNDS     20
#define MOST_LOOKS 40
#define HUES       1200u /* of the circle by hand */

static struct dia_rgb *pixels;
static uint8_t *bytes;
static struct dia_surface line;

/* A look developed to the bytes that go out. */
static double developed(const struct dia_look *look, const void *values,
                        const struct dia_pixel_part *part, uint32_t ms)
{
    struct dia_develop develop;
    struct dia_carry carry;
    uint8_t count = part->channels->count;
    double start = now();
    dia_develop_init(&develop, part->channels);
    dia_develop_order(&develop, part->order);
    dia_develop_begin(&develop, ms);
    dia_carry_begin(&carry, &develop);
    for (uint32_t first = 0; first < COUNT; first += STRETCH) {
        uint16_t n = (uint16_t)(COUNT - first < STRETCH ? COUNT - first : STRETCH);
        look->render(values, &line, ms, first, n, pixels + first);
        dia_develop_run(&develop, &carry, pixels + first, n, bytes + count * (size_t)first);
    }
    return now() - start;
}

static void keep_least(double seconds, double *least)
{
    *least = seconds < *least ? seconds : *least;
}

/* All looks in turns, so that a moment in which the machine does something else is one round of
 * each and not all of one. */
static int every_look(void)
{
    double ours[MOST_LOOKS], floats[MOST_LOOKS];
    int met = 1, count = 0;
    char what[80];
    for (; float_looks[count].name && count < MOST_LOOKS; count++)
        ours[count] = floats[count] = 1e9;
    for (uint32_t round = 0; round < ROUNDS; round++) {
        for (int i = 0; i < count; i++) {
            const struct dia_look *look = dia_look_find(float_looks[i].name);
            union dia_look_values values;
            look->defaults(&values);
            memset(pixels, 0, COUNT * sizeof *pixels); /* drawings go over what is there */
            for (uint32_t k = 0; k < 2; k++) {         /* the first finds its code and tables */
                double start = now();
                float_looks[i].look(COUNT, round * 321, bytes);
                keep_least(now() - start, &floats[i]);
                keep_least(developed(look, &values, &dia_ws2812b, round * 321), &ours[i]);
            }
        }
    }
    for (int i = 0; i < count; i++) {
        snprintf(what, sizeof what, "  %-12s (%.2f ns a pixel against %.1f)", float_looks[i].name,
                 ours[i] / COUNT * 1e9, floats[i] / COUNT * 1e9);
        print(what, floats[i] / ours[i], "goal 10 or more", floats[i] / ours[i] >= 10);
        met &= floats[i] / ours[i] >= 10;
    }
    return met;
}

/* The hue sweep to the bytes of other kinds of channels. */
static int every_kind(void)
{
    static const struct dia_pixel_part *const parts[] = {&dia_sk6812_rgbw, &dia_apa102,
                                                         &dia_lpd8806, &dia_ws2815};
    static const char *const kinds[] = {"RGBW", "level and RGB", "7 bits", "in series"};
    struct dia_hue_sweep sweep;
    int met = 1;
    dia_hue_sweep_defaults(&sweep);
    for (int i = 0; i < 4; i++) {
        double rgb = 1e9, kind = 1e9;
        char what[80];
        for (uint32_t k = 0; k < 3 * ROUNDS; k++) {
            keep_least(developed(&dia_look_hue_sweep, &sweep, &dia_ws2812b, k), &rgb);
            keep_least(developed(&dia_look_hue_sweep, &sweep, parts[i], k), &kind);
        }
        snprintf(what, sizeof what, "  %-14s (%.2f ns a pixel)", kinds[i], kind / COUNT * 1e9);
        print(what, kind / rgb, "goal 2.00 or less", kind / rgb <= 2);
        met &= kind / rgb <= 2;
    }
    return met;
}

/* As one would write it by hand for one machine: places eight at a time in a vector, and four bytes
 * stored for each three. */
typedef uint32_t eight __attribute__((vector_size(32)));

static void sweep_by_hand(const uint32_t table[HUES], uint32_t ms)
{
    const uint32_t step = UINT32_MAX / COUNT;
    uint32_t at = 0u - ms * 1000u;
    eight places = {0, 1, 2, 3, 4, 5, 6, 7};
    places = places * step + at;
    uint8_t *out = (uint8_t *)pixels;
    for (uint32_t i = 0; i < COUNT; i += 8) {
        eight which = (places >> 8) * 75u >> 20;
        for (int k = 0; k < 8; k++, out += 3)
            memcpy(out, &table[which[k]], 4);
        places += step * 8;
    }
}

static int against_a_hand(void)
{
    static uint32_t table[HUES];
    struct dia_hue_sweep sweep;
    double ours = 1e9, by_hand = 1e9;
    dia_hue_sweep_defaults(&sweep);
    dia_hue_sweep_render(&sweep, &line, 0, 0, COUNT, pixels);
    for (uint32_t i = 0; i < HUES; i++)
        memcpy(&table[i], &pixels[i * COUNT / HUES], 3);
    for (uint32_t k = 0; k < 5 * ROUNDS; k++) {
        double start = now();
        sweep_by_hand(table, k);
        keep_least(now() - start, &by_hand);
        start = now();
        dia_hue_sweep_render(&sweep, &line, k, 0, COUNT, pixels);
        keep_least(now() - start, &ours);
    }
    print("hue sweep: part of the speed of a loop in vectors by hand", by_hand / ours,
          "goal 0.80 or more", by_hand / ours >= 0.8);
    return by_hand / ours >= 0.8;
}

/* Four layers, against the four looks each rendered alone. */
static int stack_of_four(void)
{
    static const struct dia_look *const looks[4] = {&dia_look_hue_sweep, &dia_look_chase,
                                                    &dia_look_rings, &dia_look_waves};
    union dia_look_values values[4];
    struct dia_layer layers[4];
    struct dia_stack stack = {layers, 4};
    double parts[4] = {1e9, 1e9, 1e9, 1e9}, together = 1e9, sum = 0;
    for (uint8_t i = 0; i < 4; i++) {
        looks[i]->defaults(&values[i]);
        dia_layer_init(&layers[i], &line, looks[i]->render, &values[i]);
        layers[i].blend = i; /* over, add, screen, multiply */
        layers[i].level = i ? 25000 : DIA_SHARE_ONE;
    }
    for (uint32_t k = 0; k < 3 * ROUNDS; k++) {
        for (int i = 0; i < 4; i++) {
            double start = now();
            for (uint32_t first = 0; first < COUNT; first += STRETCH)
                looks[i]->render(&values[i], &line, k, first,
                                 COUNT - first < STRETCH ? COUNT - first : STRETCH, pixels);
            keep_least(now() - start, &parts[i]);
        }
        double start = now();
        for (uint32_t first = 0; first < COUNT; first += STRETCH)
            dia_stack_render(&stack, k, first, COUNT - first < STRETCH ? COUNT - first : STRETCH,
                             pixels);
        keep_least(now() - start, &together);
    }
    for (int i = 0; i < 4; i++)
        sum += parts[i];
    print("a stack of four layers: times the sum of its looks", together / sum, "goal 1.30 or less",
          together / sum <= 1.3);
    return together / sum <= 1.3;
}

/* A sentence that scrolls over a wall of 64 x 8, as a layer: microseconds a frame. */
static int text_speed(void)
{
    struct dia_lettering look;
    struct dia_grid grid;
    struct dia_surface wall;
    double best = 1e9;
    dia_lettering_defaults(&look);
    look.text.says = "Ferry to Skua at 14:05 from pier 2, calm sea";
    look.text.form.motion = DIA_TEXT_LEFT;
    if (dia_grid_init(&grid, 64, 8) != DIA_OK || dia_surface_grid(&wall, &grid, 7600) != DIA_OK)
        return 0;
    for (uint32_t k = 0; k < 20 * ROUNDS; k++) {
        double start = now();
        dia_lettering_render(&look, &wall, 2000 + k * 40, 0, wall.count, pixels);
        keep_least(now() - start, &best);
    }
    print("a text over 64 x 8 pixels: us a frame", best * 1e6, "goal 60 or less", best <= 60e-6);
    return best <= 60e-6;
}

int look_speeds(void)
{
    pixels = calloc(COUNT + 2, sizeof *pixels);
    bytes = calloc(COUNT, 4);
    if (!pixels || !bytes)
        return -1;
    dia_surface_line(&line, COUNT, 0, 2000);
    puts("each look developed, 100,000 pixels: times plain float");
    int met = every_look();
    puts("hue sweep to the bytes of other kinds: times RGB");
    met &= every_kind();
    met &= against_a_hand();
    met &= stack_of_four();
    met &= text_speed();
    free(pixels);
    free(bytes);
    return met;
}
