/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_FENCE_H
#define DIA_WIRE_FENCE_H

#include <stdint.h>

#include <diachrome/status.h>

/* What the main loop writes before it is there before what it writes behind, for a tick that comes
 * in between. Both run on one processor, so the compiler alone must keep the order. */
#ifdef __cplusplus
#define DIA_FENCE() __atomic_signal_fence(__ATOMIC_ACQ_REL)
#else
#include <stdatomic.h>
#define DIA_FENCE() atomic_signal_fence(memory_order_acq_rel)
#endif

/* What poll says of a driver that its ticks keep going: a failure once, then whether a frame still
 * waits for one. */
static inline enum dia_status tick_status(volatile uint8_t *failed, uint8_t waits)
{
    if (*failed) {
        *failed = 0;
        return DIA_PORT_FAILED;
    }
    return waits ? DIA_BUSY : DIA_OK;
}

#endif
