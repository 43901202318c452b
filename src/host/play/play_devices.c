/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "family.h"
#include "player_private.h"

/* Level of what is simply on. */
#define ON 255

#define DEVICE_ROLES 24 /* more than any device has */

#define A_SECOND_NS 1000000000u

#define FIRST_TICK_US 100      /* after the start: a choice */
#define TICK_MOST_NS  20000000 /* a longer one has no time at all, which check says */

/* The bytes on its bus take their own time. Where a processor does all itself, so does the tick. */
static uint32_t tick(void *self)
{
    struct play_device *device = self;
    struct dia_sim *sim = device->sim;
    uint64_t until_ns = sim->now_ns + device->tick_ns;
    uint32_t again_us = dia_driver_tick(device->driver);
    while (sim->now_ns < until_ns) {
        uint64_t left = until_ns - sim->now_ns;
        sim->port.ops->wait_ns(&sim->port, (uint16_t)(left < 50000 ? left : 50000));
    }
    return again_us;
}

/* 0, or -1: there is no room for its interrupt. */
static int begin_ticks(struct dia_player *player, const struct dia_rig_device *from,
                       struct play_device *device)
{
    struct dia_refresh_setup setup = {.clock_hz = 1};
    device->timer = -1;
    if (!dia_driver_has_tick(device->driver) || !player->bench)
        return 0;
    if (from->family->ticks && player->rig->controller.holds)
        from->family->ticks(player->rig, from, &setup);
    uint64_t tick_ns = (uint64_t)setup.tick_cycles * 1000000000u / setup.clock_hz;
    device->tick_ns = (uint32_t)(tick_ns < TICK_MOST_NS ? tick_ns : TICK_MOST_NS);
    device->sim = &player->sim;
    device->timer = dia_sim_timer(&player->sim, tick, device, FIRST_TICK_US);
    return device->timer < 0 ? -1 : 0;
}

static int connect(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_device *from = &player->rig->devices[i];
    const struct dia_rig_device *there = &player->desk->rig.devices[i];
    struct play_device *device = &player->devices[i];
    const struct dia_rig_family *family = from->family;
    uint8_t pins[DEVICE_ROLES];
    struct dia_device_setup setup = {
        .name = there->name,
        .part = there->chip,
        .pins = pins,
        .count = there->count,
        .supply = player->supplies[there->supply],
        .lamp_ua = there->lamp_ua,
    };
    memset(pins, DIA_NO_PIN, sizeof pins);
    memcpy(pins, there->pins, sizeof there->pins);
    size_t drawing, memory;
    family->sizes(from, &drawing, &memory);
    device->levels = calloc((size_t)from->lamps * from->channels + 1, 1);
    device->driver = calloc(1, family->driver_bytes);
    device->drawing = calloc(drawing + 1, 1);
    device->memory = calloc(memory + 1, 1);
    if (!device->driver || !device->levels || !device->drawing || !device->memory)
        return -1;
    player->connecting = from->name;
    device->on_bench = player->bench ? family->on_bench(player, i, &setup) : 0;
    if (device->on_bench < 0)
        return -1;
    uint32_t noise_ppm = player->desk->devices[i].noise_ppm;
    for (uint8_t k = 0; k < DIA_RIG_PINS && player->bench; k++) {
        if (there->pins[k] != DIA_NO_PIN)
            dia_bench_noise(player->bench, there->pins[k], noise_ppm, player->desk->seed + k);
    }
    if (family->connect(player, from, device) != DIA_OK)
        return -1;
    struct dia_about about;
    dia_driver_about(device->driver, &about);
    device->is_cells = about.element == DIA_CELLS;
    dia_driver_master(device->driver, player->master);
    player->members[i] = (struct dia_set_member){
        .driver = device->driver, .lamp_ua = from->lamp_ua, .supply = (uint8_t)from->supply};
    return begin_ticks(player, from, device);
}

int dia_play_devices_connect(struct dia_player *player)
{
    if (player->bench)
        dia_bench_answers(player->bench, dia_sim_drive, &player->sim);
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        if (connect(player, i) != 0)
            return -1;
    }
    return 0;
}

void dia_play_devices_free(struct dia_player *player)
{
    for (uint32_t i = 0; i < DIA_RIG_DEVICES; i++) {
        free(player->devices[i].driver);
        free(player->devices[i].levels);
        free(player->devices[i].drawing);
        free(player->devices[i].memory);
    }
}

/* A row of cells, with spaces behind the text. */
static void draw_row(const struct dia_rig_device *from, struct play_device *device, uint32_t row,
                     const char *text)
{
    uint8_t *cells = device->drawing + row * from->columns;
    size_t length = strlen(text);
    length = length < from->columns ? length : from->columns;
    memset(cells, ' ', from->columns);
    memcpy(cells, text, length);
}

/* Digits show their text, if they have one; the other lamps what comes with the content. */
static void draw(struct dia_player *player, uint32_t i, const struct dia_content *content)
{
    const struct dia_rig_device *from = &player->rig->devices[i];
    struct play_device *device = &player->devices[i];
    const char *text = content->text && from->digits ? content->text(content->self, i, 0) : NULL;
    dia_play_glyphs_begin(device);
    if (from->digits) {
        uint32_t segments[DIA_RIG_LAMPS / 8];
        dia_rig_digits_text(from, text ? text : from->text[0], segments);
        for (uint32_t k = 0; k < from->digits * from->per_digit; k++)
            device->levels[k] = segments[k / from->per_digit] >> (k % from->per_digit) & 1 ? ON : 0;
    }
    if (from->lamps)
        content->lamps(content->self, i, from->lamps * from->channels, device->levels);
    dia_driver_levels(device->driver, device->levels, from->lamps * from->channels,
                      from->channels == 1 ? from->output_of : NULL);
    for (uint32_t row = 0; row < from->rows; row++) {
        text = content->text ? content->text(content->self, i, row) : NULL;
        draw_row(from, device, row, text ? text : from->text[row]);
    }
    if (from->family->want) {
        struct dia_cells_wanted wanted = {.on = 1};
        if (content->cells)
            content->cells(content->self, i, &wanted);
        from->family->want(device, &wanted, player->master);
    }
}

void dia_play_devices_draw(struct dia_player *player, const struct dia_content *content)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        uint8_t every = player->rig->devices[i].family->refresh_every;
        struct play_device *device = &player->devices[i];
        draw(player, i, content);
        if (every && device->frames++ % every == 0)
            dia_driver_refresh(device->driver);
    }
}

uint64_t dia_play_next_tick_us(const struct dia_sim *sim)
{
    uint64_t due_ns = sim->now_ns + A_SECOND_NS;
    for (uint8_t i = 0; i < sim->timer_count; i++) {
        if (sim->timers[i].run && sim->timers[i].due_ns < due_ns)
            due_ns = sim->timers[i].due_ns;
    }
    return due_ns > sim->now_ns ? (due_ns - sim->now_ns + 999u) / 1000u : 1;
}

static void wait_for(struct dia_player *player, const volatile uint8_t *counter)
{
    uint64_t until_ns = player->sim.now_ns + A_SECOND_NS; /* no period is as long */
    for (uint8_t now = *counter; *counter == now && player->sim.now_ns < until_ns;)
        dia_sim_advance_us(&player->sim, dia_play_next_tick_us(&player->sim));
}

/* What is lit in turns is looked at for a whole period, from one change of its counter to the
 * next. */
void dia_play_devices_look(struct dia_player *player)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        struct play_device *device = &player->devices[i];
        const struct dia_rig_family *family = player->rig->devices[i].family;
        if (family->counter) {
            wait_for(player, family->counter(device));
            dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
            wait_for(player, family->counter(device));
            dia_bench_see(player->bench, device->on_bench, player->sim.now_ns);
        }
    }
}

uint16_t dia_player_lamp(const struct dia_player *player, uint32_t device, uint32_t lamp)
{
    player = dia_play_of_device(player, &device);
    const struct dia_lamps_shown *shown =
        dia_bench_lamps(player->bench, player->devices[device].on_bench);
    const struct dia_rig_device *there = &player->desk->rig.devices[device];
    uint32_t output = there->channels == 1 ? there->output_of[lamp] : lamp;
    return output == DIA_RIG_NOWHERE ? 0 : shown->level[output];
}

static uint8_t scaled(uint8_t code, uint32_t level)
{
    return dia_code_of((dia_light)((uint32_t)dia_light_of(code) * level / 65535));
}

/* What is lit in turns is dim in the mean; it is shown as if all its time were its turn. */
struct dia_rgb dia_lamp_seen(const struct dia_rig_device *device, uint16_t level)
{
    struct dia_rgb colour = device->colour;
    uint32_t share = level * dia_rig_turns(device);
    share = share > 65535 ? 65535 : share;
    return (struct dia_rgb){scaled(colour.r, share), scaled(colour.g, share),
                            scaled(colour.b, share)};
}

struct dia_rgb dia_player_lamp_seen(const struct dia_player *player, uint32_t device, uint32_t lamp)
{
    player = dia_play_of_device(player, &device);
    const struct dia_rig_device *of = &player->desk->rig.devices[device];
    if (of->channels == 1)
        return dia_lamp_seen(&player->rig->devices[device], dia_player_lamp(player, device, lamp));
    uint16_t red = dia_player_lamp(player, device, 3 * lamp),
             green = dia_player_lamp(player, device, 3 * lamp + 1),
             blue = dia_player_lamp(player, device, 3 * lamp + 2);
    return (struct dia_rgb){dia_lamp_seen(of, red).r, dia_lamp_seen(of, green).g,
                            dia_lamp_seen(of, blue).b};
}

const struct dia_cells_shown *dia_player_cells(const struct dia_player *player, uint32_t device)
{
    player = dia_play_of_device(player, &device);
    return dia_bench_cells(player->bench, player->devices[device].on_bench);
}

uint64_t dia_player_device_ns(const struct dia_player *player, uint32_t device)
{
    player = dia_play_of_device(player, &device);
    const struct play_time *time = &player->devices[device].time;
    return time->shown_ns - time->began_ns;
}

void dia_player_hold_keys(struct dia_player *player, uint32_t device, uint8_t keys)
{
    if (player->nodes) {
        const struct play_part *part = &player->nodes->devices[device];
        dia_player_hold_keys(part->of, part->number, keys);
        return;
    }
    dia_bench_keys(player->bench, player->devices[device].on_bench, keys);
}

uint8_t dia_player_keys(const struct dia_player *player, uint32_t device)
{
    player = dia_play_of_device(player, &device);
    const struct dia_rig_family *family = player->rig->devices[device].family;
    return family->keys ? family->keys(&player->devices[device]) : 0;
}

uint8_t dia_player_refused(const struct dia_player *player, uint32_t device)
{
    player = dia_play_of_device(player, &device);
    return player->devices[device].refused;
}

uint64_t dia_player_late_ns(const struct dia_player *player, uint32_t device)
{
    player = dia_play_of_device(player, &device);
    int timer = player->devices[device].timer;
    return timer < 0 ? 0 : player->sim.timers[timer].latest_ns;
}

/* Some questions come before a frame begins to go out. */
#define BEFORE_NS 10000u

void dia_player_rest_until_tick(struct dia_player *player, uint32_t device, uint32_t k)
{
    if (player->nodes) {
        const struct play_part *part = &player->nodes->devices[device];
        dia_player_rest_until_tick(part->of, part->number, k);
        dia_play_nodes_meet(player->nodes);
        return;
    }
    int number = player->devices[device].timer;
    if (number < 0)
        return;
    const struct dia_sim_timer *timer = &player->sim.timers[number];
    for (uint64_t due_ns = timer->due_ns; k > 0 && timer->run; due_ns = timer->due_ns, k--)
        dia_player_rest_until(player, due_ns + 1000u);
    if (timer->due_ns > BEFORE_NS)
        dia_player_rest_until(player, timer->due_ns - BEFORE_NS);
}
