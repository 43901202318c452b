/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CAPTURE_H
#define DIACHROME_CAPTURE_H

#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * A capture: the waveform of real wires, as a VCD file (IEEE 1364, value change dump) of a logic
 * analyser. Wires of one bit, and bits of wider ones; any timescale; x and z.
 *
 *   struct dia_capture *capture = dia_capture_open("wire.vcd", &wrong);
 *   while ((status = dia_capture_next(capture, &change, &wrong)) == DIA_OK)
 *       ... change.t_ns, change.wire, change.value ...
 *
 * Cost: a pass over the file, 20 to 40 MB a second; memory for the names of its wires only.
 * Context: one thread at a time for an object; not from an interrupt.
 */
struct dia_capture;

#define DIA_CAPTURE_WIRES 1024 /* bits that have names, at most */

enum dia_capture_value { DIA_CAPTURE_LOW, DIA_CAPTURE_HIGH, DIA_CAPTURE_UNKNOWN };

struct dia_capture_change {
    uint64_t t_ns; /* since the time 0 of the file, rounded down */
    uint32_t wire; /* 0 .. dia_capture_wires() - 1 */
    uint8_t value; /* enum dia_capture_value: x and z are unknown */
};

/* Reads what comes before the first change. NULL and a diagnostic with file:line: it is no such
 * file, or memory ran out (then errno is ENOMEM). */
struct dia_capture *dia_capture_open(const char *path, struct dia_diagnostic *wrong);
void dia_capture_close(struct dia_capture *capture);

/* How many wires it has, and their names, without scopes: "D3", "data[2]". */
uint32_t dia_capture_wires(const struct dia_capture *capture);
const char *dia_capture_name(const struct dia_capture *capture, uint32_t wire);

/* The next change. DIA_BUSY: there is none any more. DIA_BAD_VALUE and a diagnostic with file:line:
 * damaged. */
enum dia_status dia_capture_next(struct dia_capture *capture, struct dia_capture_change *change,
                                 struct dia_diagnostic *wrong);

/* The last time in the file so far, ns. */
uint64_t dia_capture_time_ns(const struct dia_capture *capture);

DIA_END

#endif
