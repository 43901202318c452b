/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "rig_rom.h"

/*
 * The usual ROM of character displays (HD44780U, ROM code A00, table 4 of its sheet): ASCII but for
 * two places, half-width katakana as in JIS X 0201, and these. What it has no name for in Unicode
 * is left out.
 */
static const struct {
    uint8_t code;
    const char *text; /* UTF-8 */
} others[] = {
    {0x5c, "\302\245"}, {0x7e, "\342\206\222"}, {0x7f, "\342\206\220"}, /* yen, right, left */
    {0xdf, "\302\260"},                                                 /* degree */
    {0xe0, "\316\261"}, {0xe1, "\303\244"},     {0xe2, "\303\237"},     /* alpha, a", sharp s */
    {0xe3, "\316\265"}, {0xe4, "\302\265"},     {0xe5, "\317\203"},     /* epsilon, mu, sigma */
    {0xe6, "\317\201"}, {0xe8, "\342\210\232"}, {0xec, "\302\242"},     /* rho, root, cent */
    {0xed, "\302\243"}, {0xee, "\303\261"},     {0xef, "\303\266"},     /* pound, n~, o" */
    {0xf2, "\316\270"}, {0xf3, "\342\210\236"}, {0xf4, "\316\251"},     /* theta, infinity, Omega */
    {0xf5, "\303\274"}, {0xf6, "\316\243"},     {0xf7, "\317\200"},     /* u", Sigma, pi */
    {0xfd, "\303\267"}, {0xff, "\342\226\210"},                         /* divided by, full */
};
#define OTHERS       (sizeof others / sizeof others[0])
#define FIRST_KANA   0xa1 /* U+FF61 */
#define LAST_KANA    0xdf
#define KANA_UNICODE 0xff61u

static size_t length_of(const char *text)
{
    size_t n = 1;
    while (n < 4 && ((unsigned char)text[n] & 0xc0) == 0x80)
        n++;
    return n;
}

int dia_rig_cell_code(const char **text)
{
    const unsigned char *at = (const unsigned char *)*text;
    size_t n = length_of(*text);
    *text += n;
    if (n == 1)
        return at[0] >= 0x20 && at[0] < 0x7f && at[0] != '\\' && at[0] != '~' ? at[0] : -1;
    for (size_t k = 0; k < OTHERS; k++) {
        if (strlen(others[k].text) == n && memcmp(others[k].text, at, n) == 0)
            return others[k].code;
    }
    uint32_t unicode = n == 3 ? (at[0] & 15u) << 12 | (at[1] & 63u) << 6 | (at[2] & 63u) : 0;
    return unicode >= KANA_UNICODE && unicode < KANA_UNICODE + (LAST_KANA - FIRST_KANA)
               ? (int)(unicode - KANA_UNICODE) + FIRST_KANA
               : -1;
}

const char *dia_rig_cell_text(uint8_t code, char text[8])
{
    memset(text, 0, 8);
    for (size_t k = 0; k < OTHERS; k++) {
        if (others[k].code == code)
            return others[k].text;
    }
    if (code >= 0x20 && code < 0x7f) {
        text[0] = (char)code;
    } else if (code >= FIRST_KANA && code < LAST_KANA) {
        uint32_t unicode = KANA_UNICODE + (uint32_t)(code - FIRST_KANA);
        text[0] = (char)(0xe0 | unicode >> 12);
        text[1] = (char)(0x80 | (unicode >> 6 & 63u));
        text[2] = (char)(0x80 | (unicode & 63u));
    } else {
        return "\342\226\222"; /* a shade: a glyph of one's own, or one without a name */
    }
    return text;
}
