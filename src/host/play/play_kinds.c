/* SPDX-License-Identifier: MIT */
#include "play_device.h"

size_t play_no_memory(const struct dia_rig_device *from)
{
    (void)from;
    return 0;
}

uint32_t play_steps(const struct dia_rig_device *from, struct play_device *device, dia_share master,
                    uint8_t depth)
{
    uint32_t sum = 0;
    dia_lamps_develop(device->levels, (uint16_t)from->lamps, master, depth, device->steps);
    dia_lamps_wire(device->steps, (uint16_t)from->lamps, from->output_of, device->outputs);
    for (uint32_t i = 0; i < from->lamps; i++)
        sum += device->steps[i];
    return sum;
}

static void wait_for(struct dia_player *player, const volatile uint8_t *counter)
{
    uint8_t now = *counter;
    for (uint32_t us = 0; *counter == now && us < 1000000; us++)
        dia_sim_advance_us(&player->sim, 1);
}

void play_look_for(struct dia_player *player, struct play_device *device,
                   const volatile uint8_t *counter)
{
    wait_for(player, counter);
    dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
    wait_for(player, counter);
    dia_bench_see(player->bench, device->on_bench, player->sim.now_ns);
}

void play_stop_ticks(struct dia_player *player, const void *driver)
{
    for (uint8_t i = 0; i < player->sim.timer_count; i++) {
        if (player->sim.timers[i].self == driver)
            player->sim.timers[i].run = NULL;
    }
}

const struct play_kind *const play_kinds[] = {&play_matrix, &play_shift, &play_digits, &play_panel,
                                              &play_characters};
