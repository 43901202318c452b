/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>

#include <diachrome/quantity.h>

#include "check_report.h"
#include "findings_text.h"

static void heading(int in_colour, const char *text)
{
    printf("%s%s%s\n", in_colour ? "\033[1m" : "", text, in_colour ? "\033[0m" : "");
}

static void lies(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    const struct dia_rig_layout *layout = &lane->layout;
    struct dia_rig_lying lying;
    struct dia_bounds bounds;
    struct dia_words w[2];
    dia_rig_lie(rig, lane, &lying);
    dia_surface_bounds(&lying.surface, &bounds);
    dia_quantity_as(layout->pitch_um, DIA_LENGTH, &w[0]);
    if (layout->shape == DIA_SHAPE_RING)
        printf("            ring of %s", dia_quantity_as(layout->diameter_um, DIA_LENGTH, &w[1]));
    else if (layout->shape == DIA_SHAPE_GRID)
        printf("            %u columns of %u at %s", layout->grid.columns, layout->grid.rows,
               w[0].text);
    else if (layout->shape == DIA_SHAPE_FOLD)
        printf("            %.3f m there and back at %s", bounds.length_um / 1e6, w[0].text);
    else if (layout->shape == DIA_SHAPE_PANELS)
        printf("            %u panels of %u columns of %u at %s", layout->wall.count,
               layout->wall.panel.columns, layout->wall.panel.rows, w[0].text);
    else if (layout->shape == DIA_SHAPE_POINTS)
        printf("            points on %.3f m by %.3f m", bounds.width_um / 1e6,
               bounds.height_um / 1e6);
    else
        printf("            %.3f m at %s", bounds.length_um / 1e6, w[0].text);
    if (layout->gap_count)
        printf(", %u without a place", (unsigned)layout->gap_count);
}

static void device(const struct dia_rig *rig, const struct dia_rig_device *d)
{
    char facts[160];
    printf("device      %s: %s", d->name, d->chip);
    if (dia_rig_is_chain(d))
        printf(" x %" PRIu32, d->count);
    if (dia_rig_lies(d) == DIA_LIES_CELLS)
        printf(", %u columns, %u rows", d->columns, d->rows);
    else if (d->digits)
        printf(", %" PRIu32 " digit%s", d->digits, d->digits == 1 ? "" : "s");
    else
        printf(", %" PRIu32 " lamp%s", d->lamps, d->lamps == 1 ? "" : "s");
    if (d->depth > 1)
        printf(" of %u bits", d->depth);
    dia_rig_facts(d, facts, sizeof facts);
    printf(",\n            %s, supply %s\n", facts, rig->supplies[d->supply].name);
}

static void connected(const struct dia_rig *rig)
{
    const struct dia_rig_controller *c = &rig->controller;
    struct dia_words w[4];
    printf("controller  %s\n            %s, %s RAM, %s flash, logic high %s\n", c->name,
           dia_quantity_as(c->clock_hz, DIA_CLOCK, &w[0]),
           dia_quantity_as(c->ram_bytes, DIA_MEMORY, &w[1]),
           dia_quantity_as(c->flash_bytes, DIA_MEMORY, &w[2]),
           dia_quantity_as(c->logic_high_mv, DIA_VOLTAGE, &w[3]));
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        const struct dia_rig_supply *s = &rig->supplies[i];
        printf("supply      %s: %s, %s", s->name,
               dia_quantity_as(s->voltage_mv, DIA_VOLTAGE, &w[0]),
               dia_quantity_as(s->current_ua, DIA_CURRENT, &w[1]));
        if (s->reserve_ua)
            printf(", %s of it kept for the controller",
                   dia_quantity_as(s->reserve_ua, DIA_CURRENT, &w[2]));
        putchar('\n');
    }
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *l = &rig->lanes[i];
        char clock[80] = "";
        if (l->part.family == DIA_CLOCKED)
            snprintf(clock, sizeof clock, ", clock pin %" PRIu32 " at %s", l->clock_pin,
                     dia_quantity_as(l->clock_hz, DIA_CLOCK, &w[1]));
        printf("lane        %s: pin %" PRIu32 "%s, %" PRIu32 " x %s in %s order,\n", l->name,
               l->pin, clock, l->count, l->part.name, l->order);
        lies(rig, l);
        if (l->group)
            printf(", group %s", rig->groups[l->group - 1]);
        printf(", supply %s\n", rig->supplies[l->supply].name);
    }
    for (uint32_t i = 0; i < rig->device_count; i++)
        device(rig, &rig->devices[i]);
    for (uint32_t i = 0; i < rig->button_count; i++)
        printf("button      %s: pin %" PRIu32 ", pressed %s\n", rig->buttons[i].name,
               rig->buttons[i].pin, rig->buttons[i].pressed ? "high" : "low");
    printf("master      %.4g %%\n", rig->master * 100.0 / DIA_SHARE_ONE);
}

static void wires(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    heading(in_colour, "\nwire                               bits    frame time   highest rate");
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_check_lane *l = &check->lanes[i];
        printf("%-32s%7" PRIu32 "%11.2f ms%12.*f Hz\n", rig->lanes[i].name, l->bits,
               (double)l->frame_ns / 1e6, l->rate_mhz < 100000, l->rate_mhz / 1e3);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_check_device *d = &check->devices[i];
        printf("%-32s%7" PRIu32 "%11.2f ms%12.*f Hz\n", rig->devices[i].name, d->bits,
               (double)d->frame_ns / 1e6, d->rate_mhz < 100000, d->rate_mhz / 1e3);
    }
    printf("%-50s%15.1f Hz\n", "asked for by frame_rate", rig->frame_rate_mhz / 1e3);
}

static void turns(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    if (rig->device_count == 0)
        return;
    heading(in_colour, "\nlamps               refresh     duty  ticks/s  of the time"
                       "    output     chip");
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_check_device *d = &check->devices[i];
        if (dia_rig_lies(&rig->devices[i]) == DIA_LIES_CELLS)
            continue;
        char refresh[24] = "always on";
        if (d->refresh_mhz)
            snprintf(refresh, sizeof refresh, "%.1f Hz", d->refresh_mhz / 100 / 10.0);
        printf("%-16.16s%11s%7.1f %%%9.0f%10.1f %%%7.1f mA%7.0f mA\n", rig->devices[i].name,
               refresh, d->duty_permille / 10.0, d->tick_mhz / 1e3, d->tick_permille / 10.0,
               d->output_ua / 1e3, d->chip_ua / 1e3);
    }
}

static void memory(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    uint32_t needed = check->frame_ram + check->stack_ram;
    heading(in_colour, "\nmemory                            bytes");
    for (uint32_t i = 0; i < rig->lane_count; i++)
        printf("%-32s%7" PRIu32 "\n", rig->lanes[i].name, check->lanes[i].ram_bytes);
    for (uint32_t k = 0; k < rig->group_count; k++)
        printf("group %-26s%7" PRIu32 "\n", rig->groups[k], check->group_ram[k]);
    for (uint32_t i = 0; i < rig->device_count; i++)
        printf("%-32s%7" PRIu32 "\n", rig->devices[i].name, check->devices[i].ram_bytes);
    printf("%-32s%7" PRIu32 "\n", "stack", check->stack_ram);
    printf("%-32s%7" PRIu32 "  of %" PRIu32 " (%.0f %%)\n", "together", needed,
           rig->controller.ram_bytes, needed * 100.0 / rig->controller.ram_bytes);
}

/* Whether pixels are on a supply: the limiter dims them, and nothing else. */
static int feeds_lanes(const struct dia_rig *rig, uint32_t supply)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (rig->lanes[i].supply == supply)
            return 1;
    }
    return 0;
}

static void currents(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    heading(in_colour,
            "\ncurrent                           asked         drawn             dimmed to");
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        for (uint32_t n = 0; n < check->look_count; n++) {
            const struct dia_check_current *c = &check->currents[i][n];
            char name[80];
            snprintf(name, sizeof name, "%s, %s", rig->supplies[i].name, c->look);
            printf("%-30.60s%7.3f A%12.3f A", name, (double)c->asked_ua / 1e6,
                   (double)c->drawn_ua / 1e6);
            if (feeds_lanes(rig, i))
                printf("%20u %%\n", dia_percent_of(c->least_share));
            else
                printf("%22s\n", "no limiter");
        }
    }
}

static void verdict(const struct dia_check *check, int in_colour)
{
    uint32_t errors = dia_findings_of(&check->findings, DIA_ERROR);
    uint32_t warnings = dia_findings_of(&check->findings, DIA_WARNING);
    putchar('\n');
    for (uint32_t i = 0; i < check->findings.count; i++)
        finding_print(stdout, &check->findings.items[i], in_colour);
    if (errors)
        printf("%" PRIu32 " limit%s broken\n", errors, errors == 1 ? " is" : "s are");
    else if (warnings)
        printf("every limit is kept; %" PRIu32 " warning%s\n", warnings, warnings == 1 ? "" : "s");
    else
        printf("every limit is kept\n");
}

void check_report_text(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    heading(in_colour, rig->name);
    connected(rig);
    wires(check, rig, in_colour);
    turns(check, rig, in_colour);
    memory(check, rig, in_colour);
    currents(check, rig, in_colour);
    verdict(check, in_colour);
}
