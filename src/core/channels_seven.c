/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "arrange.h"
#include "drive.h"

/* Light from 0 to 65280 as 0 to 65024 = 127 * 512, so that 512 is a step of a 7-bit drive: less
 * a 255th, exactly at both ends. */
static inline uint16_t seven_of(const DIA_ROM uint16_t *curve, uint8_t code)
{
    uint16_t v = drive_of(curve, code);
    return (uint16_t)(v - (uint16_t)(((uint32_t)v + (v >> 8) + 1u) >> 8));
}

static void run(const struct dia_develop *develop, struct dia_carry *kept,
                const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t in_place = &pixels->r == out;
    for (uint8_t c = 0; c < 3; c++) {
        const uint8_t *code = (const uint8_t *)pixels + c;
        uint8_t *step = out + (in_place ? c : develop->place[c]);
        uint16_t carry = (uint16_t)kept->channel[c]; /* a step is twice as large: 512 */
        dia_share gain = develop->gain[c];
        uint8_t mark = develop->mark;
        for (uint16_t i = n; i != 0; i--, code += 3, step += 3) {
            uint16_t sum = (uint16_t)(drive_scaled(seven_of(develop->curve, *code), gain) + carry);
            *step = (uint8_t)(sum >> 9 | mark);
            carry = sum & 511u;
        }
        kept->channel[c] = carry;
    }
    if (in_place)
        dia_arrange(develop->place, out, n);
}

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    /* a full light is 65024 here and 65280 for dia_drive_ua: a 254th on top, which is a 256th, a
     * 32768th, a 2^22th and so on; the 12 is more than what is left out, so it is rounded up */
    uint32_t ua = 0;
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t light = 0;
        const uint8_t *code = (const uint8_t *)pixels + c;
        for (uint16_t i = n; i != 0; i--, code += 3)
            light += seven_of(develop->curve, *code);
        ua = drive_sum(ua, dia_drive_ua(light + (light >> 8) + (light >> 15) + (light >> 22) + 12,
                                        develop->gain[c], power->channel_ua[c]));
    }
    return ua;
}

const DIA_ROM struct dia_channels dia_channels_seven = {3, 3, 2, run, draw_ua};
