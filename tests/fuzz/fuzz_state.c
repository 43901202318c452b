/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include "../../src/live/journal.h"

/* How a run stands, as anybody may write it on a broker: read, or said to be wrong; what is read
 * stands so, is written as it was read, and can be shown. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    struct dia_diagnostic wrong = {""};
    struct journal journal;
    int failed = 0;
    if (rig.lane_count == 0 && dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) != DIA_OK)
        abort();
    char *text = text_of(data, size);
    int is_run = dia_journal_read(&journal, text) == 0;
    struct dia_live *live =
        dia_live_from(&rig, is_run ? journal.state : text, "run", NULL, &failed, &wrong);
    if (!live)
        said(DIA_BAD_VALUE, &wrong);
    if (live) {
        char *stands = dia_live_state(live);
        struct dia_live *again = dia_live_from(&rig, stands, "run", NULL, &failed, &wrong);
        if (!again)
            abort();
        char *same = dia_live_state(again);
        if (strcmp(stands, same) != 0)
            abort();
        struct dia_show *show = (struct dia_show *)(uintptr_t)dia_live_show(again);
        for (uint64_t ms = 0; ms < 100000; ms = 3 * ms + 7)
            dia_show_at(show, dia_live_show_ms(again, ms), now);
        for (uint32_t k = 0; k < show->layer_count; k++)
            if (dia_look_check(now[k].look, &now[k].values))
                abort();
        free(stands);
        free(same);
        dia_live_free(again);
        dia_live_free(live);
    }
    dia_journal_free(&journal);
    free(text);
    return 0;
}
