/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FAULT_H
#define DIACHROME_FAULT_H

#include "diagnostic.h"
#include "linkage.h"
#include "rig.h"

DIA_BEGIN

/*
 * Faults of a simulated desk: what is broken, or connected otherwise than the rig says. Written as
 * "TARGET: WHAT", such as "handrail: dead 17"; docs/faults.md has all of them.
 *
 * Cost: one pass over the text; microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_DESK_FAULTS DIA_RIG_FAULTS

/* Faults that no other rig file could describe. */
struct dia_desk_lane {
    struct dia_chain_fault chain;
    uint32_t noise_ppm;
};
struct dia_desk_device {
    struct dia_shift_fault shift;
    uint32_t noise_ppm;
    uint16_t oscillator_khz; /* of a character display; 0: as it should be */
    int16_t contrast_off_mv; /* of its contrast pin from 500 mV */
    uint8_t half;            /* on since before, in the middle of a 4-bit pair */
};

/* The hardware as it is. */
struct dia_desk {
    struct dia_rig rig; /* what is wired how; the rig may say otherwise */
    struct dia_desk_lane lanes[DIA_RIG_LANES];
    struct dia_desk_device devices[DIA_RIG_DEVICES];
    uint32_t sag_mohm[DIA_RIG_SUPPLIES]; /* of the wires to a supply */
    uint32_t seed;
};

/* A desk that is as the rig says. */
void dia_desk_init(struct dia_desk *desk, const struct dia_rig *rig);

/* Puts a fault on the desk. DIA_BAD_VALUE and a diagnostic for a target or a fault that is not
 * known, or not of that kind of thing. */
enum dia_status dia_desk_fault(struct dia_desk *desk, const char *text,
                               struct dia_diagnostic *wrong);

DIA_END

#endif
