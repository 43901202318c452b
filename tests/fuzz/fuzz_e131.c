/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include "../../src/live/e131_merge.h"

static void news(void *self, uint16_t universe, const uint8_t *slots, int count)
{
    (void)slots;
    if (universe < 1 || universe > 63999 || count > E131_SLOTS)
        abort();
    ++*(uint32_t *)self;
}

/* Packets one after the other: each has its length in two bytes before it, and comes 100 ms after
 * the one before. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct e131_merge merge = {0};
    struct e131_packet packet;
    uint64_t ms = 1;
    uint32_t told = 0;
    while (size > 2) {
        size_t length = (size_t)(data[0] | data[1] << 8) % (E131_MOST + 2);
        length = length < size - 2 ? length : size - 2;
        uint8_t *bytes = malloc(length + 1); /* so that reading beyond it is noticed */
        memcpy(bytes, data + 2, length);
        dia_e131_read(bytes, length, &packet);
        if (!dia_e131_merge_take(&merge, &packet, ms += 100))
            abort();
        free(bytes);
        dia_e131_merge_age(&merge, ms);
        dia_e131_merge_news(&merge, news, &told);
        data += 2 + length;
        size -= 2 + length;
    }
    dia_e131_merge_free(&merge);
    return 0;
}
