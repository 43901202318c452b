/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "journal.h"

/* ---- its order ------------------------------------------------------------------------------- */

static int compare(const struct journal_event *a, const struct journal_event *b)
{
    if (a->ms != b->ms)
        return a->ms < b->ms ? -1 : 1;
    int names = strcmp(a->from, b->from);
    return names ? names : a->number < b->number ? -1 : a->number > b->number;
}

/* Where it is, or would be: the first that does not come before it. */
static uint32_t place_of(const struct journal *journal, const struct journal_event *event)
{
    uint32_t low = 0, high = journal->count;
    while (low < high) {
        uint32_t middle = low + (high - low) / 2;
        if (compare(&journal->events[middle], event) < 0)
            low = middle + 1;
        else
            high = middle;
    }
    return low;
}

static const struct journal_seen *seen_of(const struct journal *journal, const char *from)
{
    for (uint32_t k = 0; k < journal->seen_count; k++) {
        if (strcmp(journal->seen[k].from, from) == 0)
            return &journal->seen[k];
    }
    return NULL;
}

static int is_in_state(const struct journal *journal, const struct journal_event *event)
{
    const struct journal_seen *seen = seen_of(journal, event->from);
    /* where makers have been forgotten, one that came again had others before its first */
    int is_late = seen && event->number < seen->first && journal->seen_count < JOURNAL_SEEN;
    return event->ms <= journal->until_ms && seen && seen->number >= event->number && !is_late;
}

static void see(struct journal *journal, const char *from, uint32_t number, uint64_t ms)
{
    uint32_t oldest = 0, k = 0;
    for (; k < journal->seen_count && strcmp(journal->seen[k].from, from) != 0; k++)
        oldest = journal->seen[k].ms < journal->seen[oldest].ms ? k : oldest;
    if (k == JOURNAL_SEEN)
        k = oldest;
    else if (k == journal->seen_count)
        journal->seen_count++;
    else if (journal->seen[k].number + 1 != number) /* one is missing: its maker makes it anew */
        return;
    if (strcmp(journal->seen[k].from, from) != 0)
        journal->seen[k].first = number;
    snprintf(journal->seen[k].from, sizeof journal->seen[k].from, "%s", from);
    journal->seen[k].number = number;
    journal->seen[k].ms = ms;
}

static int insert(struct journal *journal, uint32_t at, const struct journal_event *event)
{
    size_t length = strlen(event->line);
    char *line = journal->bytes + length <= JOURNAL_BYTES ? strdup(event->line) : NULL;
    if (!line)
        return -1;
    journal->bytes += length;
    memmove(journal->events + at + 1, journal->events + at,
            (journal->count - at) * sizeof *journal->events);
    journal->events[at] = *event;
    journal->events[at].line = line;
    journal->count++;
    return 0;
}

/* ---- what was made here and is in a state ---------------------------------------------------- */

static void forget_oldest(struct journal *journal)
{
    journal->own_bytes -= strlen(journal->own[0].line);
    free(journal->own[0].line);
    journal->own_count--;
    memmove(journal->own, journal->own + 1, journal->own_count * sizeof *journal->own);
}

/* Takes the event's line by copying it; where that cannot be, it is not remembered. */
static void remember(struct journal *journal, const struct journal_event *event)
{
    size_t length = strlen(event->line);
    char *line = length <= JOURNAL_OWN_BYTES ? strdup(event->line) : NULL;
    if (!line)
        return;
    while (journal->own_count == JOURNAL_OWN ||
           (journal->own_count && journal->own_bytes + length > JOURNAL_OWN_BYTES))
        forget_oldest(journal);
    journal->own[journal->own_count] = *event;
    journal->own[journal->own_count++].line = line;
    journal->own_bytes += length;
}

/* 1: the state may have it and know no more by whom it was, as there were too many after it. */
static int is_forgotten(const struct journal *journal, const struct journal_event *event)
{
    int is = journal->seen_count == JOURNAL_SEEN && !seen_of(journal, event->from);
    for (uint32_t k = 0; k < journal->seen_count; k++)
        is &= journal->seen[k].ms >= event->ms;
    return is;
}

/* What the state lacks goes behind the n that are in lost already. */
static uint32_t find_lost(struct journal *journal, struct journal_event *lost, uint32_t n)
{
    uint32_t kept = 0;
    for (uint32_t k = 0; k < journal->own_count; k++) {
        const struct journal_event *event = &journal->own[k];
        if (is_in_state(journal, event) || is_forgotten(journal, event)) {
            journal->own[kept++] = *event;
            continue;
        }
        journal->own_bytes -= strlen(event->line);
        lost[n++] = *event;
    }
    journal->own_count = kept;
    return n;
}

/* ---- what need not be made anew, as it was changed again since ------------------------------- */

/* How many characters of a line say what it changes to a value of its own, so that another of the
 * same takes its place; 0: each counts, as a press does. */
static size_t thing_of(const char *line)
{
    static const struct {
        const char *word;
        int words; /* 0: up to the =; -1: all but the last */
    } things[] = {{"set", 0},   {"paint", -1}, {"clause", 3}, {"look", 2}, {"move", 2},
                  {"value", 2}, {"slots", 2},  {"master", 1}, {"seek", 1}, {"pace", 1},
                  {"clock", 1}, {"pause", 1},  {"resume", 1}, {"show", 1}};
    size_t length = strcspn(line, " "), k = 0;
    const size_t count = sizeof things / sizeof things[0];
    while (k < count &&
           (strlen(things[k].word) != length || strncmp(line, things[k].word, length) != 0))
        k++;
    if (k == count)
        return 0;
    if (things[k].words == 0)
        return strcspn(line, "=");
    if (things[k].words < 0)
        return (size_t)(strrchr(line, ' ') ? strrchr(line, ' ') - line : 0);
    for (int n = 1; n < things[k].words; n++)
        length +=
            strspn(line + length, " ") + strcspn(line + length + strspn(line + length, " "), " ");
    return length;
}

static int is_changed_since(const struct journal *journal, const struct journal_event *event)
{
    size_t length = thing_of(event->line);
    for (uint32_t k = 0; k < journal->count && length; k++) {
        const struct journal_event *later = &journal->events[k];
        if (later->ms > event->ms && thing_of(later->line) == length &&
            strncmp(later->line, event->line, length) == 0)
            return 1;
    }
    return 0;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

int dia_journal_begin(struct journal *journal, const char *me, uint64_t ms, char *state)
{
    memset(journal, 0, sizeof *journal);
    snprintf(journal->me, sizeof journal->me, "%s", me);
    memcpy(journal->by, journal->me, sizeof journal->by);
    journal->begun_ms = journal->until_ms = ms;
    journal->state = state;
    journal->events = calloc(JOURNAL_EVENTS, sizeof *journal->events);
    return journal->events ? 0 : -1;
}

void dia_journal_free(struct journal *journal)
{
    while (journal->count)
        free(journal->events[--journal->count].line);
    while (journal->own_count)
        forget_oldest(journal);
    free(journal->events);
    free(journal->state);
    journal->events = NULL;
    journal->state = NULL;
}

/* ---- changes --------------------------------------------------------------------------------- */

uint64_t dia_journal_now(const struct journal *journal, uint64_t ms)
{
    uint64_t last = journal->made ? journal->events[journal->made - 1].ms : 0;
    if (last < journal->until_ms)
        last = journal->until_ms;
    return ms > last ? ms : last + 1;
}

const struct journal_event *dia_journal_made(struct journal *journal, uint64_t ms, const char *line,
                                             int is_owner)
{
    struct journal_event event = {
        .ms = ms, .number = journal->numbers + 1, .line = (char *)line, .is_owner = is_owner != 0};
    memcpy(event.from, journal->me, sizeof event.from);
    uint32_t at = place_of(journal, &event);
    if (journal->count == JOURNAL_EVENTS || insert(journal, at, &event) != 0)
        return NULL;
    journal->numbers++;
    journal->is_torn |= at != journal->made;
    journal->made++;
    return &journal->events[at];
}

enum journal_taken dia_journal_take(struct journal *journal, const struct journal_event *event)
{
    uint32_t at = place_of(journal, event);
    if (is_in_state(journal, event) ||
        (at < journal->count && compare(&journal->events[at], event) == 0))
        return JOURNAL_KNOWN;
    if (event->ms <= journal->until_ms)
        return JOURNAL_MISSED;
    if (journal->count == JOURNAL_EVENTS || insert(journal, at, event) != 0)
        return JOURNAL_FULL;
    journal->is_torn |= at < journal->made;
    return JOURNAL_TAKEN;
}

void dia_journal_due(struct journal *journal, struct dia_live *live, uint64_t ms, uint32_t most,
                     journal_each *each, void *self)
{
    for (; most > 0 && journal->made < journal->count && journal->events[journal->made].ms <= ms;
         journal->made++, most--) {
        const struct journal_event *event = &journal->events[journal->made];
        struct dia_diagnostic wrong = {""};
        uint64_t run_ms = event->ms > journal->begun_ms ? event->ms - journal->begun_ms : 0;
        enum dia_status status = dia_live_change(
            live, event->line, run_ms, event->is_owner ? DIA_LIVE_OWNER : DIA_LIVE_OTHERS, &wrong);
        if (each)
            each(self, event, status == DIA_OK ? "" : wrong.text);
    }
}

struct dia_live *dia_journal_live(struct journal *journal, uint64_t ms, const struct dia_rig *rig,
                                  const struct dia_live *like, journal_each *each, void *self,
                                  struct dia_diagnostic *wrong)
{
    struct dia_live *live =
        dia_live_from(rig, journal->state, dia_live_name(like), dia_live_known(like), NULL, wrong);
    if (!live)
        return NULL;
    journal->made = 0;
    journal->is_torn = 0;
    dia_journal_due(journal, live, ms, JOURNAL_EVENTS, each, self);
    return live;
}

/* ---- its state ------------------------------------------------------------------------------- */

int dia_journal_fold(struct journal *journal, uint64_t ms, char *state, struct journal_event **gone)
{
    uint32_t n = 0;
    while (n < journal->count && journal->events[n].ms <= ms)
        n++;
    *gone = malloc((n + 1) * sizeof **gone);
    if (!*gone)
        return -1;
    memcpy(*gone, journal->events, n * sizeof **gone);
    for (uint32_t k = 0; k < n; k++) {
        if (strcmp(journal->events[k].from, journal->me) == 0)
            remember(journal, &journal->events[k]);
        see(journal, journal->events[k].from, journal->events[k].number, journal->events[k].ms);
        journal->bytes -= strlen(journal->events[k].line);
    }
    memmove(journal->events, journal->events + n, (journal->count - n) * sizeof **gone);
    journal->count -= n;
    journal->made -= journal->made < n ? journal->made : n;
    journal->until_ms = ms;
    memcpy(journal->by, journal->me, sizeof journal->by);
    free(journal->state);
    journal->state = state;
    return (int)n;
}

char *dia_journal_write(const struct journal *journal)
{
    size_t size = strlen(journal->state) + 200 + journal->seen_count * 60u;
    char *text = malloc(size), *at = text;
    if (!text)
        return NULL;
    at += sprintf(at, "run 1\nbegun %" PRIu64 "\nuntil %" PRIu64 "\nby %s\n", journal->begun_ms,
                  journal->until_ms, journal->by);
    for (uint32_t k = 0; k < journal->seen_count; k++)
        at += sprintf(at, "seen %s %" PRIu32 " %" PRIu64 " %" PRIu32 "\n", journal->seen[k].from,
                      journal->seen[k].number, journal->seen[k].ms, journal->seen[k].first);
    strcpy(at, journal->state);
    return text;
}

/* A line of it, and where the next begins; NULL: it is none. */
static const char *read_seen(const char *text, struct journal_seen *seen)
{
    int used = 0;
    memset(seen, 0, sizeof *seen);
    if (sscanf(text, "seen %8[0-9a-f] %" SCNu32 " %" SCNu64 " %" SCNu32 "%n", seen->from,
               &seen->number, &seen->ms, &seen->first, &used) != 4 ||
        text[used] != '\n')
        return NULL;
    return text + used + 1;
}

int dia_journal_read(struct journal *to, const char *text)
{
    int used = 0;
    struct journal_seen seen;
    memset(to, 0, sizeof *to);
    if (sscanf(text, "run 1 begun %" SCNu64 " until %" SCNu64 " by %8[0-9a-f]%n", &to->begun_ms,
               &to->until_ms, to->by, &used) != 3 ||
        text[used] != '\n' || to->until_ms < to->begun_ms)
        return -1;
    text += used + 1;
    for (const char *next; to->seen_count < JOURNAL_SEEN && (next = read_seen(text, &seen));
         text = next)
        to->seen[to->seen_count++] = seen;
    to->state = strdup(text);
    return to->state ? 0 : -1;
}

uint32_t dia_journal_adopt(struct journal *journal, struct journal *from,
                           struct journal_event **lost)
{
    uint32_t kept = 0, n = 0;
    int is_other = journal->begun_ms != from->begun_ms;
    *lost = malloc((journal->count + journal->own_count + 1) * sizeof **lost);
    if (!*lost) {
        dia_journal_free(from);
        return 0;
    }
    memcpy(journal->seen, from->seen, sizeof journal->seen);
    memcpy(journal->by, from->by, sizeof journal->by);
    journal->seen_count = from->seen_count;
    journal->begun_ms = from->begun_ms;
    journal->until_ms = from->until_ms;
    free(journal->state);
    journal->state = from->state;
    from->state = NULL;
    for (uint32_t k = 0; k < journal->count; k++) {
        struct journal_event *event = &journal->events[k];
        int is_own = strcmp(event->from, journal->me) == 0;
        if (event->ms > journal->until_ms) {
            journal->events[kept++] = *event;
            continue;
        }
        journal->bytes -= strlen(event->line);
        if (is_own && !is_in_state(journal, event))
            (*lost)[n++] = *event;
        else
            free(event->line);
    }
    journal->count = kept;
    journal->made = 0;
    journal->is_torn = 1;
    while (is_other && journal->own_count &&
           journal->own[0].ms + JOURNAL_AGAIN_MS < journal->until_ms)
        forget_oldest(journal);
    n = find_lost(journal, *lost, n);
    kept = 0;
    for (uint32_t k = 0; k < n; k++) {
        if (is_changed_since(journal, &(*lost)[k]))
            free((*lost)[k].line);
        else
            (*lost)[kept++] = (*lost)[k];
    }
    return kept;
}

int dia_journal_better(const struct journal *a, const struct journal *b)
{
    if (a->begun_ms != b->begun_ms)
        return a->begun_ms < b->begun_ms ? 1 : -1;
    if (a->until_ms != b->until_ms)
        return a->until_ms > b->until_ms ? 1 : -1;
    return -strcmp(a->by, b->by);
}
