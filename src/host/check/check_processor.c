/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/flicker.h>
#include <diachrome/quantity.h>
#include <diachrome/schedule.h>

#include "check_limits.h"
#include "family.h"

#define USUAL_LOOK    "hue-sweep"
#define SEEN_PERMILLE 250 /* modulation that nobody overlooks: a choice */

/* Of a part of a pulse, in whole cycles of the controller. */
static uint64_t part_ns(uint32_t clock_hz, const struct dia_pulse_range *range)
{
    uint64_t cycles = ((uint64_t)range->nominal_ns * clock_hz + 500000000u) / 1000000000u;
    return (cycles ? cycles : 1) * 1000000000u / clock_hz;
}

/* How long the pulses of a lane take at the most. Of four channels one of the colours is dark. */
static uint64_t pulses_ns(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    const struct dia_pulse_range *range = lane->part.timing.range;
    uint32_t clock_hz = rig->controller.clock_hz, channels = lane->part.channels->count;
    uint64_t dark = channels == 4,
             zero = part_ns(clock_hz, &range[DIA_T0H]) + part_ns(clock_hz, &range[DIA_T0L]);
    uint64_t one = part_ns(clock_hz, &range[DIA_T1H]) + part_ns(clock_hz, &range[DIA_T1L]);
    uint64_t most = zero > one ? zero : one;
    return (most * (channels - dark) + zero * dark) * 8u * lane->count;
}

/* What goes out with interrupts off: lanes one by one, those of a group together. */
static void hold(struct dia_check_processor *p, struct dia_schedule_setup *schedule, uint64_t ns)
{
    dia_schedule_hold(schedule, ns);
    p->longest_hold_ns = ns > p->longest_hold_ns ? ns : p->longest_hold_ns;
    p->sent_ns += ns;
}

static void sending(struct dia_check *check, const struct dia_rig *rig,
                    struct dia_schedule_setup *schedule)
{
    uint64_t groups[DIA_RIG_GROUPS] = {0};
    struct dia_check_processor *p = &check->processor;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (lane->part.family == DIA_CLOCKED) {
            p->sent_ns += check->lanes[i].frame_ns;
        } else if (!lane->group) {
            hold(p, schedule, pulses_ns(rig, lane));
        } else {
            uint64_t ns = pulses_ns(rig, lane), *of = &groups[lane->group - 1];
            *of = ns > *of ? ns : *of;
        }
    }
    for (uint32_t k = 0; k < rig->group_count; k++)
        hold(p, schedule, groups[k]);
    for (uint32_t i = 0; i < rig->device_count; i++) {
        if (check->devices[i].tick_mhz == 0)
            p->sent_ns += check->devices[i].frame_ns;
    }
}

static uint64_t drawn_ns(const struct dia_rig *rig, const struct dia_look_cycles *look)
{
    uint64_t cycles = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++)
        cycles += look->frame + (uint64_t)look->pixel * rig->lanes[i].count;
    return cycles * 1000000000u / rig->controller.clock_hz;
}

/* Frames a second, when drawing takes so long. */
static uint32_t rate_with(const struct dia_check *check, uint64_t draw_ns)
{
    uint64_t ns = check->processor.sent_ns + draw_ns, left = check->tick_permille;
    if (ns == 0 || left >= 1000)
        return 0;
    return dia_rate_at_most(ns * 1000u / (1000u - left));
}

static const struct dia_look_cycles *look_named(const char *name)
{
    const struct dia_look_cycles *look = dia_look_cycles;
    while (look->look && strcmp(look->look, name) != 0)
        look++;
    return look;
}

/* The player shows its frames in step with the ticks; a program does not. So some more begin just
 * before a tick, each of a period. */
#define TICKS_MOST 16

static enum dia_status before_ticks(struct dia_check *check, const struct dia_rig *rig,
                                    struct dia_player *player)
{
    const struct dia_steady white = {{255, 255, 255}};
    enum dia_status status = DIA_OK;
    for (uint32_t i = 0; i < rig->device_count && rig->controller.holds; i++) {
        const struct dia_check_device *c = &check->devices[i];
        uint32_t ticks = c->refresh_mhz ? c->tick_mhz / c->refresh_mhz + 1 : 0;
        for (uint32_t k = 0; k < ticks && k < TICKS_MOST && status == DIA_OK; k++) {
            dia_player_rest_until_tick(player, i, k);
            status = dia_player_show(player, &dia_look_steady, &white, k, k, NULL);
        }
    }
    return status;
}

/* Of a period, of which one is lit. */
static uint32_t units_of(const struct dia_refresh_setup *ticks, uint8_t depth)
{
    uint32_t slices = (1u << depth) - 1u;
    return ticks->turns ? ticks->turns : ticks->rows ? ticks->rows * slices : slices;
}

/* Of a tick at its longest, with what it waits. */
static uint32_t cycles_of(const struct dia_refresh_setup *ticks, const struct dia_check_device *c)
{
    return ticks->tick_cycles +
           (uint32_t)((uint64_t)(c->longest_us - c->tick_us) * ticks->clock_hz / 1000000u);
}

enum dia_status dia_check_processor(struct dia_check *check, const struct dia_rig *rig,
                                    struct dia_player *player)
{
    struct dia_schedule_setup schedule = {.clock_hz = rig->controller.clock_hz,
                                          .rate_mhz = rig->frame_rate_mhz};
    struct dia_check_processor *p = &check->processor;
    int number[DIA_RIG_DEVICES];
    if (rig->controller.holds)
        sending(check, rig, &schedule);
    p->drawn_ns = rig->lane_count ? drawn_ns(rig, look_named(USUAL_LOOK)) : 0;
    p->rate_mhz = rate_with(check, p->drawn_ns);
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct dia_refresh_setup ticks;
        number[i] = dia_check_ticks(rig, &rig->devices[i], &ticks)
                        ? dia_schedule_tick(&schedule, cycles_of(&ticks, &check->devices[i]),
                                            check->devices[i].slice_us,
                                            units_of(&ticks, rig->devices[i].depth))
                        : -1;
    }
    /* ticks without any time come as late as they like, and that is told */
    enum dia_status status =
        check->tick_permille < 1000 ? before_ticks(check, rig, player) : DIA_OK;
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct dia_check_device *c = &check->devices[i];
        if (number[i] < 0)
            continue;
        c->late_ns = dia_schedule_late_ns(&schedule, number[i]);
        c->was_late_ns = dia_player_late_ns(player, i);
        c->modulation_permille =
            p->longest_hold_ns ? dia_schedule_modulation_permille(&schedule, number[i]) : 0;
    }
    return status;
}

/* The lane, or a lane of the group, that goes out longest. */
static const struct dia_rig_lane *longest_lane(const struct dia_rig *rig)
{
    const struct dia_rig_lane *longest = NULL;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (lane->part.family == DIA_ONEWIRE &&
            (!longest || pulses_ns(rig, lane) > pulses_ns(rig, longest)))
            longest = lane;
    }
    return longest;
}

/* A tick that waits for pulses: what is lit then stays lit, and all else dark, frame for frame. */
static void late(struct dia_check *check, const struct dia_rig *rig, uint32_t i)
{
    const struct dia_check_device *c = &check->devices[i];
    const struct dia_rig_lane *lane = longest_lane(rig);
    uint32_t risk = dia_flicker_low_risk_permille(rig->frame_rate_mhz);
    struct dia_words w[1];
    if (!lane || c->modulation_permille <= risk)
        return;
    dia_check_add(
        check, c->modulation_permille > SEEN_PERMILLE ? DIA_ERROR : DIA_WARNING, "tick-late",
        rig->devices[i].name, "planned; IEEE 1789-2015; from 25 % on seen by all, a choice",
        "a tick waits up to %.2f ms for '%s', sent with interrupts off, so its light goes up and "
        "down by %u %% at %s (low risk: %.1f %%): send pulses in the background ('pulses'), or "
        "shorter lanes as a 'group'",
        (double)c->late_ns / 1e6, lane->name, (unsigned)c->modulation_permille / 10,
        dia_quantity_as(rig->frame_rate_mhz, DIA_RATE, w), risk / 10.0);
}

/* Looks that take longer than a frame has, all named. */
static void slow_looks(struct dia_check *check, const struct dia_rig *rig)
{
    char names[200] = "";
    uint32_t slowest_mhz = UINT32_MAX;
    for (const struct dia_look_cycles *look = dia_look_cycles; look->look; look++) {
        uint32_t rate_mhz = rate_with(check, drawn_ns(rig, look));
        size_t used = strlen(names);
        if (rate_mhz >= rig->frame_rate_mhz)
            continue;
        slowest_mhz = rate_mhz < slowest_mhz ? rate_mhz : slowest_mhz;
        snprintf(names + used, sizeof names - used, "%s%s", used ? ", " : "", look->look);
    }
    struct dia_words w[2];
    if (names[0])
        dia_check_add(check, DIA_NOTE, "look-time", "controller", "counted on an ATmega328P",
                      "there is no time for these looks on all lanes at %s: %s (down to %s)",
                      dia_quantity_as(rig->frame_rate_mhz, DIA_RATE, &w[0]), names,
                      dia_quantity_as(slowest_mhz, DIA_RATE, &w[1]));
}

void dia_check_processor_limits(struct dia_check *check, const struct dia_rig *rig)
{
    const struct dia_check_processor *p = &check->processor;
    struct dia_words w[2];
    for (uint32_t i = 0; i < rig->device_count; i++)
        late(check, rig, i);
    if (check->tick_permille >= 1000 || p->drawn_ns + p->sent_ns == 0)
        return; /* no time at all, which is told; or nothing to do */
    if (p->rate_mhz >= rig->frame_rate_mhz) {
        slow_looks(check, rig);
        return;
    }
    char ticks[40] = "";
    if (check->tick_permille)
        snprintf(ticks, sizeof ticks, ", ticks take %.1f %%", check->tick_permille / 10.0);
    dia_check_add(
        check, rig->controller.counted ? DIA_ERROR : DIA_WARNING, "processor-time", "controller",
        rig->controller.counted ? "counted on an ATmega328P"
                                : "counted on an ATmega328P; 32-bit processors need fewer cycles",
        "'frame_rate' is %s; drawing a hue sweep takes %.1f ms, sending it %.1f ms%s, so %s is "
        "the most: ask for less, use fewer pixels, or a faster controller",
        dia_quantity_as(rig->frame_rate_mhz, DIA_RATE, &w[0]), (double)p->drawn_ns / 1e6,
        (double)p->sent_ns / 1e6, ticks, dia_quantity_as(p->rate_mhz, DIA_RATE, &w[1]));
}
