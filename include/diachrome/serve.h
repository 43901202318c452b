/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SERVE_H
#define DIACHROME_SERVE_H

#include <stddef.h>
#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "live.h"
#include "rig.h"

DIA_BEGIN

/*
 * A rig that plays and answers on the network: a page, HTTP and WebSocket. docs/live.md has the
 * interface for programs, docs/safety.md what is protected.
 *
 *   struct dia_serve *serve = dia_serve_new(&options, &wrong);
 *   status = dia_serve_run(serve, &ended, &wrong);      until ended is not 0
 *   dia_serve_free(serve);
 *
 * Threads: dia_serve_run plays in the calling thread; the network has one of its own, and the
 *          light never waits for it.
 * Cost:    a frame costs what dia_live_play does, and some nanoseconds an element for those who
 *          watch.
 * Context: one object a process; *ended may be set by a signal.
 * Errors:  DIA_BAD_VALUE    the show, the address or a folder is wrong
 *          DIA_PORT_FAILED  the machine failed: the address is taken, memory ran out
 */
#define DIA_SERVE_PORT    8480
#define DIA_SERVE_NAMES   8
#define DIA_SERVE_CLIENTS 64 /* at once; more are refused */

/* The node that shows all of a rig with nodes and drives no parts. No node of a file can have that
 * name. */
#define DIA_SERVE_WHOLE "_whole"

/* What happens to the files of a rig with nodes, beside the text of the show: that of the rig, and
 * those that rig and show name. docs/nodes.md. */
enum dia_serve_files {
    DIA_SERVE_FILES_STAY, /* each node has its own */
    DIA_SERVE_FILES_SEND, /* they go to the broker, whenever one is another */
    DIA_SERVE_FILES_TAKE  /* those of the broker are put in place of those beside the rig */
};

enum dia_serve_changed { DIA_SERVE_SHOW = 1, DIA_SERVE_RIG = 2 };

struct dia_serve_options {
    const struct dia_rig *rig;
    const char *show;    /* path of a file; NULL: none */
    const char *usual;   /* text of a show where there is no file; NULL: nothing shows */
    const char *address; /* of this machine, to listen on; NULL: 127.0.0.1 */
    uint16_t port;       /* 0: any that is free */
    const char
        *names[DIA_SERVE_NAMES]; /* by which others may call this machine, beside the address */
    uint32_t name_count;
    const char *presets;             /* folder; NULL: presets are kept until the end */
    const char *pairings;            /* file of who has paired; NULL: until the end */
    const char *record;              /* file for the changes; NULL: none */
    const struct dia_rig_mqtt *mqtt; /* NULL, or without a broker: none */
    const char *node; /* one of many, whose part the rig is (dia_rig_load_node), or DIA_SERVE_WHOLE:
                         with a broker it takes part in their run, docs/nodes.md; NULL: it is a rig
                         by itself */
    uint8_t files;    /* enum dia_serve_files; for nodes with a broker, rig_path and named */
    const char *e131; /* address of this machine to hear E1.31 on, or ADDRESS:PORT; NULL: none */
    const struct dia_rig_send *send; /* NULL, or to nobody: none */
    uint32_t rate_mhz;               /* thousandths of a frame a second, 100..1000000 */
    uint8_t may_save;                /* 1: the page may write the file of the show */
    uint8_t hold;                    /* 1: the last frame stays at the end, instead of going dark */
    uint8_t flashes;                 /* a second, at most, of a lane or device; 0: any number */
    uint8_t real_parts;              /* 1: it drives the parts of this computer too (outlet.h) */
    uint16_t speed; /* the run goes so many times as fast as time, to try what it does in a day; 0,
                       1: as time */
    uint32_t clock_s;     /* seconds since midnight at the beginning */
    const char *rig_path; /* of the rig's file, to be read again; NULL: it is not */
    /* which files have changed since it was last asked: bits of dia_serve_changed; asked four times
     * a second. NULL: none do */
    unsigned (*changed)(void);
    /* the k-th file of those that belong to rig and show, themselves among them; NULL: there are no
     * more. Asked where changed is. NULL: they are not known */
    const char *(*named)(uint32_t k);
    /* the next line that has come from elsewhere, without waiting: 1, and it is in line; 0: there
     * is none. A change, or "NAME NUMBER" of a value that comes in. NULL: nothing comes */
    int (*line)(char *line, size_t size);
    /* told of each change that is made, at a time of the run; NULL: nobody asks */
    void (*made)(uint64_t ms, const char *change);
    /* one line a thing that happens: "listening address=127.0.0.1 port=8480"; NULL: nobody asks */
    void (*log)(const char *line);
};

struct dia_serve;

/* Listens, and shows nothing yet. What the options point to must stay. NULL and a diagnostic;
 * *failed is 1 where the machine failed, if it is not NULL. */
struct dia_serve *dia_serve_new(const struct dia_serve_options *options, int *failed,
                                struct dia_diagnostic *wrong);
uint16_t dia_serve_port(const struct dia_serve *serve);

/* Plays until *ended is not 0, then goes dark or holds. */
enum dia_status dia_serve_run(struct dia_serve *serve, const volatile int *ended,
                              struct dia_diagnostic *wrong);

/* How it went: frames shown, and those left out since they came too late. */
uint64_t dia_serve_frames(const struct dia_serve *serve);
uint64_t dia_serve_late(const struct dia_serve *serve);
void dia_serve_free(struct dia_serve *serve);

DIA_END

#endif
