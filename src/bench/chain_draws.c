/* SPDX-License-Identifier: MIT */
#include "chain.h"

/* A die lit d / full of the time draws so much of its current. */
uint64_t dia_chain_draw(const struct chain *chain)
{
    uint64_t lit = 0, full = 255;
    for (uint32_t i = 0; i < chain->shown.count; i++) {
        const uint8_t *d = chain->shown.drive[i];
        if (chain->sheet->series) {
            uint8_t most = d[0] > d[1] ? d[0] : d[1];
            lit += d[2] > most ? d[2] : most;
        } else if (chain->shown.scale == DIA_SCALE_LEVEL) {
            lit += ((uint64_t)d[0] + d[1] + d[2]) * d[3];
        } else {
            lit += (uint64_t)d[0] + d[1] + d[2] + d[3];
        }
    }
    if (chain->shown.scale == DIA_SCALE_LEVEL)
        full = 255 * 31;
    if (chain->shown.scale == DIA_SCALE_SEVEN)
        full = 127;
    return (uint64_t)chain->quiet_ua * chain->shown.count + (lit * chain->led_ua + full - 1) / full;
}

void dia_drive_light(const uint8_t d[4], enum dia_scale scale, uint16_t light[4])
{
    for (int c = 0; c < 4; c++) {
        uint32_t full = scale == DIA_SCALE_SEVEN ? 127u : scale == DIA_SCALE_LEVEL ? 7905u : 255u;
        uint32_t on = scale != DIA_SCALE_LEVEL ? d[c] : c < 3 ? (uint32_t)d[c] * d[3] : 0;
        light[c] = (uint16_t)(on * 65535u / full);
    }
}
