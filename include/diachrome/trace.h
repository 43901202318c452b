/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_TRACE_H
#define DIACHROME_TRACE_H

#include "diagnostic.h"
#include "linkage.h"
#include "player.h"

DIA_BEGIN

/*
 * A waveform as a VCD file (IEEE 1364, value change dump): one wire a lane, named as the lane
 * (NAME_clock and NAME_data where there is a clock) and one for each wired pin of a device, named
 * NAME_DIN and so on after the pins on its sheet; 1 ns. It begins with the level that each has
 * then.
 *
 *   dia_trace_open(&trace, "quay.vcd", player, &rig, &wrong);
 *   ... dia_player_show(...); dia_trace_catch_up(trace);
 *   dia_trace_close(trace, &wrong);
 *
 * Cost: one line of the file an edge; bursts are edges again while it listens.
 * Context: one thread at a time for an object; not from an interrupt.
 */
struct dia_trace;

/* Listens to the player from now on. NULL and a diagnostic when the file cannot be written. */
struct dia_trace *dia_trace_open(const char *path, struct dia_player *player,
                                 const struct dia_rig *rig, struct dia_diagnostic *wrong);

/* Writes the edges heard so far; call between frames. */
void dia_trace_catch_up(struct dia_trace *trace);

/* Writes the rest and `until_ns` as the end of the trace; the file is there from now on. */
enum dia_status dia_trace_close(struct dia_trace *trace, uint64_t until_ns,
                                struct dia_diagnostic *wrong);

/* Frees the trace and leaves no file. */
void dia_trace_discard(struct dia_trace *trace);

DIA_END

#endif
