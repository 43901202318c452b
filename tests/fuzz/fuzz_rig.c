/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/rig.h>

/* And what has been read can be asked where its pixels lie. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_rig_load(&rig, file_of(data, size), &wrong);
    said(status, &wrong);
    for (uint32_t i = 0; status == DIA_OK && i < rig.lane_count; i++) {
        struct dia_rig_lying lying;
        uint16_t share;
        dia_rig_lie(&rig, &rig.lanes[i], &lying);
        for (uint8_t axis = 0; axis < DIA_AXES; axis++)
            dia_surface_shares(&lying.surface, (enum dia_axis)axis, lying.surface.count - 1, 1,
                               &share);
    }
    return 0;
}
