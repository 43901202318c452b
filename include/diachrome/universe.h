/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_UNIVERSE_H
#define DIACHROME_UNIVERSE_H

#include <stdint.h>

#include "linkage.h"
#include "look.h"
#include "status.h"

DIA_BEGIN

/*
 * Universes of a lighting network (ANSI E1.31): 512 slots of a byte each, and the look `universe`,
 * which shows them as pixels, three slots each. On a desktop alone; docs/e131.md has it all.
 *
 * Memory: some 520 bytes a universe, on the heap.
 * Cost:   a search a universe a run of elements, then a few nanoseconds an element.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_UNIVERSE_SLOTS 512
#define DIA_UNIVERSE_LAST  63999 /* they are numbered from 1 */
#define DIA_UNIVERSES      1024  /* at most, of one show */

struct dia_universe {
    uint16_t number;
    uint8_t is_live; /* 0: its source is lost, and the slots are what came last */
    uint8_t slots[DIA_UNIVERSE_SLOTS];
};
struct dia_universes {
    struct dia_universe *all; /* by number */
    uint32_t count, room;
};

void dia_universes_free(struct dia_universes *universes);

/* The universe of that number, or NULL. */
struct dia_universe *dia_universes_find(const struct dia_universes *universes, uint32_t number);

/* Its first count slots, 0..512, are these from now on, all others 0. DIA_BAD_VALUE: there is no
 * such number, or there are DIA_UNIVERSES already. DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_universes_set(struct dia_universes *universes, uint32_t number,
                                  const uint8_t *slots, uint32_t count);

/* Its source is lost. */
void dia_universes_lose(struct dia_universes *universes, uint32_t number);

enum dia_universe_order {
    DIA_ORDER_RGB,
    DIA_ORDER_RBG,
    DIA_ORDER_GRB,
    DIA_ORDER_GBR,
    DIA_ORDER_BRG,
    DIA_ORDER_BGR
};
enum dia_universe_packing {
    DIA_PACKING_WHOLE, /* a pixel is in one universe: 170 in each */
    DIA_PACKING_SPLIT  /* all slots are used, so a pixel may be in two */
};
enum dia_universe_lost { DIA_LOST_BELOW, DIA_LOST_DARK, DIA_LOST_HOLD };
struct dia_universe_look {
    int32_t first;                    /* universe of the first element, 1..63999 */
    int32_t channel;                  /* its slot of the first colour, 1..512 */
    int32_t order;                    /* enum dia_universe_order, as the source has it */
    int32_t packing;                  /* enum dia_universe_packing */
    int32_t lost;                     /* enum dia_universe_lost: what shows where no source is */
    const struct dia_universes *from; /* NULL: none have come */
};
extern const struct dia_look dia_look_universe;

DIA_END

#endif
