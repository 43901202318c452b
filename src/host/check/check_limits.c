/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "check_devices.h"
#include "check_limits.h"

/* Quantities in texts: a few buffers in turn, enough for one sentence. */
struct words {
    char text[4][40];
};

static const char *volts(struct words *words, int i, uint32_t mv)
{
    return dia_quantity_write(mv, DIA_VOLTAGE, words->text[i], sizeof words->text[i]);
}

/* to three places, as a meter shows it */
static const char *amperes(struct words *words, int i, uint64_t ua)
{
    int64_t step = ua >= 1000000 ? 10000 : ua >= 1000 ? 1000 : 1;
    return dia_quantity_write(((int64_t)ua + step / 2) / step * step, DIA_CURRENT, words->text[i],
                              sizeof words->text[i]);
}

static int supply_voltage(struct dia_check *check, const struct dia_rig *rig,
                          const struct dia_rig_lane *lane)
{
    const struct dia_pixel_part *part = &lane->part;
    uint32_t mv = rig->supplies[lane->supply].voltage_mv;
    struct words w = {{""}};
    if (mv >= part->supply_min_mv && mv <= part->supply_max_mv)
        return 1;
    dia_check_add(check, DIA_ERROR, "supply-voltage", lane->name, part->source,
                  "%s from supply '%s'; %s takes %s to %s", volts(&w, 0, mv),
                  rig->supplies[lane->supply].name, part->name, volts(&w, 1, part->supply_min_mv),
                  volts(&w, 2, part->supply_max_mv));
    return 0;
}

static void logic_level(struct dia_check *check, const struct dia_rig *rig,
                        const struct dia_rig_lane *lane)
{
    const struct dia_pixel_part *part = &lane->part;
    uint32_t compared = dia_rig_lane_logic_mv(rig, lane), needed = dia_rig_lane_needs_mv(rig, lane);
    uint32_t high = dia_rig_lane_high_mv(rig, lane);
    struct words w = {{""}};
    if (lane->shifter.is == DIA_SHIFTER_BSS138)
        dia_check_add(
            check, DIA_ERROR, "shifter-slow", lane->name,
            "choice: 10 kohm and 50 pF, 1.1 us to 90 %",
            "BSS138 is too slow for %s, whose bits take 1 us or so: put a 74AHCT125 there",
            part->name);
    if (high < needed)
        dia_check_add(check, DIA_ERROR, "logic-high", lane->name, part->source,
                      "%s high is %s; %s at %s needs %s (%d %%): put a 74AHCT level shifter at %s "
                      "before the first pixel",
                      lane->shifter.mv ? "the shifter's" : "the controller's", volts(&w, 0, high),
                      part->name, volts(&w, 1, compared), volts(&w, 2, needed),
                      part->input_high_permille / 10, volts(&w, 3, compared));
}

static void frame_rate(struct dia_check *check, const struct dia_rig *rig)
{
    if (rig->lane_count + rig->device_count == 0 || rig->frame_rate_mhz <= check->rate_mhz ||
        check->tick_permille >= 1000)
        return; /* no wires, or kept, or ticks leave no time for any, which is told */
    char asked[40], there[40];
    dia_quantity_write(rig->frame_rate_mhz, DIA_RATE, asked, sizeof asked);
    dia_quantity_write(check->rate_mhz, DIA_RATE, there, sizeof there);
    dia_check_add(
        check, DIA_ERROR, "frame-rate", "lanes", "measured on the bench",
        "'frame_rate' is %s; the wire carries %s at most: ask for less, or split the longest lane",
        asked, there);
}

static void memory(struct dia_check *check, const struct dia_rig *rig)
{
    uint32_t ram = rig->controller.ram_bytes, needed = check->frame_ram + check->stack_ram;
    const char *source = "size of frame buffers and contexts";
    if (needed > ram && needed - check->inplace_ram <= ram)
        dia_check_add(check, DIA_WARNING, "ram", "controller", source,
                      "%u bytes needed, %u there: it fits with one-wire strips in one buffer "
                      "(dia_inplace_strip), %u bytes, or with fewer pixels",
                      (unsigned)needed, (unsigned)ram, (unsigned)(needed - check->inplace_ram));
    else if (needed > ram)
        dia_check_add(check, DIA_ERROR, "ram", "controller", source,
                      "%u bytes needed, %u there: use fewer pixels or a larger controller",
                      (unsigned)needed, (unsigned)ram);
    else if (needed > ram / 4 * 3)
        dia_check_add(check, DIA_WARNING, "ram", "controller", source,
                      "%u of %u bytes are taken; your own program has the other %u",
                      (unsigned)needed, (unsigned)ram, (unsigned)(ram - needed));
    if (rig->controller.flash_bytes < DIA_CHECK_FLASH_BYTES)
        dia_check_add(check, DIA_ERROR, "flash", "controller", "size of the smallest program",
                      "%u bytes there; the smallest program takes up to %u",
                      (unsigned)rig->controller.flash_bytes, DIA_CHECK_FLASH_BYTES);
}

static void supply_current(struct dia_check *check, const struct dia_rig *rig, uint32_t number)
{
    const struct dia_rig_supply *supply = &rig->supplies[number];
    uint64_t given = supply->current_ua - supply->reserve_ua, idle = 0;
    struct words w = {{""}};
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (rig->lanes[i].supply == number)
            idle += (uint64_t)rig->lanes[i].count * rig->lanes[i].part.power.idle_ua;
    }
    if (idle >= given) {
        dia_check_add(check, DIA_ERROR, "supply-idle", supply->name, "idle current of the parts",
                      "dark pixels alone draw %s; there is %s for them: take a larger supply",
                      amperes(&w, 0, idle), amperes(&w, 1, given));
        return;
    }
    const struct dia_check_current *most = &check->currents[number][0];
    for (uint32_t n = 1; n < check->look_count; n++) {
        if (check->currents[number][n].asked_ua > most->asked_ua)
            most = &check->currents[number][n];
    }
    if (most->least_share != DIA_SHARE_ONE)
        dia_check_add(check, DIA_NOTE, "supply-limited", supply->name, "current of the parts",
                      "%s asks for %s of %s; the limiter holds it there, with %d %% of its light",
                      most->look, amperes(&w, 0, most->asked_ua),
                      amperes(&w, 1, supply->current_ua), dia_percent_of(most->least_share));
}

void dia_check_limits(struct dia_check *check, const struct dia_rig *rig,
                      const struct dia_findings *of_bench)
{
    for (uint32_t i = 0; i < of_bench->count; i++)
        dia_findings_add(&check->findings, &of_bench->items[i]);
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        /* the level to compare with is that of a supply the part can live with */
        if (supply_voltage(check, rig, &rig->lanes[i]))
            logic_level(check, rig, &rig->lanes[i]);
    }
    dia_check_feeds(check, rig);
    dia_check_device_limits(check, rig);
    frame_rate(check, rig);
    dia_check_processor_limits(check, rig);
    dia_check_flickers(check, rig);
    memory(check, rig);
    for (uint32_t i = 0; i < rig->supply_count; i++)
        supply_current(check, rig, i);
}
