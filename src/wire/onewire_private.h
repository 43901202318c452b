/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_ONEWIRE_PRIVATE_H
#define DIA_WIRE_ONEWIRE_PRIVATE_H

#include <diachrome/onewire.h>

/* dia_onewire_start of a line that dia_onewire_poll has just said to be at rest. */
enum dia_status dia_onewire_begin(struct dia_onewire *line, const uint8_t *bytes, uint32_t n);

#endif
