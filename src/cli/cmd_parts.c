/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/parts.h>

#include "cli.h"
#include "findings_text.h"
#include "json.h"

static int as_json, sources;

const struct poptOption cli_parts_options[] = {
    {"sources", 0, POPT_ARG_NONE, &sources, 0, "where each value comes from", NULL},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

#define INDENT 38 /* of what a part is for */

static int is_wire(const struct dia_part *part)
{
    return strncmp(part->name, "wire ", 5) == 0;
}

static void print_text(const struct dia_parts *parts)
{
    for (uint32_t i = 0; i < parts->count; i++) {
        const struct dia_part *part = &parts->items[i];
        char pieces[24], used[240];
        snprintf(pieces, sizeof pieces, "%" PRIu32, part->pieces);
        if (is_wire(part))
            snprintf(pieces, sizeof pieces, "%.2f m", part->pieces / 1e3);
        snprintf(used, sizeof used, "%s%s%s%s", part->used, sources ? " [" : "",
                 sources ? part->source : "", sources ? "]" : "");
        printf("%7s  %-28s ", pieces, part->name);
        if (strlen(part->name) > 28)
            printf("\n%*s", INDENT, "");
        text_wrapped(stdout, used, INDENT);
        putchar('\n');
    }
}

cJSON *parts_json(const struct dia_parts *parts)
{
    cJSON *list = cJSON_CreateArray();
    for (uint32_t i = 0; i < parts->count; i++) {
        const struct dia_part *part = &parts->items[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "part", part->name);
        cJSON_AddNumberToObject(json, is_wire(part) ? "length_mm" : "pieces", part->pieces);
        cJSON_AddStringToObject(json, "used", part->used);
        cJSON_AddStringToObject(json, "source", part->source);
    }
    return list;
}

/* The parts of a rig, or of the part of a node: printed, or into a list for programs. */
static int one_rig(const struct dia_rig *rig, const char *node, cJSON *nodes)
{
    struct dia_parts parts;
    int code = CLI_FINE;
    if (dia_parts_list(&parts, rig) != DIA_OK) {
        code = cli_fail(CLI_MACHINE, "parts", "out of memory");
    } else if (nodes) {
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(nodes, json);
        cJSON_AddStringToObject(json, "node", node);
        cJSON_AddItemToObject(json, "parts", parts_json(&parts));
    } else if (as_json) {
        json_print(parts_json(&parts));
    } else {
        if (node)
            printf("%s\n", node);
        print_text(&parts);
    }
    dia_parts_free(&parts);
    return code;
}

static int all_nodes(const struct dia_rig *whole, const char *const *names, uint32_t count)
{
    static struct dia_rig part;
    cJSON *json = as_json ? cJSON_CreateObject() : NULL;
    cJSON *nodes = json ? cJSON_AddArrayToObject(json, "nodes") : NULL;
    int code = CLI_FINE;
    if (as_json && !nodes)
        code = cli_fail(CLI_MACHINE, "parts", "out of memory");
    for (uint32_t k = 0; k < count && code == CLI_FINE; k++) {
        struct dia_diagnostic wrong = {""};
        enum dia_status status = dia_rig_part(&part, whole, names[k], &wrong);
        if (k && !as_json)
            putchar('\n');
        code = status == DIA_OK ? one_rig(&part, names[k], nodes) : cli_fail_with(status, &wrong);
    }
    if (json && code == CLI_FINE)
        json_print(json);
    else
        cJSON_Delete(json);
    return code;
}

int cli_parts(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    static const char *names[DIA_RIG_NODES];
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    cli_options_free(&options);
    if (code != CLI_FINE)
        return code;
    uint32_t count = cli_node ? 0 : dia_rig_nodes(&rig, names, DIA_RIG_NODES);
    return cli_finish(count ? all_nodes(&rig, names, count) : one_rig(&rig, NULL, NULL));
}
