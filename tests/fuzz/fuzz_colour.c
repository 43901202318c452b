/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/colour_text.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_rgb colour;
    char *text = text_of(data, size);
    said(dia_colour_read(text, &colour, &wrong), &wrong);
    free(text);
    return 0;
}
