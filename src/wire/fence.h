/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_FENCE_H
#define DIA_WIRE_FENCE_H

/* What the main loop writes before it is there before what it writes behind, for a tick that comes
 * in between. Both run on one processor, so the compiler alone must keep the order. */
#ifdef __cplusplus
#define DIA_FENCE() __atomic_signal_fence(__ATOMIC_ACQ_REL)
#else
#include <stdatomic.h>
#define DIA_FENCE() atomic_signal_fence(memory_order_acq_rel)
#endif

#endif
