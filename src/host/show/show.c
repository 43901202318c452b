/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/show.h>

#include "host_private.h"
#include "show_private.h"

void dia_show_init(struct dia_show *show)
{
    /* not the layers, most of all: each is whole when it is added */
    memset((char *)show + sizeof show->layers, 0, sizeof *show - sizeof show->layers);
}

enum dia_status dia_show_rig_values(struct dia_show *show, const struct dia_rig *rig,
                                    struct dia_diagnostic *wrong)
{
    for (uint32_t k = 0; k < rig->value_count; k++) {
        struct dia_diagnostic why = {""};
        enum dia_status status = dia_show_value_read(show, rig, rig->values[k].line, &why);
        if (status != DIA_OK) {
            dia_host_wrong(wrong, "%s:%u: %.300s", rig->path, (unsigned)rig->values[k].at,
                           why.text);
            return status;
        }
    }
    return DIA_OK;
}

void dia_show_free(struct dia_show *show)
{
    for (uint32_t k = 0; k < show->layer_count; k++)
        dia_rig_layer_free(&show->layers[k]);
    show->layer_count = 0;
    for (uint32_t k = 0; k < show->value_count; k++)
        free(show->values[k].readings);
    show->value_count = 0;
    dia_drawing_files_free(&show->drawings);
    free(show->events);
    show->events = NULL;
}

enum dia_status dia_show_at(struct dia_show *show, uint32_t ms, struct dia_rig_layer *now)
{
    if (dia_show_hear(show) != DIA_OK)
        return DIA_PORT_FAILED;
    struct dia_show_cued cued;
    struct dia_layer timed[DIA_RIG_LAYERS];
    memcpy(now, show->layers, show->layer_count * sizeof *now);
    dia_show_cue_to(show, ms, now, &cued);
    dia_cues_apply(&cued.cues, ms, timed);
    for (uint32_t k = 0; k < show->layer_count; k++) {
        if (now[k].look == &dia_look_universe)
            ((struct dia_universe_look *)(void *)&now[k].values)->from = show->universes;
    }
    for (uint32_t k = 0; k < show->layer_count; k++) {
        now[k].level = timed[k].level;
        now[k].start_ms = timed[k].start_ms;
        now[k].ahead_ms = timed[k].ahead_ms;
        now[k].length_ms = timed[k].length_ms;
        now[k].fade_in_ms = timed[k].fade_in_ms;
        now[k].fade_out_ms = timed[k].fade_out_ms;
    }
    return dia_show_values_at(show, ms, now);
}

/* Keys are held where they are, also when those that were pressed are forgotten. */
static void hold_keys(struct dia_show *show, struct dia_player *player, uint32_t ms)
{
    const struct dia_rig *rig = dia_player_desk(player);
    show->pressed |= show->press_count != 0;
    for (uint32_t i = 0; i < rig->device_count && show->pressed; i++) {
        if (dia_rig_has_keys(&rig->devices[i]))
            dia_player_hold_keys(player, i, dia_show_held(show, rig->devices[i].place, ms));
    }
    unsigned held = show->pressed ? dia_show_held(show, DIA_RIG_DEVICES, ms) : 0, own = 0;
    for (uint32_t k = 0; k < rig->button_count; k++)
        own |= (held >> rig->buttons[k].place & 1u) << k;
    if (show->pressed)
        dia_player_hold_buttons(player, (uint8_t)own);
}

enum dia_status dia_show_play(struct dia_show *show, struct dia_player *player, uint32_t ms,
                              uint32_t slot, uint64_t *frame_ns)
{
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    hold_keys(show, player, ms);
    enum dia_status status = dia_show_at(show, ms, now);
    if (status != DIA_OK)
        return status;
    return dia_player_show_layers(player, now, show->layer_count, ms, slot, frame_ns);
}

const char *dia_show_trouble(const struct dia_show *show)
{
    for (uint32_t k = 0; k < show->layer_count; k++) {
        const struct dia_film *film = show->layers[k].film;
        if (film && dia_film_trouble(film)[0])
            return dia_film_trouble(film);
    }
    return "";
}
