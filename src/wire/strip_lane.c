/* SPDX-License-Identifier: MIT */
#include <diachrome/group.h>
#include <diachrome/onewire.h>

#include "gap.h"
#include "strip_private.h"

/* Sends all lanes that wait, together. */
static enum dia_status start(struct dia_group *group)
{
    const uint8_t *bytes[DIA_PARALLEL_MOST];
    uint32_t lengths[DIA_PARALLEL_MOST];
    for (uint8_t k = 0; k < group->line.width; k++) {
        const struct dia_strip *strip = group->strips[k];
        uint8_t goes = group->waiting >> k & 1u;
        bytes[k] = goes ? strip->bytes : 0;
        lengths[k] = goes ? strip->frame.count * strip->part->channels->count : 0;
    }
    dia_planes_make(group->planes, group->line.width, bytes, lengths);
    return dia_parallel_start(&group->line, group->planes, lengths);
}

/* Keeps the group going; starts those that wait when it may. What fails is told to each lane that
 * was on its way. */
static void go_on(struct dia_group *group, uint8_t may_start)
{
    enum dia_status status = dia_parallel_poll(&group->line);
    if (status == DIA_BUSY)
        return;
    if (status != DIA_OK)
        group->failed |= group->sending;
    group->sending = 0;
    if (status != DIA_OK || group->waiting == 0 || !may_start)
        return;
    status = start(group);
    if (status == DIA_BUSY)
        return; /* they go on waiting */
    if (status == DIA_OK)
        group->sending = group->waiting;
    else
        group->failed |= group->waiting;
    group->waiting = 0;
}

static uint16_t bit_of(const struct dia_strip *strip)
{
    return (uint16_t)(1u << strip->line.lane.number);
}

static enum dia_status poll(struct dia_strip *strip)
{
    struct dia_group *group = strip->line.lane.group;
    uint16_t bit = bit_of(strip);
    go_on(group, (group->waiting & bit) != 0); /* else others may still come */
    if (group->failed & bit) {
        group->failed &= (uint16_t)~bit;
        return DIA_PORT_FAILED;
    }
    return (group->waiting | group->sending) & bit ? DIA_BUSY : DIA_OK;
}

static uint8_t is_sending(const struct dia_strip *strip)
{
    return ((strip->line.lane.group->waiting | strip->line.lane.group->sending) & bit_of(strip)) !=
           0;
}

static uint32_t again_us(const struct dia_strip *strip)
{
    return dia_parallel_again_us(&strip->line.lane.group->line);
}

/* The others may still come: sending begins with the next poll. */
static enum dia_status begin(struct dia_strip *strip)
{
    strip->line.lane.group->waiting |= bit_of(strip);
    return DIA_OK;
}

static void about(const struct dia_strip *strip, struct dia_about *about)
{
    const struct dia_group *group = strip->line.lane.group;
    /* one transmission that is under way, and its own */
    about->worst_us = 2u * (gap_longest_us(group->longest) + strip->part->timing.latch_us + 30u);
    about->route = DIA_ON_PINS;
    about->pins = 1;
    about->pin[0] = (uint8_t)(group->line.first_pin + strip->line.lane.number);
}

static const DIA_ROM struct strip_line line = {poll, is_sending, again_us, begin, about};

enum dia_status dia_group_init(struct dia_group *group, struct dia_port *port, uint8_t first_pin,
                               uint8_t width, const DIA_ROM struct dia_pixel_part *part,
                               uint8_t *planes, uint32_t longest)
{
    enum dia_status status = dia_parallel_init(&group->line, port, first_pin, width, part);
    if (status != DIA_OK)
        return status;
    if (longest == 0)
        return DIA_BAD_VALUE;
    group->planes = planes;
    group->longest = longest;
    group->waiting = group->sending = group->failed = 0;
    for (uint8_t k = 0; k < DIA_PARALLEL_MOST; k++)
        group->strips[k] = 0;
    return DIA_OK;
}

enum dia_status dia_strip_init_lane(struct dia_strip *strip, struct dia_group *group, uint8_t lane,
                                    const DIA_ROM struct dia_pixel_part *part,
                                    struct dia_rgb *pixels, uint8_t *memory, uint16_t count)
{
    if (count == 0 || lane >= group->line.width || group->strips[lane] ||
        DIA_STRIP_BYTES(part->channels->count, count) > group->longest)
        return DIA_BAD_VALUE;
    strip->line.lane.group = group;
    strip->line.lane.number = lane;
    dia_strip_begin(strip, &line, group->line.port, part, pixels, memory, count);
    group->strips[lane] = strip;
    return DIA_OK;
}

uint8_t dia_group_is_waiting(const struct dia_group *group, uint8_t lane)
{
    return lane < DIA_PARALLEL_MOST && (group->waiting >> lane & 1u);
}
