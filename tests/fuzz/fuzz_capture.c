/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/judge.h>

static const char rig_text[] =
    "controller: RP2040\nsupplies: { s: { current: 2 A } }\nlanes:\n"
    "  strip: { pin: 5, chip: WS2812B, count: 3 }\n"
    "  wall: { pin: 6, clock_pin: 7, clock: 2 MHz, chip: APA102, count: 3 }\n"
    "devices:\n  board: { chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 } }\n"
    "  panel: { chip: TM1638, pins: { stb: 8, clk: 9, dio: 10 } }\n";

/* Any bytes as a capture, on wires of pixels, a matrix and a panel. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    static struct dia_judge judge;
    static int loaded;
    static const struct dia_judge_map maps[] = {{"D0", "strip"}, {"D1", "board_DIN"}};
    struct dia_diagnostic wrong = {""};
    if (!loaded) {
        const char *path = file_of((const uint8_t *)rig_text, sizeof rig_text - 1);
        if (dia_rig_load(&rig, path, &wrong) != DIA_OK)
            abort();
        loaded = 1;
    }
    said(dia_judge_capture(&judge, &rig, file_of(data, size), maps, (uint32_t)(size % 3), 0, NULL,
                           NULL, &wrong),
         &wrong);
    dia_judge_free(&judge);
    return 0;
}
