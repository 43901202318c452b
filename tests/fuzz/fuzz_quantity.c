/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/quantity.h>

/* The first byte says of what; what has been read is in its range, and can be written. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    char written[40];
    int64_t value;
    if (size == 0)
        return 0;
    enum dia_quantity kind = (enum dia_quantity)(data[0] % (DIA_SPEED + 1));
    char *text = text_of(data + 1, size - 1);
    enum dia_status status = dia_quantity_read(text, kind, -1000000, 1000000, "it", &value, &wrong);
    said(status, &wrong);
    if (status == DIA_OK && (value < -1000000 || value > 1000000))
        abort();
    if (status == DIA_OK)
        dia_quantity_write(value, kind, written, sizeof written);
    free(text);
    return 0;
}
