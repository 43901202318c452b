/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_device.h"
#include "family.h"

static uint32_t lit_count(const struct run *run)
{
    uint32_t n = 0;
    for (uint32_t i = 0; i < run->desk->rig.devices[run->device].lamps; i++)
        n += (uint32_t)dia_device_lamp_is_lit(run, i);
    return n;
}

/* Lights one dot and tells where it comes up; 0 when no single dot is lit. */
static int show_dot(struct run *run, uint32_t column, uint32_t row, uint32_t *x, uint32_t *y)
{
    static uint8_t levels[DIA_RIG_LAMPS];
    const struct dia_rig_device *there = &run->desk->rig.devices[run->device];
    uint32_t columns = dia_device_believed(run)->surface.count;
    memset(levels, 0, sizeof levels);
    levels[row * columns + column] = 255;
    run->lit.levels = levels;
    dia_run_show(run);
    for (uint32_t i = 0; i < there->lamps; i++) {
        if (dia_device_lamp_is_lit(run, i)) {
            *x = i % columns;
            *y = i / columns;
        }
    }
    return lit_count(run) == 1;
}

/* The wiring with which a dot that is sent to (column, row) comes up at (x, y), for both dots. */
static int wiring_fits(const struct dia_rig_device *is, const struct dia_matrix_wiring *wiring,
                       uint32_t end, uint32_t corner, uint32_t side)
{
    uint16_t chips = (uint16_t)(is->surface.count / 8); /* of the uppermost row of modules */
    uint32_t at[2][2] = {{0, 0}, {0, 0}};
    for (uint16_t i = 0; i < chips * 64u; i++) {
        uint16_t x = (uint16_t)(i % (chips * 8u));
        uint8_t y = (uint8_t)(i / (chips * 8u));
        for (uint16_t dot = 0; dot < 2; dot++) {
            if (dia_matrix_dot(wiring, chips, x, y) == dia_matrix_dot(&is->wiring, chips, dot, 0)) {
                at[dot][0] = x;
                at[dot][1] = y;
            }
        }
    }
    uint32_t found_side = at[1][0] > at[0][0]   ? 0
                          : at[1][0] < at[0][0] ? 1
                          : at[1][1] > at[0][1] ? 2
                                                : 3;
    return at[0][0] / 8 == (end ? chips - 1u : 0) &&
           (at[0][0] % 8 != 0) + 2u * (at[0][1] != 0) == corner && found_side == side;
}

static void tell_wiring(struct run *run, const struct dia_matrix_wiring *found)
{
    struct dia_rig_device *device = dia_device_believed(run);
    struct dia_matrix_wiring was = device->wiring;
    device->wiring = *found;
    device->family->wire(device);
    struct dia_cause *cause = dia_run_cause(run, "its modules are %s%u degrees%s%s", "mounted at ",
                                            found->turn * 90u, found->mirrored ? ", mirrored" : "",
                                            found->from_right ? ", the first at the right" : "");
    dia_cause_evidence(cause, "two dots of the top left corner come up elsewhere");
    if (found->turn != was.turn)
        dia_cause_edit(cause, "devices", "", "turn", "%u", found->turn * 90u);
    if (found->mirrored != was.mirrored)
        dia_cause_edit(cause, "devices", "", "mirrored", found->mirrored ? "yes" : "no");
    if (found->from_right != was.from_right)
        dia_cause_edit(cause, "devices", "", "first", found->from_right ? "right" : "left");
}

int dia_bringup_dots(struct run *run)
{
    static const char *const ends[] = {"the leftmost", "the rightmost",
                                       "none: nothing is lit, or other dots too",
                                       "it flickers or changes by itself", NULL};
    static const char *const corners[] = {"top left", "top right", "bottom left", "bottom right",
                                          NULL};
    static const char *const sides[] = {"to the right", "to the left", "below", "above", NULL};
    struct dia_rig_device *device = dia_device_believed(run);
    uint32_t x = 0, y = 0, x2 = 0, y2 = 0;
    int one = show_dot(run, 0, 0, &x, &y), unsteady = dia_run_is_unsteady(run);
    uint32_t says = unsteady ? 3 : !one ? 2 : x / 8 != 0;
    int end =
        dia_run_ask(run, ends, says,
                    "One dot of '%s' is lit, which should be in the top left corner. On which "
                    "module is it?",
                    device->name);
    if (end < 0)
        return -1;
    if (end == 3) {
        dia_device_is_disturbed(run);
        return 0;
    }
    if (end == 2)
        return dia_device_shows_nothing(run);
    int corner = dia_run_ask(run, corners, (x % 8 != 0) + 2u * (y % 8 != 0),
                             "In which corner of that module is the dot?");
    if (corner < 0)
        return -1;
    show_dot(run, 1, 0, &x2, &y2);
    int side =
        dia_run_ask(run, sides,
                    x2 > x   ? 0u
                    : x2 < x ? 1u
                    : y2 > y ? 2u
                             : 3u,
                    "Now the dot that should be to the right of it is lit. Where is it, from "
                    "where the first was?");
    if (side < 0)
        return -1;
    for (uint8_t k = 0; k < 16; k++) {
        struct dia_matrix_wiring wiring = {k & 3u, k >> 2 & 1u, k >> 3 & 1u};
        if (device->count == 1 && wiring.from_right)
            continue;
        /* a module turned and mirrored can be the same as another: the one that is believed first
         */
        if (wiring_fits(device, &device->wiring, (uint32_t)end, (uint32_t)corner, (uint32_t)side))
            return 0;
        if (wiring_fits(device, &wiring, (uint32_t)end, (uint32_t)corner, (uint32_t)side)) {
            tell_wiring(run, &wiring);
            return dia_run_renew(run);
        }
    }
    dia_run_cause(run, "no way of mounting its modules explains what is seen");
    return 0;
}
