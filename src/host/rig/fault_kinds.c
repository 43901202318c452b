/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stddef.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "family.h"
#include "fault_kinds.h"
#include "host_private.h"
#include "rig_wire.h"

enum dia_status dia_fault_number(const struct said *said, const char *text, uint32_t from,
                                 uint32_t to, uint32_t *value, struct dia_diagnostic *wrong)
{
    char *end = NULL;
    unsigned long found = text && isdigit((unsigned char)*text) ? strtoul(text, &end, 10) : 0;
    if (!end || *end != 0 || found < from || found > to)
        return dia_host_wrong(wrong, "fault '%s: %s' takes a number %u to %u; found '%s'",
                              said->target, said->word, (unsigned)from, (unsigned)to,
                              text ? text : "nothing");
    *value = (uint32_t)found;
    return DIA_OK;
}

enum dia_status dia_fault_quantity(const struct said *said, enum dia_quantity kind, int64_t from,
                                   int64_t to, int64_t *value, struct dia_diagnostic *wrong)
{
    char text[64], what[80];
    snprintf(text, sizeof text, "%s%s%s", said->first ? said->first : "nothing",
             said->second ? " " : "", said->second ? said->second : "");
    snprintf(what, sizeof what, "fault '%s: %s'", said->target, said->word);
    return dia_quantity_read(text, kind, from, to, what, value, wrong);
}

static enum dia_status share_ppm(const struct said *said, uint32_t *ppm,
                                 struct dia_diagnostic *wrong)
{
    int64_t value;
    enum dia_status status = dia_fault_quantity(said, DIA_PERCENT, 1, 500000, &value, wrong);
    if (status == DIA_OK)
        *ppm = (uint32_t)value;
    return status;
}

/* ---- lanes ----------------------------------------------------------------------------------- */

static enum dia_status other_order(struct dia_desk *desk, const struct said *said,
                                   struct dia_diagnostic *wrong)
{
    if (!said->first)
        return dia_host_wrong(wrong, "fault '%s: order' takes the order of the bytes, such as RGB",
                              said->target);
    return dia_rig_set_order(&desk->rig.lanes[said->lane], said->first, wrong);
}

static enum dia_status other_chip(struct dia_desk *desk, const struct said *said,
                                  struct dia_diagnostic *wrong)
{
    if (!said->first)
        return dia_host_wrong(
            wrong, "fault '%s: chip' takes the chip that is there, such as SK6812", said->target);
    return dia_rig_set_part(&desk->rig.lanes[said->lane], said->first, wrong);
}

static enum dia_status other_count(struct dia_desk *desk, const struct said *said,
                                   struct dia_diagnostic *wrong)
{
    struct dia_rig_lane *lane = &desk->rig.lanes[said->lane];
    struct dia_rig_layout *layout = &lane->layout;
    if (layout->shape > DIA_SHAPE_RING || layout->gap_count)
        return dia_host_wrong(
            wrong, "fault 'count' is for a line or ring without gaps; '%s' is none", said->target);
    enum dia_status status = dia_fault_number(said, said->first, 1, 65535, &lane->count, wrong);
    if (status != DIA_OK)
        return status;
    dia_surface_line(&layout->surface, lane->count, layout->start_um, layout->pitch_um);
    layout->grid.columns = (uint16_t)lane->count;
    return DIA_OK;
}

/* A line or ring that runs the other way, the digits of a display from the other end, or the
 * modules of a board. */
static enum dia_status reversed(struct dia_desk *desk, const struct said *said,
                                struct dia_diagnostic *wrong)
{
    if (said->lane >= 0) {
        struct dia_rig_lane *lane = &desk->rig.lanes[said->lane];
        if (lane->layout.shape > DIA_SHAPE_GRID)
            return dia_host_wrong(wrong, "'%s' is no line or ring", said->target);
        if (lane->layout.shape == DIA_SHAPE_GRID)
            return dia_host_wrong(wrong, "'%s' is a grid; say 'corner top-right' or the like",
                                  said->target);
        struct dia_wiring *wiring = &lane->layout.grid.wiring;
        wiring->first = wiring->first == DIA_TOP_LEFT ? DIA_TOP_RIGHT : DIA_TOP_LEFT;
        return DIA_OK;
    }
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    if (!device->family->reverse || !device->family->reverse(device))
        return dia_host_wrong(wrong, "'%s' has no digits or modules to be reversed", said->target);
    return DIA_OK;
}

static enum dia_status grid_wiring(struct dia_desk *desk, const struct said *said,
                                   struct dia_diagnostic *wrong)
{
    static const struct {
        const char *word, *value;
        size_t field;
        uint8_t is;
    } known[] = {
        {"corner", "top-left", offsetof(struct dia_wiring, first), DIA_TOP_LEFT},
        {"corner", "top-right", offsetof(struct dia_wiring, first), DIA_TOP_RIGHT},
        {"corner", "bottom-left", offsetof(struct dia_wiring, first), DIA_BOTTOM_LEFT},
        {"corner", "bottom-right", offsetof(struct dia_wiring, first), DIA_BOTTOM_RIGHT},
        {"runs", "rows", offsetof(struct dia_wiring, along_columns), 0},
        {"runs", "columns", offsetof(struct dia_wiring, along_columns), 1},
        {"serpentine", "no", offsetof(struct dia_wiring, back_and_forth), 0},
        {"serpentine", "yes", offsetof(struct dia_wiring, back_and_forth), 1},
    };
    struct dia_rig_layout *layout = &desk->rig.lanes[said->lane].layout;
    if (layout->shape != DIA_SHAPE_GRID)
        return dia_host_wrong(wrong, "'%s' is no grid", said->target);
    for (size_t k = 0; k < sizeof known / sizeof known[0]; k++) {
        if (strcmp(known[k].word, said->word) == 0 && said->first &&
            strcmp(known[k].value, said->first) == 0) {
            ((uint8_t *)&layout->grid.wiring)[known[k].field] = known[k].is;
            return DIA_OK;
        }
    }
    return dia_host_wrong(wrong, "fault '%s: %s' takes %s; found '%s'", said->target, said->word,
                          said->word[0] == 'c' ? "top-left, top-right, bottom-left or bottom-right"
                          : said->word[0] == 'r' ? "rows or columns"
                                                 : "yes or no",
                          said->first ? said->first : "nothing");
}

static enum dia_status dead(struct dia_desk *desk, const struct said *said,
                            struct dia_diagnostic *wrong)
{
    if (desk->rig.lanes[said->lane].count == 1)
        return dia_host_wrong(wrong, "'%s' has one pixel; '%s: wrong-end' keeps it dark",
                              said->target, said->target);
    return dia_fault_number(said, said->first, 1, desk->rig.lanes[said->lane].count - 1,
                            &desk->lanes[said->lane].chain.dead, wrong);
}

static enum dia_status wrong_end(struct dia_desk *desk, const struct said *said,
                                 struct dia_diagnostic *wrong)
{
    (void)wrong;
    desk->lanes[said->lane].chain.wrong_end = 1;
    return DIA_OK;
}

static enum dia_status weak(struct dia_desk *desk, const struct said *said,
                            struct dia_diagnostic *wrong)
{
    return share_ppm(said, &desk->lanes[said->lane].chain.wrong_ppm, wrong);
}

static enum dia_status noise(struct dia_desk *desk, const struct said *said,
                             struct dia_diagnostic *wrong)
{
    return share_ppm(said,
                     said->lane >= 0 ? &desk->lanes[said->lane].noise_ppm
                                     : &desk->devices[said->device].noise_ppm,
                     wrong);
}

static enum dia_status sag(struct dia_desk *desk, const struct said *said,
                           struct dia_diagnostic *wrong)
{
    char *end = NULL;
    double ohm = said->first ? strtod(said->first, &end) : 0;
    if (!end || *end != 0 || !(ohm >= 0.01 && ohm <= 100) || !said->second ||
        strcmp(said->second, "ohm") != 0)
        return dia_host_wrong(
            wrong,
            "fault '%s: sag' takes the resistance of the wires, 0.01 ohm to 100 ohm, "
            "such as 0.3 ohm",
            said->target);
    desk->sag_mohm[said->supply] = (uint32_t)(ohm * 1000 + 0.5);
    return DIA_OK;
}

const struct fault_kind dia_fault_kinds[] = {
    {"order", OF_LANE, other_order},
    {"chip", OF_LANE, other_chip},
    {"count", OF_LANE, other_count},
    {"reversed", OF_LANE | OF_DEVICE, reversed},
    {"corner", OF_LANE, grid_wiring},
    {"runs", OF_LANE, grid_wiring},
    {"serpentine", OF_LANE, grid_wiring},
    {"dead", OF_LANE, dead},
    {"wrong-end", OF_LANE, wrong_end},
    {"weak", OF_LANE, weak},
    {"sag", OF_SUPPLY, sag},
    {"noise", OF_LANE | OF_DEVICE, noise},
    {NULL, 0, NULL},
};
