/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FINDING_H
#define DIACHROME_FINDING_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Cost: finding one goes through the list, adding one that is there too; a list grows to some
 * dozens.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* What a check or the bench has to say: which limit, where, when, the number and what is right. */
enum dia_finding_level {
    DIA_NOTE,    /* good to know */
    DIA_WARNING, /* works, but leaves a range in which it is sure to */
    DIA_ERROR    /* a limit is broken */
};

struct dia_finding {
    enum dia_finding_level level;
    char code[24];   /* short and stable, for programs: "pulse-high" */
    char place[64];  /* lane, supply or controller */
    char text[240];  /* with the number and the limit */
    char source[96]; /* where the limit comes from; may be empty */
    uint64_t t_ns;   /* first time, on the bench's clock; 0 where time does not matter */
    uint32_t times;  /* how often */
};

/* A list of them, on the heap. Findings of one code and place are kept once and counted. */
struct dia_findings {
    struct dia_finding *items;
    uint32_t count, room;
    uint8_t lost; /* 1: some could not be kept, memory ran out */
};

void dia_findings_init(struct dia_findings *list);
void dia_findings_free(struct dia_findings *list);

/* Copies the finding in, or counts it where its code and place are in already. */
void dia_findings_add(struct dia_findings *list, const struct dia_finding *finding);

/* The finding of that code and place, or NULL. The list owns it. */
struct dia_finding *dia_findings_find(const struct dia_findings *list, const char *code,
                                      const char *place);

/* How many of a level (kept once each). */
uint32_t dia_findings_of(const struct dia_findings *list, enum dia_finding_level level);

/* "note", "warning", "error". */
const char *dia_finding_level_text(enum dia_finding_level level);

DIA_END

#endif
