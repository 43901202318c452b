/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_WAVEFORM_PRIVATE_H
#define DIA_HOST_WAVEFORM_PRIVATE_H

#include <diachrome/waveform.h>

/* What is read of the edges while they come. */
#define RECENT 16
struct waveform_private {
    /* the last edges of each wire, for a stretch that begins a little before its element */
    struct dia_waveform_edge recent[DIA_WAVEFORM_WIRES][RECENT];
    uint32_t recent_count[DIA_WAVEFORM_WIRES];
    struct dia_edge *batch;
    size_t count, room;
    const struct dia_rig_lane *lane; /* NULL: a device, whose wires are only drawn */
    uint8_t level[256], known[256];
    uint64_t rise, fall; /* of the data line, or of the clock, ns */
    uint64_t bits;       /* of the frame */
    uint8_t data, byte;
    uint8_t bytes[4]; /* of the pixel */
    uint64_t byte_from, pixel_from, bit_from;
    uint8_t wrong_bit, wrong_byte, wrong_pixel;
    uint8_t in_frame, heard; /* heard: an edge was there */
    uint32_t zeros;          /* of a part with a level: zero bits in a row */
};

/* Reads an edge, in the order of time; and the last bit, of which nothing tells that it is over. */
void dia_waveform_read(struct dia_waveform *wave, const struct dia_edge *edge);
void dia_waveform_read_last(struct dia_waveform *wave);

#endif
