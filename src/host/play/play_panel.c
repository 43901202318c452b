/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_device.h"

static void panel_sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    (void)from;
    *drawing = DIA_PANEL_DRAWING;
    *memory = 0;
}

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
                          from->pins[DIA_PANEL_DIO], device->drawing);
}

const struct play_kind play_panel = {
    .sizes = panel_sizes,
    .on_bench = panel_on_bench,
    .connect = panel_connect,
    .refresh_every = REFRESH_EVERY,
};
