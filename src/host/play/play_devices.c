/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "play_device.h"

/* Level of what is simply on. */
#define ON 255

#define DEVICE_ROLES 24 /* more than any device has */

static int connect(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_device *from = &player->rig->devices[i];
    const struct dia_rig_device *there = &player->desk->rig.devices[i];
    struct play_device *device = &player->devices[i];
    const struct play_kind *kind = play_kinds[from->kind];
    uint8_t pins[DEVICE_ROLES];
    struct dia_device_setup setup = {
        .name = there->name,
        .part = there->chip,
        .pins = pins,
        .count = there->kind == DIA_KIND_DIGITS ? there->digits : there->count,
        .supply = player->supplies[there->supply],
        .lamp_ua = there->lamp_ua,
    };
    memset(pins, DIA_NO_PIN, sizeof pins);
    memcpy(pins, there->pins, sizeof there->pins);
    device->levels = calloc(from->lamps + 1, 1);
    device->steps = calloc(from->lamps + 1, 1);
    device->outputs = calloc(from->count * 64 + 128, 1);
    device->memory = calloc(kind->memory(from) + 1, 1);
    if (!device->steps || !device->levels || !device->outputs || !device->memory)
        return -1;
    device->on_bench = kind->on_bench(player, i, &setup);
    if (device->on_bench < 0)
        return -1;
    uint32_t noise_ppm = player->desk->devices[i].noise_ppm;
    for (uint8_t k = 0; k < DIA_RIG_PINS; k++) {
        if (there->pins[k] != DIA_NO_PIN)
            dia_bench_noise(player->bench, there->pins[k], noise_ppm, player->desk->seed + k);
    }
    return kind->connect(player, from, device) == DIA_OK ? 0 : -1;
}

int play_devices_connect(struct dia_player *player)
{
    dia_bench_answers(player->bench, dia_sim_drive, &player->sim);
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        if (connect(player, i) != 0)
            return -1;
    }
    return 0;
}

void play_devices_free(struct dia_player *player)
{
    for (uint32_t i = 0; i < DIA_RIG_DEVICES; i++) {
        free(player->devices[i].steps);
        free(player->devices[i].levels);
        free(player->devices[i].outputs);
        free(player->devices[i].memory);
    }
}

/* Digits show their text, if they have one; the other lamps what comes with the content. */
static void draw(struct dia_player *player, uint32_t i, const struct dia_content *content)
{
    const struct dia_rig_device *from = &player->rig->devices[i];
    struct play_device *device = &player->devices[i];
    uint8_t segments[DIA_RIG_LAMPS / 8] = {0};
    const char *text = content->text ? content->text(content->self, i, 0) : NULL;
    if (from->digits) {
        dia_segments_text(text ? text : from->text[0], segments, (uint16_t)from->digits);
        for (uint32_t k = 0; k < from->digits * 8; k++)
            device->levels[k] = segments[k / 8] >> (k % 8) & 1 ? ON : 0;
    }
    if (from->lamps)
        content->lamps(content->self, i, from->lamps, device->levels);
    for (uint32_t row = 0; row < from->rows; row++) {
        text = content->text ? content->text(content->self, i, row) : NULL;
        snprintf(device->text[row], sizeof device->text[row], "%s", text ? text : from->text[row]);
    }
}

void play_devices_draw(struct dia_player *player, const struct dia_content *content)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        struct play_device *device = &player->devices[i];
        uint64_t before_ua = device->wants_ua;
        draw(player, i, content);
        device->wants_ua = play_kinds[player->rig->devices[i].kind]->develop(
            player, &player->rig->devices[i], device);
        /* frames change at moments of their own: what counts is the larger one */
        device->draws_ua = device->wants_ua > before_ua ? device->wants_ua : before_ua;
    }
}

uint64_t play_devices_ask_ua(const struct dia_player *player, uint32_t supply)
{
    uint64_t sum = 0;
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        if (player->rig->devices[i].supply == supply)
            sum += player->devices[i].draws_ua;
    }
    return sum;
}

enum dia_status play_devices_start(struct dia_player *player)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        const struct dia_rig_device *from = &player->rig->devices[i];
        struct play_device *device = &player->devices[i];
        device->started_ns = player->sim.now_ns;
        enum dia_status status;
        while ((status = play_kinds[from->kind]->start(from, device)) == DIA_BUSY)
            dia_sim_advance_us(&player->sim, 1);
        if (status != DIA_OK)
            return status;
        device->busy = 1;
        device->frames++;
    }
    return DIA_OK;
}

int play_devices_poll(struct dia_player *player)
{
    int busy = 0;
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        struct play_device *device = &player->devices[i];
        if (!device->busy)
            continue;
        device->busy = play_kinds[player->rig->devices[i].kind]->poll(device) == DIA_BUSY;
        if (!device->busy)
            device->shown_ns = player->sim.now_ns;
        busy |= device->busy;
    }
    return busy;
}

/* Those that are lit in turns are looked at for whole periods. */
void play_devices_look(struct dia_player *player)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        const struct play_kind *kind = play_kinds[player->rig->devices[i].kind];
        if (kind->look)
            kind->look(player, &player->devices[i]);
        player->devices[i].draws_ua = player->devices[i].wants_ua;
    }
}

void play_devices_dark(struct dia_player *player)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++)
        play_kinds[player->rig->devices[i].kind]->dark(player, &player->devices[i]);
}

uint16_t dia_player_lamp(const struct dia_player *player, uint32_t device, uint32_t lamp)
{
    const struct dia_lamps_shown *shown =
        dia_bench_lamps(player->bench, player->devices[device].on_bench);
    return shown->level[player->desk->rig.devices[device].output_of[lamp]];
}

const struct dia_cells_shown *dia_player_cells(const struct dia_player *player, uint32_t device)
{
    return dia_bench_cells(player->bench, player->devices[device].on_bench);
}

uint64_t dia_player_device_ns(const struct dia_player *player, uint32_t device)
{
    const struct play_device *of = &player->devices[device];
    return of->shown_ns - of->started_ns;
}

void dia_player_hold_keys(struct dia_player *player, uint32_t device, uint8_t keys)
{
    dia_bench_keys(player->bench, player->devices[device].on_bench, keys);
}

uint8_t dia_player_keys(const struct dia_player *player, uint32_t device)
{
    return player->rig->devices[device].kind == DIA_KIND_PANEL
               ? player->devices[device].driver.panel.keys
               : 0;
}
