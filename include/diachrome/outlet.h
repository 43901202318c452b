/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_OUTLET_H
#define DIACHROME_OUTLET_H

#include <stddef.h>

#include "diagnostic.h"
#include "linkage.h"
#include "rig.h"

DIA_BEGIN

/*
 * The real parts of a rig, on the pins of this computer. A player shows on the bench as ever, and
 * each of its frames goes to the parts too.
 *
 *   struct dia_outlet *outlet = dia_outlet_open(&rig, &failed, &wrong);
 *   dia_player_drives(player, outlet);
 *   ... dia_player_show() and all else as ever
 *   dia_outlet_dark(outlet);
 *   dia_outlet_close(outlet);
 *
 * Needs:   `spi`, `i2c` and `gpio` in the rig file, which docs/run.md explains.
 * Frames:  the newest is shown as soon as the parts have taken the one before; older ones that had
 *          no turn are counted. A display of characters takes its own time and keeps nobody.
 * Threads: one of its own drives the parts and calls their ticks; it asks the kernel for real-time
 *          priority, and does without where it gets none.
 * Cost:    handing over a frame copies it. The thread works when there is something to send.
 * Context: one thread at a time for an object; not from an interrupt.
 * Errors:  DIA_BAD_VALUE    the rig names no device for something, or it cannot be driven from here
 *          DIA_PORT_FAILED  a device is not there, may not be opened or is in use; memory ran out
 */
struct dia_outlet;

/* Opens all devices. Nothing is sent before the first frame, or dia_outlet_dark. The rig must stay.
 * NULL and a diagnostic that says what would be right; *failed is 1 where this machine lacks
 * something and 0 where the rig is wrong, if it is not NULL. */
struct dia_outlet *dia_outlet_open(const struct dia_rig *rig, int *failed,
                                   struct dia_diagnostic *wrong);

/* What goes by what, a line for each lane, device and button: "rail: 60 x WS2812B, /dev/spidev0.0
 * at 2.553 MHz, 3 bits a bit, 542 of 4096 bytes a frame". 1, or 0: there is no line k. */
int dia_outlet_line(const struct dia_outlet *outlet, uint32_t k, char *text, size_t size);

/* How it goes. */
struct dia_outlet_state {
    uint64_t frames;  /* shown by strips and lamps */
    uint64_t skipped; /* a newer one came before they could be taken */
    uint32_t failing; /* parts that refused the newest frame: they get it again after 200 ms */
    uint64_t errors;  /* transfers that the kernel or a part refused; trouble is the last one */
    uint64_t ticks, missed; /* missed: more than 1 ms late */
    uint32_t latest_us;     /* the latest tick came so late */
    uint8_t has_priority;   /* 1: the thread runs before all others */
    char trouble[400];
};
void dia_outlet_state(struct dia_outlet *outlet, struct dia_outlet_state *state);

/* The next key or button that has gone down or up since it was last asked: 1, with its number as
 * show.h has it; 0: there is none. Contacts bounce: that is as they were read, each 5 ms. Keys of a
 * panel come in with its frames. */
int dia_outlet_key(struct dia_outlet *outlet, uint8_t *key, uint8_t *is_down);

/* Everything is sent again with the next frame, set-ups too. */
void dia_outlet_refresh(struct dia_outlet *outlet);

/* While nothing new comes, the newest frame is sent again each so many ms; 0: it is not. */
void dia_outlet_repeats(struct dia_outlet *outlet, uint32_t ms);

/* Waits until the newest frame is shown, for ms at most: DIA_BUSY then. An error of it: once. */
enum dia_status dia_outlet_wait(struct dia_outlet *outlet, uint32_t ms);

/* Everything dark; the worst answer of all parts. Each gets its own worst time twice, and 2 s where
 * the kernel keeps it waiting. */
enum dia_status dia_outlet_dark(struct dia_outlet *outlet);

/* Gives all devices back. What is lit in turns goes dark, as nobody calls its ticks any more; all
 * else stays as it is, so dia_outlet_dark goes before, or the last frame holds. */
void dia_outlet_close(struct dia_outlet *outlet);

DIA_END

#endif
