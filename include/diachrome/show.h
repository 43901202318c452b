/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SHOW_H
#define DIACHROME_SHOW_H

#include <stdint.h>

#include "cue.h"
#include "diagnostic.h"
#include "linkage.h"
#include "player.h"
#include "rig.h"
#include "rig_layer.h"
#include "show_value.h"
#include "universe.h"

DIA_BEGIN

/*
 * A show: layers on a rig, what keys do to them, and which keys are pressed when. All three are
 * what a frame is made from, so any frame can be asked for by itself.
 *
 *   dia_show_init(&show);
 *   dia_show_rig_values(&show, &rig, &wrong);
 *   dia_show_load(&show, &rig, "evening.show", &wrong);
 *   dia_show_play(&show, player, ms, slot, NULL);
 *   dia_show_free(&show);
 *
 * Cost: reading takes milliseconds; a frame costs what its layers do.
 * Context: one thread at a time for an object; not from an interrupt.
 */
/* The words of a layer's mask, for programs that let a person choose; it renders nothing. `shape`
 * stands before the others in a show: sine(length=50cm low=20%). */
extern const struct dia_look dia_mask_words;

#define DIA_SHOW_CUES    64
#define DIA_SHOW_PRESSES 256

/* Keys are numbered through all devices: DIA_KEYS of device 0, those of device 1, ..., and the
 * buttons of the rig behind them, from DIA_SHOW_BUTTONS on. Where a rig has neither, those of
 * device 0 stand for keys of the desk at which it is watched. */
#define DIA_SHOW_BUTTONS (DIA_RIG_DEVICES * DIA_KEYS)
struct dia_show_press {
    uint32_t ms, for_ms; /* when it goes down, and how long it stays so */
    uint8_t key;
    uint8_t came; /* 1: it came in while the show ran, and no line of the show has it */
};

/* A parameter that cues change. */
struct dia_show_knob {
    uint8_t layer;
    const struct dia_param *param;
    /* private: set by hand at a time, over what cues did before */
    uint8_t by_hand;
    int32_t value;
    uint32_t ms;
};

/* What presses until a time amount to, when they themselves are forgotten. Private. */
struct dia_show_past {
    uint8_t is_set;
    uint32_t ms;
    struct dia_cued states[DIA_RIG_LAYERS];
    struct dia_knob knobs[DIA_SHOW_CUES];
};

struct dia_show {
    struct dia_rig_layer layers[DIA_RIG_LAYERS]; /* the lowest first; layer_count of them are set */
    char names[DIA_RIG_LAYERS][DIA_RIG_NAME];    /* of the layers; "" for none */
    uint32_t layer_count;
    struct dia_cue cues[DIA_SHOW_CUES];
    struct dia_show_knob knobs[DIA_SHOW_CUES];
    uint32_t cue_count, knob_count;
    struct dia_show_press presses[DIA_SHOW_PRESSES];
    uint32_t press_count;
    struct dia_drawing_files drawings;
    struct dia_show_value values[DIA_SHOW_VALUES];
    struct dia_show_choice choices[DIA_SHOW_CHOICES];
    struct dia_show_drive drives[DIA_SHOW_DRIVES];
    uint32_t value_count, choice_count, drive_count;
    const struct dia_universes *universes; /* of the look universe; the caller's, NULL: none */
    uint32_t clock_s; /* seconds since midnight at time 0, for values of the clock; the caller's */
    /* private: what the presses amount to, in the order of time */
    struct dia_key_event *events;
    uint32_t event_count, event_room;
    uint32_t heard_ms; /* they are up to date for presses before this time */
    uint8_t pressed;   /* 1: keys were held on a player */
    struct dia_show_past past;
};

/* Nothing in it. */
void dia_show_init(struct dia_show *show);

/* The values that the rig's file has, before all else. DIA_BAD_VALUE and a diagnostic with its file
 * and line: one of them is wrong. DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_show_rig_values(struct dia_show *show, const struct dia_rig *rig,
                                    struct dia_diagnostic *wrong);
void dia_show_free(struct dia_show *show);

/*
 * A line of a show, as docs/layers.md has it:
 *
 *   layer [NAME:] LOOK ...               as dia_rig_layer_read
 *   key PANEL.N KIND: ACTION             KIND: down, up, short, double, long, repeat
 *       start, stop or toggle NAME,NAME...
 *       next NAME,NAME... or next none,NAME,NAME...
 *       there-and-back NAME,NAME... [over TIME]
 *       pace NAME,NAME... to SHARE [over TIME]
 *       set NAME.KEY=VALUE [over TIME]
 *       raise or lower NAME.KEY by VALUE [over TIME]
 *   press TIME PANEL.N [for TIME]
 *   drawings FILE                                             docs/drawings.md: faces, sprites
 *   value NAME SOURCE [KEY=VALUE...]                          docs/values.md has these
 *   choice NAME of VALUE TEXT LIMIT TEXT... [within NUMBER]
 *   drive NAME.KEY by VALUE from NUMBER to NUMBER gives VALUE to VALUE
 *
 * DIA_BAD_VALUE and a diagnostic, with the show as it was, when it is wrong; DIA_PORT_FAILED when
 * memory ran out.
 */
enum dia_status dia_show_line(struct dia_show *show, const struct dia_rig *rig, const char *line,
                              struct dia_diagnostic *wrong);

/* The lines of a file; a line that begins with a space continues the one before, # begins a
 * comment. Diagnostics begin with file:line. */
enum dia_status dia_show_load(struct dia_show *show, const struct dia_rig *rig, const char *path,
                              struct dia_diagnostic *wrong);

/* The same of a text; name: what diagnostics call it. It may have no layer. */
enum dia_status dia_show_read(struct dia_show *show, const struct dia_rig *rig, const char *text,
                              const char *name, struct dia_diagnostic *wrong);

/* Writes a text of a show as a file, whole or not at all. */
enum dia_status dia_show_write(const char *path, const char *text, struct dia_diagnostic *wrong);

/* DIA_BAD_VALUE and a diagnostic when a text has a field that is wrong or of a value that there is
 * not. Call it when all lines have been read. */
enum dia_status dia_show_check(const struct dia_show *show, struct dia_diagnostic *wrong);

/* 1, and what to tell: the text of a layer has a sign that its face lacks, which shows as a box, or
 * a drawing that does not show there. 2: a sign that a display cannot show, which is an error when
 * it is played. */
int dia_show_lacks(const struct dia_show *show, const struct dia_rig *rig, uint32_t layer,
                   struct dia_diagnostic *note);

/*
 * A line that comes in at a time: "NAME NUMBER", of a value with the source `input`, or the number
 * alone where only one such value is there. DIA_BAD_VALUE and a diagnostic, with nothing changed:
 * it is neither. DIA_PORT_FAILED: no room for more.
 */
enum dia_status dia_show_feed(struct dia_show *show, const char *line, uint32_t ms,
                              struct dia_diagnostic *wrong);

/* Writes all that came in as a file, time,name,value, which a value with the source `csv` reads. */
enum dia_status dia_show_record(const struct dia_show *show, const char *path,
                                struct dia_diagnostic *wrong);

/* One press more, at any time. DIA_BAD_VALUE when there are DIA_SHOW_PRESSES already. What presses
 * amount to is worked out with the next frame: a few steps for each tenth of a second that a key is
 * held. */
enum dia_status dia_show_press(struct dia_show *show, struct dia_show_press press);

/* A key that went down at some time comes up at a later one. DIA_BAD_VALUE: it is not down. */
enum dia_status dia_show_release(struct dia_show *show, uint8_t key, uint32_t ms);

/*
 * For shows that run for days: makes room when there are many presses or readings, by putting those
 * together that are over before a time. Frames from then on are as they were; frames before it
 * can no longer be asked for. Costs nothing while there are few. DIA_PORT_FAILED: memory ran out.
 */
enum dia_status dia_show_settle(struct dia_show *show, uint32_t ms);

/* The layers as they are at a time, layer_count of them into now. DIA_PORT_FAILED: memory ran out.
 */
enum dia_status dia_show_at(struct dia_show *show, uint32_t ms, struct dia_rig_layer *now);

/* Shows them on a player, with the keys of that time held on its panels, as dia_player_show does a
 * look. DIA_BAD_VALUE: a file of a picture is damaged, and dia_show_trouble says where. */
enum dia_status dia_show_play(struct dia_show *show, struct dia_player *player, uint32_t ms,
                              uint32_t slot, uint64_t *frame_ns);

/* What is wrong with a file of a picture; "": nothing. */
const char *dia_show_trouble(const struct dia_show *show);

/* The key that text names: "operator.1", a button "bell", or "1": of the first panel, else of the
 * buttons, else of nobody's panel. */
enum dia_status dia_show_key_read(const struct dia_rig *rig, const char *text, uint8_t *key,
                                  struct dia_diagnostic *wrong);

DIA_END

#endif
