/* SPDX-License-Identifier: MIT */
#include "play_device.h"

const struct play_kind *const play_kinds[] = {&play_matrix, &play_shift, &play_digits, &play_panel,
                                              &play_characters};
