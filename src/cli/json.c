/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>

#include "cli.h"
#include "json.h"

void json_print(cJSON *root)
{
    char *text = cJSON_Print(root);
    cJSON_Delete(root);
    if (!text) {
        fputs("diachrome: out of memory\n", stderr);
        exit(CLI_MACHINE);
    }
    puts(text);
    cJSON_free(text);
}

void json_findings(cJSON *root, const struct dia_findings *all)
{
    cJSON *list = cJSON_AddArrayToObject(root, "findings");
    for (uint32_t i = 0; i < all->count; i++) {
        const struct dia_finding *f = &all->items[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "level", dia_finding_level_text(f->level));
        cJSON_AddStringToObject(json, "code", f->code);
        cJSON_AddStringToObject(json, "place", f->place);
        cJSON_AddStringToObject(json, "text", f->text);
        cJSON_AddStringToObject(json, "source", f->source);
        cJSON_AddNumberToObject(json, "time_ns", (double)f->t_ns);
        cJSON_AddNumberToObject(json, "times", f->times);
    }
}
