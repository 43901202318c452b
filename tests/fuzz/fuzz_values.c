/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/show.h>
#include <diachrome/value.h>

/* A file of readings, lines that come in, or a template. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    static struct dia_show show;
    static struct dia_rig_layer now[DIA_RIG_LAYERS];
    struct dia_diagnostic wrong = {""};
    char line[200], out[64];
    if (size == 0)
        return 0;
    char *text = text_of(data + 1, size - 1);
    dia_show_init(&show);
    dia_show_line(&show, &rig, "value b input smooth=1s", &wrong);
    if (data[0] % 3 == 0) {
        snprintf(line, sizeof line, "value a csv steps=no file=%s", file_of(data + 1, size - 1));
        said(dia_show_line(&show, &rig, line, &wrong), &wrong);
    } else if (data[0] % 3 == 1) {
        said(dia_show_feed(&show, text, 7, &wrong), &wrong);
    } else {
        const struct dia_value values[] = {{.name = "a", .number = -2147483647 - 1, .decimals = 9},
                                           {.name = "b", .text = "\303\266\342\202\254"}};
        uint16_t room = (uint16_t)(1 + data[0] % sizeof out);
        if (dia_values_text(text, values, 2, data[0] & 1, out, room) >= room)
            abort();
    }
    dia_show_line(&show, &rig, "layer text says=\"{a:6.2} {b}\"", &wrong);
    for (uint32_t ms = 0; ms < 40000; ms += 9999)
        dia_show_at(&show, ms, now);
    dia_show_free(&show);
    free(text);
    return 0;
}
