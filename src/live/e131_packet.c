/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "e131_packet.h"

static uint32_t number(const uint8_t *bytes, size_t n)
{
    uint32_t value = 0;
    for (size_t k = 0; k < n; k++)
        value = value << 8 | bytes[k];
    return value;
}

/* Flags 7, and the length from these two bytes to the end of the packet. */
static int pdu_fits(const uint8_t *bytes, size_t at, size_t length)
{
    return number(bytes + at, 2) == (0x7000u | (uint32_t)(length - at));
}

static void read_data(const uint8_t *b, size_t length, struct e131_packet *out)
{
    if (length < 126 || !pdu_fits(b, 38, length) || number(b + 40, 4) != 2 ||
        !pdu_fits(b, 115, length) || b[117] != 2 || b[118] != 0xa1 || number(b + 119, 2) != 0 ||
        number(b + 121, 2) != 1)
        return;
    uint32_t values = number(b + 123, 2);
    if (values < 1 || values > E131_SLOTS + 1 || length != 125 + values || b[125] != 0 ||
        b[108] > 200)
        return; /* a start code other than 0 is no light */
    out->priority = b[108];
    out->sync = (uint16_t)number(b + 109, 2);
    out->sequence = b[111];
    out->preview = b[112] >> 7 & 1;
    out->ended = b[112] >> 6 & 1;
    out->forced = b[112] >> 5 & 1;
    out->universe = (uint16_t)number(b + 113, 2);
    out->count = (uint16_t)(values - 1);
    out->slots = b + 126;
    if (out->universe >= 1 && out->universe <= 63999)
        out->kind = E131_DATA;
}

static void read_sync(const uint8_t *b, size_t length, struct e131_packet *out)
{
    if (length != 49 || !pdu_fits(b, 38, length) || number(b + 40, 4) != 1)
        return;
    out->sequence = b[44];
    out->sync = (uint16_t)number(b + 45, 2);
    if (out->sync >= 1 && out->sync <= 63999)
        out->kind = E131_SYNC;
}

void dia_e131_read(const uint8_t *b, size_t length, struct e131_packet *out)
{
    static const uint8_t begin[16] = {0,   0x10, 0,   0,   'A', 'S', 'C', '-',
                                      'E', '1',  '.', '1', '7', 0,   0,   0};
    memset(out, 0, sizeof *out);
    if (length < 49 || length > E131_MOST || memcmp(b, begin, sizeof begin) != 0 ||
        !pdu_fits(b, 16, length))
        return;
    memcpy(out->cid, b + 22, sizeof out->cid);
    uint32_t vector = number(b + 18, 4);
    if (vector == 4)
        read_data(b, length, out);
    else if (vector == 8)
        read_sync(b, length, out);
}
