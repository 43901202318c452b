/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CHECK_H
#define DIACHROME_CHECK_H

#include "finding.h"
#include "player.h"

/*
 * What a rig needs against what it has, found by running it on the bench.
 *
 * Currents are all that a supply gives: its lanes, idle included, and its reserve. "Asked" is
 * without the limiter, "drawn" is what the bench measured with it.
 */
#define DIA_CHECK_LOOKS 16 /* full white first, then the looks in their order */

struct dia_check_current {
    const char *look; /* name, or "full white" */
    uint64_t asked_ua, drawn_ua;
    dia_share least_share; /* of light the limiter let through; DIA_SHARE_ONE: never at work */
};

struct dia_check_lane {
    uint32_t bits;      /* a frame */
    uint64_t frame_ns;  /* longest frame on the wire, latch gap included, as measured */
    uint32_t rate_mhz;  /* highest frame rate, thousandths of a frame a second */
    uint32_t ram_bytes; /* buffer and context */
};

struct dia_check {
    struct dia_check_lane lanes[DIA_RIG_LANES];
    struct dia_check_current currents[DIA_RIG_SUPPLIES][DIA_CHECK_LOOKS];
    uint32_t look_count; /* entries used in currents[] */
    uint32_t frame_ram;  /* of all lanes, bytes */
    uint32_t stack_ram;  /* allowed for the stack, bytes */
    uint32_t rate_mhz;   /* highest frame rate of all lanes together */
    struct dia_findings findings;
};

/* Stack of the deepest call, and flash of the smallest program: measured on an ATmega328P
 * (see docs/architecture.md), rounded up. */
#define DIA_CHECK_STACK_BYTES 256u
#define DIA_CHECK_FLASH_BYTES 4096u

/* progress, if not NULL, is called with done and all steps. Errors: memory ran out. The caller
 * frees with dia_check_free whatever comes back. */
enum dia_status dia_check_run(struct dia_check *check, const struct dia_rig *rig,
                              void (*progress)(uint32_t done, uint32_t all),
                              struct dia_diagnostic *wrong);
void dia_check_free(struct dia_check *check);

#endif
