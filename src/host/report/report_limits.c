/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "family.h"
#include "report_private.h"

/* One more, to be filled in; where memory ran out the same place is used again, and that is told.
 */
static struct dia_report_limit *add(struct dia_report_limits *list, const char *place,
                                    const char *what, const char *source)
{
    static struct dia_report_limit nowhere;
    struct dia_report_limit *limit = &nowhere;
    if (list->count == list->room) {
        uint32_t room = list->room ? list->room * 2 : 64;
        struct dia_report_limit *items = realloc(list->items, room * sizeof *items);
        if (items) {
            list->items = items;
            list->room = room;
        }
        list->lost |= items == NULL;
    }
    if (list->count < list->room)
        limit = &list->items[list->count++];
    memset(limit, 0, sizeof *limit);
    snprintf(limit->place, sizeof limit->place, "%s", place);
    snprintf(limit->what, sizeof limit->what, "%s", what);
    snprintf(limit->source, sizeof limit->source, "%s", source);
    limit->margin_permille = INT32_MAX;
    return limit;
}

static int32_t permille(double inside, double limit)
{
    return limit > 0 ? (int32_t)(inside * 1000 / limit) : INT32_MAX;
}

/* Quantities as people read them: currents to a mA, memory in bytes. */
static void write(int64_t value, enum dia_quantity kind, char *text, int size)
{
    if (kind == DIA_MEMORY)
        snprintf(text, (size_t)size, "%lld bytes", (long long)value);
    else
        dia_quantity_write(kind == DIA_CURRENT ? (value + 500) / 1000 * 1000 : value, kind, text,
                           size);
}

static struct dia_report_limit *bound(struct dia_report_limits *list, const char *place,
                                      const char *what, int64_t is, const char *side, int64_t may,
                                      enum dia_quantity kind, const char *source)
{
    char words[40];
    struct dia_report_limit *limit = add(list, place, what, source);
    write(is, kind, limit->is, sizeof limit->is);
    write(may, kind, words, sizeof words);
    snprintf(limit->may, sizeof limit->may, "at %s %s", side, words);
    return limit;
}

static void at_most(struct dia_report_limits *list, const char *place, const char *what, int64_t is,
                    int64_t may, enum dia_quantity kind, const char *source)
{
    bound(list, place, what, is, "most", may, kind, source)->margin_permille =
        permille((double)(may - is), (double)may);
}

static void at_least(struct dia_report_limits *list, const char *place, const char *what,
                     int64_t is, int64_t may, enum dia_quantity kind, const char *source)
{
    bound(list, place, what, is, "least", may, kind, source)->margin_permille =
        permille((double)(is - may), (double)may);
}

static void between(struct dia_report_limits *list, const char *place, const char *what, int64_t is,
                    int64_t least, int64_t most, enum dia_quantity kind, const char *source)
{
    struct dia_words w[2];
    struct dia_report_limit *limit = add(list, place, what, source);
    int64_t low = is - least, high = most - is;
    dia_quantity_write(is, kind, limit->is, sizeof limit->is);
    snprintf(limit->may, sizeof limit->may, "%s to %s", dia_quantity_as(least, kind, &w[0]),
             dia_quantity_as(most, kind, &w[1]));
    limit->margin_permille =
        low < high ? permille((double)low, (double)least) : permille((double)high, (double)most);
}

static void of_lane(struct dia_report_limits *list, const struct dia_rig *rig,
                    const struct dia_check *check, uint32_t i)
{
    const struct dia_rig_lane *lane = &rig->lanes[i];
    const struct dia_check_lane *c = &check->lanes[i];
    between(list, lane->name, "supply voltage", rig->supplies[lane->supply].voltage_mv,
            lane->part.supply_min_mv, lane->part.supply_max_mv, DIA_VOLTAGE, lane->part.source);
    at_least(list, lane->name, "high at its first input", dia_rig_lane_high_mv(rig, lane),
             dia_rig_lane_needs_mv(rig, lane), DIA_VOLTAGE, lane->part.source);
    at_least(list, lane->name, "frames that its wire carries", c->rate_mhz / 100 * 100,
             rig->frame_rate_mhz, DIA_RATE, "measured on the bench; frame_rate of the rig");
    if (lane->part.family == DIA_CLOCKED)
        at_most(list, lane->name, "clock", lane->clock_hz, lane->part.clock.max_hz, DIA_CLOCK,
                lane->part.source);
    if (lane->feed_count == 0)
        return;
    at_least(list, lane->name, "volts at its worst pixel", c->fed.least_mv,
             dia_volts_wanted_mv(rig, lane), DIA_VOLTAGE, "choice: 90 % of the supply");
    for (uint32_t k = 0; k < lane->feed_count; k++) {
        const struct dia_rig_feed *feed = &lane->feeds[k];
        char what[48];
        snprintf(what, sizeof what, "feed at pixel %u", (unsigned)feed->element);
        if (feed->length_um)
            at_most(list, lane->name, what, (int64_t)c->fed.feed_most_ua[k],
                    (int64_t)feed->section_um2 * DIA_WIRE_A_MM2, DIA_CURRENT,
                    "choice: 5 A a mm2 of free copper wire");
        if (feed->fuse_ua)
            at_most(list, lane->name, what, (int64_t)c->fed.feed_most_ua[k], feed->fuse_ua,
                    DIA_CURRENT, "rating of the fuse");
    }
}

static void of_device(struct dia_report_limits *list, const struct dia_rig *rig,
                      const struct dia_check *check, uint32_t i)
{
    const struct dia_rig_device *device = &rig->devices[i];
    const struct dia_check_device *c = &check->devices[i];
    uint32_t supply_mv = rig->supplies[device->supply].voltage_mv;
    if (device->family->levels && device->part) {
        struct family_levels at = device->family->levels(device->part, supply_mv);
        uint32_t high = device->shifter.mv ? device->shifter.mv : rig->controller.logic_high_mv;
        between(list, device->name, "supply voltage", supply_mv, at.supply_min_mv, at.supply_max_mv,
                DIA_VOLTAGE, at.source);
        at_least(list, device->name, "high at its inputs", high, at.input_high_mv, DIA_VOLTAGE,
                 at.source);
    }
    at_least(list, device->name, "frames that its wire carries", c->rate_mhz / 100 * 100,
             rig->frame_rate_mhz, DIA_RATE, "measured on the bench; frame_rate of the rig");
    if (c->refresh_mhz && device->depth != 1)
        at_least(list, device->name, "refresh", c->refresh_mhz / 100 * 100, 100000, DIA_RATE,
                 "choice: 100 Hz, better 200 Hz");
    if (c->tick_mhz)
        at_most(list, device->name, "longest tick, in its shortest slice",
                (int64_t)c->tick_us * 1000, (int64_t)c->slice_us * 1000, DIA_MOMENT,
                "counted on an ATmega328P");
}

static void of_controller(struct dia_report_limits *list, const struct dia_rig *rig,
                          const struct dia_check *check)
{
    const struct dia_rig_controller *controller = &rig->controller;
    at_most(list, "controller", "memory of all frames", check->frame_ram + check->stack_ram,
            controller->ram_bytes, DIA_MEMORY, "size of frame buffers and contexts");
    at_most(list, "controller", "flash of the smallest program", DIA_CHECK_FLASH_BYTES,
            controller->flash_bytes, DIA_MEMORY, "size of the smallest program");
    if (check->tick_permille)
        at_most(list, "controller", "time in ticks", (int64_t)check->tick_permille * 1000, 500000,
                DIA_PERCENT, "counted on an ATmega328P; half is a choice");
    if (check->processor.rate_mhz)
        at_least(list, "controller", "frames that its processor draws",
                 check->processor.rate_mhz / 100 * 100, rig->frame_rate_mhz, DIA_RATE,
                 "a hue sweep, counted on an ATmega328P");
}

enum dia_status dia_report_limits(struct dia_report_limits *limits, const struct dia_rig *rig,
                                  const struct dia_check *check)
{
    memset(limits, 0, sizeof *limits);
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        uint64_t most = 0;
        for (uint32_t n = 0; n < check->look_count; n++)
            most = check->currents[i][n].drawn_ua > most ? check->currents[i][n].drawn_ua : most;
        at_most(limits, rig->supplies[i].name, "current, of all looks", (int64_t)most,
                rig->supplies[i].current_ua, DIA_CURRENT,
                "measured on the bench; 'current' of the rig");
    }
    for (uint32_t i = 0; i < rig->lane_count; i++)
        of_lane(limits, rig, check, i);
    for (uint32_t i = 0; i < rig->device_count; i++)
        of_device(limits, rig, check, i);
    of_controller(limits, rig, check);
    return limits->lost ? DIA_PORT_FAILED : DIA_OK;
}

void dia_report_limits_free(struct dia_report_limits *limits)
{
    free(limits->items);
    memset(limits, 0, sizeof *limits);
}
