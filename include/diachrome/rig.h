/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_RIG_H
#define DIACHROME_RIG_H

#include <stdint.h>

#include "diachrome.h"
#include "diagnostic.h"

/*
 * A rig: the hardware as a file describes it. docs/rig-format.md has every key. What is in here
 * has been checked: in range, names known, no pin or name twice.
 */
#define DIA_RIG_SUPPLIES 16
#define DIA_RIG_LANES    64
#define DIA_RIG_GROUPS   8
#define DIA_RIG_NAME     32 /* longest name of a supply or lane, the zero included */

struct dia_rig_controller {
    char name[64];
    uint32_t clock_hz, ram_bytes, flash_bytes, logic_high_mv;
};

struct dia_rig_supply {
    char name[DIA_RIG_NAME];
    uint32_t voltage_mv, current_ua, reserve_ua;
};

/* How the elements of a lane lie. */
enum dia_shape {
    DIA_SHAPE_LINE, /* from the left; element i at start + i * pitch */
    DIA_SHAPE_RING, /* element 0 at the top, on clockwise as seen from the front */
    DIA_SHAPE_GRID  /* in columns and rows */
};
struct dia_rig_layout {
    uint8_t shape; /* enum dia_shape */
    struct dia_grid grid;
    int32_t start_um, pitch_um;
    int32_t diameter_um;        /* of a ring */
    struct dia_surface surface; /* what looks run along: the line, the ring, the columns */
};

struct dia_rig_lane {
    char name[DIA_RIG_NAME];
    uint32_t pin, count;
    uint32_t clock_pin, clock_hz; /* of a chip with a clock line */
    uint8_t bus;                  /* and its SPI bus: 0 for the first such lane of the rig, ... */
    uint32_t supply;              /* number in supplies[] */
    struct dia_pixel_part part;   /* the chip's sheet, with the order and currents of the file */
    char order[5];                /* of its bytes, "GRB" */
    uint32_t channel_ua, idle_ua; /* as the file states them; 0: as the sheet */
    dia_share white[4];
    struct dia_rig_layout layout;
    uint8_t group; /* 0: sent by itself; else 1.. : sent together with the lanes of that group */
};

struct dia_rig {
    char name[64];
    dia_share master;
    uint32_t frame_rate_mhz; /* thousandths of a frame a second */
    struct dia_rig_controller controller;
    struct dia_rig_supply supplies[DIA_RIG_SUPPLIES];
    uint32_t supply_count;
    struct dia_rig_lane lanes[DIA_RIG_LANES];
    uint32_t lane_count;
    char groups[DIA_RIG_GROUPS][DIA_RIG_NAME]; /* name of group k + 1 */
    uint32_t group_count;
};

/* DIA_BAD_VALUE and file:line:column, what is wrong and what would be right, for the first
 * mistake in the file. DIA_PORT_FAILED when memory ran out. */
enum dia_status dia_rig_load(struct dia_rig *rig, const char *path, struct dia_diagnostic *wrong);

#endif
