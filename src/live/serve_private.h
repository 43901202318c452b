/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_SERVE_PRIVATE_H
#define DIA_LIVE_SERVE_PRIVATE_H

#include <stdio.h>

#include <diachrome/editor.h>
#include <diachrome/outlet.h>

#include "e131.h"
#include "e131_send.h"
#include "journal.h"
#include "mqtt.h"
#include "nodes.h"
#include "presets.h"
#include "web.h"

struct dia_serve {
    struct dia_serve_options options;
    struct dia_live *live;
    struct dia_player *player;
    struct dia_outlet *outlet;   /* real parts; NULL: none */
    uint64_t held_back, held_ms; /* frames that would flash too often, and when it was told */
    uint64_t errors;             /* of them, that have been told, */
    uint64_t errors_ms;          /* and when the last one was */
    struct dia_scene *scene;
    struct presets presets;
    struct hub hub;
    struct web *web;
    struct mqtt *mqtt;      /* NULL: no broker */
    struct e131_send *send; /* NULL: to nobody */
    struct e131 *e131;      /* NULL: no lighting network */
    uint32_t joined_version;
    char *looks_json;
    uint8_t *frame;
    struct dia_rig *own_rig; /* read again, in place of that of the options; NULL: not yet */
    const struct dia_rig *rig;
    uint32_t shown_version;
    uint64_t changed_ms, shown_us, bench_ns; /* bench_ns: of its own clock */
    uint32_t scenes;
    uint64_t look_ms;
    char part_trouble[400], stream_trouble[400], flash_trouble[100];
    char trouble[400]; /* with a file that has changed; "": there is none */
    char *file_text;   /* of the file of the show, as it was read or saved; NULL: none */
    FILE *record;
    long recorded;
    uint64_t noted_ms; /* of the last line of it; times rise */
    uint64_t frames, late;
    /* what was told */
    uint32_t version;
    uint64_t state_ms, status_ms;
    uint64_t all_told_ms;   /* until then nothing had changed that the state does not tell */
    int told, has_answered; /* somebody has changed something here since */
    uint64_t begun_ns;      /* by the clock of the machine, when it began */
    /* a file of drawings that is edited; draw_path "": none is */
    struct dia_editor editor;
    char draw_path[300], draw_trouble[400];
    const struct dia_live *drawn; /* which shows what is drawn */
    uint32_t draw_version;
    int draw_shows, draw_new; /* it does not show it yet; it is not told yet */
    /* one of many nodes; NULL: it is a rig by itself */
    struct nodes *nodes;
    struct files *files; /* NULL: they do not go over the broker */
    struct journal journal;
    struct journal_event *missed;              /* older than the state that there is */
    uint32_t missed_count, random, node_count; /* nodes of the rig */
    int is_synced, has_state, is_apart, clock_told, clock_is_good;
    int is_refused;             /* something of others was: it may name a file that comes later */
    int jumps;                  /* its time is another from now on: no frame is late */
    uint64_t full_ms, ahead_ms; /* when that was said */
    uint64_t node_ms, publish_ms, fold_ms, node_told_ms; /* Unix time; 0: not to be done */
    uint64_t heard_ms,
        asked_ms; /* by then all was known that the broker had; and when it was asked */
    char run_trouble[500], rig_sum[9];
    uint32_t show_sum, files_sum; /* of the text, and of the files that it names */
    int files_new, files_came;    /* they may be others; over the broker */
};

/* A line for the log, if there is one. */
void dia_serve_say(const struct dia_serve *serve, const char *line);

/* serve_asks.c: what clients, and lines from elsewhere, ask for is done, at a time of the run. 1:
 * there was something. Lines that are made go to the record. */
int dia_serve_asks(struct dia_serve *serve, uint64_t ms);
void dia_serve_lines(struct dia_serve *serve, uint64_t ms);
void dia_serve_universes(struct dia_serve *serve, uint64_t ms);
void dia_serve_keys(struct dia_serve *serve, uint64_t ms); /* of real parts */
void dia_serve_note(struct dia_serve *serve, const char *line, uint64_t ms);

/* Another text from now on. */
enum dia_status dia_serve_text(struct dia_serve *serve, const char *text, uint64_t ms,
                               enum dia_live_from from, struct dia_diagnostic *wrong);

/* serve_files.c: what has changed of the files is taken over; and a player for a rig, and where all
 * of it is, in place of what there was. */
void dia_serve_files(struct dia_serve *serve, uint64_t ms);
void dia_serve_keep_text(struct dia_serve *serve, const char *text);
void dia_serve_free_rig(struct dia_rig *rig); /* on the heap; NULL: nothing */
enum dia_status dia_serve_stand_on(struct dia_serve *serve, const struct dia_rig *rig,
                                   struct dia_diagnostic *wrong);

/* serve_draw.c: a line of docs/live.md about drawings; before each frame, what was drawn shows: 1:
 * there is something new for those who watch. */
enum dia_status dia_serve_draw(struct dia_serve *serve, const char *line, uint64_t ms,
                               struct dia_diagnostic *wrong);
int dia_serve_drawn(struct dia_serve *serve, uint64_t ms);
void dia_serve_draw_end(struct dia_serve *serve);

/* serve_nodes.c: one of many nodes. Its run begins now, until it knows of another; and what has
 * come from others is done, before each frame. */
enum dia_status dia_serve_nodes_begin(struct dia_serve *serve, struct dia_diagnostic *wrong);
void dia_serve_nodes(struct dia_serve *serve);
void dia_serve_nodes_end(struct dia_serve *serve);
void dia_serve_nodes_try_again(struct dia_serve *serve);    /* what was refused: a file has come */
uint64_t dia_serve_nodes_ns(const struct dia_serve *serve); /* of the run, by the system's clock */

/* The time of a change that is made here, at a time of the run; the line as others are told it, on
 * the heap; and it is made. */
uint64_t dia_serve_nodes_at(struct dia_serve *serve, uint64_t ms);
char *dia_serve_nodes_line(const struct dia_serve *serve, const char *line);
void dia_serve_nodes_made(struct dia_serve *serve, const char *line, uint64_t ms,
                          enum dia_live_from from);
/* serve_node_tell.c: what is said to the list, once a second; and which rig it is */
void dia_serve_nodes_tell(struct dia_serve *serve, uint64_t now);
void dia_serve_nodes_rig(struct dia_serve *serve);

#endif
