/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LIVE_H
#define DIACHROME_LIVE_H

#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "player.h"
#include "rig.h"
#include "show.h"
#include "value.h"

DIA_BEGIN

/*
 * A show that is changed while it runs.
 *
 * Use:     1. dia_live_new()      with the text of a show; NULL text: nothing but what a rig shows
 *          2. dia_live_change()   one line a change, at its time
 *          3. dia_live_play()     the frame of a time
 *          4. dia_live_free()
 * Time:    two clocks. The clock of the run never stops: changes and frames have times of it. The
 *          clock of the show follows it, but for pause, seek and pace.
 * Purity:  the same text and the same changes at the same times give the same frames, byte for
 *          byte. So a recorded run (dia_changes_load) plays again.
 * Memory:  does not grow with time: presses and readings that are over are put together.
 * Cost:    a change of a parameter takes microseconds, one of the text as long as reading a show
 *          (up to some milliseconds); a frame costs what its layers do.
 * Context: one thread at a time for an object; not from an interrupt.
 * Errors:  DIA_BAD_VALUE    and a diagnostic that says what would be right. Nothing was changed.
 *          DIA_PORT_FAILED  memory ran out. Nothing was changed.
 *
 * A change is one line; docs/live.md has them all:
 *
 *   set LAYER.KEY=VALUE         a parameter of a look
 *   clause LAYER WORD VALUE     on, along, blend, level, mask, ... of a layer; `none` takes it away
 *   look LAYER LOOK             another look with its defaults, in the same place
 *   layer [NAME:] LOOK ...      in the place of the layer with that name, or over all
 *   drop LAYER
 *   move LAYER PLACE            the lowest layer has place 1
 *   paint WHERE COLOUR          one colour over all else there; `none` takes it away
 *   press KEY [for TIME]        a key of the rig; 100ms
 *   hold KEY, release KEY
 *   value NAME NUMBER           of a value with the source `input`
 *   slots UNIVERSE HEX          of the look `universe`: two digits a slot, the others 0
 *   slots UNIVERSE lost         its source is lost
 *   master SHARE
 *   pause, resume, seek TIME, pace SHARE
 *   clock TIME                  what time of day it is now, since midnight
 *   show "TEXT"                 the whole text, with \n, \" and \\ in it
 *   undo, redo                  of what changes the text; 50 steps
 *   undo "TEXT", redo "TEXT"    the same, where it is known what they go to
 *
 * LAYER is the name of a layer, or its place as #1, #2, ...
 */
struct dia_live;

/* The rig must stay. name: what diagnostics call the text. NULL and a diagnostic, when the text is
 * wrong or memory ran out (failed is 1 then, if it is not NULL). */
struct dia_live *dia_live_new(const struct dia_rig *rig, const char *text, const char *name,
                              int *failed, struct dia_diagnostic *wrong);
void dia_live_free(struct dia_live *live);

/* The same with the text of a file, which has at most 262143 bytes. */
struct dia_live *dia_live_load(const struct dia_rig *rig, const char *path, int *failed,
                               struct dia_diagnostic *wrong);

/* Plays on another rig from now on, or on the same one when its file has changed: the show is read
 * for it, its time goes on. The rig must stay. Wrong: all is as it was. */
enum dia_status dia_live_on(struct dia_live *live, const struct dia_rig *rig, uint64_t ms,
                            struct dia_diagnostic *wrong);

/* From whom a change comes. Others than the owner may name no file that the show did not name at
 * its beginning, or when the owner last gave a text. */
enum dia_live_from { DIA_LIVE_OWNER, DIA_LIVE_OTHERS };

/* Makes a change at a time of the run, ms. Times do not fall. */
enum dia_status dia_live_change(struct dia_live *live, const char *line, uint64_t ms,
                                enum dia_live_from from, struct dia_diagnostic *wrong);

/* Shows the frame of a time of the run, us, as frame number slot of the dithering. As
 * dia_show_play. */
enum dia_status dia_live_play(struct dia_live *live, struct dia_player *player, uint64_t time_us,
                              uint32_t slot, uint64_t *frame_ns);

/* How it stands. The show and texts are the live's, until the next change. */
const struct dia_show *dia_live_show(const struct dia_live *live);
const char *dia_live_text(const struct dia_live *live);
uint32_t dia_live_version(const struct dia_live *live); /* 1 more with each change */
uint32_t dia_live_show_ms(const struct dia_live *live, uint64_t ms);
dia_share dia_live_master(const struct dia_live *live);
int dia_live_is_paused(const struct dia_live *live);
int32_t dia_live_pace(const struct dia_live *live); /* a dia_share, -16..16 times one */
/* 1: every frame from this time of the run on is the same, until something is changed: it is
 * paused, or nothing of it moves. */
int dia_live_rests(const struct dia_live *live);
uint32_t dia_live_undos(const struct dia_live *live);
uint32_t dia_live_redos(const struct dia_live *live);
/* What undo and redo would go to, the live's; NULL: there is nothing. */
const char *dia_live_undo_text(const struct dia_live *live);
const char *dia_live_redo_text(const struct dia_live *live);

/*
 * How it stands, as lines of text on the heap, freed with free(); NULL: memory ran out. What is
 * made of it shows the same from then on: text, level, clocks, presses, values (of each the newest
 * 64 readings). Steps of undo and slots of a lighting network are not in it.
 */
char *dia_live_state(const struct dia_live *live);

/* The show that stands so. It comes from elsewhere: its text may name no file but those that
 * `known` names, the text of a show of this machine's owner. As dia_live_new. */
struct dia_live *dia_live_from(const struct dia_rig *rig, const char *state, const char *name,
                               const char *known, int *failed, struct dia_diagnostic *wrong);

/* A file of drawings that the show names has this text from now on, whatever is in it, since
 * somebody edits it; text NULL: what the file has again. One file at a time. */
enum dia_status dia_live_instead(struct dia_live *live, const char *path, const char *text,
                                 size_t size, uint64_t ms, struct dia_diagnostic *wrong);

/* What is no part of a state goes over from another, which is of no use then: steps of undo, slots,
 * and what its owner brought in. Versions go on from its. */
void dia_live_take_over(struct dia_live *to, struct dia_live *from);

/* What diagnostics call the text; and the text whose files others may name. The live's. */
const char *dia_live_name(const struct dia_live *live);
const char *dia_live_known(const struct dia_live *live);

/* The k-th file that the text names: 1, and its name; 0: there are no more. */
int dia_live_file(const struct dia_live *live, uint32_t k, char *name, size_t size);

/* From now on texts of others may name this file too, which the owner has let in: a name without a
 * path. DIA_BAD_VALUE: it is too long, or has a space, quote, backslash or #. */
enum dia_status dia_live_may_name(struct dia_live *live, const char *file);

/* A change of that word with a text behind it, in quotes: 'show "..."'. On the heap, freed with
 * free(); NULL: memory ran out. */
char *dia_live_quoted(const char *word, const char *text);

/* All values and choices as they are at a time of the run: how many, at most DIA_LIVE_VALUES. Their
 * names and texts are the live's. */
#define DIA_LIVE_VALUES (DIA_SHOW_VALUES + DIA_SHOW_CHOICES)
uint8_t dia_live_values(const struct dia_live *live, uint64_t ms, struct dia_value *out);

/* What the text says of a layer behind a clause word, such as "on", or as KEY= of a parameter; ""
 * where it says nothing. At most size - 1 bytes. Returns text. */
char *dia_live_clause(const struct dia_live *live, uint32_t layer, const char *word, char *text,
                      size_t size);

/*
 * Changes with their times, as they were recorded: a line each, "12.340s set sea.speed=20cm/s";
 * lines that begin with # are for people.
 */
struct dia_changes {
    struct dia_change {
        uint64_t ms;
        char *line;
        unsigned at; /* its line in the file */
    } * changes;
    uint32_t count, room;
    char name[128]; /* of the file */
};
enum dia_status dia_changes_load(struct dia_changes *changes, const char *path,
                                 struct dia_diagnostic *wrong);
void dia_changes_free(struct dia_changes *changes);

/* Makes those that are due from number *next on, and moves it on. */
enum dia_status dia_changes_make(const struct dia_changes *changes, uint32_t *next,
                                 struct dia_live *live, uint64_t ms, struct dia_diagnostic *wrong);

DIA_END

#endif
