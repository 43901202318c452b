/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PULSES_RUN_H
#define DIACHROME_PULSES_RUN_H

#include "diagnostic.h"
#include "finding.h"
#include "linkage.h"
#include "part.h"
#include "pulse_engine.h"
#include "pulses.h"
#include "waveform.h"

DIA_BEGIN

/*
 * A planned program on the engine of the bench (pulse_engine.h), which runs its very words.
 *
 * Cost: milliseconds.
 * Memory: a bench, and the edges of what is drawn.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_PULSES_PIXELS 20

struct dia_pulses_seen {
    uint32_t edges; /* of pin 0 */
    uint64_t least_high_ns, most_high_ns, least_low_ns, most_low_ns;
    double rate_hz;            /* of its rises, in the mean; 0: fewer than two */
    uint32_t right;            /* pixels that show what was sent, of DIA_PULSES_PIXELS */
    struct dia_findings found; /* of the bench, with a part; free with dia_findings_free */
};

/* What a controller would write to the engine's registers for a plan, and data for it: words with
 * their bits at the top, which stay the caller's. Pins are those of the plan, from 0. */
struct dia_engine_setup dia_pulses_engine(const struct dia_pulses *plan, const uint32_t *data,
                                          uint32_t count);

/*
 * With a part, so many pixels of it are on pin 0 and get bytes of all kinds; else the program runs
 * for 100 of its periods, or to its end. wave: what comes out of it first, to be drawn, from
 * dia_waveform_init of that rig; or NULL. DIA_PORT_FAILED: memory ran out.
 */
enum dia_status dia_pulses_run(const struct dia_pulses *plan, const struct dia_pixel_part *part,
                               struct dia_pulses_seen *seen, struct dia_waveform *wave);

/* A rig of nothing but the pins of a plan, to draw them: a lane "pin0" of a part, or a device
 * "engine". The name is what dia_waveform_init wants, and the stretch a pixel or some periods. */
const char *dia_pulses_rig(const struct dia_pulses *plan, const struct dia_pixel_part *part,
                           const char *title, struct dia_rig *rig,
                           struct dia_waveform_stretch *stretch);

DIA_END

#endif
