/* SPDX-License-Identifier: MIT */
#include "../join.h"
#include "lane.h"

#define AT_ONCE 64u

/*
 * First words of four bytes, in loops that turn into vectors: red and green to 16 bits, these and
 * blue to 32. Then each word is stored over the unused byte of the one before.
 */
void dia_join_run(struct dia_rgb *out, const uint8_t *r, const uint8_t *g, const uint8_t *b,
                  uint32_t n)
{
    uint16_t pairs[AT_ONCE], lasts[AT_ONCE];
    uint32_t words[AT_ONCE];
    uint8_t *to = (uint8_t *)out;
    while (n > 1) {
        uint32_t run = n - 1 < AT_ONCE ? n - 1 : AT_ONCE, i = 0;
        for (i = 0; i < run; i++) {
            pairs[i] = (uint16_t)(r[i] << lane_of(0, 8, 16) | g[i] << lane_of(1, 8, 16));
            lasts[i] = (uint16_t)(b[i] << lane_of(0, 8, 16));
        }
        for (i = 0; i < run; i++)
            words[i] = (uint32_t)pairs[i] << lane_of(0, 16, 32) | (uint32_t)lasts[i]
                                                                      << lane_of(1, 16, 32);
        for (i = 0; i + 4 <= run; i += 4, to += 12) {
            memcpy(to, &words[i], 4);
            memcpy(to + 3, &words[i + 1], 4);
            memcpy(to + 6, &words[i + 2], 4);
            memcpy(to + 9, &words[i + 3], 4);
        }
        for (; i < run; i++, to += 3)
            memcpy(to, &words[i], 4);
        r += run;
        g += run;
        b += run;
        n -= run;
    }
    if (n) {
        to[0] = *r;
        to[1] = *g;
        to[2] = *b;
    }
}

/* Eight colours are three words of eight bytes. */
void dia_fill_run(struct dia_rgb *out, struct dia_rgb colour, uint32_t n)
{
    struct dia_rgb eight[8] = {colour, colour, colour, colour, colour, colour, colour, colour};
    for (; n >= 8; n -= 8, out += 8)
        memcpy(out, eight, sizeof eight);
    memcpy(out, eight, n * sizeof *out);
}
