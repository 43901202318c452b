/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/rig_layer.h>

/* On Petrel Quay. A layer that has been read has parameters in their ranges. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong = {""};
    struct dia_rig_layer layer;
    if (rig.lane_count == 0 && dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) != DIA_OK)
        abort();
    char *text = text_of(data, size);
    enum dia_status status = dia_rig_layer_read(&layer, &rig, text, &wrong);
    said(status, &wrong);
    if (status == DIA_OK && dia_look_check(layer.look, &layer.values))
        abort();
    free(text);
    return 0;
}
