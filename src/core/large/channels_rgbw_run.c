/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "../channels_run.h"
#include "../drive.h"

#define AT_ONCE 64u /* pixels */

/* Light of each channel, in loops of their own but for the look into the curve. */
static void lights(uint16_t v[4][AT_ONCE], const uint16_t *curve, const struct dia_rgb *pixels,
                   uint32_t n)
{
    for (uint32_t i = 0; i < n; i++) {
        v[0][i] = drive_of(curve, pixels[i].r);
        v[1][i] = drive_of(curve, pixels[i].g);
        v[2][i] = drive_of(curve, pixels[i].b);
    }
    for (uint32_t i = 0; i < n; i++) {
        uint16_t r = v[0][i], g = v[1][i], b = v[2][i], w = r < g ? r : g;
        w = b < w ? b : w;
        v[0][i] = (uint16_t)(r - w);
        v[1][i] = (uint16_t)(g - w);
        v[2][i] = (uint16_t)(b - w);
        v[3][i] = w;
    }
}

/* As drive_scaled, in a product that vectors have; full is left as it is. */
static void scale(uint16_t *v, dia_share gain, uint32_t n)
{
    uint16_t twice = (uint16_t)(gain << 1);
    if (gain == DIA_SHARE_ONE)
        return;
    for (uint32_t i = 0; i < n; i++)
        v[i] = (uint16_t)((uint32_t)v[i] * twice >> 16);
}

/* The four channels of a pixel side by side in a word, 16 bits each: no sum overflows them (see
 * drive.h), so one addition does for all. */
static void add_up(uint16_t *sums, uint16_t carry[4], uint32_t n)
{
    const uint64_t carries = 0x00ff00ff00ff00ffu;
    uint64_t sum;
    memcpy(&sum, carry, sizeof sum);
    for (uint32_t i = 0; i < 4 * n; i += 4) {
        uint64_t drives;
        memcpy(&drives, sums + i, sizeof drives);
        sum = (sum & carries) + drives;
        memcpy(sums + i, &sum, sizeof sum);
    }
    memcpy(carry, &sum, sizeof sum);
}

static void some(const struct dia_develop *develop, uint16_t carry[4], const struct dia_rgb *pixels,
                 uint32_t n, uint8_t *out)
{
    uint16_t v[4][AT_ONCE], sums[4 * AT_ONCE];
    const uint16_t *at[4] = {v[0], v[0], v[0], v[0]}; /* in the order of the bytes */
    lights(v, develop->curve, pixels, n);
    for (uint32_t c = 0; c < 4; c++) {
        scale(v[c], develop->gain[c], n);
        at[develop->place[c]] = v[c];
    }
    const uint16_t *first = at[0], *second = at[1], *third = at[2], *fourth = at[3];
    for (uint32_t i = 0; i < n; i++) {
        sums[4 * i] = first[i];
        sums[4 * i + 1] = second[i];
        sums[4 * i + 2] = third[i];
        sums[4 * i + 3] = fourth[i];
    }
    add_up(sums, carry, n);
    for (uint32_t i = 0; i < 4 * n; i++)
        out[i] = (uint8_t)(sums[i] >> 8);
}

void dia_channels_rgbw_run(const struct dia_develop *develop, struct dia_carry *kept,
                           const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint16_t carry[4];
    for (uint32_t c = 0; c < 4; c++)
        carry[develop->place[c]] = (uint8_t)kept->channel[c];
    while (n != 0) {
        uint16_t run = n < AT_ONCE ? n : AT_ONCE;
        some(develop, carry, pixels, run, out);
        pixels += run;
        out += 4u * run;
        n = (uint16_t)(n - run);
    }
    for (uint32_t c = 0; c < 4; c++)
        kept->channel[c] = (uint8_t)carry[develop->place[c]];
}
