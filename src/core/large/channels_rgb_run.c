/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "../channels_rgb.h"
#include "../drive.h"

#define WORTH_A_TABLE 256
#define BETWEEN_LOOKS 64 /* pixels, until black is looked for again */

static void run_plainly(const struct dia_develop *develop, uint8_t carry[3],
                        const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const dia_share *gain = develop->gain;
    for (; n != 0; n--, pixels++, out += 3) {
        struct dia_rgb px = *pixels;
        out[0] = drive_step(&carry[0], drive_scaled(drive_of(px.r), gain[0]));
        out[1] = drive_step(&carry[1], drive_scaled(drive_of(px.g), gain[1]));
        out[2] = drive_step(&carry[2], drive_scaled(drive_of(px.b), gain[2]));
    }
}

/* What is left to do for each channel: look up, add, and take the sum apart. By index and not by
 * pointer: compilers make the shorter loop of it. */
static void add_up(const uint32_t (*table)[256], uint8_t carry[3], const uint8_t *codes, uint32_t n,
                   uint8_t *out)
{
    uint32_t r = carry[0], g = carry[1], b = carry[2];
    for (uint32_t i = 0; i < n; i += 3) {
        uint8_t code_r = codes[i], code_g = codes[i + 1], code_b = codes[i + 2];
        r += table[0][code_r];
        g += table[1][code_g];
        b += table[2][code_b];
        out[i] = (uint8_t)(r >> 8);
        out[i + 1] = (uint8_t)(g >> 8);
        out[i + 2] = (uint8_t)(b >> 8);
        r &= 255u;
        g &= 255u;
        b &= 255u;
    }
    carry[0] = (uint8_t)r;
    carry[1] = (uint8_t)g;
    carry[2] = (uint8_t)b;
}

/* Pixels that are black, from the start: they stay black, and leave the carry as it is. */
static uint16_t dark(const struct dia_rgb *pixels, uint16_t n)
{
    const uint8_t *codes = (const uint8_t *)pixels;
    uint32_t bytes = 3u * n, i = 0;
    for (uint64_t eight; i + 8 <= bytes; i += 8) {
        memcpy(&eight, codes + i, 8);
        if (eight != 0)
            break;
    }
    while (i < bytes && codes[i] == 0)
        i++;
    return (uint16_t)(i / 3);
}

/* Light times gain of all 256 codes, once for many pixels. Words, since those add fastest; 3 KB of
 * stack. Stretches of black are passed over. */
static void run_by_table(const struct dia_develop *develop, uint8_t carry[3],
                         const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint32_t table[3][256];
    for (int c = 0; c < 3; c++) {
        for (int code = 0; code < 256; code++)
            table[c][code] = drive_scaled(drive_of((uint8_t)code), develop->gain[c]);
    }
    while (n != 0) {
        uint16_t black = dark(pixels, n);
        memset(out, 0, 3u * black);
        pixels += black;
        out += 3u * black;
        n = (uint16_t)(n - black);
        uint16_t some = n < BETWEEN_LOOKS ? n : BETWEEN_LOOKS;
        add_up((const uint32_t(*)[256])table, carry, (const uint8_t *)pixels, 3u * some, out);
        pixels += some;
        out += 3u * some;
        n = (uint16_t)(n - some);
    }
}

void channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                      const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t carry[3] = {(uint8_t)kept->channel[0], (uint8_t)kept->channel[1],
                        (uint8_t)kept->channel[2]};
    if (n < WORTH_A_TABLE)
        run_plainly(develop, carry, pixels, n, out);
    else
        run_by_table(develop, carry, pixels, n, out);
    for (int c = 0; c < 3; c++)
        kept->channel[c] = carry[c];
}
