/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/lamp.h>

/*
 *      a
 *    f   b
 *      g
 *    e   c
 *      d
 */
#define A 1
#define B 2
#define C 4
#define D 8
#define E 16
#define F 32
#define G 64

/* clang-format off */
static const DIA_ROM uint8_t digits[10] = {
    A | B | C | D | E | F,     B | C,             A | B | D | E | G, A | B | C | D | G,
    B | C | F | G,             A | C | D | F | G, A | C | D | E | F | G, A | B | C,
    A | B | C | D | E | F | G, A | B | C | D | F | G,
};

/* k, m, v, w and x have no shape of their own on seven segments: dark */
static const DIA_ROM uint8_t letters[26] = {
    A | B | C | E | F | G, C | D | E | F | G, A | D | E | F,     B | C | D | E | G, A | D | E | F | G,
    A | E | F | G,         A | C | D | E | F, C | E | F | G,     E | F,             B | C | D | E,
    0,                     D | E | F,         0,                 C | E | G,         C | D | E | G,
    A | B | E | F | G,     A | B | C | F | G, E | G,             A | C | D | F | G, D | E | F | G,
    C | D | E,             0,                 0,                 0,                 B | C | D | F | G,
    A | B | D | E | G,
};
/* clang-format on */

uint8_t dia_segments_of(char character)
{
    if (character >= '0' && character <= '9')
        return digits[character - '0'];
    if (character >= 'a' && character <= 'z')
        return letters[character - 'a'];
    if (character >= 'A' && character <= 'Z')
        return letters[character - 'A'];
    switch (character) {
    case '-':
        return G;
    case '_':
        return D;
    case '=':
        return D | G;
    case '\'':
        return F;
    case '"':
        return B | F;
    case '.':
    case ':':
        return 128;
    default:
        return 0;
    }
}

uint16_t dia_segments_text(const char *text, uint8_t *out, uint16_t count)
{
    uint16_t at = 0, left = 0;
    memset(out, 0, count);
    for (; *text; text++) {
        uint8_t segments = dia_segments_of(*text);
        if (segments == 128 && at > 0 && left == 0 && !(out[at - 1] & 128))
            out[at - 1] |= 128;
        else if (at < count)
            out[at++] = segments;
        else
            left++;
    }
    return left;
}
