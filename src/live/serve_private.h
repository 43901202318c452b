/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_SERVE_PRIVATE_H
#define DIA_LIVE_SERVE_PRIVATE_H

#include <stdio.h>

#include <diachrome/outlet.h>

#include "e131.h"
#include "e131_send.h"
#include "mqtt.h"
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
    FILE *record;
    long recorded;
    uint64_t frames, late;
    /* what was told */
    uint32_t version;
    uint64_t state_ms, status_ms;
    int told;
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
enum dia_status dia_serve_stand_on(struct dia_serve *serve, const struct dia_rig *rig,
                                   struct dia_diagnostic *wrong);

#endif
