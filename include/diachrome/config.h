/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CONFIG_H
#define DIACHROME_CONFIG_H

/*
 * What a build may choose, each with -D. A program and the library it links must agree on all of
 * them: an installed copy of this header has what the library was built with.
 */

/*
 * Where constant tables live: empty, or a word that is put before them. Most processors read
 * constants straight from flash and need nothing here. A Harvard machine such as an AVR copies them
 * into RAM unless told otherwise: its build says -DDIA_ROM=__flash, in C. C++ has no such word, so
 * there it is empty; programs in C++ may name what is in flash, and hand it to functions in C.
 */
#ifndef DIA_ROM
#define DIA_ROM
#elif defined(__cplusplus)
#undef DIA_ROM
#define DIA_ROM
#endif

/* How many elements looks and drawings work on at a time: up to 10 bytes of stack each. */
#ifndef DIA_RUN
#define DIA_RUN 64u
#endif

/* The same for layers: 5 bytes of stack each. A small controller takes 16. */
#ifndef DIA_STACK_RUN
#define DIA_STACK_RUN 1024u
#endif

#endif
