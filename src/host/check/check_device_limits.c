/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "check_devices.h"
#include "check_limits.h"
#include "family.h"

#define BEYOND_MV 300u /* that pins stand above their own high */

static void levels(struct dia_check *check, const struct dia_rig *rig,
                   const struct dia_rig_device *device)
{
    const struct dia_rig_supply *supply = &rig->supplies[device->supply];
    struct family_levels at = device->family->levels(device->part, supply->voltage_mv);
    struct dia_words w[3];
    if (supply->voltage_mv < at.supply_min_mv || supply->voltage_mv > at.supply_max_mv) {
        int works = at.works_from_mv && supply->voltage_mv >= at.works_from_mv &&
                    supply->voltage_mv <= at.supply_max_mv;
        dia_check_add(check, works ? DIA_WARNING : DIA_ERROR, "supply-voltage", device->name,
                      at.source, "%s from supply '%s'; %s takes %s to %s%s",
                      dia_quantity_as(supply->voltage_mv, DIA_VOLTAGE, &w[0]), supply->name,
                      device->chip, dia_quantity_as(at.supply_min_mv, DIA_VOLTAGE, &w[1]),
                      dia_quantity_as(at.supply_max_mv, DIA_VOLTAGE, &w[2]),
                      works ? ": many run so, none is sure to" : "");
        return;
    }
    uint32_t high = device->shifter.mv ? device->shifter.mv : rig->controller.logic_high_mv;
    const char *two_way = device->family->two_way ? device->family->two_way(device) : NULL;
    char but[120] = "";
    if (two_way)
        snprintf(but, sizeof but, "; into %s, which goes both ways, put " DIA_TWO_WAY_SHIFTER,
                 two_way);
    if (high < at.input_high_mv)
        dia_check_add(
            check, DIA_ERROR, "logic-high", device->name, at.source,
            "the controller's high is %s; %s at %s needs %s: put a 74AHCT level shifter at %s "
            "before it%s%s",
            dia_quantity_as(high, DIA_VOLTAGE, &w[0]), device->chip,
            dia_quantity_as(supply->voltage_mv, DIA_VOLTAGE, &w[1]),
            dia_quantity_as(at.input_high_mv, DIA_VOLTAGE, &w[2]), w[1].text,
            at.instead ? at.instead : "", but);
    else if (two_way && (device->shifter.is == DIA_SHIFTER_74AHCT125 ||
                         device->shifter.is == DIA_SHIFTER_74HCT245))
        dia_check_add(check, DIA_ERROR, "two-way", device->name, at.source,
                      "%s drives one way only, and %s goes both ways: put " DIA_TWO_WAY_SHIFTER
                      " (such as BSS138) into that line",
                      dia_rig_shifter_name(device->shifter.is), two_way);
    else if (device->shifter.mv && two_way && device->shifter.is != DIA_SHIFTER_BSS138)
        dia_check_add(check, DIA_NOTE, "two-way", device->name, at.source,
                      "%s goes both ways: its shifter must be " DIA_TWO_WAY_SHIFTER
                      ", not a 74AHCT",
                      two_way);
    else if (two_way && supply->voltage_mv > high + BEYOND_MV)
        dia_check_add(check, DIA_WARNING, "two-way", device->name,
                      "choice: 0.3 V above the controller's high",
                      "%s goes both ways and comes back at up to %s; the controller's high is %s: "
                      "put " DIA_TWO_WAY_SHIFTER " into it, unless the controller stands that",
                      two_way, dia_quantity_as(supply->voltage_mv, DIA_VOLTAGE, &w[0]),
                      dia_quantity_as(high, DIA_VOLTAGE, &w[1]));
}

/* A pass transistor lets a line rise through its pull-up: 10 kohm and 50 pF take 1.1 us to 90 %. */
#define PASS_MOST_HZ 400000u

static void slow_shifter(struct dia_check *check, const struct dia_rig_device *device)
{
    struct dia_words w[1];
    if (device->shifter.is == DIA_SHIFTER_BSS138 && device->clock_hz > PASS_MOST_HZ)
        dia_check_add(check, DIA_ERROR, "shifter-slow", device->name,
                      "choice: 10 kohm and 50 pF, 1.1 us to 90 %",
                      "BSS138 is good for some 400 kHz, and the clock is %s: put a 74AHCT125 into "
                      "lines of one way, or lower 'clock'",
                      dia_quantity_as(device->clock_hz, DIA_CLOCK, w));
}

static void check_no_answer(struct dia_check *check, const struct dia_rig_device *device)
{
    char facts[160];
    dia_rig_facts(device, facts, sizeof facts);
    dia_check_add(check, DIA_ERROR, "no-answer", device->name, "measured on the bench",
                  "it did not take what was sent: look at its supply, its wires (%s)%s", facts,
                  device->address ? " and its address" : "");
}

/* Lit in turns is modulation of 100 %: without risk from 1250 Hz on. */
static void flicker(struct dia_check *check, const struct dia_rig_device *device,
                    const struct dia_check_device *c)
{
    struct dia_words w[1];
    if (c->refresh_mhz == 0 || device->depth == 1)
        return;
    const char *rate = dia_quantity_as(c->refresh_mhz / 100 * 100, DIA_RATE, w);
    if (c->refresh_mhz < 100000)
        dia_check_add(check, DIA_ERROR, "flicker", device->name, "choice: 100 Hz, better 200 Hz",
                      "all lamps have had their turn %s; below 100 Hz it is seen to flicker", rate);
    else if (device->family->flickers && c->refresh_mhz < 1250000)
        dia_check_add(check, DIA_NOTE, "flicker", device->name, "IEEE 1789-2015",
                      "switched on and off at %s; low risk for everyone at 1250 Hz and above",
                      rate);
}

/* Ticks come in whole microseconds, so that a fast refresh is far from what was asked for. */
static void refresh(struct dia_check *check, const struct dia_rig_device *device,
                    const struct dia_check_device *c)
{
    struct dia_words w[2];
    if (device->refresh_mhz == 0 ||
        c->refresh_mhz <= device->refresh_mhz + device->refresh_mhz / 10)
        return;
    dia_check_add(check, DIA_NOTE, "refresh", device->name, "ticks come in whole microseconds",
                  "'refresh' is %s; it runs at %s, the nearest that is not slower",
                  dia_quantity_as(device->refresh_mhz, DIA_RATE, &w[0]),
                  dia_quantity_as(c->refresh_mhz / 100 * 100, DIA_RATE, &w[1]));
}

/* A tick that has not ended when the next one is due makes its slice longer: dim levels too bright.
 */
static void slices(struct dia_check *check, const struct dia_rig_device *device,
                   const struct dia_check_device *c)
{
    struct dia_words w[2];
    if (c->slice_short && device->channels == 3)
        dia_check_add(check, DIA_ERROR, "slice-short", device->name, "counted on an ATmega328P",
                      "ticks of %u us leave no time for %s with %u bits; it runs at %s: lower "
                      "'refresh' or 'depth' ('diachrome refresh' has what fits)",
                      (unsigned)c->tick_us, dia_quantity_as(device->refresh_mhz, DIA_RATE, &w[0]),
                      device->depth, dia_quantity_as(c->refresh_mhz / 100 * 100, DIA_RATE, &w[1]));
    else if (c->slice_short && c->tick_permille <= 1000)
        dia_check_add(check, DIA_ERROR, "slice-short", device->name, "counted on an ATmega328P",
                      "its shortest slice is %u us, and a tick takes up to %u us, so dim levels "
                      "come out too bright: lower 'refresh' or 'depth' ('diachrome refresh' has "
                      "what fits)%s",
                      (unsigned)c->slice_us, (unsigned)c->tick_us,
                      dia_rig_is_chain(device) && device->clock_hz == 0
                          ? ", or write 'clock' for SPI instead of pins"
                          : "");
}

static void ticks(struct dia_check *check, const struct dia_rig *rig)
{
    const char *source = "counted on an ATmega328P";
    struct dia_words w[1];
    if (check->tick_permille > 1000)
        dia_check_add(check, DIA_ERROR, "tick-time", "controller", source,
                      "ticks would take %u %% of the controller's time at %s: lower 'refresh' or "
                      "'depth', or 'clock' for SPI instead of pins",
                      (unsigned)check->tick_permille / 10,
                      dia_quantity_as(rig->controller.clock_hz, DIA_CLOCK, w));
    else if (check->tick_permille > 500)
        dia_check_add(check, DIA_WARNING, "tick-time", "controller", source,
                      "ticks take %u %% of the controller's time at %s",
                      (unsigned)check->tick_permille / 10,
                      dia_quantity_as(rig->controller.clock_hz, DIA_CLOCK, w));
}

void dia_check_device_limits(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *device = &rig->devices[i];
        const struct dia_check_device *c = &check->devices[i];
        levels(check, rig, device);
        slow_shifter(check, device);
        if (c->refused)
            check_no_answer(check, device);
        if (device->family->limits)
            device->family->limits(check, device, c);
        refresh(check, device, c);
        slices(check, device, c);
        flicker(check, device, c);
    }
    ticks(check, rig);
}
