/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/onewire.h>

enum { SHOWN, SENDING, LATCHING };

enum dia_status dia_onewire_init(struct dia_onewire *line, struct dia_port *port, uint8_t pin,
                                 const DIA_ROM struct dia_pixel_part *part)
{
    if (!port->ops->pulse_start || !port->ops->pulse_poll || !port->ops->pin_write)
        return DIA_UNSUPPORTED;
    enum dia_status status = port->ops->pin_write(port, pin, 0);
    if (status != DIA_OK)
        return status;
    line->port = port;
    line->part = part;
    line->pin = pin;
    line->state = LATCHING;
    line->end_us = port->ops->now_us(port);
    return DIA_OK;
}

enum dia_status dia_onewire_start(struct dia_onewire *line, const uint8_t *bytes, uint32_t n)
{
    enum dia_status status = dia_onewire_poll(line);
    if (status != DIA_OK)
        return status;
    status = line->port->ops->pulse_start(line->port, line->pin, bytes, n, &line->part->timing);
    if (status == DIA_OK)
        line->state = SENDING;
    return status;
}

/*
 * A port's clock may be coarse by 10 us, so only a difference of more than latch_us + 10 is surely
 * latch_us. The difference is unsigned and wraps with the clock; a line left alone for longer
 * than the clock's 71 minutes may at worst wait one latch gap more.
 */
#define CLOCK_COARSE_US 10u

enum dia_status dia_onewire_poll(struct dia_onewire *line)
{
    struct dia_port *port = line->port;
    if (line->state == SENDING) {
        enum dia_status status = port->ops->pulse_poll(port, line->pin);
        if (status == DIA_BUSY)
            return DIA_BUSY;
        line->state = LATCHING;
        line->end_us = port->ops->now_us(port);
        if (status != DIA_OK)
            return status;
    }
    if (line->state == LATCHING) {
        uint32_t low_us = port->ops->now_us(port) - line->end_us;
        if (low_us <= line->part->timing.latch_us + CLOCK_COARSE_US)
            return DIA_BUSY;
        line->state = SHOWN;
    }
    return DIA_OK;
}

void dia_onewire_arrange(uint8_t *bytes, uint32_t count, uint8_t channels, struct dia_order order)
{
    for (; count != 0; count--) {
        uint8_t drive[4];
        memcpy(drive, bytes, channels);
        for (uint8_t k = 0; k < channels; k++)
            *bytes++ = drive[order.channel[k]];
    }
}

uint64_t dia_onewire_wire_ns(const DIA_ROM struct dia_pixel_part *part, uint32_t n)
{
    uint32_t zero = (uint32_t)part->timing.range[DIA_HIGH0].nominal_ns +
                    part->timing.range[DIA_LOW0].nominal_ns;
    uint32_t one = (uint32_t)part->timing.range[DIA_HIGH1].nominal_ns +
                   part->timing.range[DIA_LOW1].nominal_ns;
    return (uint64_t)n * 8u * (one > zero ? one : zero);
}
