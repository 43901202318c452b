/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "check_devices.h"
#include "check_limits.h"

struct words {
    char text[40];
};

static const char *as(int64_t value, enum dia_quantity kind, struct words *words)
{
    return dia_quantity_write(value, kind, words->text, sizeof words->text);
}

static void levels(struct dia_check *check, const struct dia_rig *rig,
                   const struct dia_rig_device *device)
{
    const struct dia_rig_supply *supply = &rig->supplies[device->supply];
    struct device_levels at = check_levels(device, supply->voltage_mv);
    struct words w[3];
    if (supply->voltage_mv < at.supply_min_mv || supply->voltage_mv > at.supply_max_mv) {
        /* many panels are run at 3.3 V: outside the sheet, but no reason to stop */
        int works = device->kind == DIA_KIND_PANEL && supply->voltage_mv >= 3000 &&
                    supply->voltage_mv <= at.supply_max_mv;
        check_add(check, works ? DIA_WARNING : DIA_ERROR, "supply-voltage", device->name, at.source,
                  "%s from supply '%s'; %s takes %s to %s%s",
                  as(supply->voltage_mv, DIA_VOLTAGE, &w[0]), supply->name, device->chip,
                  as(at.supply_min_mv, DIA_VOLTAGE, &w[1]),
                  as(at.supply_max_mv, DIA_VOLTAGE, &w[2]),
                  works ? ": many run so, none is sure to" : "");
        return;
    }
    uint32_t high = device->shifter_mv ? device->shifter_mv : rig->controller.logic_high_mv;
    if (high < at.input_high_mv)
        check_add(
            check, DIA_ERROR, "logic-high", device->name, at.source,
            "the controller's high is %s; %s at %s needs %s: put a 74AHCT level shifter at %s "
            "before it%s",
            as(high, DIA_VOLTAGE, &w[0]), device->chip, as(supply->voltage_mv, DIA_VOLTAGE, &w[1]),
            as(at.input_high_mv, DIA_VOLTAGE, &w[2]), w[1].text,
            device->kind == DIA_KIND_SHIFT ? ", or take 74HCT595" : "");
}

/* Outputs of a 74HC595: 6 mA for the levels stated, 35 mA and 70 mA a chip at most. */
static void shift_currents(struct dia_check *check, const struct dia_rig_device *device,
                           const struct dia_check_device *c)
{
    const char *source = "74HC595 sheet, recommended conditions and limiting values";
    struct words w[2];
    if (c->chip_ua > dia_74hc595.chip_max_ma * 1000u)
        check_add(
            check, DIA_ERROR, "chip-current", device->name, source,
            "%s through one chip with all its lamps lit; it stands %s: less current a lamp, or "
            "fewer lamps a chip",
            as(c->chip_ua, DIA_CURRENT, &w[0]),
            as(dia_74hc595.chip_max_ma * 1000, DIA_CURRENT, &w[1]));
    if (c->output_ua > dia_74hc595.output_ua)
        check_add(check, DIA_WARNING, "output-current", device->name, source,
                  "%s from an output; it keeps its levels up to %s",
                  as(c->output_ua, DIA_CURRENT, &w[0]),
                  as(dia_74hc595.output_ua, DIA_CURRENT, &w[1]));
}

/* Choice: 20 mA a pin, half of what common controllers stand for a moment. */
#define PIN_UA 20000u

static void digits_currents(struct dia_check *check, const struct dia_rig_device *device,
                            const struct dia_check_device *c)
{
    const char *source = "choice: 20 mA a pin of a controller";
    struct words w[2];
    if (c->output_ua > PIN_UA)
        check_add(check, DIA_ERROR, "output-current", device->name, source,
                  "%s from a pin for a segment; at most %s", as(c->output_ua, DIA_CURRENT, &w[0]),
                  as(PIN_UA, DIA_CURRENT, &w[1]));
    if (!device->transistors && c->chip_ua > PIN_UA)
        check_add(check, DIA_ERROR, "common-current", device->name, source,
                  "%s through the pin of a common; at most %s: put a transistor there",
                  as(c->chip_ua, DIA_CURRENT, &w[0]), as(PIN_UA, DIA_CURRENT, &w[1]));
}

/* Lit in turns is modulation of 100 %: without risk from 1250 Hz on. */
static void flicker(struct dia_check *check, const struct dia_rig_device *device,
                    const struct dia_check_device *c)
{
    struct words w[1];
    if (c->refresh_mhz == 0 || (device->kind == DIA_KIND_SHIFT && device->depth == 1))
        return;
    const char *rate = as(c->refresh_mhz / 100 * 100, DIA_RATE, w);
    if (c->refresh_mhz < 100000)
        check_add(check, DIA_ERROR, "flicker", device->name, "choice: 100 Hz, better 200 Hz",
                  "all lamps have had their turn %s; below 100 Hz it is seen to flicker", rate);
    else if (device->kind != DIA_KIND_MATRIX && c->refresh_mhz < 1250000)
        check_add(check, DIA_NOTE, "flicker", device->name, "IEEE 1789-2015",
                  "switched on and off at %s; of low risk to all people from 1250 Hz on", rate);
}

static void ticks(struct dia_check *check, const struct dia_rig *rig)
{
    const char *source = "counted on an ATmega328P";
    struct words w[1];
    if (check->tick_permille > 1000)
        check_add(check, DIA_ERROR, "tick-time", "controller", source,
                  "ticks would take %u %% of the controller's time at %s: lower 'refresh' or "
                  "'depth', or 'clock' for SPI instead of pins",
                  (unsigned)check->tick_permille / 10, as(rig->controller.clock_hz, DIA_CLOCK, w));
    else if (check->tick_permille > 500)
        check_add(check, DIA_WARNING, "tick-time", "controller", source,
                  "ticks take %u %% of the controller's time at %s",
                  (unsigned)check->tick_permille / 10, as(rig->controller.clock_hz, DIA_CLOCK, w));
}

void check_device_limits(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *device = &rig->devices[i];
        const struct dia_check_device *c = &check->devices[i];
        levels(check, rig, device);
        if (device->kind == DIA_KIND_SHIFT)
            shift_currents(check, device, c);
        if (device->kind == DIA_KIND_DIGITS)
            digits_currents(check, device, c);
        flicker(check, device, c);
    }
    ticks(check, rig);
}
