/* SPDX-License-Identifier: MIT */
#include <diachrome/colour.h>

#include "srgb_table.h"

dia_light dia_light_of(uint8_t code)
{
    return dia_srgb_table[code];
}

/* The last code whose light is not above k * 256, worked out from the table of light. */
static const DIA_ROM uint8_t first_code[256] = {
    0,   12,  21,  28,  33,  38,  42,  46,  49,  52,  55,  58,  61,  63,  66,  68,  70,  72,  74,
    77,  78,  80,  82,  84,  86,  88,  89,  91,  92,  94,  96,  97,  99,  100, 101, 103, 104, 106,
    107, 108, 110, 111, 112, 113, 115, 116, 117, 118, 119, 121, 122, 123, 124, 125, 126, 127, 128,
    129, 130, 131, 132, 133, 134, 135, 136, 137, 138, 139, 140, 141, 142, 143, 144, 145, 146, 147,
    148, 149, 149, 150, 151, 152, 153, 154, 155, 155, 156, 157, 158, 159, 160, 160, 161, 162, 163,
    163, 164, 165, 166, 167, 167, 168, 169, 170, 170, 171, 172, 173, 173, 174, 175, 175, 176, 177,
    178, 178, 179, 180, 180, 181, 182, 182, 183, 184, 184, 185, 186, 186, 187, 188, 188, 189, 190,
    190, 191, 192, 192, 193, 193, 194, 195, 195, 196, 197, 197, 198, 198, 199, 200, 200, 201, 201,
    202, 203, 203, 204, 204, 205, 205, 206, 207, 207, 208, 208, 209, 210, 210, 211, 211, 212, 212,
    213, 213, 214, 215, 215, 216, 216, 217, 217, 218, 218, 219, 219, 220, 220, 221, 222, 222, 223,
    223, 224, 224, 225, 225, 226, 226, 227, 227, 228, 228, 229, 229, 230, 230, 231, 231, 232, 232,
    233, 233, 234, 234, 235, 235, 236, 236, 237, 237, 238, 238, 239, 239, 239, 240, 240, 241, 241,
    242, 242, 243, 243, 244, 244, 245, 245, 246, 246, 246, 247, 247, 248, 248, 249, 249, 250, 250,
    251, 251, 251, 252, 252, 253, 253, 254, 254,
};

/* From there it is a few codes in the dark and one at most in the bright; then the nearer of the
 * last code not above the light asked for and the next. */
uint8_t dia_code_of(dia_light light)
{
    uint8_t code = first_code[light >> 8];
    while (code < 255 && dia_srgb_table[code + 1] <= light)
        code++;
    if (code < 255) {
        uint16_t below = (uint16_t)(light - dia_srgb_table[code]);
        uint16_t above = (uint16_t)(dia_srgb_table[code + 1] - light);
        if (above < below)
            code++;
    }
    return code;
}

static uint8_t mix_channel(uint8_t a, uint8_t b, dia_share share)
{
    uint32_t light =
        (uint32_t)dia_light_of(a) * (DIA_SHARE_ONE - share) + (uint32_t)dia_light_of(b) * share;
    return dia_code_of((dia_light)(light >> 15));
}

struct dia_rgb dia_rgb_mix(struct dia_rgb a, struct dia_rgb b, dia_share share)
{
    struct dia_rgb mix = {mix_channel(a.r, b.r, share), mix_channel(a.g, b.g, share),
                          mix_channel(a.b, b.b, share)};
    return mix;
}
