/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_TELL_H
#define DIA_LIVE_TELL_H

#include <diachrome/editor.h>
#include <diachrome/live.h>
#include <diachrome/player.h>
#include <diachrome/scene.h>

#include "presets.h"

/* What there is, as JSON on the heap, freed with free(); NULL: no memory. page/openapi.json
 * has their shapes. */
struct tell_state {
    const struct dia_live *live;
    const struct dia_rig *rig;
    const char *node; /* NULL: it is a rig by itself */
    const struct presets *presets;
    uint64_t ms; /* of the run */
    int may_save;
    uint32_t scene; /* another number: another scene */
};
char *dia_tell_state(const struct tell_state *of);
struct tell_status {
    uint32_t show_ms;
    const struct dia_live *live;
    uint64_t ms; /* of the run */
    uint64_t frames, late;
    const char *trouble; /* with a file that has changed; "": there is none */
};
char *dia_tell_status(const struct dia_player *player, const struct dia_rig *rig,
                      const struct tell_status *status);
char *dia_tell_scene(const struct dia_scene *scene, const struct dia_rig *rig);
char *dia_tell_looks(void);
char *dia_tell_mask(void);

/* A file of drawings that is edited; editor NULL: none is. */
struct tell_drawing {
    const struct dia_editor *editor;
    const char *path;
    const struct dia_drawing_files *files; /* that the show names */
    int may_save;
    const char *trouble; /* with what is drawn, on the rig; "": there is none */
};
char *dia_tell_drawing(const struct tell_drawing *of);

/* A key by its number: "operator.3", or a button. 0: the rig has none such. */
int dia_tell_key(const struct dia_rig *rig, uint8_t key, char *name, size_t size);

/* {"wrong": "..."}; text NULL: {}. With number, the answer to that request on a socket. */
char *dia_tell_wrong(const char *text);
char *dia_tell_answer(uint32_t number, const char *wrong);

#endif
