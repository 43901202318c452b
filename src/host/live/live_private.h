/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_LIVE_PRIVATE_H
#define DIA_HOST_LIVE_PRIVATE_H

#include <diachrome/live.h>

#define LIVE_UNDOS  50
#define LIVE_TEXT   (1u << 18) /* longest text of a show, bytes, the zero included */
#define LIVE_LINE   2000       /* longest line of a layer, the zero included, as in show_file.c */
#define LIVE_MERGES 1000       /* ms in which changes of one thing are one step of undo */

struct dia_live {
    const struct dia_rig *rig;
    struct dia_show *show;
    char *text;
    char *begun; /* the text whose files others may name */
    char name[128];
    char *undo[LIVE_UNDOS], *redo[LIVE_UNDOS]; /* the newest last */
    uint32_t undos, redos;
    char step[96]; /* what the newest step of undo changed, and when: more of it joins it */
    uint64_t step_ms;
    struct dia_universes universes;
    struct dia_drawing_text instead; /* of a file that is edited, on the heap; text NULL: none */
    uint32_t version;
    dia_share master;
    /* the clock of the show: show_ms at run_ms, and from there at a pace */
    int64_t show_ms, run_ms;
    int32_t pace;
    int paused;
};

/* The text with one line of it in another form; new memory, NULL when there is none.
 * layer counts layers from 0; line NULL: the line goes away. */
char *dia_live_replace(const char *text, uint32_t layer, const char *line);

/* The same with one more line at its end, and with a layer at another place. */
char *dia_live_append(const char *text, const char *line);
char *dia_live_move(const char *text, uint32_t layer, uint32_t to);

/* The line of a layer, with those that go on with it, without comments. 0: there is none. */
int dia_live_line(const char *text, uint32_t layer, char line[LIVE_LINE]);

/* In the line of a layer, the value behind a clause word or KEY=; value NULL: it goes away. 0: the
 * line got too long. */
int dia_live_put(char line[LIVE_LINE], const char *word, int is_key, const char *value);
void dia_live_get(const char *line, const char *word, int is_key, char *value, size_t size);

/* The first word in a text that names a file, and is none in another text: 1, and the word. */
int dia_live_new_file(const char *text, const char *known, char *word, size_t size);

/* Another text from now on: read, checked, and with presses and readings of the one before.
 * step: what it changes, for undo; "": undo is not kept. */
enum dia_status dia_live_take_text(struct dia_live *live, char *text, const char *step, uint64_t ms,
                                   struct dia_diagnostic *wrong);

/* One step more in a list of LIVE_UNDOS, of which the oldest makes room. Takes the text. */
void dia_live_push(char **texts, uint32_t *count, char *text);

/* The text alone, where the show is that of it already. Takes it. */
void dia_live_keep(struct dia_live *live, char *text, const char *step, uint64_t ms);

/* What undo and redo would go to is gone. */
void dia_live_forget_steps(struct dia_live *live);

/* Goes on with the clock of the show from here. */
void dia_live_clock(struct dia_live *live, uint64_t ms, int64_t show_ms, int32_t pace, int paused);

#endif
