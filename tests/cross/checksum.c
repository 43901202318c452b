/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include <diachrome/diachrome.h>

#include "board.h"

/*
 * Checksums (CRC-32, IEEE 802.3) of developed frames: every look, at several times, for every
 * kind of channels, limited and not. The same lines must come from every processor.
 */
#define COUNT 31

/* All looks with all parts are more than the flash of an ATmega328P: there it is several programs.
 */
#ifdef LOOKS
static const DIA_ROM struct dia_look *const looks[] = {LOOKS, NULL};
#else
#define looks dia_looks
#endif

/* Of those some leave out the frames of single looks, or those of stacks. */
#ifndef FRAMES
#define FRAMES 1
#endif
#ifndef STACKS
#define STACKS 1
#endif

static union dia_look_values values;
static struct dia_rgb pixels[COUNT];
static uint8_t bytes[4 * COUNT];

static uint32_t crc32_of(const uint8_t *data, uint16_t n)
{
    uint32_t crc = 0xffffffffu;
    for (; n != 0; n--) {
        crc ^= *data++;
        for (uint8_t bit = 0; bit < 8; bit++)
            crc = crc & 1 ? crc >> 1 ^ 0xedb88320u : crc >> 1;
    }
    return ~crc;
}

static void say(const DIA_ROM char *text)
{
    while (*text)
        board_put(*text++);
}

static void say_hex(uint32_t value)
{
    for (int8_t shift = 28; shift >= 0; shift = (int8_t)(shift - 4)) {
        uint8_t digit = (uint8_t)(value >> shift & 15u);
        board_put((char)(digit < 10 ? '0' + digit : 'a' + digit - 10));
    }
}

static uint32_t frame(const DIA_ROM struct dia_look *look, uint32_t ms,
                      const DIA_ROM struct dia_pixel_part *part, uint32_t supply_ua)
{
    struct dia_surface line;
    struct dia_develop develop;
    struct dia_budget budget;
    struct dia_carry carry;
    dia_surface_line(&line, COUNT, -5000, 16667);
    memset(pixels, 0, sizeof pixels); /* for what draws over it */
    look->render(&values, &line, ms, 0, COUNT, pixels);
    dia_develop_init(&develop, part->channels);
    dia_develop_order(&develop, part->order);
    develop.white[1] = 30000;
    develop.master = 25000;
    dia_develop_begin(&develop, ms);
    dia_budget_init(&budget, supply_ua, 1000);
    dia_budget_add(&budget, &develop, &part->power, pixels, COUNT);
    dia_develop_limit(&develop, dia_budget_share(&budget));
    dia_carry_begin(&carry, &develop);
    dia_develop_run(&develop, &carry, pixels, COUNT, bytes);
    return crc32_of(bytes, (uint16_t)(part->channels->count * COUNT));
}

/* A look over a colour with each blend, masked and on a part of a grid. */
static uint32_t stack(const DIA_ROM struct dia_look *look, uint8_t blend, uint32_t ms)
{
    static struct dia_steady below;
    struct dia_grid grid = {5, 6, {DIA_TOP_LEFT, 0, 1}};
    struct dia_surface line, wall;
    struct dia_layer layers[2];
    struct dia_stack both = {layers, 2};
    struct dia_wave mask;
    dia_steady_defaults(&below);
    dia_surface_line(&line, COUNT, 0, 16667);
    dia_surface_grid(&wall, &grid, 10000);
    wall.axis = DIA_RADIUS;
    dia_wave_init(&mask);
    mask.axis = DIA_ANGLE;
    dia_layer_init(&layers[0], &line, dia_look_steady.render, &below);
    dia_layer_init(&layers[1], &wall, look->render, &values);
    layers[1].first = 1;
    layers[1].level = 30000;
    layers[1].blend = blend;
    layers[1].mask = blend & 1u ? &mask : NULL;
    dia_stack_render(&both, ms, 0, COUNT, pixels);
    return crc32_of(&pixels->r, 3 * COUNT);
}

/* Hues at places all over the circle, close to where one becomes the next too. */
#if !defined(LOOKS) || defined(HUES)
static void hues(void)
{
    static const DIA_ROM char name[] = "hues";
    struct dia_hue_sweep sweep;
    struct dia_surface line;
    uint32_t crc = 0;
    dia_hue_sweep_defaults(&sweep);
    dia_surface_line(&line, COUNT, 0, 16667);
    for (uint16_t k = 0; k < 4000; k++) {
        sweep.turns = 1 + k % 97;
        dia_hue_sweep_render(&sweep, &line, k * 7919ul, 0, COUNT, pixels);
        crc = crc32_of(&pixels->r, 3 * COUNT) ^ (crc << 1 | crc >> 31);
    }
    say(name);
    board_put(' ');
    say_hex(crc);
    board_put('\n');
}
#endif

/* More pixels than a host works out one by one: there tables of all codes come in from 256 on. In
 * one buffer, as there is no room for two. */
#if !defined(LOOKS) || defined(HUES)
#define MANY 300
static void many_pixels(const DIA_ROM struct dia_pixel_part *part)
{
    static const DIA_ROM char name[] = "many";
    static uint8_t memory[4 * MANY];
    struct dia_develop develop;
    struct dia_carry carry;
    say(name);
    for (uint8_t dim = 0; dim < 3; dim++) {
        uint8_t *codes = memory + (part->channels->count - 3) * MANY;
        uint32_t random = 12345;
        for (uint16_t k = 0; k < 3 * MANY; k++) {
            random = random * (uint32_t)1664525 + (uint32_t)1013904223;
            codes[k] =
                (uint8_t)(random >> (24u + k / 90u % 3u * dim)); /* bright and dim stretches */
        }
        dia_develop_init(&develop, part->channels);
        dia_develop_order(&develop, part->order);
        develop.master = dim ? 25000 : DIA_SHARE_ONE;
        develop.time_from = DIA_TIME_ALWAYS;
        dia_develop_begin(&develop, 7u + dim);
        dia_carry_begin(&carry, &develop);
        dia_develop_run(&develop, &carry, (const struct dia_rgb *)(const void *)codes, MANY,
                        memory);
        board_put(' ');
        say_hex(crc32_of(memory, (uint16_t)(part->channels->count * MANY)));
    }
    board_put('\n');
}
#endif

int main(void)
{
    static const uint32_t times[] = {0, 1, 12345, 3600000, 0x7fffffff, 0xffffffff};
    static const DIA_ROM struct dia_pixel_part *const parts[] = {
        &dia_ws2812b, &dia_sk6812_rgbw, &dia_ws2815, &dia_apa102, &dia_lpd8806};
    board_begin();
    for (const DIA_ROM struct dia_look *const *look = looks; *look; look++) {
        (*look)->defaults(&values);
        for (uint8_t t = 0; FRAMES && t < sizeof times / sizeof times[0]; t++) {
            say((*look)->name);
            board_put(' ');
            say_hex(times[t]);
            for (uint8_t p = 0; p < sizeof parts / sizeof parts[0]; p++) {
                board_put(' ');
                say_hex(frame(*look, times[t], parts[p], 4000000));
                board_put(' ');
                say_hex(frame(*look, times[t], parts[p], 200000));
            }
            board_put('\n');
        }
        if (!STACKS)
            continue;
        say((*look)->name);
        for (uint8_t blend = DIA_BLEND_OVER; blend <= DIA_BLEND_DARKEN; blend++) {
            board_put(' ');
            say_hex(stack(*look, blend, 12345));
        }
        board_put('\n');
    }
#if !defined(LOOKS) || defined(HUES)
    hues();
    for (uint8_t p = 0; p < sizeof parts / sizeof parts[0]; p++)
        many_pixels(parts[p]);
#endif
    board_end();
    return 0;
}
