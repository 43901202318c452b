/* SPDX-License-Identifier: MIT */
#include "family.h"

extern const struct dia_rig_family dia_family_matrix, family_beacon;

/* In place of src/host/family/families.c: the one list of the desktop, with one family more. */
const struct dia_rig_family *const dia_rig_families[] = {&dia_family_matrix, &family_beacon, NULL};
