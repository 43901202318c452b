/* SPDX-License-Identifier: MIT */
#include "player_private.h"

void dia_play_buttons_connect(struct dia_player *player)
{
    struct dia_port *port = &player->sim.port;
    dia_player_hold_buttons(player, 0);
    for (uint32_t k = 0; k < player->rig->button_count; k++)
        port->ops->pin_release(port, (uint8_t)player->rig->buttons[k].pin);
}

void dia_player_hold_buttons(struct dia_player *player, uint8_t held)
{
    if (player->nodes) {
        dia_play_nodes_hold_buttons(player->nodes, held);
        return;
    }
    for (uint32_t k = 0; k < player->rig->button_count; k++) {
        const struct dia_rig_button *button = &player->rig->buttons[k];
        uint8_t level = held >> k & 1 ? button->pressed : !button->pressed;
        dia_sim_drive(&player->sim, player->sim.now_ns, (uint8_t)button->pin, level);
    }
}

uint8_t dia_player_buttons(struct dia_player *player)
{
    if (player->nodes)
        return dia_play_nodes_buttons(player->nodes);
    struct dia_port *port = &player->sim.port;
    unsigned held = 0;
    for (uint32_t k = 0; k < player->rig->button_count; k++) {
        const struct dia_rig_button *button = &player->rig->buttons[k];
        uint8_t level = !button->pressed;
        port->ops->pin_read(port, (uint8_t)button->pin, &level);
        held |= (unsigned)(level == button->pressed) << k;
    }
    return (uint8_t)held;
}
