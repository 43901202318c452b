/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PARTS_H
#define DIACHROME_PARTS_H

#include <stdint.h>

#include "linkage.h"
#include "rig.h"

DIA_BEGIN

/*
 * The parts around what a rig has: resistors, capacitors, level shifters, pull-ups, dividers, fuses
 * and wires, with what each is for. Where a sheet or a formula says how large, its source is named;
 * where custom does, it is called a choice.
 *
 *   struct dia_parts parts;
 *   dia_parts_list(&parts, &rig);
 *   ... parts.items[0].name, .pieces, .used ...
 *   dia_parts_free(&parts);
 *
 * Cost: milliseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
struct dia_part {
    char name[48];    /* "resistor 330 ohm, 125 mW" */
    uint32_t pieces;  /* how many; of wire: mm */
    char used[120];   /* what for: "data line of handrail, at its first pixel" */
    char source[100]; /* of the value */
};
struct dia_parts {
    struct dia_part *items; /* in the order of the rig */
    uint32_t count, room;
    uint8_t lost; /* 1: memory ran out */
};

/* The caller frees with dia_parts_free whatever comes back. DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_parts_list(struct dia_parts *parts, const struct dia_rig *rig);
void dia_parts_free(struct dia_parts *parts);

DIA_END

#endif
