/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include "node_clock.h"
#include "serve_private.h"
#include "sum.h"

/* What a node says of itself, for the list of all: its clock, how far it is, and sums by which one
 * sees whether it has the same files and shows the same. */
#define TELL_MS 1000

static uint32_t sum_of(const char *text)
{
    return sum_short(sum_on(SUM_BEGINS, text, strlen(text)));
}

static void add_digits(cJSON *json, const char *key, uint32_t sum)
{
    char digits[9];
    snprintf(digits, sizeof digits, "%08" PRIx32, sum);
    cJSON_AddStringToObject(json, key, digits);
}

static void say_clock(struct dia_serve *serve, const struct node_clock *clock)
{
    int is_good = clock->is_known && clock->is_synchronised &&
                  clock->error_ms < 500000.0 / serve->options.rate_mhz; /* half a frame */
    char line[120];
    if (serve->clock_told && serve->clock_is_good == is_good)
        return;
    serve->clock_told = 1;
    serve->clock_is_good = is_good;
    if (!clock->is_known)
        snprintf(line, sizeof line, "clock quality=unknown");
    else
        snprintf(line, sizeof line, "clock quality=%s synchronised=%s error_ms=%.1f",
                 is_good ? "good" : "poor", clock->is_synchronised ? "yes" : "no", clock->error_ms);
    dia_serve_say(serve, line);
}

void dia_serve_nodes_tell(struct dia_serve *serve, uint64_t now)
{
    struct node_clock clock;
    if (serve->node_told_ms && now - serve->node_told_ms < TELL_MS)
        return;
    serve->node_told_ms = now;
    dia_node_clock_ask(&clock);
    say_clock(serve, &clock);
    cJSON *json = cJSON_CreateObject();
    cJSON_AddStringToObject(json, "process", dia_nodes_me(serve->nodes));
    cJSON_AddStringToObject(json, "clock",
                            !clock.is_known          ? "unknown"
                            : !clock.is_synchronised ? "free"
                            : serve->clock_is_good   ? "good"
                                                     : "poor");
    cJSON_AddNumberToObject(json, "clock_error_ms", clock.error_ms);
    cJSON_AddNumberToObject(json, "begun_ms", (double)serve->journal.begun_ms);
    cJSON_AddNumberToObject(json, "changes", serve->journal.count);
    cJSON_AddNumberToObject(json, "frames", (double)serve->frames);
    cJSON_AddNumberToObject(json, "late", (double)serve->late);
    cJSON_AddStringToObject(json, "rig", serve->rig_sum);
    const char *show = dia_live_text(serve->live);
    uint32_t sum = sum_of(show);
    if (sum != serve->show_sum || serve->files_new) { /* reading them takes its time */
        serve->show_sum = sum;
        serve->files_new = 0;
        serve->files_sum = dia_files_sum(serve->live);
    }
    add_digits(json, "show", sum);
    add_digits(json, "files", serve->files_sum);
    char *state = dia_live_state(serve->live);
    add_digits(json, "state", sum_of(state ? state : ""));
    free(state);
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    dia_nodes_tell(serve->nodes, text);
}

void dia_serve_nodes_rig(struct dia_serve *serve)
{
    uint64_t sum = SUM_BEGINS;
    char bytes[4096];
    if (!serve->nodes)
        return;
    FILE *file = serve->options.rig_path ? fopen(serve->options.rig_path, "r") : NULL;
    for (size_t n; file && (n = fread(bytes, 1, sizeof bytes, file)) > 0;)
        sum = sum_on(sum, bytes, n);
    if (file)
        fclose(file);
    snprintf(serve->rig_sum, sizeof serve->rig_sum, "%08" PRIx32, sum_short(sum));
}
