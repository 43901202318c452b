/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>

#include <diachrome/quantity.h>

#include "check_report.h"

/* What is connected, as the rig file says: for check_report_text. */

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
        printf(", %" PRIu32 " %s%s", d->lamps, d->channels == 3 ? "pixel" : "lamp",
               d->lamps == 1 ? "" : "s");
    if (d->depth > 1)
        printf(" of %u bits%s", d->depth, d->channels == 3 ? " a colour" : "");
    dia_rig_facts(d, facts, sizeof facts);
    if (d->spi[0] || d->i2c[0])
        printf(",\n            %s", d->spi[0] ? d->spi : d->i2c);
    printf(",\n            %s, supply %s\n", facts, rig->supplies[d->supply].name);
}

/* How lanes are dithered whose file says nothing; those that say something say it by themselves. */
static void dithered(const struct dia_rig *rig)
{
    unsigned from = dia_rig_time_from(rig);
    int any = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++)
        any |= rig->lanes[i].dithering == DIA_DITHERING_AUTO;
    if (any && from)
        printf("dithered    in time from step %u of 255 on, else in space\n", from);
    else if (any)
        printf("dithered    in space\n");
}

void check_report_connected(const struct dia_rig *rig)
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
        if (l->spi[0])
            printf(", %s", l->spi);
        if (l->group)
            printf(", group %s", rig->groups[l->group - 1]);
        printf(", supply %s\n", rig->supplies[l->supply].name);
        if (l->dithering != DIA_DITHERING_AUTO)
            printf("            %s\n", l->dithering == DIA_DITHERING_NONE   ? "not dithered"
                                       : l->dithering == DIA_DITHERING_TIME ? "dithered in time"
                                                                            : "dithered in space");
    }
    for (uint32_t i = 0; i < rig->device_count; i++)
        device(rig, &rig->devices[i]);
    for (uint32_t i = 0; i < rig->button_count; i++)
        printf("button      %s: pin %" PRIu32 ", pressed %s\n", rig->buttons[i].name,
               rig->buttons[i].pin, rig->buttons[i].pressed ? "high" : "low");
    dithered(rig);
    printf("master      %.4g %%\n", rig->master * 100.0 / DIA_SHARE_ONE);
}
