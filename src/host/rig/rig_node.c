/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/fault.h>
#include <diachrome/nearest.h>

#include "host_private.h"
#include "rig_node.h"

/* Nodes, and the part of a rig that one of them drives. */

enum dia_status dia_rig_check_node(struct rig_reader *reader, const struct tree_node *node,
                                   const char *name)
{
    const struct tree_node *value = dia_tree_get(node, "node");
    if (!value || value->kind != TREE_SCALAR || dia_rig_is_name(name))
        return DIA_OK; /* what is no text is told as such */
    return dia_rig_wrong_value(reader, value,
                               "'%.40s' is no name for a node; use letters, digits, - and _, a "
                               "letter first, at most %d of them",
                               value->text, DIA_RIG_NAME - 1);
}

enum dia_status dia_rig_check_nodes(struct rig_reader *reader, const struct tree_node *root,
                                    const struct dia_rig *rig)
{
    const char *has = NULL, *lacks = NULL, *what = "";
    char list[12];
    struct {
        const char *node, *name, *what;
    } all[DIA_RIG_NODES];
    uint32_t n = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++, n++)
        all[n].node = rig->lanes[i].node, all[n].name = rig->lanes[i].name, all[n].what = "lane";
    for (uint32_t i = 0; i < rig->device_count; i++, n++)
        all[n].node = rig->devices[i].node, all[n].name = rig->devices[i].name,
        all[n].what = "device";
    for (uint32_t i = 0; i < rig->button_count; i++, n++)
        all[n].node = rig->buttons[i].node, all[n].name = rig->buttons[i].name,
        all[n].what = "button";
    for (uint32_t k = 0; k < n; k++) {
        if (all[k].node[0]) {
            has = all[k].node;
        } else if (!lacks) {
            lacks = all[k].name;
            what = all[k].what;
        }
    }
    if (!has || !lacks)
        return DIA_OK;
    snprintf(list, sizeof list, "%ss", what);
    return dia_rig_wrong_key(reader, dia_tree_get(dia_tree_get(root, list), lacks),
                             "%s '%s' does not say which node drives it, as others do; write "
                             "'node: %s'",
                             what, lacks, has);
}

/* ---- the part of a node ---------------------------------------------------------------------- */

const struct dia_rig *dia_rig_whole(const struct dia_rig *rig)
{
    return rig->whole ? rig->whole : rig;
}

void dia_rig_plays_live(struct dia_rig *rig)
{
    rig->live_streams = 1;
    if (rig->own_whole)
        rig->own_whole->live_streams = 1;
}

/* One more, unless it is there already. */
static uint32_t add_name(const char *name, const char **names, uint32_t count)
{
    for (uint32_t k = 0; k < count; k++) {
        if (strcmp(names[k], name) == 0)
            return count;
    }
    names[count] = name;
    return count + (name[0] != 0);
}

uint32_t dia_rig_nodes(const struct dia_rig *rig, const char **names, uint32_t most)
{
    const char *all[DIA_RIG_NODES + 1];
    uint32_t count = 0;
    rig = dia_rig_whole(rig);
    for (uint32_t i = 0; i < rig->lane_count; i++)
        count = add_name(rig->lanes[i].node, all, count);
    for (uint32_t i = 0; i < rig->device_count; i++)
        count = add_name(rig->devices[i].node, all, count);
    for (uint32_t i = 0; i < rig->button_count; i++)
        count = add_name(rig->buttons[i].node, all, count);
    memcpy(names, all, (count < most ? count : most) * sizeof *names);
    return count;
}

static enum dia_status no_such_node(const struct dia_rig *rig, const char *node,
                                    struct dia_diagnostic *wrong)
{
    const char *names[DIA_RIG_NODES + 1];
    uint32_t count = dia_rig_nodes(rig, names, DIA_RIG_NODES);
    names[count] = NULL;
    const char *near = dia_nearest(node, names);
    if (count == 0)
        return dia_host_wrong(wrong,
                              "%s: the rig has no nodes; write 'node: %.40s' at each lane and "
                              "device that this node drives",
                              rig->path, node);
    return dia_host_wrong(wrong, "%s: there is no node '%.40s'; %s '%s'%s", rig->path, node,
                          near ? "did you mean" : "there is", near ? near : names[0],
                          near ? "?" : "");
}

/* Supplies that the part names, and their new numbers. */
static void keep_supplies(const struct dia_rig *whole, struct dia_rig *part)
{
    uint32_t number[DIA_RIG_SUPPLIES] = {0};
    uint8_t used[DIA_RIG_SUPPLIES] = {0};
    for (uint32_t i = 0; i < part->lane_count; i++) {
        used[part->lanes[i].supply] = 1;
        for (uint32_t k = 0; k < part->lanes[i].feed_count; k++) {
            if (part->lanes[i].feeds[k].supply != DIA_RIG_NO_SUPPLY)
                used[part->lanes[i].feeds[k].supply] = 1;
        }
    }
    for (uint32_t i = 0; i < part->device_count; i++)
        used[part->devices[i].supply] = 1;
    part->supply_count = 0;
    for (uint32_t k = 0; k < whole->supply_count; k++) {
        number[k] = part->supply_count;
        if (used[k])
            part->supplies[part->supply_count++] = whole->supplies[k];
    }
    for (uint32_t i = 0; i < part->lane_count; i++) {
        struct dia_rig_lane *lane = &part->lanes[i];
        lane->supply = number[lane->supply];
        for (uint32_t k = 0; k < lane->feed_count; k++) {
            if (lane->feeds[k].supply != DIA_RIG_NO_SUPPLY)
                lane->feeds[k].supply = number[lane->feeds[k].supply];
        }
    }
    for (uint32_t i = 0; i < part->device_count; i++)
        part->devices[i].supply = number[part->devices[i].supply];
}

/* The faults that are at what it has. 0: no memory. */
static int keep_faults(const struct dia_rig *whole, struct dia_rig *part)
{
    struct dia_desk *desk = calloc(1, sizeof *desk);
    struct dia_diagnostic no;
    part->fault_count = 0;
    if (!desk)
        return 0;
    dia_desk_init(desk, part);
    for (uint32_t k = 0; k < whole->fault_count; k++) {
        if (dia_desk_fault(desk, whole->faults[k], &no) == DIA_OK)
            memcpy(part->faults[part->fault_count++], whole->faults[k], sizeof whole->faults[k]);
    }
    free(desk);
    return 1;
}

static void keep_groups(const struct dia_rig *whole, struct dia_rig *part)
{
    uint8_t number[DIA_RIG_GROUPS + 1] = {0};
    part->group_count = 0;
    for (uint32_t i = 0; i < part->lane_count; i++) {
        uint8_t *group = &part->lanes[i].group;
        if (*group && !number[*group]) {
            memcpy(part->groups[part->group_count], whole->groups[*group - 1],
                   sizeof part->groups[0]);
            number[*group] = (uint8_t)++part->group_count;
        }
        *group = number[*group];
    }
}

enum dia_status dia_rig_part(struct dia_rig *part, const struct dia_rig *whole, const char *node,
                             struct dia_diagnostic *wrong)
{
    *part = *whole;
    part->whole = whole;
    part->own_whole = NULL;
    snprintf(part->node, sizeof part->node, "%s", node);
    snprintf(part->name, sizeof part->name, "%.*s, %s", (int)(sizeof part->name - DIA_RIG_NAME - 3),
             whole->name, node);
    part->lane_count = part->device_count = part->button_count = 0;
    for (uint32_t i = 0; i < whole->lane_count; i++) {
        if (strcmp(whole->lanes[i].node, node) == 0)
            part->lanes[part->lane_count++] = whole->lanes[i];
    }
    for (uint32_t i = 0; i < whole->device_count; i++) {
        if (strcmp(whole->devices[i].node, node) == 0)
            part->devices[part->device_count++] = whole->devices[i];
    }
    for (uint32_t i = 0; i < whole->button_count; i++) {
        if (strcmp(whole->buttons[i].node, node) == 0)
            part->buttons[part->button_count++] = whole->buttons[i];
    }
    if (!node[0] || part->lane_count + part->device_count + part->button_count == 0)
        return no_such_node(whole, node, wrong);
    keep_supplies(whole, part);
    keep_groups(whole, part);
    if (keep_faults(whole, part))
        return DIA_OK;
    dia_host_wrong(wrong, "%s: out of memory", whole->path);
    return DIA_PORT_FAILED;
}

enum dia_status dia_rig_load_node(struct dia_rig *rig, const char *path, const char *node,
                                  struct dia_diagnostic *wrong)
{
    enum dia_status status = dia_rig_load(rig, path, wrong);
    if (status != DIA_OK || !node)
        return status;
    struct dia_rig *whole = malloc(sizeof *whole);
    if (!whole) {
        dia_host_wrong(wrong, "%s: out of memory", path);
        return DIA_PORT_FAILED;
    }
    *whole = *rig;
    status = dia_rig_part(rig, whole, node, wrong);
    rig->own_whole = whole;
    if (status != DIA_OK)
        dia_rig_free(rig);
    return status;
}

void dia_rig_free(struct dia_rig *rig)
{
    free(rig->own_whole);
    rig->whole = rig->own_whole = NULL;
}
