/* SPDX-License-Identifier: MIT */
#include <diachrome/player.h>

struct dia_rgb dia_seen(const uint8_t (*drive)[4], uint32_t n, enum dia_scale scale)
{
    uint64_t sum[3] = {0, 0, 0};
    uint8_t code[3];
    for (uint32_t i = 0; i < n; i++) {
        uint16_t light[4];
        dia_drive_light(drive[i], scale, light);
        for (int c = 0; c < 3; c++)
            sum[c] += (uint32_t)light[c] + light[3];
    }
    for (int c = 0; c < 3; c++) {
        uint64_t mean = sum[c] / n;
        code[c] = dia_code_of((dia_light)(mean > 65535 ? 65535 : mean));
    }
    return (struct dia_rgb){code[0], code[1], code[2]};
}
