/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_PAIRING_H
#define DIA_LIVE_PAIRING_H

#include <stdint.h>

#include <diachrome/diagnostic.h>
#include <diachrome/status.h>

/*
 * Who may come from other machines: those who typed the code that this machine showed. A code holds
 * for ten minutes and five tries; each pairing gives a token of its own, which can be revoked.
 */
#define PAIRINGS       64
#define PAIRING_TOKEN  33 /* bytes, the zero included */
#define PAIRING_CODE   7
#define PAIRING_HOLD_S 600
#define PAIRING_TRIES  5
#define PAIRING_REST_S                                                                             \
    10                     /* from one code to the next; twice as long for each that was spoiled,  \
                            */
#define PAIRING_MOST_S 600 /* at most: so nobody gets through a part of all codes that matters */

struct pairing {
    char token[PAIRING_TOKEN];
    char from[48]; /* address */
    uint32_t number;
};
struct pairings {
    const char *path; /* of the file where they are kept; NULL: until the end */
    struct pairing all[PAIRINGS];
    uint32_t count, next;
    char code[PAIRING_CODE]; /* "": none holds */
    uint64_t made_s;
    int tries;
    unsigned spoiled; /* codes that were tried too often, one after the other */
};

/* A new code, unless the last is too young. 1: it is new. */
int dia_pairings_ask(struct pairings *pairings, uint64_t now_s);

/* The token for a code; NULL: it is wrong, or too old, or was tried too often. */
const char *dia_pairings_try(struct pairings *pairings, const char *code, const char *from,
                             uint64_t now_s);
/* 1: it is a token of somebody. */
int dia_pairings_know(const struct pairings *pairings, const char *token);
/* Reads who has paired before, and keeps those who do from now on. DIA_BAD_VALUE: others may read
 * the file, or it is another; DIA_PORT_FAILED: it cannot be written. path NULL: no file. */
enum dia_status dia_pairings_open(struct pairings *pairings, const char *path,
                                  struct dia_diagnostic *wrong);
/* Writes them, after one more or one less. */
enum dia_status dia_pairings_keep(struct pairings *pairings, struct dia_diagnostic *wrong);

/* 1: that one is no more. */
int dia_pairings_revoke(struct pairings *pairings, uint32_t number);

#endif
