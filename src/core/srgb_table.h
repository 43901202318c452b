/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SRGB_TABLE_H
#define DIA_CORE_SRGB_TABLE_H

#include <stdint.h>

#include <diachrome/config.h>

/*
 * Linear light of each sRGB code: round(65535 * f(code / 255)), f the transfer function of
 * IEC 61966-2-1: x / 12.92 up to 0.04045, then ((x + 0.055) / 1.055)^2.4.
 * The test of the curve works them out again in floating point.
 */
extern const DIA_ROM uint16_t dia_srgb_table[256];

/* The light of each code on the scale of drives, where 65280 = 255 * 256 is full (see drive.h). */
extern const DIA_ROM uint16_t dia_drive_table[256];

#endif
