/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/show.h>

/* On Petrel Quay, line after line. What has been read can be asked for at any time. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    static struct dia_show show;
    static struct dia_rig_layer now[DIA_RIG_LAYERS];
    struct dia_diagnostic wrong = {""};
    if (rig.lane_count == 0 && dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) != DIA_OK)
        abort();
    char *text = text_of(data, size);
    dia_show_init(&show);
    for (char *line = strtok(text, "\n"); line; line = strtok(NULL, "\n")) {
        wrong.text[0] = 0;
        said(dia_show_line(&show, &rig, line, &wrong), &wrong);
    }
    dia_show_at(&show, 12345, now);
    for (uint32_t k = 0; k < show.layer_count; k++)
        if (dia_look_check(now[k].look, &now[k].values))
            abort();
    dia_show_free(&show);
    free(text);
    return 0;
}
