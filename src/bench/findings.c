/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/finding.h>

void dia_findings_init(struct dia_findings *list)
{
    memset(list, 0, sizeof *list);
}

void dia_findings_free(struct dia_findings *list)
{
    free(list->items);
    dia_findings_init(list);
}

struct dia_finding *dia_findings_find(const struct dia_findings *list, const char *code,
                                      const char *place)
{
    for (uint32_t i = 0; i < list->count; i++) {
        if (strcmp(list->items[i].code, code) == 0 && strcmp(list->items[i].place, place) == 0)
            return &list->items[i];
    }
    return NULL;
}

void dia_findings_add(struct dia_findings *list, const struct dia_finding *finding)
{
    uint32_t times = finding->times ? finding->times : 1;
    struct dia_finding *known = dia_findings_find(list, finding->code, finding->place);
    if (known) {
        known->times += times;
        return;
    }
    if (list->count == list->room) {
        uint32_t room = list->room ? list->room * 2 : 8;
        struct dia_finding *items = realloc(list->items, room * sizeof *items);
        if (!items) {
            list->lost = 1;
            return;
        }
        list->items = items;
        list->room = room;
    }
    list->items[list->count] = *finding;
    list->items[list->count].times = times;
    list->count++;
}

uint32_t dia_findings_of(const struct dia_findings *list, enum dia_finding_level level)
{
    uint32_t n = 0;
    for (uint32_t i = 0; i < list->count; i++)
        n += list->items[i].level == level;
    return n;
}

const char *dia_finding_level_text(enum dia_finding_level level)
{
    return level == DIA_NOTE ? "note" : level == DIA_WARNING ? "warning" : "error";
}
