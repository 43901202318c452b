/* SPDX-License-Identifier: MIT */
#include <diachrome/parallel.h>

#include "gap.h"
#include "mirror.h"

enum { RESTING, SENDING };

/* Each eight bytes, one a lane, are mirrored to eight planes: bytes `from` to `to` of up to eight
 * lanes, of which some may have ended. */
static void ragged(uint8_t *planes, uint8_t stride, uint8_t count, const uint8_t *const *lanes,
                   const uint32_t *lengths, uint32_t from, uint32_t to)
{
    for (uint32_t i = from; i < to; i++) {
        uint8_t bytes[8] = {0};
        for (uint8_t k = 0; k < count; k++) {
            if (i < lengths[k])
                bytes[k] = lanes[k][i];
        }
        mirror(bytes, planes + i * 8u * stride, stride);
    }
}

/* The same as far as all eight lanes reach: nothing to ask for each byte. */
static void full(uint8_t *planes, uint8_t stride, const uint8_t *const *lanes, uint32_t to)
{
    for (uint32_t i = 0; i < to; i++, planes += 8u * stride) {
        uint8_t bytes[8] = {lanes[0][i], lanes[1][i], lanes[2][i], lanes[3][i],
                            lanes[4][i], lanes[5][i], lanes[6][i], lanes[7][i]};
        mirror(bytes, planes, stride);
    }
}

void dia_planes_make(uint8_t *planes, uint8_t width, const uint8_t *const *lanes,
                     const uint32_t *lengths)
{
    uint8_t stride = width > 8 ? 2 : 1;
    uint32_t longest = 0;
    for (uint8_t k = 0; k < width; k++)
        longest = lengths[k] > longest ? lengths[k] : longest;
    for (uint8_t first = 0; first < 8u * stride; first = (uint8_t)(first + 8)) {
        uint8_t count = (uint8_t)(width - first < 8 ? width - first : 8), half = first / 8;
        uint32_t all = count == 8 ? longest : 0;
        for (uint8_t k = 0; k < count; k++)
            all = lengths[first + k] < all ? lengths[first + k] : all;
        full(planes + half, stride, lanes + first, all);
        ragged(planes + half, stride, count, lanes + first, lengths + first, all, longest);
    }
}

enum dia_status dia_parallel_init(struct dia_parallel *group, struct dia_port *port,
                                  uint8_t first_pin, uint8_t width,
                                  const DIA_ROM struct dia_pixel_part *part)
{
    if (width == 0 || width > DIA_PARALLEL_MOST)
        return DIA_BAD_VALUE;
    if (part->family != DIA_ONEWIRE || !port->ops->planes_start || !port->ops->pulse_poll ||
        !port->ops->pin_write)
        return DIA_UNSUPPORTED;
    for (uint8_t k = 0; k < width; k++) {
        enum dia_status status = port->ops->pin_write(port, (uint8_t)(first_pin + k), 0);
        if (status != DIA_OK)
            return status;
    }
    group->port = port;
    group->part = part;
    group->first_pin = first_pin;
    group->width = width;
    group->state = RESTING;
    group->end_us = group->soonest_us = port->ops->now_us(port);
    return DIA_OK;
}

enum dia_status dia_parallel_start(struct dia_parallel *group, const uint8_t *planes,
                                   const uint32_t *lengths)
{
    struct dia_port *port = group->port;
    uint32_t longest = 0;
    enum dia_status status = dia_parallel_poll(group);
    if (status != DIA_OK)
        return status;
    for (uint8_t k = 0; k < group->width; k++)
        longest = lengths[k] > longest ? lengths[k] : longest;
    uint32_t began_us = port->ops->now_us(port);
    status = port->ops->planes_start(port, group->first_pin, group->width, planes, lengths,
                                     &group->part->timing);
    if (status == DIA_OK || status == DIA_BUSY) { /* busy: the gap counts from when it is not */
        group->state = SENDING;
        group->end_us = began_us + gap_longest_us(longest);
        group->soonest_us = began_us + gap_shortest_us(group->part, longest);
    }
    return status;
}

/* The latch gap counts from when the longest lane has ended; the others have rested longer. */
enum dia_status dia_parallel_poll(struct dia_parallel *group)
{
    struct dia_port *port = group->port;
    enum dia_status status = DIA_OK;
    uint8_t was_sending = group->state == SENDING;
    if (was_sending) {
        status = port->ops->pulse_poll(port, group->first_pin);
        if (status == DIA_BUSY)
            return DIA_BUSY;
        group->state = RESTING;
    }
    uint32_t now_us = port->ops->now_us(port);
    /* it ended earlier than it might have; of one that was broken off nobody knows */
    if (was_sending && status == DIA_OK && (int32_t)(now_us - group->end_us) < 0)
        group->end_us = now_us;
    if (status == DIA_OK && !gap_is_over(now_us, group->end_us, group->part->timing.latch_us))
        status = DIA_BUSY;
    return status;
}

uint32_t dia_parallel_again_us(const struct dia_parallel *group)
{
    if (group->state == SENDING)
        return gap_left_us(group->port, group->soonest_us);
    return gap_left_us(group->port, group->end_us + group->part->timing.latch_us + 11u);
}
