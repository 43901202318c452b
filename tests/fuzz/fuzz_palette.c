/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/palette_file.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_palette palette;
    enum dia_status status = dia_palette_read(file_of(data, size), &palette, &wrong);
    said(status, &wrong);
    if (status == DIA_OK && (palette.count < 1 || palette.count > DIA_PALETTE_MAX))
        abort();
    return 0;
}
