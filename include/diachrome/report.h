/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_REPORT_H
#define DIACHROME_REPORT_H

#include "check.h"
#include "diagnostic.h"
#include "linkage.h"
#include "parts.h"
#include "reel.h"

DIA_BEGIN

/*
 * A report to hand on: one HTML file that needs nothing beside it, with pictures, wiring, pins,
 * parts, limits, currents, volts, time, flicker, memory and waveforms of a rig.
 *
 * Use:     1. dia_report_init()    with what check found
 *          2. dia_report_sample()  after each frame of the show that counts for the currents
 *             dia_report_frame()   after each frame of the moving picture
 *          3. dia_report_write()
 *          4. dia_report_free()
 * Cost:    some ms a frame of the picture, and a player for each waveform.
 * Memory:  the frames of the picture, and their files while they are written.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_REPORT_SAMPLES 240
#define DIA_REPORT_FRAMES  48

struct dia_report {
    const struct dia_rig *rig; /* the caller's, like the next two */
    const struct dia_check *check;
    const struct dia_parts *parts;
    struct dia_reel reel; /* of the moving picture */
    uint32_t sample_count;
    uint32_t sample_ms[DIA_REPORT_SAMPLES];
    uint64_t gives_ua[DIA_RIG_SUPPLIES][DIA_REPORT_SAMPLES];
    uint16_t *mv[DIA_RIG_LANES]; /* along each lane, in the sample that drew the most; NULL: its
                                    feeds are not known */
    uint64_t most_ua;
};

/* One limit: what is, what may be, and how far that is, all in words. */
struct dia_report_limit {
    char place[64], what[48], is[40], may[60], source[120];
    int32_t margin_permille; /* of the limit; below 0: it is broken; INT32_MAX: none to be told */
};
struct dia_report_limits {
    struct dia_report_limit *items;
    uint32_t count, room;
    uint8_t lost; /* 1: memory ran out */
};

/* All limits of a rig as check measured them. DIA_PORT_FAILED: memory ran out. Free whatever comes
 * back. */
enum dia_status dia_report_limits(struct dia_report_limits *limits, const struct dia_rig *rig,
                                  const struct dia_check *check);
void dia_report_limits_free(struct dia_report_limits *limits);

/* look: a name for what is shown. DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_report_init(struct dia_report *report, const struct dia_rig *rig,
                                const struct dia_check *check, const struct dia_parts *parts,
                                const char *look, struct dia_diagnostic *wrong);
void dia_report_sample(struct dia_report *report, const struct dia_player *player, uint32_t ms);
void dia_report_frame(struct dia_report *report, const struct dia_player *player, uint64_t us);

/* The file is there whole or not at all. DIA_PORT_FAILED: it cannot be written. */
enum dia_status dia_report_write(const struct dia_report *report, const char *path,
                                 struct dia_diagnostic *wrong);
void dia_report_free(struct dia_report *report);

DIA_END

#endif
