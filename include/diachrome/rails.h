/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_RAILS_H
#define DIACHROME_RAILS_H

#include <stdint.h>

#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * The rails of a strip: supply and ground as copper with resistance, feeds that reach them through
 * wires, and pixels that draw current from one rail to the other. Where the copper is thin or the
 * strip long, pixels far from a feed get less than the supply gives.
 *
 * Use:     1. dia_rails_new()         once
 *          2. dia_rails_solve()       for each frame
 *          3. dia_rails_volts() ...   as often as you like
 * Model:   a channel is a constant current, as its driver makes it, while the pixel has full_volt
 *          or more; below that it falls in a straight line, to nothing at gone_volt. Currents are
 *          averages over the pixel's PWM. Resistors do not change with heat. Supplies hold their
 *          volts, whatever current flows, and in both directions.
 * Memory:  some 100 bytes an element, on the heap.
 * Context: one thread at a time for an object; not from an interrupt.
 * Cost:    0.1 to 0.2 us an element for each step; a frame takes 2 to 5 of them.
 */

/* Where a wire comes to the strip. */
struct dia_rails_feed {
    uint32_t element;  /* 0 to count - 1 */
    double supply_ohm; /* of the wire to the supply rail; negative: there is none */
    double ground_ohm; /* of the wire to the ground rail; negative: there is none */
};

/* What a pixel needs, volts between its rails. */
struct dia_rails_need {
    double full_volt[4]; /* of each channel r g b w: it has its whole current from here on */
    double gone_volt[4]; /* it has none from here down; less than full_volt */
};

struct dia_rails_setup {
    uint32_t count;                     /* elements, 1 to 65535 */
    double supply_ohm;                  /* of the rails, from an element to the next: 0 or more */
    double ground_ohm;                  /* a rail of less than 100 nohm is taken as 100 nohm */
    const struct dia_rails_feed *feeds; /* copied */
    uint32_t feed_count;                /* at least one with a wire to each rail */
    struct dia_rails_need need;
};

#define DIA_RAILS_FEEDS 16

struct dia_rails;

/* NULL: a number is outside of its range, or memory ran out. */
struct dia_rails *dia_rails_new(const struct dia_rails_setup *setup);
void dia_rails_free(struct dia_rails *rails);

/*
 * Works out the volts of all elements. `volts` is what each feed's supply gives, of which the
 * grounds are one; `amps` what each element wants for its channels r g b w, `quiet_amp` what it
 * draws besides. Both are copied. DIA_BUSY: it did not settle within 100 steps to 1 uV, and what it
 * came to is kept. (No rig that we know of does that.)
 */
enum dia_status dia_rails_solve(struct dia_rails *rails, const double *volts,
                                const float (*amps)[4], double quiet_amp);

/* Volts between the rails at an element, and of its ground rail against the supplies' ground. */
double dia_rails_volts(const struct dia_rails *rails, uint32_t element);
double dia_rails_ground(const struct dia_rails *rails, uint32_t element);

/* The element with the fewest volts, the first of them. */
uint32_t dia_rails_worst(const struct dia_rails *rails);

/* What an element draws, ampere. */
double dia_rails_amps(const struct dia_rails *rails, uint32_t element);

/* Which part of its current a channel has at so many volts, 0 to 1. */
double dia_rails_share(const struct dia_rails_need *need, int channel, double volts);

/* Current that comes in through a feed's wire to the supply rail, ampere; negative: it goes back
 * into that supply. And what goes out through its wire to the ground rail. */
double dia_rails_feed_amps(const struct dia_rails *rails, uint32_t feed);
double dia_rails_feed_ground_amps(const struct dia_rails *rails, uint32_t feed);

DIA_END

#endif
