/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/signal_text.h>

/* A signal that has been read can be asked for at any time. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_signal signal;
    char *text = text_of(data, size);
    enum dia_status status = dia_signal_read(text, &signal, &wrong);
    said(status, &wrong);
    for (uint32_t ms = 0; status == DIA_OK && ms < 5; ms++)
        dia_signal_at(&signal, ms * 0x3fffffffu);
    free(text);
    return 0;
}
