/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_JOURNAL_H
#define DIA_LIVE_JOURNAL_H

#include <diachrome/live.h>

/*
 * The changes of a run that many nodes share, in one order: by time, then by who made them, then by
 * number. How the show stood at a time, and the changes after it, are the run; whoever has both
 * shows the same. Times are milliseconds of Unix time. No network in here.
 */
#define JOURNAL_NAME   9           /* bytes of who made a change: eight digits and a zero */
#define JOURNAL_EVENTS 2048        /* at most; a journal that is full takes no more, */
#define JOURNAL_BYTES  (32u << 20) /* nor one whose lines have so many bytes */
/* Changes made here that are remembered when a state has them, as long as their lines have no more
 * bytes; and how old one may be, ms, to be made anew in another run. */
#define JOURNAL_OWN       2048
#define JOURNAL_OWN_BYTES (4u << 20)
#define JOURNAL_AGAIN_MS  60000
#define JOURNAL_SEEN      256 /* makers that are known; those who rested longest are forgotten */

struct journal_event {
    uint64_t ms;
    char from[JOURNAL_NAME];
    uint32_t number;  /* of its maker, from 1 on */
    char *line;       /* on the heap */
    uint8_t is_owner; /* made here, by the owner */
};
struct journal_seen { /* which of a maker's changes are in the state: from first to number */
    char from[JOURNAL_NAME];
    uint32_t number, first;
    uint64_t ms;
};
struct journal {
    char me[JOURNAL_NAME];
    uint32_t numbers;  /* of changes that were made here */
    uint64_t begun_ms; /* time 0 of the run */
    uint64_t until_ms; /* the state has what was made until then */
    char by[JOURNAL_NAME];
    char *state; /* dia_live_state, on the heap */
    struct journal_seen seen[JOURNAL_SEEN];
    uint32_t seen_count;
    struct journal_event *events;
    size_t bytes;                          /* of their lines */
    uint32_t count, made;                  /* made: the first so many are in the show that plays */
    struct journal_event own[JOURNAL_OWN]; /* made here and in the state, from the oldest: in case
                                              that another state counts, which lacks them */
    size_t own_bytes;
    uint32_t own_count;
    int is_torn; /* which is to be made anew: one has come before another that it has */
};

/* A run that begins. Takes the state. 0, or -1: no memory. */
int dia_journal_begin(struct journal *journal, const char *me, uint64_t ms, char *state);
void dia_journal_free(struct journal *journal);

/* A change that the show that plays has already: its event; NULL: no room, or no memory. */
const struct journal_event *dia_journal_made(struct journal *journal, uint64_t ms, const char *line,
                                             int is_owner);
/* Not before this time, so that changes made here come behind those that the show has. */
uint64_t dia_journal_now(const struct journal *journal, uint64_t ms);

/* One that came. */
enum journal_taken {
    JOURNAL_KNOWN,  /* it is there already, */
    JOURNAL_MISSED, /* or should have come before the state was written: its maker makes it anew */
    JOURNAL_FULL,
    JOURNAL_TAKEN
};
enum journal_taken dia_journal_take(struct journal *journal, const struct journal_event *event);

/* Makes those that are due by a time in the show that plays, at most so many; calls each with them,
 * if it is not NULL: wrong "" where it is made. */
typedef void journal_each(void *self, const struct journal_event *event, const char *wrong);
void dia_journal_due(struct journal *journal, struct dia_live *live, uint64_t ms, uint32_t most,
                     journal_each *each, void *self);
/* The show of a run as it is at a time, from its state and the changes until then, which are
 * `made` from then on; calls each with them, as above. NULL, and why: no show can be made of it. */
struct dia_live *dia_journal_live(struct journal *journal, uint64_t ms, const struct dia_rig *rig,
                                  const struct dia_live *like, journal_each *each, void *self,
                                  struct dia_diagnostic *wrong);

/* What was made until a time goes into the state; takes the state. Events that went, with their
 * lines, come back in gone, on the heap; -1: no memory, and all is as it was. */
int dia_journal_fold(struct journal *journal, uint64_t ms, char *state,
                     struct journal_event **gone);

/* The state with all that others must know, on the heap: docs/nodes.md has its lines. And read. */
char *dia_journal_write(const struct journal *journal);
int dia_journal_read(struct journal *to, const char *text); /* 0; -1: it is none, or no memory */

/* Another state of the same or another run in place of ours. Takes what `from` has. Changes made
 * here that it lacks come back in lost, on the heap, to be made anew: how many; but for those whose
 * thing has been changed again since. Of a run that began at another time these are only those
 * that no state had, or that are no older than a minute. */
uint32_t dia_journal_adopt(struct journal *journal, struct journal *from,
                           struct journal_event **lost);

/* Which of two states of a run counts: more than 0: a. The run that began first; of one run the
 * state that has more; else that of the lower name. */
int dia_journal_better(const struct journal *a, const struct journal *b);

#endif
