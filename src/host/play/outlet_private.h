/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_OUTLET_PRIVATE_H
#define DIA_HOST_OUTLET_PRIVATE_H

#include <pthread.h>

#include "player_private.h"

#define OUTLET_PARTS (DIA_RIG_DEVICES + DIA_RIG_LANES)

/* A lane or device: what it is to show next, and who shows it. Devices first, as in a player. */
struct outlet_part {
    const char *name;
    struct dia_driver *driver;
    struct dia_strip *strip;             /* of a lane; NULL: it is a device */
    const struct dia_rig_family *family; /* of a device */
    uint8_t *drawing;                    /* as it was handed over, with the driver as it was then */
    uint8_t *state;
    uint32_t slot;
    dia_share master;
    /* the thread's own, from here */
    uint64_t due_ns;   /* next tick; 0: it wants none */
    uint64_t retry_ns; /* when what failed is shown again; 0: it has not failed */
    uint64_t taken;    /* version of the frame that it has taken, and that it shows */
    uint8_t is_cells, is_moving, frames;
};

struct dia_outlet {
    struct dia_player drives; /* drivers on the port of this computer, without a bench */
    struct dia_linux computer;
    struct dia_desk *desk;
    struct outlet_part parts[OUTLET_PARTS];
    uint32_t count;
    struct dia_set set; /* all but cells, which take their time */
    struct dia_set_member members[OUTLET_PARTS];
    uint8_t part_of[OUTLET_PARTS]; /* of a member */
    pthread_t thread;
    pthread_mutex_t mutex; /* of all below, and of drawings and states of parts */
    pthread_cond_t wake, done;
    uint8_t has_thread, ends, goes_dark, refreshes;
    uint64_t repeat_ns, sent_ns; /* how often the newest is sent again, 0: not; and when it was */
    uint64_t version, shown;     /* of frames: handed over, and shown by all */
    enum dia_status answer;      /* of going dark, or an error since somebody waited */
    struct dia_outlet_state state;
    uint8_t keys[DIA_RIG_DEVICES + 1]; /* that are down; of devices, then buttons */
    uint8_t told[DIA_RIG_DEVICES + 1];
    /* the thread's own */
    uint64_t taken;       /* version that the set has taken */
    uint64_t contacts_ns; /* when buttons are read next */
    uint8_t is_moving;    /* the set */
};

/* outlet_thread.c: the thread, and its clock. */
void *dia_outlet_drive(void *outlet);
uint64_t dia_outlet_now_ns(void);

#endif
