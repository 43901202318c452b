/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FAULT_KINDS_H
#define DIA_HOST_FAULT_KINDS_H

#include <diachrome/fault.h>
#include <diachrome/quantity.h>

/* What a fault is said with: its target, its word, and up to two more words. */
struct said {
    const char *target, *word, *first, *second;
    int lane, device, supply; /* which the target is; -1: none */
};

typedef enum dia_status puts_fault(struct dia_desk *desk, const struct said *said,
                                   struct dia_diagnostic *wrong);

/* Which faults there are, what they are for, and what puts them on a desk. */
enum { OF_LANE = 1, OF_DEVICE = 2, OF_SUPPLY = 4 };
struct fault_kind {
    const char *word;
    int of;
    puts_fault *put;
};
extern const struct fault_kind dia_fault_kinds[]; /* ends with no word; families have more */

/* What follows a fault's word: a number, or a quantity. */
enum dia_status dia_fault_number(const struct said *said, const char *text, uint32_t from,
                                 uint32_t to, uint32_t *value, struct dia_diagnostic *wrong);
enum dia_status dia_fault_quantity(const struct said *said, enum dia_quantity kind, int64_t from,
                                   int64_t to, int64_t *value, struct dia_diagnostic *wrong);

#endif
