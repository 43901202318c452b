/* SPDX-License-Identifier: MIT */
#include <diachrome/letters.h>

/*
 * What the two usual ROMs of the HD44780U show for a code (its sheet, ADE-207-272, table 4). Two
 * places of ASCII are other signs in A00. Left out are signs that Unicode has no name for, and of
 * A02 those below 0x20 and from 0x80 to 0x9f, which are its own.
 */
static const DIA_ROM struct dia_rom_run a00[] = {
    {' ', 0x20, 60},    /* to '[' */
    {']', 0x5d, 33},    /* to '}' */
    {0xa2, 0xec, 2},    /* cent, pound */
    {0xa5, 0x5c, 1},    /* yen */
    {0xb0, 0xdf, 1},    /* degree */
    {0xb5, 0xe4, 1},    /* micro */
    {0xdf, 0xe2, 1},    /* sharp s */
    {0xe4, 0xe1, 1},    /* a with dots */
    {0xf1, 0xee, 1},    /* n with a tilde */
    {0xf6, 0xef, 1},    /* o with dots */
    {0xf7, 0xfd, 1},    /* divided by */
    {0xfc, 0xf5, 1},    /* u with dots */
    {0x3a3, 0xf6, 1},   /* Sigma */
    {0x3a9, 0xf4, 1},   /* Omega */
    {0x3b1, 0xe0, 1},   /* alpha */
    {0x3b2, 0xe2, 1},   /* beta */
    {0x3b5, 0xe3, 1},   /* epsilon */
    {0x3b8, 0xf2, 1},   /* theta */
    {0x3bc, 0xe4, 1},   /* mu */
    {0x3c0, 0xf7, 1},   /* pi */
    {0x3c1, 0xe6, 1},   /* rho */
    {0x3c3, 0xe5, 1},   /* sigma */
    {0x2190, 0x7f, 1},  /* to the left */
    {0x2192, 0x7e, 1},  /* to the right */
    {0x221a, 0xe8, 1},  /* root */
    {0x221e, 0xf3, 1},  /* infinity */
    {0x2588, 0xff, 1},  /* full block */
    {0xff61, 0xa1, 62}, /* katakana of half the width, as in JIS X 0201 */
};

static const DIA_ROM struct dia_rom_run a02[] = {
    {' ', 0x20, 95}, {0xa1, 0xa1, 7}, {0xa9, 0xa9, 3},  {0xae, 0xae, 1},  {0xb0, 0xb0, 4},
    {0xb5, 0xb5, 3}, {0xb9, 0xb9, 7}, {0xc0, 0xc0, 64}, {0x3bc, 0xb5, 1},
};

const DIA_ROM struct dia_rom dia_rom_a00 = {"A00", sizeof a00 / sizeof a00[0], a00};
const DIA_ROM struct dia_rom dia_rom_a02 = {"A02", sizeof a02 / sizeof a02[0], a02};

int16_t dia_rom_code(const DIA_ROM struct dia_rom *rom, uint16_t sign)
{
    for (uint8_t k = 0; k < rom->count && rom->runs[k].sign <= sign; k++) {
        uint16_t at = (uint16_t)(sign - rom->runs[k].sign);
        if (at < rom->runs[k].count)
            return (int16_t)(rom->runs[k].code + at);
    }
    return -1;
}

uint16_t dia_rom_sign(const DIA_ROM struct dia_rom *rom, uint8_t code)
{
    for (uint8_t k = 0; k < rom->count; k++) {
        uint8_t at = (uint8_t)(code - rom->runs[k].code);
        if (code >= rom->runs[k].code && at < rom->runs[k].count)
            return (uint16_t)(rom->runs[k].sign + at);
    }
    return 0;
}
