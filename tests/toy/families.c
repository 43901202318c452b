/* SPDX-License-Identifier: MIT */
#include "family.h"

extern const struct dia_rig_family family_matrix, family_beacon;

/* In place of src/host/family/families.c: the one list of the desktop, with one family more. */
const struct dia_rig_family *const rig_families[] = {&family_matrix, &family_beacon, NULL};
