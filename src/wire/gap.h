/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_GAP_H
#define DIA_WIRE_GAP_H

#include <diachrome/part.h>

/*
 * Whether a line that rests since end_us has done so for a latch gap. A port's clock may be coarse
 * by 10 us, so only a difference of more than latch_us + 10 is surely latch_us. The difference is
 * unsigned and wraps with the clock; a line left alone for longer than the clock's 71 minutes may
 * at worst wait one latch gap more.
 */
static inline uint8_t gap_is_over(uint32_t now_us, uint32_t end_us, uint16_t latch_us)
{
    return now_us - end_us > latch_us + 10u;
}

/* More than n bytes can take in pulses of any part, us: the slowest, WS2811 at its slow speed, has
 * 2.8 us a bit at most, so 22.4 us a byte. */
static inline uint32_t gap_longest_us(uint32_t n)
{
    return n * 24u;
}

/* What n bytes take in pulses of a part, us, if all bits are of the shorter kind: up to 3 % less
 * than that, for controllers whose cycles make pulses a little short. */
static inline uint32_t gap_shortest_us(const DIA_ROM struct dia_pixel_part *part, uint32_t n)
{
    const DIA_ROM struct dia_pulse_range *range = part->timing.range;
    uint16_t zero = range[DIA_T0H].nominal_ns + range[DIA_T0L].nominal_ns;
    uint16_t one = range[DIA_T1H].nominal_ns + range[DIA_T1L].nominal_ns;
    return n * ((zero < one ? zero : one) / 4u) / 32u; /* 8 bits; 1024 ns are a us */
}

/* Time until a moment; 0 when it is past. A gap is over 11 us after its latch_us. */
static inline uint32_t gap_left_us(struct dia_port *port, uint32_t end_us)
{
    int32_t left = (int32_t)(end_us - port->ops->now_us(port));
    return left > 0 ? (uint32_t)left : 0;
}

#endif
