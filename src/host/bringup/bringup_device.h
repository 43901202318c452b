/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_BRINGUP_DEVICE_H
#define DIA_HOST_BRINGUP_DEVICE_H

#include "bringup_private.h"

/*
 * Drivers of lamps and cells: for each kind what can be wrong with it, asked for from the most
 * telling question on. Each 0, or -1 to end.
 */
int dia_bringup_dots(struct run *run);
int dia_bringup_shift(struct run *run);
int dia_bringup_digits(struct run *run);
int dia_bringup_pin_digits(struct run *run);   /* straight from pins */
int dia_bringup_chain_digits(struct run *run); /* in turns on a shift-register chain */
int dia_bringup_digit_order(struct run *run);  /* of these: which digit and segment is which;
                                                  1: neither is as it should be */
int dia_bringup_pin_lamps(struct run *run);
int dia_bringup_characters(struct run *run);
int dia_bringup_rgb_panel(struct run *run);

/* The device as it is believed to be. */
struct dia_rig_device *dia_device_believed(struct run *run);

/* "[1A, 1B, none]": outputs of a chain as the rig file has them. */
const char *dia_outputs_text(const uint16_t *outputs, uint32_t n);

/* A lamp lit for a fortieth of its time, or of its turn, is lit. */
int dia_device_lamp_is_lit(const struct run *run, uint32_t lamp);

/* Causes that all kinds have. */
void dia_device_is_disturbed(struct run *run);
int dia_device_shows_nothing(struct run *run);

#endif
