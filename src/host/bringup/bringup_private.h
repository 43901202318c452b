/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_BRINGUP_PRIVATE_H
#define DIA_HOST_BRINGUP_PRIVATE_H

#include <diachrome/bringup.h>
#include <diachrome/outlet.h>

/* What is lit on the lane or device that is being brought up. */
struct lighting {
    struct dia_rgb colour; /* of the elements from..to - 1 */
    uint32_t from, to;
    struct dia_rgb mark; /* of element `marked`, which comes first; black: none */
    uint32_t marked;
    const uint8_t *levels; /* of each lamp, instead of the above */
    char text[4][41];
};

/* A bring-up at work. */
struct run {
    struct dia_bringup *report;
    const struct dia_desk *desk;
    struct dia_player *player;
    int real_parts;
    struct dia_outlet *outlet; /* that shows the same on real parts; NULL: there are none */
    dia_bringup_asks *asks;
    void *self;
    int lane, device; /* being brought up */
    uint32_t asked;   /* about it */
    struct lighting lit;
    uint32_t slot;
    enum dia_status status; /* of the bench */
    struct dia_diagnostic *wrong;
};

/* The controller starts anew with what is believed now. 0, or -1. */
int dia_run_renew(struct run *run);

/* Lights what run->lit says. */
void dia_run_show(struct run *run);

/* Whether what shows changes although nothing else is sent, in a dozen tries. */
int dia_run_is_unsteady(struct run *run);

/* Asks; answers end with NULL. -1: end. */
int dia_run_ask(struct run *run, const char *const *answers, uint32_t bench_says,
                const char *format, ...) __attribute__((format(printf, 4, 5)));

/* A new cause, to be filled in; texts by format. NULL: there is no room. */
struct dia_cause *dia_run_cause(struct run *run, const char *format, ...)
    __attribute__((format(printf, 2, 3)));
void dia_cause_evidence(struct dia_cause *cause, const char *format, ...)
    __attribute__((format(printf, 2, 3)));
void dia_cause_wiring(struct dia_cause *cause, const char *format, ...)
    __attribute__((format(printf, 2, 3)));
void dia_cause_edit(struct dia_cause *cause, const char *section, const char *inside,
                    const char *key, const char *format, ...) __attribute__((format(printf, 5, 6)));

/* Each 0, or -1 to end. */
int dia_bringup_lane(struct run *run);
int dia_bringup_device(struct run *run);
int dia_bringup_supply(struct run *run, uint32_t supply);

/* A signal that comes in wrong: too low, or disturbed. Which, by the levels the rig has. */
void dia_bringup_signal(struct run *run, uint32_t high_mv, uint32_t needed_mv, uint32_t shifter_mv,
                        const char *section, const char *but);

#endif
