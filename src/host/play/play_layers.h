/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAY_LAYERS_H
#define DIA_HOST_PLAY_LAYERS_H

#include <diachrome/rig_layer.h>

/* Cells of a display or digits of a device, at most. */
#define PLAY_CELLS (DIA_RIG_LAMPS / 8)

/* Layers as content. Numbers of lanes and devices are those of the whole rig. */
struct layers_content {
    const struct dia_rig *rig; /* the whole */
    const struct dia_rig_layer *layers;
    uint32_t count, ms;
    struct dia_player *player; /* NULL where nothing is shown */
    enum dia_status status;    /* what became of frames of films */
    uint32_t *longest_ms;      /* where it is given, ways are measured and nothing is rendered */
    char text[2 * PLAY_CELLS + 1]; /* of a row, and where it has a point another byte a digit */
};

/* 1: a text is to be seen at once in all of its width. */
int dia_play_text_stands(const struct layers_content *content, const struct dia_rig_layer *layer);

/* Warns of a text that stands still and has no room: what is cut off nobody sees. */
void dia_play_warn_of_room(const struct layers_content *content, const struct dia_rig_layer *layer,
                           const char *where, struct dia_text_extent takes,
                           struct dia_text_extent room);

/* A text that is two rows high, in a row of a display of cells: 1, or 0: it has nothing there. */
int dia_play_tall(const struct layers_content *content, uint32_t device,
                  const struct dia_rig_layer *layer, const struct dia_rig_part *part, uint32_t row,
                  uint16_t *codes);

/* Signs that stand for pieces of such a text, enum dia_tall_piece: of Unicode's private use, behind
 * those of drawings. */
#define PLAY_TALL 0xf8f0u

/* Whether a display of cells is on, and where its cursor is. */
void dia_play_whole_cells(struct layers_content *content, uint32_t device,
                          struct dia_cells_wanted *wanted);

/* A row of a display or of digits: its text, with what layers of the look `text` show over it. */
const char *dia_play_whole_text(struct layers_content *content, uint32_t device, uint32_t row);

#endif
