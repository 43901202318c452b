/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_TELL_H
#define DIA_LIVE_TELL_H

#include <diachrome/live.h>
#include <diachrome/player.h>
#include <diachrome/scene.h>

#include "presets.h"

/* What there is, as JSON on the heap, freed with free(); NULL: no memory. docs/live.openapi.json
 * has their shapes. */
char *dia_tell_state(const struct dia_live *live, const struct dia_rig *rig, uint64_t ms,
                     const struct presets *presets, int may_save);
struct tell_status {
    uint32_t show_ms;
    uint64_t frames, late;
};
char *dia_tell_status(const struct dia_player *player, const struct dia_rig *rig,
                      const struct tell_status *status);
char *dia_tell_scene(const struct dia_scene *scene, const struct dia_rig *rig);
char *dia_tell_looks(void);

/* {"wrong": "..."}; text NULL: {}. With number, the answer to that request on a socket. */
char *dia_tell_wrong(const char *text);
char *dia_tell_answer(uint32_t number, const char *wrong);

#endif
