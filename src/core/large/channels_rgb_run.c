/* SPDX-License-Identifier: MIT */
#include "../channels_rgb.h"
#include "../drive.h"

#define WORTH_A_TABLE 256

static void run_plainly(const struct dia_develop *develop, uint32_t carry[3],
                        const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    for (; n != 0; n--, pixels++, out += 3) {
        struct dia_rgb px = *pixels;
        out[0] = drive_step(&carry[0], drive_of(px.r), develop->gain[0]);
        out[1] = drive_step(&carry[1], drive_of(px.g), develop->gain[1]);
        out[2] = drive_step(&carry[2], drive_of(px.b), develop->gain[2]);
    }
}

/* Light times gain of all 256 codes, once for many pixels: what is left for each channel is to
 * look up, add, and cut off the whole steps. 3 KB of stack. */
static void run_by_table(const struct dia_develop *develop, uint32_t carry[3],
                         const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint32_t table[3][256];
    for (int c = 0; c < 3; c++) {
        for (int code = 0; code < 256; code++)
            table[c][code] = (uint32_t)drive_of((uint8_t)code) * develop->gain[c];
    }
    uint32_t r = carry[0], g = carry[1], b = carry[2];
    for (; n != 0; n--, pixels++, out += 3) {
        struct dia_rgb px = *pixels;
        r += table[0][px.r];
        g += table[1][px.g];
        b += table[2][px.b];
        out[0] = (uint8_t)(r >> 23);
        out[1] = (uint8_t)(g >> 23);
        out[2] = (uint8_t)(b >> 23);
        r &= DRIVE_CARRY;
        g &= DRIVE_CARRY;
        b &= DRIVE_CARRY;
    }
    carry[0] = r;
    carry[1] = g;
    carry[2] = b;
}

void channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                      const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    if (n < WORTH_A_TABLE)
        run_plainly(develop, kept->channel, pixels, n, out);
    else
        run_by_table(develop, kept->channel, pixels, n, out);
}
