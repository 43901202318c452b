/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_BRINGUP_H
#define DIACHROME_BRINGUP_H

#include "fault.h"
#include "linkage.h"
#include "player.h"

DIA_BEGIN

/*
 * Bring-up: the first lighting of a rig, device by device. It lights something, asks what you
 * see, narrows down, and ends with the cause, the evidence, and what to change in the rig file or
 * the wiring. Later questions make use of what it has found.
 *
 * Cost: a question plays a few frames on the bench: milliseconds of a desktop's time for some
 * hundred pixels.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* A change to a rig file: `key` of an entry gets `value`. */
struct dia_rig_edit {
    char section[12];        /* "lanes", "devices", "supplies" */
    char name[DIA_RIG_NAME]; /* of the entry */
    char inside[12];         /* a map in it, such as "grid"; "" for the entry itself */
    char key[20];
    char value[200];
};

/* Writes them into a file, whose comments and layout stay as they are; it is there whole, before or
 * after. DIA_BAD_VALUE and a diagnostic when it is no rig file, before or after. */
enum dia_status dia_rig_edit(const char *path, const struct dia_rig_edit *edits, uint32_t count,
                             struct dia_diagnostic *wrong);

struct dia_question {
    const char *text;
    const char *const *answers;
    uint32_t count;
    uint32_t bench_says;             /* which answer is right by what the models show */
    const struct dia_player *player; /* what is lit now */
    int lane, device;                /* which of them it is about; -1: none */
};

/* Returns the number of the answer, or -1 to end. */
typedef int dia_bringup_asks(void *self, const struct dia_question *question);

#define DIA_CAUSE_EDITS 4
struct dia_cause {
    char place[DIA_RIG_NAME];
    char what[160];     /* "its bytes come in the order RGB, not GRB" */
    char evidence[200]; /* "all red looked green" */
    char wiring[200];   /* what to do by hand; "" for nothing */
    struct dia_rig_edit edits[DIA_CAUSE_EDITS];
    uint32_t edit_count;
    uint32_t questions; /* asked about this place so far */
};

#define DIA_BRINGUP_CAUSES 64
struct dia_bringup {
    struct dia_cause causes[DIA_BRINGUP_CAUSES];
    uint32_t count;
    uint32_t questions; /* in all */
    uint8_t stopped;    /* 1: an answer was -1 */
    char trouble[400];  /* what a real part, or its bus, last refused; "": nothing */
    struct dia_rig rig; /* as it is believed to be now */
};

/*
 * Brings up all lanes and devices of a rig, or `only` the one of that name if it is not NULL. The
 * hardware is the desk; with real_parts 1 the parts of this computer besides (outlet.h), which show
 * what is asked about. They are dark at the end. DIA_BAD_VALUE: there is no `only`, or the rig
 * names no device for something; DIA_PORT_FAILED: memory ran out, or a part cannot be driven.
 */
enum dia_status dia_bringup_run(struct dia_bringup *bringup, const struct dia_rig *rig,
                                const struct dia_desk *desk, int real_parts, const char *only,
                                dia_bringup_asks *asks, void *self, struct dia_diagnostic *wrong);

DIA_END

#endif
