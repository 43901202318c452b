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

int cli_parts(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    struct cli_options options;
    struct dia_parts parts;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    cli_options_free(&options);
    if (code != CLI_FINE)
        return code;
    if (dia_parts_list(&parts, &rig) != DIA_OK)
        code = cli_fail(CLI_MACHINE, "parts", "out of memory");
    else if (as_json)
        json_print(parts_json(&parts));
    else
        print_text(&parts);
    dia_parts_free(&parts);
    return cli_finish(code);
}
