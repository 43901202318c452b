/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_device.h"

static int panel_on_bench(struct dia_player *player, uint32_t number,
                          const struct dia_device_setup *setup)
{
    (void)number;
    return dia_bench_panel(player->bench, setup);
}

static enum dia_status panel_connect(struct dia_player *player, const struct dia_rig_device *from,
                                     struct play_device *device)
{
    return dia_panel_init(&device->driver.panel, &player->sim.port,
                          strcmp(from->chip, "TM1637") == 0 ? &dia_tm1637 : &dia_tm1638,
                          from->pins[DIA_PANEL_STB], from->pins[DIA_PANEL_CLK],
                          from->pins[DIA_PANEL_DIO]);
}

/* Outputs are numbered as the memory of the chip. */
static uint64_t panel_develop(const struct dia_player *player, const struct dia_rig_device *from,
                              struct play_device *device)
{
    struct dia_panel *panel = &device->driver.panel;
    uint32_t lit = play_steps(from, device, DIA_SHARE_ONE, 1), apart = panel->part->lamps ? 2 : 1;
    for (uint8_t digit = 0; digit < panel->part->digits; digit++) {
        const uint8_t *outputs = device->outputs + digit * 8 * apart;
        uint8_t segments = 0;
        for (uint8_t k = 0; k < 8; k++)
            segments |= (uint8_t)(outputs[k] << k);
        dia_panel_digit(panel, digit, segments);
        if (panel->part->lamps)
            dia_panel_lamp(panel, digit, outputs[8]);
    }
    dia_panel_master(panel, player->rig->master);
    return (uint64_t)lit * from->lamp_ua * 14 / 16 + 1;
}

static enum dia_status panel_start(const struct dia_rig_device *from, struct play_device *device)
{
    (void)from;
    if (device->frames % REFRESH_EVERY == 0)
        dia_panel_refresh(&device->driver.panel);
    return dia_panel_start(&device->driver.panel);
}

static enum dia_status panel_poll(struct play_device *device)
{
    return dia_panel_poll(&device->driver.panel);
}

static void panel_dark(struct dia_player *player, struct play_device *device)
{
    struct dia_panel *panel = &device->driver.panel;
    (void)player;
    while (dia_panel_poll(panel) == DIA_BUSY)
        ;
    dia_panel_master(panel, 0);
    dia_panel_start(panel);
    while (dia_panel_poll(panel) == DIA_BUSY)
        ;
}

const struct play_kind play_panel = {play_no_memory, panel_on_bench, panel_connect, panel_develop,
                                     panel_start,    panel_poll,     NULL,          panel_dark};
