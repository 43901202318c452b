/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_DEVICE_H
#define DIA_BENCH_DEVICE_H

#include <diachrome/bench.h>

/*
 * What the models of lamp and cell drivers have in common. Each model is a struct of its own with
 * `struct device` as first field, on the heap; it gets the edges of its pins with their role.
 */
#define DEVICE_PINS 24

struct device;
struct device_class {
    /* A pin changes. */
    void (*edge)(struct device *device, uint64_t t, uint8_t role, uint8_t level);
    /* Works out what shows, at a time not before the last edge. */
    void (*settle)(struct device *device, uint64_t t);
    /* Forgets the light so far: what shows next is what is lit from here on. May be NULL. */
    void (*expose)(struct device *device, uint64_t t);
    void (*free)(struct device *device);
    /* What only some have; NULL for the others: keys held, a fault, cells that show. */
    void (*keys)(struct device *device, uint16_t keys);
    void (*fault)(struct device *device, const struct dia_shift_fault *fault);
    const struct dia_cells_shown *(*cells)(const struct device *device);
    /* Of devices whose roles 0 and 1 are data and clock: a bit that is clocked in with no edge
     * nearer to another than half_ns, which is enough for the sheet. Nothing is to be judged. */
    void (*bit)(struct device *device, uint8_t bit);
    uint32_t half_ns;
    /* The same of several data lines, which are the first roles, and a clock of this role. */
    void (*lines)(struct device *device, const uint8_t *bytes, uint32_t n);
    uint8_t clock;
};

struct device {
    const struct device_class *of;
    char name[64];
    const char *sheet; /* where its limits come from */
    int supply;
    uint8_t pins[DEVICE_PINS];     /* by role; DIA_NO_PIN where none is */
    uint32_t bus_roles;            /* a bit for each role that is a wire of a bus */
    uint8_t shares;                /* 1: others are on a wire of its bus */
    uint8_t level[DEVICE_PINS];    /* now */
    uint64_t changed[DEVICE_PINS]; /* when, ns; 0: not yet */
    struct dia_lamps_shown shown;
    uint32_t slack_ns;             /* what times may be off by */
    uint8_t seen;                  /* 1: an exposure has ended, and what shows stays */
    struct dia_findings *findings; /* of the bench */
    const struct bench_answer *answer;
};

/* How the bench talks back to the controller. */
struct bench_answer {
    dia_bench_drives *drive;
    void *self;
};

/* Says something once, and counts it after that; level error. */
void dia_device_finds(struct device *device, const char *code, uint64_t t, const char *format, ...)
    __attribute__((format(printf, 4, 5)));

/* That `what` must last at least least_ns, and lasted from - to. */
void dia_device_lasts(struct device *device, const char *code, const char *what, uint64_t from,
                      uint64_t to, uint32_t least_ns);

/* Drives a pin of the device (0, 1), or lets it go (2). */
void dia_device_drive(struct device *device, uint64_t t, uint8_t role, uint8_t level);

/* Room for so many lamps: 0, or -1. */
int dia_device_lamps(struct device *device, uint32_t count);

/* Takes a new device in, which is the bench's from now on (freed when it will not have it). Its
 * number or -1: a pin is in use, there is no room, or device is NULL. */
int dia_bench_add(struct dia_bench *bench, struct device *device,
                  const struct dia_device_setup *setup);

#endif
