/* SPDX-License-Identifier: MIT */
#include "family.h"

extern const struct dia_rig_family dia_family_matrix, dia_family_shift, dia_family_digits,
    dia_family_lamps, dia_family_panel, dia_family_characters, dia_family_rgb_panel;

/* In the order in which messages name their chips. */
const struct dia_rig_family *const dia_rig_families[] = {
    &dia_family_matrix, &dia_family_shift,      &dia_family_digits,    &dia_family_lamps,
    &dia_family_panel,  &dia_family_characters, &dia_family_rgb_panel, NULL,
};
