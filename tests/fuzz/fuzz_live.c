/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/live.h>

/* On Petrel Quay, change after change, 50 ms apart, as anybody on the network may make them. Each
 * is made, or said to be wrong and nothing has changed; what comes of them can be shown. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    struct dia_diagnostic wrong = {""};
    uint64_t ms = 0;
    if (rig.lane_count == 0 && dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) != DIA_OK)
        abort();
    struct dia_live *live = dia_live_new(&rig,
                                         "value wind input\n"
                                         "layer a: water on waves level 80% # calm\n"
                                         "layer b: pulse colour=gold\n  on handrail\n"
                                         "key operator.1 short: toggle a\n"
                                         "key operator.2 down: set b.colour=red\n",
                                         "pier.show", NULL, &wrong);
    if (!live)
        abort();
    char *text = text_of(data, size);
    for (char *line = strtok(text, "\n"); line; line = strtok(NULL, "\n")) {
        char *before = strdup(dia_live_text(live));
        wrong.text[0] = 0;
        enum dia_status status = dia_live_change(live, line, ms += 50, DIA_LIVE_OTHERS, &wrong);
        said(status, &wrong);
        if (!before || (status != DIA_OK && strcmp(before, dia_live_text(live)) != 0))
            abort();
        free(before);
    }
    struct dia_show *show = (struct dia_show *)(uintptr_t)dia_live_show(live);
    dia_show_at(show, dia_live_show_ms(live, ms), now);
    for (uint32_t k = 0; k < show->layer_count; k++)
        if (dia_look_check(now[k].look, &now[k].values))
            abort();
    dia_live_free(live);
    free(text);
    return 0;
}
