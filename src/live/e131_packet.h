/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_E131_PACKET_H
#define DIA_LIVE_E131_PACKET_H

#include <stddef.h>
#include <stdint.h>

/* Packets of ANSI E1.31-2018, as its tables 4-1 to 4-3 have them. Nothing is kept. */
#define E131_PORT  5568
#define E131_SLOTS 512
#define E131_MOST  638 /* bytes of the longest */

enum e131_kind { E131_NONE, E131_DATA, E131_SYNC };
struct e131_packet {
    uint8_t kind; /* enum e131_kind; E131_NONE: it is no packet for us */
    uint8_t cid[16];
    uint8_t priority, sequence;
    uint8_t preview, ended, forced; /* the options 0x80, 0x40, 0x20 */
    uint16_t universe, sync;        /* sync: of data 0, or the address that it waits for */
    uint16_t count;
    const uint8_t *slots; /* of the packet */
};

void dia_e131_read(const uint8_t *bytes, size_t length, struct e131_packet *out);

#endif
