/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_WAVEFORM_H
#define DIACHROME_WAVEFORM_H

#include <stdint.h>
#include <stdio.h>

#include "diagnostic.h"
#include "edge.h"
#include "linkage.h"
#include "rig.h"

DIA_BEGIN

/*
 * The edges of a lane or a device for people: the stretch that is asked for, with what its bits
 * say, and the statistics of all that was heard.
 *
 * Use:     1. dia_waveform_init()       which lane or device, and which stretch
 *          2. dia_waveform_take()       all edges, in any order within a batch; it is a listener
 *             dia_waveform_catch_up()   between batches, in the order of time
 *          3. dia_waveform_end()
 *          4. dia_waveform_write_...    as often as you like
 *          5. dia_waveform_free()
 * Cost:    some 30 ns an edge, and sorting each batch.
 * Memory:  the edges of a batch, and those of the stretch.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* A stretch: of a time, or of an element of a frame (only of lanes). */
struct dia_waveform_stretch {
    uint8_t by_element;
    uint32_t frame, element;  /* from 0; the element's bits and a little around them */
    uint64_t at_ns, lasts_ns; /* otherwise; counted from the first edge that is heard */
};

/* Lengths of one kind of pulse, ns. */
#define DIA_WAVEFORM_BARS 24
struct dia_waveform_pulses {
    const char *name;        /* "T0H", "clock period" */
    uint64_t count, outside; /* outside: of the sheet */
    uint32_t least, most;    /* that were heard */
    uint64_t sum;
    uint32_t may_least, may_most;     /* by the sheet; may_most UINT32_MAX: no end */
    uint32_t bars[DIA_WAVEFORM_BARS]; /* how many, from bar_from on, each bar_ns wide */
    uint32_t bar_from, bar_ns;
};
#define DIA_WAVEFORM_KINDS 4

/* What something in the stretch says. */
enum dia_mark { DIA_MARK_BIT, DIA_MARK_BYTE, DIA_MARK_PIXEL, DIA_MARK_WORD };
struct dia_waveform_mark {
    uint64_t from_ns, to_ns;
    uint8_t kind;          /* enum dia_mark */
    uint8_t wrong;         /* 1: it has a pulse outside of the sheet */
    uint32_t value;        /* of the bit or byte; of a pixel its number */
    struct dia_rgb colour; /* of a pixel: its bytes as they were sent */
    char says[24];         /* of a word of a device: "row 3 = 18" */
};

struct dia_waveform_wire {
    char name[64];
    uint8_t pin;
    uint8_t before; /* level when the stretch begins */
    struct dia_waveform_edge {
        uint64_t t_ns;
        uint8_t level, wrong; /* wrong: it ends a pulse outside of the sheet */
    } * edges;
    uint32_t count, room;
};

#define DIA_WAVEFORM_WIRES 16

struct dia_waveform {
    const struct dia_rig *rig;
    char title[96];
    struct dia_waveform_stretch stretch;
    struct dia_waveform_wire wires[DIA_WAVEFORM_WIRES];
    uint32_t wire_count;
    struct dia_waveform_pulses pulses[DIA_WAVEFORM_KINDS];
    uint32_t pulse_kinds;
    struct dia_waveform_mark *marks;
    uint32_t mark_count, mark_room;
    uint64_t from_ns,
        to_ns;         /* of the stretch, on the clock of the edges; from == to: it never came */
    uint64_t first_ns; /* of the first edge */
    uint32_t frames;   /* of a lane, heard so far */
    uint8_t no_memory;
    struct waveform_private *own;
};

/* `name` is of a lane or device. DIA_BAD_VALUE and a diagnostic, DIA_PORT_FAILED when memory ran
 * out. Free whatever comes back. */
enum dia_status dia_waveform_init(struct dia_waveform *wave, const struct dia_rig *rig,
                                  const char *name, const struct dia_waveform_stretch *stretch,
                                  struct dia_diagnostic *wrong);
void dia_waveform_free(struct dia_waveform *wave);

/* A dia_edge_listener. */
void dia_waveform_take(void *wave, const struct dia_edge *edges, uint32_t n);
void dia_waveform_catch_up(struct dia_waveform *wave);

/* The level of a wire before its first edge. */
void dia_waveform_begins(struct dia_waveform *wave, uint8_t pin, uint8_t level);

/* No more edges come. DIA_BAD_VALUE: the stretch never came, and why. DIA_PORT_FAILED: no memory.
 */
enum dia_status dia_waveform_end(struct dia_waveform *wave, uint64_t until_ns,
                                 struct dia_diagnostic *wrong);

/* What a wire does between two moments of the stretch, counted from the first edge that was heard.
 */
struct dia_waveform_between {
    uint32_t rises;
    uint64_t high_ns, lasts_ns;
    double period_ns; /* from rise to rise, in the mean; 0: fewer than two */
};
void dia_waveform_between(const struct dia_waveform *wave, uint32_t wire, uint64_t from_ns,
                          uint64_t to_ns, struct dia_waveform_between *between);

/* A picture, 1280 wide, by the end of its name a PNG or an SVG. */
enum dia_status dia_waveform_write_picture(const struct dia_waveform *wave, const char *path,
                                           struct dia_diagnostic *wrong);

/* For a terminal so many columns wide. */
void dia_waveform_write_text(const struct dia_waveform *wave, FILE *file, int columns, int in_utf8);

DIA_END

#endif
