/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_REFRESH_PLAN_H
#define DIACHROME_REFRESH_PLAN_H

#include <stdint.h>

#include "linkage.h"
#include "slices.h"

DIA_BEGIN

/*
 * What a controller has time for of lamps that are lit by ticks of a timer: refresh, depth, load.
 *
 *   struct dia_refresh_setup setup = {.clock_hz = 16000000, .tick_cycles = 1130, .most_permille =
 * 500}; dia_refresh_at(&now, &setup, 120000, 8, DIA_SLICES_WEIGHTED);       now.fits,
 * now.load_permille dia_refresh_nearest(&near, &setup, 1500000, 8, DIA_SLICES_EVEN);    what is
 * near and fits
 *
 * All of it is arithmetic: nothing runs. A tick must end before the next one is due, so no slice
 * is shorter than it; slices are whole microseconds. Rows of a panel have their planes one after
 * the other, always weighted; one that is shorter than a tick is dark while that goes on
 * (dia_slices_row_us), so that a row is not lit for all of its turn.
 *
 * Cost: microseconds; of rows, where all units are tried, milliseconds.
 * Context: any.
 */
struct dia_refresh_setup {
    uint32_t clock_hz;      /* of the controller, 1 or more */
    uint32_t tick_cycles;   /* of a tick at its longest, its interrupt included, 1 or more */
    uint32_t most_permille; /* of the controller's time that may go into ticks, 1 to 1000 */
    uint8_t turns;          /* of digits lit one after the other; 0: lamps with levels by slices */
    uint8_t dark_ticks;     /* and how many more a period has, for a dark rest */
    uint8_t rows;           /* of a panel, that have their turn with all planes each; 0: none */
    uint16_t least_us;      /* shortest slice that the driver takes; 0: 1 */
};

enum dia_refresh_why {
    DIA_REFRESH_FITS,
    DIA_REFRESH_SLICE_SHORT, /* a tick takes longer than the shortest slice */
    DIA_REFRESH_SLICE_LONG,  /* more than 65,535 us */
    DIA_REFRESH_LOAD         /* all ticks together take more time than they may */
};

struct dia_refresh {
    uint32_t refresh_mhz;   /* as it comes out, in thousandths of a period a second */
    uint8_t depth, slices;  /* bits, enum dia_slices; of turns 1 and 0 */
    uint32_t levels;        /* of brightness, dark included */
    uint32_t unit_us;       /* shortest slice, or a turn; of rows the light of the first plane */
    uint32_t lit_permille;  /* of a turn in which there is light, rounded down; 1000 but for rows */
    uint32_t tick_us;       /* of a tick, rounded up; */
    uint32_t longest_us;    /* and with what it waits at the most: more only for rows */
    uint32_t ticks_mhz;     /* thousandths of a tick a second; at most 4,000,000,000 */
    uint32_t load_permille; /* of the controller's time, rounded up; may be more than 1000 */
    uint8_t why;            /* enum dia_refresh_why */
};

/* What a setting comes to. refresh_mhz 1 to 10,000,000, depth 1 to 8 (of turns it is not used). */
void dia_refresh_at(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                    uint32_t refresh_mhz, uint8_t depth, enum dia_slices slices);

/* The highest refresh that fits, and what it comes to. 0: none does. */
int dia_refresh_highest(struct dia_refresh *out, const struct dia_refresh_setup *setup,
                        uint8_t depth, enum dia_slices slices);

/* Settings near to one that does not fit: with another way of slices, with fewer bits, and with a
 * lower refresh, of which each fits. How many there are, at most 3. */
#define DIA_REFRESH_NEAR 3
uint32_t dia_refresh_nearest(struct dia_refresh near[DIA_REFRESH_NEAR],
                             const struct dia_refresh_setup *setup, uint32_t refresh_mhz,
                             uint8_t depth, enum dia_slices slices);

DIA_END

#endif
