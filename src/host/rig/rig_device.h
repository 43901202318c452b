/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_DEVICE_H
#define DIA_HOST_RIG_DEVICE_H

#include "rig_fields.h"

/* Reads a device behind the ones rig has; its supplies and lanes must have been read. */
enum dia_status dia_rig_read_device(struct rig_reader *reader, const struct tree_node *node,
                                    struct dia_rig *rig);

/* What a device says in words and quantities, before it is looked up. */
struct device_words {
    char supply[DIA_RIG_NAME], node[DIA_RIG_NAME], colour[16], address[8], spi[DIA_RIG_DEV_PATH],
        i2c[DIA_RIG_DEV_PATH];
    uint32_t segments, chips, digits, lamps, clock_hz, refresh_mhz, depth, columns, rows, turn,
        oscillator_hz, blank_ns;
    struct dia_rig_shifter shifter;
    int32_t pitch_um;
    uint32_t lamp_ua, resistor_mohm, forward_mv;
};

/* The same of a button. */
enum dia_status dia_rig_read_button(struct rig_reader *reader, const struct tree_node *node,
                                    struct dia_rig *rig);

#endif
