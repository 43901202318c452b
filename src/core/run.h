/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_RUN_H
#define DIA_CORE_RUN_H

/* Elements worked on at a time where room is needed for their places and levels: at most 10 bytes
 * each on the stack. Any value gives the same picture. */
#ifndef DIA_RUN
#define DIA_RUN 64u
#endif

#endif
