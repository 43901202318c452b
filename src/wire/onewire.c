/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/onewire.h>

#include "gap.h"
#include "onewire_private.h"

enum { RESTING, SENDING };

enum dia_status dia_onewire_init(struct dia_onewire *line, struct dia_port *port, uint8_t pin,
                                 const DIA_ROM struct dia_pixel_part *part)
{
    if (part->family != DIA_ONEWIRE || !port->ops->pulse_start || !port->ops->pulse_poll ||
        !port->ops->pin_write)
        return DIA_UNSUPPORTED;
    enum dia_status status = port->ops->pin_write(port, pin, 0);
    if (status != DIA_OK)
        return status;
    line->port = port;
    line->part = part;
    line->pin = pin;
    line->state = RESTING;
    line->end_us = port->ops->now_us(port);
    return DIA_OK;
}

enum dia_status dia_onewire_begin(struct dia_onewire *line, const uint8_t *bytes, uint32_t n)
{
    struct dia_port *port = line->port;
    enum dia_status status = port->ops->pulse_start(port, line->pin, bytes, n, &line->part->timing);
    if (status == DIA_OK || status == DIA_BUSY) { /* busy: the gap counts from when it is not */
        line->state = SENDING;
        line->end_us = port->ops->now_us(port) + gap_longest_us(n);
    }
    return status;
}

enum dia_status dia_onewire_start(struct dia_onewire *line, const uint8_t *bytes, uint32_t n)
{
    enum dia_status status = dia_onewire_poll(line);
    return status == DIA_OK ? dia_onewire_begin(line, bytes, n) : status;
}

enum dia_status dia_onewire_poll(struct dia_onewire *line)
{
    struct dia_port *port = line->port;
    enum dia_status status = DIA_OK;
    uint8_t was_sending = line->state == SENDING;
    if (was_sending) {
        status = port->ops->pulse_poll(port, line->pin);
        if (status == DIA_BUSY)
            return DIA_BUSY;
        line->state = RESTING;
    }
    uint32_t now_us = port->ops->now_us(port);
    /* it ended earlier than it might have; of one that was broken off nobody knows */
    if (was_sending && status == DIA_OK && (int32_t)(now_us - line->end_us) < 0)
        line->end_us = now_us;
    if (status == DIA_OK && !gap_is_over(now_us, line->end_us, line->part->timing.latch_us))
        status = DIA_BUSY;
    return status;
}

uint8_t dia_onewire_is_sending(const struct dia_onewire *line)
{
    return line->state == SENDING;
}

uint32_t dia_onewire_again_us(const struct dia_onewire *line)
{
    if (line->state == SENDING) /* when it ends is the port's to say */
        return 0;
    return gap_left_us(line->port, line->end_us + line->part->timing.latch_us + 11u);
}

uint64_t dia_onewire_wire_ns(const DIA_ROM struct dia_pixel_part *part, uint32_t n)
{
    uint32_t zero =
        (uint32_t)part->timing.range[DIA_T0H].nominal_ns + part->timing.range[DIA_T0L].nominal_ns;
    uint32_t one =
        (uint32_t)part->timing.range[DIA_T1H].nominal_ns + part->timing.range[DIA_T1L].nominal_ns;
    return (uint64_t)n * 8u * (one > zero ? one : zero);
}
