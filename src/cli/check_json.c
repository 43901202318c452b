/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <cjson/cJSON.h>

#include <diachrome/flicker.h>

#include "check_report.h"
#include "json.h"

static void controller(cJSON *root, const struct dia_rig_controller *c)
{
    cJSON *json = cJSON_AddObjectToObject(root, "controller");
    cJSON_AddStringToObject(json, "name", c->name);
    cJSON_AddNumberToObject(json, "clock_hz", c->clock_hz);
    cJSON_AddNumberToObject(json, "ram_bytes", c->ram_bytes);
    cJSON_AddNumberToObject(json, "flash_bytes", c->flash_bytes);
    cJSON_AddNumberToObject(json, "logic_high_mv", c->logic_high_mv);
    cJSON_AddStringToObject(json, "pulses", c->holds ? "interrupts off" : "background");
}

static void processor(cJSON *root, const struct dia_check *check)
{
    const struct dia_check_processor *p = &check->processor;
    cJSON *json = cJSON_AddObjectToObject(root, "processor");
    cJSON_AddNumberToObject(json, "interrupts_off_ns", (double)p->longest_hold_ns);
    cJSON_AddNumberToObject(json, "sending_ns", (double)p->sent_ns);
    cJSON_AddNumberToObject(json, "drawing_ns", (double)p->drawn_ns);
    cJSON_AddNumberToObject(json, "tick_share", check->tick_permille / 1e3);
    cJSON_AddNumberToObject(json, "highest_rate_hz", p->rate_mhz / 1e3);
}

static void flickers(cJSON *root, const struct dia_check *check)
{
    cJSON *list = cJSON_AddArrayToObject(root, "flicker");
    for (uint32_t i = 0; i < check->flicker_count; i++) {
        const struct dia_check_flicker *f = &check->flickers[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "name", f->name);
        cJSON_AddStringToObject(json, "cause", f->cause);
        cJSON_AddNumberToObject(json, "hz", f->mhz / 1e3);
        cJSON_AddBoolToObject(json, "about", f->runs_free);
        cJSON_AddNumberToObject(json, "modulation", f->modulation_permille / 1e3);
        cJSON_AddStringToObject(json, "ieee_1789",
                                dia_flicker_class_text((enum dia_flicker_class)f->risk));
        cJSON_AddStringToObject(json, "source", f->source);
    }
}

static void least(cJSON *json, const char *key, uint32_t feeds_mv, uint32_t least_mv, uint32_t at)
{
    cJSON *of = cJSON_AddObjectToObject(json, key);
    cJSON_AddNumberToObject(of, "feed_mv", feeds_mv);
    cJSON_AddNumberToObject(of, "least_mv", least_mv);
    cJSON_AddNumberToObject(of, "pixel", at);
}

static void volts(cJSON *json, const struct dia_check_lane *check, const struct dia_rig *rig,
                  const struct dia_rig_lane *lane)
{
    cJSON *of = cJSON_AddObjectToObject(json, "volts");
    least(of, "in_budget", check->fed.feeds_mv, check->fed.least_mv, check->fed.least_at);
    least(of, "full_white", check->white.feeds_mv, check->white.least_mv, check->white.least_at);
    cJSON_AddNumberToObject(of, "rail_ohm_per_m", lane->rail_uohm_m / 1e6);
    cJSON *feeds = cJSON_AddArrayToObject(of, "feeds");
    for (uint32_t i = 0; i < lane->feed_count; i++) {
        const struct dia_rig_feed *f = &lane->feeds[i];
        cJSON *feed = cJSON_CreateObject();
        cJSON_AddItemToArray(feeds, feed);
        cJSON_AddNumberToObject(feed, "pixel", f->element);
        if (f->supply != DIA_RIG_NO_SUPPLY)
            cJSON_AddStringToObject(feed, "supply", rig->supplies[f->supply].name);
        cJSON_AddNumberToObject(feed, "length_um", f->length_um);
        cJSON_AddNumberToObject(feed, "section_mm2", f->section_um2 / 1e6);
        if (f->fuse_ua)
            cJSON_AddNumberToObject(feed, "fuse_ua", f->fuse_ua);
        cJSON_AddNumberToObject(feed, "most_ua", (double)check->fed.feed_most_ua[i]);
    }
}

static void lanes(cJSON *root, const struct dia_check *check, const struct dia_rig *rig)
{
    static const char *const shapes[] = {"line", "ring", "grid", "fold", "panels", "points"};
    cJSON *list = cJSON_AddArrayToObject(root, "lanes");
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *l = &rig->lanes[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "name", l->name);
        cJSON_AddNumberToObject(json, "pin", l->pin);
        if (l->part.family == DIA_CLOCKED) {
            cJSON_AddNumberToObject(json, "clock_pin", l->clock_pin);
            cJSON_AddNumberToObject(json, "clock_hz", l->clock_hz);
        }
        if (l->spi[0])
            cJSON_AddStringToObject(json, "spi", l->spi);
        cJSON_AddStringToObject(json, "chip", l->part.name);
        cJSON_AddNumberToObject(json, "count", l->count);
        cJSON_AddStringToObject(json, "order", l->order);
        cJSON_AddStringToObject(json, "supply", rig->supplies[l->supply].name);
        cJSON_AddStringToObject(json, "shape", shapes[l->layout.shape]);
        if (l->layout.shape == DIA_SHAPE_GRID) {
            cJSON_AddNumberToObject(json, "columns", l->layout.grid.columns);
            cJSON_AddNumberToObject(json, "rows", l->layout.grid.rows);
        }
        if (l->group)
            cJSON_AddStringToObject(json, "group", rig->groups[l->group - 1]);
        cJSON_AddNumberToObject(json, "start_um", l->layout.start_um);
        cJSON_AddNumberToObject(json, "pitch_um", l->layout.pitch_um);
        cJSON_AddNumberToObject(json, "bits", check->lanes[i].bits);
        cJSON_AddNumberToObject(json, "frame_ns", (double)check->lanes[i].frame_ns);
        cJSON_AddNumberToObject(json, "highest_rate_hz", check->lanes[i].rate_mhz / 1e3);
        cJSON_AddNumberToObject(json, "ram_bytes", check->lanes[i].ram_bytes);
        if (l->feed_count)
            volts(json, &check->lanes[i], rig, l);
    }
}

static void buttons(cJSON *root, const struct dia_rig *rig)
{
    cJSON *list = cJSON_AddArrayToObject(root, "buttons");
    for (uint32_t i = 0; i < rig->button_count; i++) {
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "name", rig->buttons[i].name);
        cJSON_AddNumberToObject(json, "pin", rig->buttons[i].pin);
        cJSON_AddStringToObject(json, "pressed", rig->buttons[i].pressed ? "high" : "low");
    }
}

static void devices(cJSON *root, const struct dia_check *check, const struct dia_rig *rig)
{
    cJSON *list = cJSON_AddArrayToObject(root, "devices");
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *d = &rig->devices[i];
        const struct dia_check_device *c = &check->devices[i];
        const char *role;
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "name", d->name);
        cJSON_AddStringToObject(json, "chip", d->chip);
        if (d->spi[0])
            cJSON_AddStringToObject(json, "spi", d->spi);
        if (d->i2c[0])
            cJSON_AddStringToObject(json, "i2c", d->i2c);
        cJSON *pins = cJSON_AddObjectToObject(json, "pins");
        for (uint8_t k = 0; (role = dia_rig_role(d, k)) != NULL; k++) {
            if (d->pins[k] != DIA_NO_PIN)
                cJSON_AddNumberToObject(pins, role, d->pins[k]);
        }
        cJSON_AddStringToObject(json, "supply", rig->supplies[d->supply].name);
        cJSON_AddNumberToObject(json, "chips", d->count);
        cJSON_AddNumberToObject(json, "lamps", d->lamps);
        cJSON_AddNumberToObject(json, "channels", d->channels);
        cJSON_AddNumberToObject(json, "digits", d->digits);
        cJSON_AddNumberToObject(json, "columns", d->columns);
        cJSON_AddNumberToObject(json, "rows", d->rows);
        cJSON_AddNumberToObject(json, "bits", c->bits);
        cJSON_AddNumberToObject(json, "frame_ns", (double)c->frame_ns);
        cJSON_AddNumberToObject(json, "highest_rate_hz", c->rate_mhz / 1e3);
        cJSON_AddNumberToObject(json, "refresh_hz", c->refresh_mhz / 1e3);
        cJSON_AddNumberToObject(json, "duty", c->duty_permille / 1e3);
        cJSON_AddNumberToObject(json, "ticks_hz", c->tick_mhz / 1e3);
        cJSON_AddNumberToObject(json, "tick_share", c->tick_permille / 1e3);
        cJSON_AddNumberToObject(json, "tick_late_ns", (double)c->late_ns);
        cJSON_AddNumberToObject(json, "late_modulation", c->modulation_permille / 1e3);
        cJSON_AddNumberToObject(json, "ram_bytes", c->ram_bytes);
        cJSON_AddNumberToObject(json, "output_ua", c->output_ua);
        cJSON_AddNumberToObject(json, "chip_ua", c->chip_ua);
        cJSON_AddNumberToObject(json, "drawn_ua", (double)c->drawn_ua);
    }
}

static void supplies(cJSON *root, const struct dia_check *check, const struct dia_rig *rig)
{
    cJSON *list = cJSON_AddArrayToObject(root, "supplies");
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        const struct dia_rig_supply *s = &rig->supplies[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "name", s->name);
        cJSON_AddNumberToObject(json, "voltage_mv", s->voltage_mv);
        cJSON_AddNumberToObject(json, "current_ua", s->current_ua);
        cJSON_AddNumberToObject(json, "reserve_ua", s->reserve_ua);
        cJSON *looks = cJSON_AddArrayToObject(json, "looks");
        for (uint32_t n = 0; n < check->look_count; n++) {
            const struct dia_check_current *c = &check->currents[i][n];
            cJSON *look = cJSON_CreateObject();
            cJSON_AddItemToArray(looks, look);
            cJSON_AddStringToObject(look, "look", c->look);
            cJSON_AddNumberToObject(look, "asked_ua", (double)c->asked_ua);
            cJSON_AddNumberToObject(look, "drawn_ua", (double)c->drawn_ua);
            cJSON_AddNumberToObject(look, "least_drawn_ua", (double)c->least_drawn_ua);
            cJSON_AddNumberToObject(look, "light", c->least_share / (double)DIA_SHARE_ONE);
        }
    }
}

cJSON *check_json(const struct dia_check *check, const struct dia_rig *rig)
{
    cJSON *root = cJSON_CreateObject();
    cJSON_AddStringToObject(root, "rig", rig->name);
    cJSON_AddNumberToObject(root, "master", rig->master / (double)DIA_SHARE_ONE);
    cJSON_AddNumberToObject(root, "frame_rate_hz", rig->frame_rate_mhz / 1e3);
    cJSON_AddNumberToObject(root, "highest_rate_hz", check->rate_mhz / 1e3);
    controller(root, &rig->controller);
    processor(root, check);
    flickers(root, check);
    lanes(root, check, rig);
    devices(root, check, rig);
    buttons(root, rig);
    supplies(root, check, rig);
    cJSON *memory = cJSON_AddObjectToObject(root, "memory");
    cJSON *groups = cJSON_AddObjectToObject(memory, "groups_bytes");
    for (uint32_t k = 0; k < rig->group_count; k++)
        cJSON_AddNumberToObject(groups, rig->groups[k], check->group_ram[k]);
    cJSON_AddNumberToObject(memory, "frames_bytes", check->frame_ram);
    cJSON_AddNumberToObject(memory, "stack_bytes", check->stack_ram);
    cJSON_AddNumberToObject(memory, "there_bytes", rig->controller.ram_bytes);
    json_findings(root, &check->findings);
    return root;
}
