/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_PRIVATE_H
#define DIA_BENCH_PRIVATE_H

#include "chain.h"
#include "device.h"

#define CHAINS   64
#define SUPPLIES 16
#define DEVICES  32
#define SHARING  16 /* devices on one wire of a bus */

struct supply {
    char name[64];
    uint64_t max_ua, steady_ua, gives_ua, most_ua;
    uint64_t told_ua;  /* of what was too much */
    uint32_t mv;       /* at its terminals; 0: pixels always have enough */
    double now_volt;   /* behind the wires that everything on it shares, */
    double shared_ohm; /* which have so much */
};

/* A device on a pin, and which of its pins that is; NULL after the last. */
struct wire {
    struct device *device;
    uint8_t role;
};

struct dia_bench {
    struct chain chains[CHAINS];
    int chain_count;
    struct supply supplies[SUPPLIES];
    int supply_count;
    struct chain *on_pin[256];
    struct device *devices[DEVICES];
    int device_count;
    struct wire wired[256][SHARING + 1];
    struct bench_answer answer;
    struct {
        uint32_t ppm, seed;
    } noise[256];
    uint8_t noisy;      /* some pin is */
    uint8_t level[256]; /* of all pins, for devices that are connected later */
    struct dia_findings findings;
};

/* What a supply gives at a time, from what its chains and devices draw. */
void dia_bench_load(struct dia_bench *bench, int supply, uint64_t t);

/* A chain shows something else: what it draws now, and what its supplies give. */
void dia_bench_latched(struct dia_bench *bench, struct chain *chain, uint64_t t);

/* Whether something is on a pin. */
int dia_bench_in_use(const struct dia_bench *bench, uint8_t pin);

/* Works out what a device shows, and what its supply gives then. */
void dia_bench_settle_device(struct dia_bench *bench, struct device *device, uint64_t t_ns);

#endif
