/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_CHANNELS_RUN_H
#define DIA_CORE_CHANNELS_RUN_H

#include <diachrome/develop.h>

/*
 * The busiest loops there are, each in two versions with the same bytes: core/small for chips
 * where RAM is dear, core/large for machines with a cache. A build takes one of the folders.
 */
void dia_channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                          const struct dia_rgb *pixels, uint16_t n, uint8_t *out);
void dia_channels_rgbw_run(const struct dia_develop *develop, struct dia_carry *kept,
                           const struct dia_rgb *pixels, uint16_t n, uint8_t *out);
void dia_channels_level_run(const struct dia_develop *develop, struct dia_carry *carry,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out);
void dia_channels_seven_run(const struct dia_develop *develop, struct dia_carry *kept,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out);

/* What n pixels draw, in microamperes. */
uint32_t dia_channels_rgb_draw_ua(const struct dia_develop *develop,
                                  const DIA_ROM struct dia_power *power,
                                  const struct dia_rgb *pixels, uint16_t n);

#endif
