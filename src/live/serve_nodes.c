/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include "node_clock.h"
#include "serve_private.h"

/*
 * One of many nodes: the clock of the system is that of the run, and what is changed here or
 * elsewhere is put in one order. What comes late changes what is shown from the next frame on, as
 * if it had come in time.
 */
#define QUIET_MS    5000  /* nothing has come for so long when changes go into the state, */
#define MANY        64    /* of which there are so many, */
#define OLD_MS      60000 /* or one that old */
#define TOO_MANY    256   /* then without quiet */
#define RANDOM_MS   3000  /* not all nodes write at once: of some nodes, see soon() */
#define SOME_NODES  16
#define SAY_MS      1000       /* what goes wrong is said once in so long */
#define ANSWER_MS   500        /* that long at most until a state that is behind is put right */
#define AHEAD_MS    2000       /* a change from further ahead means that a clock is wrong */
#define FUTURE_MS   60000      /* and a state that says so is not taken */
#define MISSED      (1u << 14) /* bytes of a change that may be of a run not known yet */
#define HEARD_MS    1000       /* so long what the broker has told is all it has */
#define ASK_MS      5000       /* it is asked again */
#define AT_ONCE     64         /* changes before one frame */
#define LATE_CLOCKS 100        /* ms that the clock of the system may go back by without notice */

static uint64_t now_ms(void)
{
    return dia_node_clock_ns() / 1000000u;
}

/* Some time from now, another at each node. The more there are, the further apart: who is first
 * should be heard by all before the next would write the same. */
static uint64_t soon(struct dia_serve *serve, uint64_t now, uint32_t within_ms)
{
    serve->random = serve->random * 1103515245u + 12345u;
    return now + 1 + (serve->random >> 16) % (within_ms * (1 + serve->node_count / SOME_NODES));
}

enum dia_status dia_serve_nodes_begin(struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    char *state = dia_live_state(serve->live);
    dia_node_clock_begin();
    serve->nodes = dia_nodes_new(serve->options.node);
    serve->missed = calloc(JOURNAL_EVENTS, sizeof *serve->missed);
    if (serve->nodes && serve->missed && state &&
        dia_journal_begin(&serve->journal, dia_nodes_me(serve->nodes), now_ms(), state) == 0) {
        const char *names[DIA_RIG_NODES];
        uint32_t count = dia_rig_nodes(serve->rig, names, DIA_RIG_NODES);
        serve->node_count = count;
        for (uint32_t k = 0; k < count; k++)
            dia_nodes_expect(serve->nodes, names[k]);
        serve->random = (uint32_t)strtoul(dia_nodes_me(serve->nodes), NULL, 16);
        return DIA_OK;
    }
    if (!serve->journal.state)
        free(state);
    dia_live_wrong(wrong, "out of memory");
    return DIA_PORT_FAILED;
}

uint64_t dia_serve_nodes_ns(const struct dia_serve *serve)
{
    uint64_t ns = dia_node_clock_ns(), begun = serve->journal.begun_ms * 1000000u;
    return ns > begun ? ns - begun : 0;
}

/* ---- the show that plays --------------------------------------------------------------------- */

static void play(struct dia_serve *serve, struct dia_live *live)
{
    dia_live_take_over(live, serve->live);
    dia_live_free(serve->live);
    serve->live = live;
    serve->told = 0;
}

/* Made before, and said then; what is refused may still name a file that is to come. */
static void made_again(void *self, const struct journal_event *event, const char *wrong)
{
    struct dia_serve *serve = self;
    (void)event;
    if (wrong[0])
        serve->is_refused = 1;
}

/* The show as the journal has it. */
static void make_anew(struct dia_serve *serve, uint64_t now)
{
    struct dia_diagnostic wrong = {""};
    char line[500];
    serve->is_refused = serve->is_apart;
    struct dia_live *live =
        dia_journal_live(&serve->journal, now, serve->rig, serve->live, made_again, serve, &wrong);
    if (!live) {
        serve->journal.is_torn = 0; /* what plays goes on */
        snprintf(line, sizeof line, "run-refused reason=\"%.400s\"", wrong.text);
        line[strcspn(line, "\n")] = 0;
        dia_serve_say(serve, line);
        return;
    }
    play(serve, live);
}

static void made_elsewhere(void *self, const struct journal_event *event, const char *wrong)
{
    struct dia_serve *serve = self;
    char line[500];
    if (!wrong[0]) {
        uint64_t ms = event->ms - serve->journal.begun_ms;
        dia_serve_note(serve, event->line, ms);
        if (serve->options.made)
            serve->options.made(ms, event->line);
        return;
    }
    serve->is_refused = 1;
    snprintf(line, sizeof line, "change-refused from=%s reason=\"%.400s\"", event->from, wrong);
    line[strcspn(line, "\n")] = 0;
    dia_serve_say(serve, line);
}

/* ---- changes made here ----------------------------------------------------------------------- */

static void fold(struct dia_serve *serve, uint64_t now);

uint64_t dia_serve_nodes_at(struct dia_serve *serve, uint64_t ms)
{
    if (serve->journal.count == JOURNAL_EVENTS || serve->journal.bytes > JOURNAL_BYTES / 2)
        fold(serve, serve->journal.begun_ms + ms); /* its broker is gone for long */
    return dia_journal_now(&serve->journal, serve->journal.begun_ms + ms) - serve->journal.begun_ms;
}

/* Steps of undo are each node's own: others are told the text. */
char *dia_serve_nodes_line(const struct dia_serve *serve, const char *line)
{
    const char *text = strcmp(line, "undo") == 0   ? dia_live_undo_text(serve->live)
                       : strcmp(line, "redo") == 0 ? dia_live_redo_text(serve->live)
                                                   : NULL;
    return text ? dia_live_quoted(line, text) : strdup(line);
}

void dia_serve_nodes_made(struct dia_serve *serve, const char *line, uint64_t ms,
                          enum dia_live_from from)
{
    uint64_t at = serve->journal.begun_ms + ms;
    const struct journal_event *event =
        dia_journal_made(&serve->journal, at, line, from == DIA_LIVE_OWNER);
    if (event)
        dia_nodes_send_change(serve->nodes, event, 0);
    else
        dia_serve_say(serve, "change-lost reason=\"it is kept here alone: out of memory\"");
}

/* A change that nobody else has: once more, now. */
static void make_again(struct dia_serve *serve, const struct journal_event *lost, uint64_t now)
{
    struct dia_diagnostic wrong = {""};
    enum dia_live_from from = lost->is_owner ? DIA_LIVE_OWNER : DIA_LIVE_OTHERS;
    uint64_t at = dia_journal_now(&serve->journal, now) - serve->journal.begun_ms;
    if (dia_live_change(serve->live, lost->line, at, from, &wrong) == DIA_OK)
        dia_serve_nodes_made(serve, lost->line, at, from);
    else
        made_elsewhere(serve, lost, wrong.text);
}

/* ---- the state of the run -------------------------------------------------------------------- */

static void send_state(struct dia_serve *serve)
{
    dia_nodes_send_state(serve->nodes, dia_journal_write(&serve->journal));
    serve->publish_ms = 0;
    serve->has_state = 1;
}

/* Changes go into the state, and are kept no more. */
static void fold(struct dia_serve *serve, uint64_t now)
{
    struct journal *journal = &serve->journal;
    struct journal_event *gone = NULL;
    uint64_t last = journal->count ? journal->events[journal->count - 1].ms : 0;
    int is_all = last <= now && journal->made == journal->count;
    uint64_t until = is_all ? last : now - QUIET_MS;
    char *state = NULL;
    if (is_all) {
        state = dia_live_state(serve->live);
    } else { /* as it was then */
        struct dia_diagnostic no;
        uint32_t made = journal->made;
        int torn = journal->is_torn;
        struct dia_live *then =
            dia_journal_live(journal, until, serve->rig, serve->live, NULL, NULL, &no);
        journal->made = made;
        journal->is_torn = torn;
        state = then ? dia_live_state(then) : NULL;
        dia_live_free(then);
    }
    int n =
        state && until > journal->until_ms ? dia_journal_fold(journal, until, state, &gone) : -1;
    if (n < 0) {
        free(state);
        return;
    }
    send_state(serve);
    for (int k = 0; k < n; k++) {
        dia_nodes_send_change(serve->nodes, &gone[k], 1);
        free(gone[k].line);
    }
    free(gone);
}

/* A node that is cut off may not know it yet; what it would write lacks what others have made. So
 * the broker is asked first, and answers behind what it has; mostly: a broker under load was seen
 * to answer before an older message, which is why the journal remembers what was made here. */
static int knows_all(struct dia_serve *serve, uint64_t now)
{
    if (now - serve->heard_ms < HEARD_MS)
        return 1;
    if (now - serve->asked_ms > ASK_MS) {
        serve->asked_ms = now;
        dia_nodes_ask(serve->nodes);
    }
    return 0;
}

static void fold_in_time(struct dia_serve *serve, uint64_t now)
{
    const struct journal *journal = &serve->journal;
    uint32_t count = journal->count;
    uint64_t last = count ? journal->events[count - 1].ms : 0;
    int many = count >= MANY || (count && now > journal->events[0].ms + OLD_MS);
    if (!serve->is_synced || serve->is_apart ||
        !((many && now > last + QUIET_MS) || count > TOO_MANY)) {
        serve->fold_ms = 0;
    } else if (serve->fold_ms == 0) {
        serve->fold_ms = soon(serve, now, RANDOM_MS);
    } else if (now >= serve->fold_ms && knows_all(serve, now)) {
        serve->fold_ms = 0;
        fold(serve, now);
    }
}

/* 1: what plays stands as a state says, and goes on from there. */
static int stands_so(const struct dia_serve *serve, const struct journal *other)
{
    const struct journal *journal = &serve->journal;
    char *state = dia_live_state(serve->live);
    int is = state && journal->begun_ms == other->begun_ms && strcmp(state, other->state) == 0 &&
             !journal->is_torn;
    for (uint32_t k = 0; k < journal->count; k++)
        is &= (journal->events[k].ms <= other->until_ms) == (k < journal->made);
    free(state);
    return is;
}

/* Changes that are older than our state may be of a run that we do not know yet. */
static void take_missed(struct dia_serve *serve)
{
    struct journal_event *missed = serve->missed;
    uint32_t kept = 0;
    for (uint32_t k = 0; k < serve->missed_count; k++) {
        if (dia_journal_take(&serve->journal, &missed[k]) == JOURNAL_MISSED)
            missed[kept++] = missed[k];
        else
            free(missed[k].line);
    }
    serve->missed_count = kept;
}

/* Once for each text, however often it comes. */
static void refuse_run(struct dia_serve *serve, const char *by, const char *why)
{
    char line[500];
    snprintf(line, sizeof line, "run-refused by=%s reason=\"%.400s\"", by, why);
    line[strcspn(line, "\n")] = 0;
    if (strcmp(line, serve->run_trouble) != 0)
        dia_serve_say(serve, line);
    memcpy(serve->run_trouble, line, sizeof line);
}

static void adopt(struct dia_serve *serve, struct journal *other, uint64_t now)
{
    char line[100];
    struct journal_event *lost = NULL;
    int same = stands_so(serve, other), is_other = serve->journal.begun_ms != other->begun_ms;
    struct dia_diagnostic wrong = {""};
    struct dia_live *trial =
        same ? NULL
             : dia_live_from(serve->rig, other->state, dia_live_name(serve->live),
                             dia_live_known(serve->live), NULL, &wrong);
    if (!same && !trial) {
        refuse_run(serve, other->by, wrong.text);
        serve->is_refused = 1;
        serve->is_apart = serve->has_state = 1; /* others may be able to play it */
        serve->publish_ms = 0;
        dia_journal_free(other);
        return;
    }
    serve->run_trouble[0] = 0;
    serve->is_apart = 0;
    uint32_t n = dia_journal_adopt(&serve->journal, other, &lost);
    if (!lost) { /* no memory: all is as it was */
        dia_live_free(trial);
        return;
    }
    serve->journal.is_torn = 0;
    take_missed(serve);
    if (trial) {
        serve->is_refused = 0;
        dia_journal_due(&serve->journal, trial, now, JOURNAL_EVENTS, made_again, serve);
        play(serve, trial);
    }
    if (is_other) {
        serve->jumps = 1;
        snprintf(line, sizeof line, "run-joined begun_ms=%" PRIu64 " by=%s",
                 serve->journal.begun_ms, serve->journal.by);
        dia_serve_say(serve, line);
    }
    for (uint32_t k = 0; k < n; k++) {
        make_again(serve, &lost[k], now);
        free(lost[k].line);
    }
    free(lost);
    serve->has_state = 1;
    serve->publish_ms = 0;
}

static void take_state(struct dia_serve *serve, const char *text, uint64_t now)
{
    struct journal other;
    int is_one = dia_journal_read(&other, text) == 0;
    if (!is_one || other.until_ms > now + FUTURE_MS) {
        refuse_run(serve, is_one ? other.by : "unknown",
                   is_one ? "it is of a time that is yet to come: the clock of a node is wrong"
                          : "it is no state of a run");
        dia_journal_free(&other);
        return;
    }
    int better = dia_journal_better(&serve->journal, &other);
    if (better < 0) {
        adopt(serve, &other, now);
        return;
    }
    if (better > 0 && serve->publish_ms == 0) /* whoever comes now would have too little */
        serve->publish_ms = soon(serve, now, ANSWER_MS);
    else if (better == 0)
        serve->publish_ms = 0;
    serve->has_state = 1;
    dia_journal_free(&other);
}

/* ---- what comes ------------------------------------------------------------------------------ */

static void take_change(struct dia_serve *serve, struct nodes_item *item, uint64_t now)
{
    char line[100];
    enum journal_taken taken = dia_journal_take(&serve->journal, &item->event);
    if (taken == JOURNAL_KNOWN && item->kept && item->event.ms <= serve->journal.until_ms)
        dia_nodes_send_change(serve->nodes, &item->event, 1); /* whoever wrote the state is gone */
    if (taken == JOURNAL_FULL && now - serve->full_ms > SAY_MS) {
        dia_serve_say(serve, "change-lost reason=\"there are too many\"");
        serve->full_ms = now;
    }
    if (taken == JOURNAL_TAKEN && item->event.ms > now + AHEAD_MS &&
        now - serve->ahead_ms > SAY_MS) {
        serve->ahead_ms = now;
        snprintf(line, sizeof line, "change-ahead from=%s ms=%" PRIu64, item->event.from,
                 item->event.ms - now);
        dia_serve_say(serve, line);
    }
    if (taken == JOURNAL_MISSED && serve->missed_count < JOURNAL_EVENTS &&
        strlen(item->event.line) < MISSED)
        serve->missed[serve->missed_count++] = item->event;
    else
        free(item->event.line);
}

/* The broker has told all it has; it gets what it lacks. */
static void synced(struct dia_serve *serve, uint64_t now)
{
    const struct journal *journal = &serve->journal;
    serve->heard_ms = now;
    if (serve->is_synced)
        return; /* it was asked before a state is written */
    serve->is_synced = 1;
    for (uint32_t k = 0; k < journal->count; k++) {
        if (strcmp(journal->events[k].from, journal->me) == 0)
            dia_nodes_send_change(serve->nodes, &journal->events[k], 0);
    }
    if (!serve->has_state)
        serve->publish_ms = soon(serve, now, ANSWER_MS);
}

static void take_all(struct dia_serve *serve, uint64_t now)
{
    struct nodes_item item;
    while (dia_nodes_next(serve->nodes, &item)) {
        if (item.kind == NODES_CHANGE)
            take_change(serve, &item, now);
        else if (item.kind == NODES_STATE && item.text)
            take_state(serve, item.text, now);
        else if (item.kind == NODES_SYNCED)
            synced(serve, now);
        else if (item.kind == NODES_LOST)
            serve->is_synced = serve->has_state = 0;
        free(item.text);
    }
    unsigned dropped = dia_nodes_dropped(serve->nodes);
    if (dropped && now - serve->full_ms > SAY_MS) {
        dia_serve_say(serve, "change-lost reason=\"they came too fast\"");
        serve->full_ms = now;
    }
}

void dia_serve_nodes_end(struct dia_serve *serve)
{
    while (serve->missed_count)
        free(serve->missed[--serve->missed_count].line);
    free(serve->missed);
    dia_nodes_free(serve->nodes);
    dia_journal_free(&serve->journal);
}

/* Files that have come: shows may name them from now on. */
static void take_names(struct dia_serve *serve)
{
    char name[FILES_NAME];
    while (serve->files && dia_files_next(serve->files, name)) {
        serve->files_came = 1;
        if (dia_live_may_name(serve->live, name) != DIA_OK)
            dia_serve_say(serve, "file-lost reason=\"out of memory\"");
    }
}

void dia_serve_nodes_try_again(struct dia_serve *serve)
{
    if (serve->is_refused && serve->is_apart)
        dia_nodes_join_again(serve->nodes);
    else if (serve->is_refused)
        serve->journal.is_torn = 1;
}

/* ---- before each frame ----------------------------------------------------------------------- */

void dia_serve_nodes(struct dia_serve *serve)
{
    uint64_t now = now_ms();
    if (now + LATE_CLOCKS < serve->node_ms) { /* what is shown was made for a later time */
        dia_serve_say(serve, "clock-went-back");
        serve->jumps = 1;
        serve->journal.is_torn = 1;
        serve->node_told_ms = 0;
    }
    serve->node_ms = now;
    take_names(serve);
    take_all(serve, now);
    if (serve->journal.is_torn)
        make_anew(serve, now);
    dia_journal_due(&serve->journal, serve->live, now, AT_ONCE, made_elsewhere, serve);
    if (serve->is_synced && !serve->is_apart && serve->publish_ms && now >= serve->publish_ms)
        send_state(serve);
    fold_in_time(serve, now);
    dia_serve_nodes_tell(serve, now);
}
