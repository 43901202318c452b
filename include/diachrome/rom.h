/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_ROM_H
#define DIACHROME_ROM_H

/*
 * Where constant tables live.
 *
 * Most processors read constants straight from flash and need nothing here. A Harvard machine
 * such as an AVR copies them into RAM unless told otherwise: its build passes -DDIA_ROM=__flash.
 * Default: empty.
 */
#ifndef DIA_ROM
#define DIA_ROM
#endif

#endif
