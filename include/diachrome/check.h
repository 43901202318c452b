/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CHECK_H
#define DIACHROME_CHECK_H

#include "feeding.h"
#include "finding.h"
#include "linkage.h"
#include "player.h"
#include "refresh_plan.h"

DIA_BEGIN

/*
 * What a rig needs against what it has, found by running it on the bench.
 *
 * Currents are all that a supply gives: its lanes, idle included, and its reserve. "Asked" is
 * without the limiter, "drawn" is what the bench measured with it.
 *
 * Cost: some 800 frames, of each look 36 moments: 0.2 s on a desktop for the 296 pixels and 5
 * devices of the demo; above 80,000 pixels fewer moments.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_CHECK_LOOKS 32 /* full white first, then the looks in their order */

struct dia_check_current {
    const char *look;            /* name, or "full white" */
    uint64_t asked_ua, drawn_ua; /* at the most */
    uint64_t least_drawn_ua;     /* in its darkest moment */
    dia_share least_share;       /* what the limiter dimmed to at most; DIA_SHARE_ONE: it did not */
};

struct dia_check_lane {
    uint32_t bits;      /* a frame */
    uint64_t frame_ns;  /* longest frame on the wire, latch gap included, as measured */
    uint32_t rate_mhz;  /* highest frame rate, thousandths of a frame a second */
    uint32_t ram_bytes; /* of a strip: its drawing, its bytes and the struct */
    /* of lanes whose feeds are known; feeding.h */
    struct dia_lane_volts white; /* all full white, master and budget left aside */
    struct dia_fed fed;          /* as measured, in all frames; its mv is NULL */
};

struct dia_check_device {
    uint8_t refused;   /* 1: it did not answer */
    uint32_t bits;     /* on the wire for a frame in which everything changes; 0: levels on pins */
    uint64_t frame_ns; /* longest time of a frame, as measured; of a character display, reckoned */
    uint32_t rate_mhz; /* highest frame rate, thousandths a second */
    uint32_t refresh_mhz;   /* how often all lamps have had their turn; 0: they are always on */
    uint32_t duty_permille; /* share of the time a lamp at full is lit, master included */
    uint32_t tick_mhz;      /* ticks a second, thousandths; 0: none */
    uint32_t tick_permille; /* of the controller's time, spent in ticks; see DIA_TICK_ */
    uint32_t slice_us;      /* the shortest slice or turn, */
    uint32_t tick_us;       /* and the longest tick, which must fit into it */
    uint32_t longest_us;    /* that tick with what it waits: refresh_plan.h */
    uint32_t lit_permille;  /* of a turn in which there is light: refresh_plan.h */
    uint64_t late_ns;       /* how late a tick comes at the worst, as planned (schedule.h), */
    uint64_t was_late_ns;   /* and as seen on the bench, where the controller sends pulses itself */
    uint32_t modulation_permille; /* by late ticks, at the rate of the frames */
    uint8_t slice_short;          /* 1: it does not */
    uint32_t ram_bytes;
    uint32_t output_ua; /* an output at its most */
    uint32_t chip_ua;   /* a chip at its most: all its outputs lit */
    uint64_t drawn_ua;  /* of the supply, with all lamps lit, in the mean */
};

/* What one processor does in a frame; see schedule.h. */
struct dia_check_processor {
    uint64_t longest_hold_ns; /* with interrupts off; 0: pulses go out in the background */
    uint64_t sent_ns;         /* all that it sends itself, and waits for */
    uint64_t drawn_ns;        /* a hue sweep on all pixels, to the bytes that go out */
    uint32_t rate_mhz;        /* frames a second, thousandths, that this and the ticks leave */
};

/* One cause of light that goes up and down; see flicker.h. */
#define DIA_CHECK_FLICKERS (3 * DIA_RIG_LANES + 2 * DIA_RIG_DEVICES)
struct dia_check_flicker {
    const char *name, *cause;     /* of the lane or device; "its own PWM", "slices", "late ticks" */
    const char *source;           /* of the frequency */
    uint32_t mhz;                 /* thousandths of a hertz */
    uint32_t modulation_permille; /* at the level that is worst */
    uint8_t runs_free;            /* 1: mhz is about; by clocks of their own */
    uint8_t risk;                 /* enum dia_flicker_class */
};

struct dia_check {
    struct dia_check_lane lanes[DIA_RIG_LANES];
    struct dia_check_device devices[DIA_RIG_DEVICES];
    struct dia_check_current currents[DIA_RIG_SUPPLIES][DIA_CHECK_LOOKS];
    uint32_t look_count;                     /* entries used in currents[] */
    uint64_t overdrawn_ua[DIA_RIG_SUPPLIES]; /* the most that it gave, where that is too much */
    uint32_t group_ram[DIA_RIG_GROUPS];      /* of what a group has besides its lanes, bytes */
    uint32_t frame_ram;                      /* of all lanes, groups and devices, bytes */
    uint32_t inplace_ram;   /* of that, what strips in one buffer save (inplace_strip.h), bytes */
    uint32_t stack_ram;     /* allowed for the stack, bytes */
    uint32_t rate_mhz;      /* highest frame rate of all lanes and devices together */
    uint32_t tick_permille; /* of the controller's time, in the ticks of all devices */
    struct dia_check_processor processor;
    struct dia_check_flicker flickers[DIA_CHECK_FLICKERS];
    uint32_t flicker_count;
    struct dia_findings findings;
};

/* Stack of the deepest call, and flash of the smallest program: measured on an ATmega328P
 * (see docs/architecture.md), rounded up. */
#define DIA_CHECK_STACK_BYTES 256u
#define DIA_CHECK_FLASH_BYTES 4096u

/*
 * Cycles of a tick at its longest, counted on an ATmega328P (tests/cross/test_pulses.c prints
 * them), rounded up: of a shift-register chain by SPI at half the clock or by pins, with so many
 * more for each chip; of digits; of digits in turns so many more than of their chain; of lamps on
 * pins, with so many more for each; of a colour panel, with so many more for each column, of data
 * pins that are neighbours or not. With 60 more for entering and leaving the interrupt.
 */
#define DIA_TICK_SPI             930u
#define DIA_TICK_SPI_CHIP        27u
#define DIA_TICK_PINS            600u
#define DIA_TICK_PINS_CHIP       2350u
#define DIA_TICK_DIGITS          2100u
#define DIA_TICK_BLANK           340u
#define DIA_TICK_LAMPS           360u
#define DIA_TICK_LAMPS_LAMP      130u
#define DIA_TICK_RGB             2720u
#define DIA_TICK_RGB_COLUMN      20u
#define DIA_TICK_RGB_COLUMN_PINS 1720u
#define DIA_TICK_ENTER           60u

/* What the ticks of a device take, for refresh_plan.h: 1, or 0 where it has none. The caller says
 * how much of the controller's time they may take. */
int dia_check_ticks(const struct dia_rig *rig, const struct dia_rig_device *device,
                    struct dia_refresh_setup *setup);

/* progress, if not NULL, is called with done and all steps. Errors: memory ran out. The caller
 * frees with dia_check_free whatever comes back. */
enum dia_status dia_check_run(struct dia_check *check, const struct dia_rig *rig,
                              void (*progress)(uint32_t done, uint32_t all),
                              struct dia_diagnostic *wrong);
void dia_check_free(struct dia_check *check);

DIA_END

#endif
