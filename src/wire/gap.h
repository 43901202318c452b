/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_GAP_H
#define DIA_WIRE_GAP_H

#include <diachrome/port.h>

/*
 * Whether a line has rested for a latch gap since a moment. A port's clock may be coarse by 10 us,
 * so only a difference of more than latch_us + 10 is surely latch_us. The difference is unsigned
 * and wraps with the clock; a line left alone for longer than the clock's 71 minutes may at worst
 * wait one latch gap more.
 */
static inline uint8_t gap_is_over(struct dia_port *port, uint32_t since_us, uint16_t latch_us)
{
    return port->ops->now_us(port) - since_us > latch_us + 10u;
}

#endif
