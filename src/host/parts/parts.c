/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/feeding.h>
#include <diachrome/parts.h>
#include <diachrome/quantity.h>
#include <diachrome/resistor.h>

#include "family.h"

static void add(struct dia_parts *parts, uint32_t pieces, const char *name, const char *source,
                const char *used, ...) __attribute__((format(printf, 5, 6)));

static void add(struct dia_parts *parts, uint32_t pieces, const char *name, const char *source,
                const char *used, ...)
{
    va_list args;
    if (parts->count == parts->room) {
        uint32_t room = parts->room ? parts->room * 2 : 16;
        struct dia_part *items = realloc(parts->items, room * sizeof *items);
        if (!items) {
            parts->lost = 1;
            return;
        }
        parts->items = items;
        parts->room = room;
    }
    struct dia_part *part = &parts->items[parts->count++];
    memset(part, 0, sizeof *part);
    part->pieces = pieces;
    snprintf(part->name, sizeof part->name, "%s", name);
    snprintf(part->source, sizeof part->source, "%s", source);
    va_start(args, used);
    vsnprintf(part->used, sizeof part->used, used, args);
    va_end(args);
}

/* "resistor 330 ohm, 125 mW" */
static const char *resistor(char name[48], uint32_t mohm, uint32_t heat_uw)
{
    struct dia_words w[1];
    snprintf(name, 48, "resistor %s, %u mW", dia_quantity_as(mohm, DIA_RESISTANCE, w),
             (unsigned)dia_resistor_rating_mw(heat_uw));
    return name;
}

/* A capacitor stands a quarter more than the supply gives: of the usual ratings. */
static const char *capacitor(char name[48], const char *farads, uint32_t supply_mv)
{
    static const uint32_t ratings_mv[] = {6300, 10000, 16000, 25000, 35000, 50000, 63000, 100000};
    struct dia_words w[1];
    size_t i = 0;
    while (i < 7 && ratings_mv[i] < supply_mv + supply_mv / 4)
        i++;
    snprintf(name, 48, "capacitor %s, %s", farads, dia_quantity_as(ratings_mv[i], DIA_VOLTAGE, w));
    return name;
}

/* ---- lanes ---------------------------------------------------------------------------------- */

#define DATA_MOHM 330000u
#define CARE      "choice: usual care, 300 to 500 ohm"

static void wires(struct dia_parts *parts, const struct dia_rig_lane *lane)
{
    for (uint32_t i = 0; i < lane->feed_count; i++) {
        const struct dia_rig_feed *feed = &lane->feeds[i];
        struct dia_words w[1];
        char name[48];
        int is_ground = feed->supply == DIA_RIG_NO_SUPPLY;
        snprintf(name, sizeof name, "wire %s", dia_quantity_as(feed->section_um2, DIA_SECTION, w));
        add(parts, feed->length_um / 1000 * (is_ground ? 1 : 2), name, "the rig file",
            is_ground ? "ground of %s at pixel %u" : "feed of %s at pixel %u, there and back",
            lane->name, (unsigned)feed->element);
        snprintf(name, sizeof name, "fuse %s", dia_quantity_as(feed->fuse_ua, DIA_CURRENT, w));
        if (feed->fuse_ua)
            add(parts, 1, name, "the rig file", "feed of %s at pixel %u", lane->name,
                (unsigned)feed->element);
    }
}

/* As many chips as so many lines need: 74HCT245 have eight gates, 74AHCT125 four. */
static void shifter(struct dia_parts *parts, const struct dia_rig_shifter *of, const char *whom,
                    const char *lines, uint32_t count, uint32_t mv)
{
    uint32_t gates = of->is == DIA_SHIFTER_74HCT245 ? 8 : 4;
    add(parts, (count + gates - 1) / gates,
        of->is == DIA_SHIFTER_74HCT245 ? "74HCT245, one gate a line" : "74AHCT125, one gate a line",
        "its sheet: high from 2.0 V at 5 V",
        "%s of %s, at %.3g V; not into a line that goes both ways", lines, whom, mv / 1e3);
}

static void lane(struct dia_parts *parts, const struct dia_rig *rig, const struct dia_rig_lane *of)
{
    char name[48];
    uint32_t mv = rig->supplies[of->supply].voltage_mv;
    int clocked = of->part.family == DIA_CLOCKED;
    uint32_t ends = 0;
    add(parts, clocked ? 2 : 1, resistor(name, DATA_MOHM, 0), CARE, "%s of %s, at %s",
        clocked ? "data and clock" : "data", of->name,
        of->shifter.mv ? "the shifter's output" : "the first pixel");
    for (uint32_t i = 0; i < of->feed_count; i++)
        ends += of->feeds[i].supply != DIA_RIG_NO_SUPPLY;
    add(parts, ends ? ends : 1, capacitor(name, "1000 uF", mv), "choice: usual care, at each feed",
        "supply of %s, at the strip", of->name);
    if (of->shifter.mv || rig->controller.logic_high_mv < dia_rig_lane_needs_mv(rig, of))
        shifter(parts, &of->shifter, of->name, clocked ? "data and clock" : "data", clocked ? 2 : 1,
                of->shifter.mv ? of->shifter.mv : dia_rig_lane_logic_mv(rig, of));
    wires(parts, of);
}

/* ---- devices -------------------------------------------------------------------------------- */

static void lamps(struct dia_parts *parts, const struct dia_rig *rig,
                  const struct dia_rig_device *of)
{
    struct family_circuit circuit;
    struct dia_words w[1];
    char name[48];
    of->family->circuit(rig, of, &circuit);
    circuit.led.forward_mv = of->forward_mv;
    uint32_t mohm = of->resistor_mohm;
    if (!mohm)
        mohm = dia_resistor_next(dia_led_resistor_mohm(&circuit.led, of->lamp_ua), DIA_E24);
    if (!mohm || dia_led_current_ua(&circuit.led, mohm) == 0) {
        add(parts, 0, "no resistor", circuit.source,
            "%s of %s: %.2f V of the LED are more than there is, or nothing is left for one",
            circuit.at, of->name, of->forward_mv / 1e3);
        return;
    }
    uint32_t ua = dia_led_current_ua(&circuit.led, mohm);
    add(parts, circuit.resistors,
        resistor(name, mohm, dia_resistor_heat_uw(mohm, ua, circuit.duty_permille)), circuit.source,
        "each %s of %s: %s while it is lit, LEDs of %.2f V", circuit.at, of->name,
        dia_quantity_as((ua + 50) / 100 * 100, DIA_CURRENT, w), of->forward_mv / 1e3);
    if (of->inverted)
        add(parts, of->digits, "transistor", "the rig file: commons are inverted",
            "each common of %s; it carries up to %s", of->name,
            dia_quantity_as((ua * (of->by_segment ? 1u : of->per_digit) + 500) / 1000 * 1000,
                            DIA_CURRENT, w));
}

static void segment_setting(struct dia_parts *parts, const struct dia_rig_device *of)
{
    char name[48];
    struct dia_words w[1];
    uint32_t ohm = of->resistor_mohm / 1000;
    if (!ohm)
        ohm = dia_resistor_next(dia_segment_resistor_ohm(of->lamp_ua, of->forward_mv) * 1000,
                                DIA_E24) /
              1000;
    uint32_t ua = dia_segment_current_ua(ohm, of->forward_mv);
    add(parts, of->count, resistor(name, ohm * 1000, 0), "sheet, table of RSET",
        "ISET of each chip of %s: %s a segment, LEDs of %.2f V", of->name,
        dia_quantity_as((ua + 50) / 100 * 100, DIA_CURRENT, w), of->forward_mv / 1e3);
    add(parts, of->count, "capacitor 10 uF, 10 V", "sheet, supply bypassing", "each chip of %s",
        of->name);
}

/*
 * Pull-ups of I2C: at least (supply - 0.4 V) / 3 mA, so that a chip can pull low; at most 1 us /
 * (0.8473
 * * C) for 100 kHz, which 100 pF of wire allow 11.8 kohm (UM10204).
 */
static void two_wires(struct dia_parts *parts, const struct dia_rig_device *of)
{
    char name[48];
    add(parts, 2, resistor(name, 4700000, 0), "UM10204: 1.5 to 11.8 kohm at 5 V, 100 kHz, 100 pF",
        "pull-ups of SDA and SCL of %s", of->name);
}

/* Contrast of a 5 V part is 0.2 to 1 V above ground: 0.5 V in the middle. */
static void display(struct dia_parts *parts, const struct dia_rig *rig,
                    const struct dia_rig_device *of)
{
    char name[48];
    uint32_t mv = rig->supplies[of->supply].voltage_mv;
    uint32_t below = dia_resistor_next((uint32_t)(10000000.0 * 500 / (mv - 500) * 0.95), DIA_E24);
    add(parts, 1, resistor(name, 10000000, 0), "choice: 0.5 V at VO, of 0.2 to 1 V",
        "contrast of %s, from the supply to VO", of->name);
    add(parts, 1, resistor(name, below, 0), "choice: 0.5 V at VO, of 0.2 to 1 V",
        "contrast of %s, from VO to ground: %.2f V (or a potentiometer of 10 kohm)", of->name,
        mv / 1e3 * below / (10000000.0 + below));
}

/* Wires from the controller, but for those that go both ways. */
static uint32_t lines_to(const struct dia_rig_device *of, int two_way)
{
    uint32_t n = 0;
    if (two_way && dia_rig_lies(of) == DIA_LIES_CELLS)
        return 3; /* RS, R/W and E: data comes back */
    for (uint32_t k = 0; k < DIA_RIG_PINS; k++)
        n += of->pins[k] != DIA_NO_PIN;
    return n - (two_way && n > 1);
}

static void device(struct dia_parts *parts, const struct dia_rig *rig,
                   const struct dia_rig_device *of)
{
    char name[48];
    const struct dia_rig_family *family = of->family;
    uint32_t mv = rig->supplies[of->supply].voltage_mv;
    struct family_levels at = family->levels(of->part, mv);
    const char *two_way = family->two_way ? family->two_way(of) : NULL;
    uint32_t high = rig->controller.logic_high_mv;
    int shifted = of->shifter.mv || high < at.input_high_mv;
    if (family->circuit)
        lamps(parts, rig, of);
    if (family->sets_current)
        segment_setting(parts, of);
    if (of->part) /* a chip */
        add(parts, of->count, capacitor(name, "100 nF", mv), "choice: usual care, at each chip",
            "supply of %s", of->name);
    if (of->address)
        two_wires(parts, of);
    if (dia_rig_lies(of) == DIA_LIES_CELLS)
        display(parts, rig, of);
    if (shifted && of->shifter.is != DIA_SHIFTER_BSS138)
        shifter(parts, &of->shifter, of->name, two_way ? "the other lines" : "lines to it",
                lines_to(of, two_way != NULL), of->shifter.mv ? of->shifter.mv : mv);
    if (two_way && shifted)
        add(parts, 1, "BSS138 and two resistors of 10 kohm",
            "a pass transistor, pulled up on both sides",
            "%s of %s, which goes both ways: no 74AHCT there", two_way, of->name);
    else if (two_way && dia_rig_lies(of) != DIA_LIES_CELLS)
        add(parts, 1, resistor(name, 10000000, 0), "choice: 10 kohm", "pull-up of %s of %s",
            two_way, of->name);
}

enum dia_status dia_parts_list(struct dia_parts *parts, const struct dia_rig *rig)
{
    memset(parts, 0, sizeof *parts);
    for (uint32_t i = 0; i < rig->lane_count; i++)
        lane(parts, rig, &rig->lanes[i]);
    for (uint32_t i = 0; i < rig->device_count; i++)
        device(parts, rig, &rig->devices[i]);
    for (uint32_t i = 0; i < rig->button_count; i++) {
        char name[48];
        if (rig->buttons[i].pressed)
            add(parts, 1, resistor(name, 10000000, 0), "choice: 10 kohm", "pull-down of %s",
                rig->buttons[i].name);
    }
    return parts->lost ? DIA_PORT_FAILED : DIA_OK;
}

void dia_parts_free(struct dia_parts *parts)
{
    free(parts->items);
    memset(parts, 0, sizeof *parts);
}
