/* SPDX-License-Identifier: MIT */
#include "play_device.h"

uint32_t play_steps(const struct dia_rig_device *from, struct play_device *device, dia_share master,
                    uint8_t depth)
{
    uint32_t sum = 0;
    dia_lamps_develop(device->levels, (uint16_t)from->lamps, master, depth, device->steps);
    for (uint32_t i = 0; i < from->lamps; i++)
        sum += device->steps[i];
    return sum;
}

const struct play_kind *const play_kinds[] = {&play_matrix, &play_shift, &play_digits, &play_panel,
                                              &play_characters};
