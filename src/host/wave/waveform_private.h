/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_WAVEFORM_PRIVATE_H
#define DIA_HOST_WAVEFORM_PRIVATE_H

#include <cairo.h>

#include <diachrome/waveform.h>

#include "family.h"

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
    const struct dia_rig_device *device;
    struct family_reading reading;
    uint8_t reads;  /* 1: its words are read */
    uint8_t set_up; /* of four lines: 1: halves come in pairs from now on */
    uint8_t half;   /* 1: the upper half has come */
    uint8_t lines;  /* of an expander, as its outputs are */
    uint8_t bit_count;
    uint32_t word, words;       /* the bits so far; words of the frame so far */
    uint64_t word_from, bit_ns; /* bit_ns: half of the last bit */
    uint8_t in_frame, heard;    /* heard: an edge was there */
    uint32_t zeros;             /* of a part with a level: zero bits in a row */
};

/* Reads an edge, in the order of time; and the last bit, of which nothing tells that it is over. */
void dia_waveform_read(struct dia_waveform *wave, const struct dia_edge *edge);
void dia_waveform_read_last(struct dia_waveform *wave);

/* An edge of a device whose words are read, after the levels of its wires are up to date. */
void dia_waveform_read_device(struct dia_waveform *wave, const struct dia_edge *edge);

/* Keeps something that is said, where any of it is inside of the stretch: it, to be filled in; or
 * NULL. */
struct dia_waveform_mark *dia_waveform_mark(struct dia_waveform *wave, enum dia_mark kind,
                                            uint64_t from, uint64_t to, uint32_t value);

/* The picture as SVG, bytes by bytes. 0, or -1: no memory. */
int dia_waveform_svg(const struct dia_waveform *wave, cairo_write_func_t put, void *self);

#endif
