/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>

#include <diachrome/flicker.h>

#include "check_report.h"
#include "findings_text.h"

static void heading(int in_colour, const char *text)
{
    printf("%s%s%s\n", in_colour ? "\033[1m" : "", text, in_colour ? "\033[0m" : "");
}

void check_report_verdict(const char *name, const struct dia_findings *findings, int in_colour)
{
    uint32_t errors = dia_findings_of(findings, DIA_ERROR);
    uint32_t warnings = dia_findings_of(findings, DIA_WARNING);
    const char *ink = errors ? "\033[1;31m" : warnings ? "\033[1;33m" : "\033[1;32m";
    printf("%s%s: ", in_colour ? ink : "", name);
    if (errors)
        printf("%" PRIu32 " limit%s broken", errors, errors == 1 ? " is" : "s are");
    else
        printf("every limit is kept");
    if (warnings)
        printf("; %" PRIu32 " warning%s", warnings, warnings == 1 ? "" : "s");
    printf("%s\n", in_colour ? "\033[0m" : "");
    if (findings->count)
        putchar('\n');
    findings_print(stdout, findings, in_colour);
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

/* The fewest volts at a feed and at a pixel: at full white, and in what the budget lets through. */
static void volts(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    int any = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_check_lane *l = &check->lanes[i];
        char white[40], inside[40];
        if (rig->lanes[i].feed_count == 0)
            continue;
        if (!any++)
            heading(in_colour, "\nvolts, at a feed and at the worst pixel"
                               "    in the budget               full white");
        snprintf(inside, sizeof inside, "%.2f V, %.2f V (%" PRIu32 ")", l->fed.feeds_mv / 1e3,
                 l->fed.least_mv / 1e3, l->fed.least_at);
        snprintf(white, sizeof white, "%.2f V, %.2f V (%" PRIu32 ")", l->white.feeds_mv / 1e3,
                 l->white.least_mv / 1e3, l->white.least_at);
        printf("%-24.24s%28s%28s\n", rig->lanes[i].name, inside, white);
    }
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

static void of_frame(const char *what, uint64_t ns, const struct dia_rig *rig)
{
    printf("%-28s%10.2f ms%12.1f %%\n", what, (double)ns / 1e6,
           (double)ns * rig->frame_rate_mhz / 1e10);
}

/* What one processor does in a frame, and how late its ticks come. */
static void processor(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    const struct dia_check_processor *p = &check->processor;
    if (p->sent_ns + p->drawn_ns + check->tick_permille == 0)
        return;
    heading(in_colour, "\nprocessor                      a frame   of the time   highest rate");
    if (p->sent_ns)
        of_frame("sending, interrupts off", p->sent_ns, rig);
    if (p->drawn_ns)
        of_frame("drawing a hue sweep", p->drawn_ns, rig);
    if (check->tick_permille)
        printf("%-28s%13s%12.1f %%\n", "ticks", "", check->tick_permille / 10.0);
    if (p->rate_mhz)
        printf("%-28s%24s%12.*f Hz\n", "together", "", p->rate_mhz < 100000, p->rate_mhz / 1e3);
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_check_device *d = &check->devices[i];
        char what[60];
        snprintf(what, sizeof what, "%s, ticks late by", rig->devices[i].name);
        if (d->late_ns)
            printf("%-28s%10.2f ms\n", what, (double)d->late_ns / 1e6);
    }
}

/* At which shutters a camera sees no bands of it; of what runs free, from which on few. */
static void cameras(const struct dia_check_flicker *f, char *text, size_t size)
{
    size_t used = 0;
    int found = 0;
    if (f->runs_free) {
        snprintf(text, size, "10 %% at 1/%" PRIu32 " s", f->mhz / 10000);
        return;
    }
    for (int k = 0; dia_camera_shutters_us[k]; k++) {
        if (dia_camera_bands_permille(f->mhz, 0, dia_camera_shutters_us[k]) == 0 && found < 2)
            used += (size_t)snprintf(text + used, size - used, "%s1/%u", found++ ? ", " : "0 at ",
                                     dia_camera_shutters[k]);
    }
    if (found)
        snprintf(text + used, size - used, " s");
    else /* the next multiple of 50 has 1/50 s */
        snprintf(text, size, "at %" PRIu32 " Hz 0 at 1/50 s", (f->mhz / 50000 + 1) * 50);
}

static void flicker(const struct dia_check *check, int in_colour)
{
    if (check->flicker_count)
        heading(in_colour, "\nflicker                   frequency    depth  IEEE 1789"
                           "       bands in a camera");
    for (uint32_t i = 0; i < check->flicker_count; i++) {
        const struct dia_check_flicker *f = &check->flickers[i];
        char what[80], rate[32], bands[60];
        snprintf(what, sizeof what, "%s, %s", f->name, f->cause);
        snprintf(rate, sizeof rate, "%s%.4g %s", f->runs_free ? "about " : "",
                 f->mhz < 10000000 ? f->mhz / 1e3 : f->mhz / 1e6, f->mhz < 10000000 ? "Hz" : "kHz");
        cameras(f, bands, sizeof bands);
        printf("%-23.23s%14s%7.1f %%  %-16s%s\n", what, rate, f->modulation_permille / 10.0,
               dia_flicker_class_text((enum dia_flicker_class)f->risk), bands);
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

/* Of a supply, over all looks: what is asked of it, what it gives at the most, the least light. */
struct dia_check_current check_most_of(const struct dia_check *check, uint32_t supply)
{
    struct dia_check_current most = check->currents[supply][0];
    for (uint32_t n = 1; n < check->look_count; n++) {
        const struct dia_check_current *c = &check->currents[supply][n];
        if (c->asked_ua > most.asked_ua) {
            most.asked_ua = c->asked_ua;
            most.look = c->look;
        }
        most.drawn_ua = c->drawn_ua > most.drawn_ua ? c->drawn_ua : most.drawn_ua;
        most.least_share = c->least_share < most.least_share ? c->least_share : most.least_share;
    }
    return most;
}

static void dimmed(const struct dia_rig *rig, uint32_t supply, dia_share least, int width)
{
    if (feeds_lanes(rig, supply))
        printf("%*u %%\n", width - 2, dia_percent_of(least));
    else
        printf("%*s\n", width, "no limiter");
}

static void currents(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    heading(in_colour, "\ncurrent              draws     may give    asked, by            "
                       "      dimmed to");
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        struct dia_check_current most = check_most_of(check, i);
        char asked[60];
        snprintf(asked, sizeof asked, "%.3f A, %s", (double)most.asked_ua / 1e6, most.look);
        printf("%-16.16s%8.3f A%11.3f A    %-23.23s", rig->supplies[i].name,
               (double)most.drawn_ua / 1e6, rig->supplies[i].current_ua / 1e6, asked);
        dimmed(rig, i, most.least_share, 14);
    }
}

/* Each look by itself: currents from its darkest moment to its brightest. */
static void looks(const struct dia_check *check, const struct dia_rig *rig, int in_colour)
{
    heading(in_colour, "\nlook                                      draws            asked"
                       "       dimmed to");
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        for (uint32_t n = 0; n < check->look_count; n++) {
            const struct dia_check_current *c = &check->currents[i][n];
            char name[80], draws[40];
            snprintf(name, sizeof name, "%s, %s", rig->supplies[i].name, c->look);
            snprintf(draws, sizeof draws, "%.3f to %.3f A", (double)c->least_drawn_ua / 1e6,
                     (double)c->drawn_ua / 1e6);
            printf("%-30.30s%19s%15.3f A", name, draws, (double)c->asked_ua / 1e6);
            dimmed(rig, i, c->least_share, 14);
        }
    }
}

void check_report_text(const struct dia_check *check, const struct dia_rig *rig, int each_look,
                       int in_colour)
{
    check_report_verdict(rig->name, &check->findings, in_colour);
    currents(check, rig, in_colour);
    if (each_look)
        looks(check, rig, in_colour);
    volts(check, rig, in_colour);
    wires(check, rig, in_colour);
    turns(check, rig, in_colour);
    processor(check, rig, in_colour);
    flicker(check, in_colour);
    memory(check, rig, in_colour);
    heading(in_colour, "\nconnected");
    check_report_connected(rig);
}
