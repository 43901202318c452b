/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>
#include <sys/random.h>

#include "pairing.h"

/* 0: the machine has no random numbers. */
static int random_bytes(void *to, size_t n)
{
    return getrandom(to, n, 0) == (ssize_t)n;
}

int dia_pairings_ask(struct pairings *pairings, uint64_t now_s)
{
    uint32_t number;
    uint64_t rest_s = (uint64_t)PAIRING_REST_S << (pairings->spoiled < 6 ? pairings->spoiled : 6);
    int young = pairings->made_s &&
                now_s - pairings->made_s < (rest_s < PAIRING_MOST_S ? rest_s : PAIRING_MOST_S);
    if (young || !random_bytes(&number, sizeof number))
        return 0;
    snprintf(pairings->code, sizeof pairings->code, "%06u", (unsigned)(number % 1000000u));
    pairings->made_s = now_s;
    pairings->tries = 0;
    return 1;
}

/* As long for a wrong text as for a right one. */
static int is_same(const char *a, const char *b, size_t n)
{
    unsigned differs = strlen(a) != n || strlen(b) != n;
    for (size_t k = 0; !differs && k < n; k++)
        differs |= (unsigned)(a[k] ^ b[k]) << 1;
    return differs == 0;
}

const char *dia_pairings_try(struct pairings *pairings, const char *code, const char *from,
                             uint64_t now_s)
{
    unsigned char bytes[16];
    if (!pairings->code[0] || now_s - pairings->made_s > PAIRING_HOLD_S)
        return NULL;
    if (!is_same(code, pairings->code, PAIRING_CODE - 1)) {
        if (++pairings->tries == PAIRING_TRIES) {
            pairings->code[0] = 0;
            pairings->spoiled++;
        }
        return NULL;
    }
    if (!random_bytes(bytes, sizeof bytes))
        return NULL;
    if (pairings->count == PAIRINGS) /* the oldest goes */
        memmove(pairings->all, pairings->all + 1, --pairings->count * sizeof pairings->all[0]);
    struct pairing *one = &pairings->all[pairings->count++];
    for (size_t k = 0; k < sizeof bytes; k++)
        snprintf(one->token + 2 * k, 3, "%02x", bytes[k]);
    snprintf(one->from, sizeof one->from, "%s", from);
    one->number = ++pairings->next;
    pairings->code[0] = 0; /* one code, one client */
    pairings->spoiled = 0;
    pairings->made_s = 0; /* the next may have one at once */
    return one->token;
}

int dia_pairings_know(const struct pairings *pairings, const char *token)
{
    int known = 0;
    for (uint32_t k = 0; k < pairings->count; k++)
        known |= is_same(token, pairings->all[k].token, PAIRING_TOKEN - 1);
    return known;
}

int dia_pairings_revoke(struct pairings *pairings, uint32_t number)
{
    for (uint32_t k = 0; k < pairings->count; k++) {
        if (pairings->all[k].number != number)
            continue;
        pairings->count--;
        memmove(&pairings->all[k], &pairings->all[k + 1],
                (pairings->count - k) * sizeof pairings->all[0]);
        return 1;
    }
    return 0;
}
