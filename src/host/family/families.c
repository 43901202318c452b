/* SPDX-License-Identifier: MIT */
#include "family.h"

extern const struct dia_rig_family family_matrix, family_shift, family_digits, family_panel,
    family_characters;

/* In the order in which messages name their chips. */
const struct dia_rig_family *const rig_families[] = {
    &family_matrix, &family_shift, &family_digits, &family_panel, &family_characters, NULL,
};
