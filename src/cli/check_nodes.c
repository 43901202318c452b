/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>

#include <diachrome/player.h>

#include "check_nodes.h"
#include "check_report.h"
#include "cli.h"
#include "json.h"

/* What a node's line says: of its supplies that which is closest to its limit. */
struct row {
    char node[DIA_RIG_NAME];
    uint8_t has_supply; /* 0: nothing but buttons is there */
    struct dia_rig_supply supply;
    struct dia_check_current most;
    uint32_t rate_mhz, errors, warnings;
};

struct check_nodes {
    const struct dia_rig *whole;
    cJSON *json, *list; /* for programs: each node's check in full */
    struct row *rows;
    uint32_t count;
    struct dia_findings findings;
};

struct check_nodes *check_nodes_new(const struct dia_rig *whole, int as_json)
{
    struct check_nodes *nodes = calloc(1, sizeof *nodes);
    if (!nodes)
        return NULL;
    nodes->whole = whole;
    nodes->rows = calloc(DIA_RIG_NODES, sizeof *nodes->rows);
    dia_findings_init(&nodes->findings);
    if (as_json) {
        nodes->json = cJSON_CreateObject();
        cJSON_AddStringToObject(nodes->json, "rig", whole->name);
        nodes->list = cJSON_AddArrayToObject(nodes->json, "nodes");
    }
    if (nodes->rows && (!as_json || nodes->list))
        return nodes;
    check_nodes_free(nodes);
    return NULL;
}

void check_nodes_free(struct check_nodes *nodes)
{
    if (!nodes)
        return;
    cJSON_Delete(nodes->json);
    dia_findings_free(&nodes->findings);
    free(nodes->rows);
    free(nodes);
}

/* How much of what a supply may give it gives. */
static double used(const struct dia_check_current *current, const struct dia_rig_supply *supply)
{
    return (double)current->drawn_ua / supply->current_ua;
}

void check_nodes_add(struct check_nodes *nodes, const struct dia_check *check,
                     const struct dia_rig *part)
{
    struct row *row = &nodes->rows[nodes->count++];
    snprintf(row->node, sizeof row->node, "%s", part->node);
    for (uint32_t s = 0; s < part->supply_count; s++) {
        struct dia_check_current most = check_most_of(check, s);
        if (row->has_supply && used(&most, &part->supplies[s]) <= used(&row->most, &row->supply))
            continue;
        row->has_supply = 1;
        row->supply = part->supplies[s];
        row->most = most;
    }
    row->rate_mhz = check->rate_mhz;
    row->errors = dia_findings_of(&check->findings, DIA_ERROR);
    row->warnings = dia_findings_of(&check->findings, DIA_WARNING);
    dia_findings_of_part(&nodes->findings, &check->findings, part);
    if (nodes->list)
        cJSON_AddItemToArray(nodes->list, check_json(check, part));
}

static void print_row(const struct row *row)
{
    char draws[24] = "-", gives[24] = "-", rate[24] = "-", found[40] = "every limit is kept";
    if (row->has_supply) {
        snprintf(draws, sizeof draws, "%.3f A", (double)row->most.drawn_ua / 1e6);
        snprintf(gives, sizeof gives, "%.3f A", row->supply.current_ua / 1e6);
    }
    if (row->rate_mhz)
        snprintf(rate, sizeof rate, "%.*f Hz", row->rate_mhz < 100000, row->rate_mhz / 1e3);
    if (row->errors)
        snprintf(found, sizeof found, "%" PRIu32 " broken", row->errors);
    else if (row->warnings)
        snprintf(found, sizeof found, "%" PRIu32 " warning%s", row->warnings,
                 row->warnings == 1 ? "" : "s");
    printf("%-15.15s %-12.12s%9s%11s%10s  %s\n", row->node,
           row->has_supply ? row->supply.name : "-", draws, gives, rate, found);
}

int check_nodes_report(struct check_nodes *nodes, int in_colour)
{
    char name[120];
    int code = dia_findings_of(&nodes->findings, DIA_ERROR) ? CLI_LIMIT : CLI_FINE;
    if (nodes->json) {
        json_print(nodes->json);
        nodes->json = NULL;
        return code;
    }
    snprintf(name, sizeof name, "%s, %" PRIu32 " node%s", nodes->whole->name, nodes->count,
             nodes->count == 1 ? "" : "s");
    check_report_verdict(name, &nodes->findings, in_colour);
    printf("%s\nnode            supply          draws   may give   at most  found%s\n",
           in_colour ? "\033[1m" : "", in_colour ? "\033[0m" : "");
    for (uint32_t k = 0; k < nodes->count; k++)
        print_row(&nodes->rows[k]);
    printf("\nall about one of them: --node %s\n", nodes->rows[0].node);
    return code;
}
