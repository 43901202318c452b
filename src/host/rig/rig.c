/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "rig_fields.h"
#include <diachrome/fault.h>

#include "host_private.h"
#include "rig_device.h"
#include "rig_lane.h"

/* clang-format off */
static const struct field rig_fields[] = {
    {"rig",        HOLDS_TEXT,     1, DIA_NUMBER,  0, 64,      offsetof(struct dia_rig, name), "my desk"},
    {"master",     HOLDS_MORE,     0, DIA_PERCENT, 0, 0,       0, "30 %"},
    {"frame_rate", HOLDS_QUANTITY, 0, DIA_RATE,    100, 1000000, offsetof(struct dia_rig, frame_rate_mhz), "30 Hz"},
    {"controller", HOLDS_MORE,     1, DIA_NUMBER,  0, 0,       0, "and its keys below it"},
    {"supplies",   HOLDS_MORE,     1, DIA_NUMBER,  0, 0,       0, "and a supply below it"},
    {"lanes",      HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "and a lane below it"},
    {"devices",    HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "and a device below it"},
    {"buttons",    HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "and a button below it"},
    {"faults",     HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "[ \"rail: dead 17\" ]"},
    {"seed",       HOLDS_QUANTITY, 0, DIA_NUMBER,  0, 1000000, offsetof(struct dia_rig, seed), "7"},
    {0},
};
#define AT(field) offsetof(struct dia_rig_controller, field)
static const struct field controller_fields[] = {
    {"name",       HOLDS_TEXT,     1, DIA_NUMBER,  0, 64,                 AT(name),          "8-bit board"},
    {"clock",      HOLDS_QUANTITY, 1, DIA_CLOCK,   1000, 2000000000,      AT(clock_hz),      "16 MHz"},
    {"ram",        HOLDS_QUANTITY, 1, DIA_MEMORY,  1, INT32_MAX,          AT(ram_bytes),     "2 KB"},
    {"flash",      HOLDS_QUANTITY, 1, DIA_MEMORY,  1, INT32_MAX,          AT(flash_bytes),   "32 KB"},
    {"logic_high", HOLDS_QUANTITY, 1, DIA_VOLTAGE, 500, 30000,            AT(logic_high_mv), "5 V"},
    {0},
};
#undef AT
#define AT(field) offsetof(struct dia_rig_supply, field)
static const struct field supply_fields[] = {
    {"voltage",    HOLDS_QUANTITY, 1, DIA_VOLTAGE, 1000, 60000,           AT(voltage_mv), "5 V"},
    {"current",    HOLDS_QUANTITY, 1, DIA_CURRENT, 1000, 4000000000,      AT(current_ua), "2 A"},
    {"reserve",    HOLDS_QUANTITY, 0, DIA_CURRENT, 0, 4000000000,         AT(reserve_ua), "100 mA"},
    {0},
};
#undef AT
/* clang-format on */

static enum dia_status read_supply(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig *rig)
{
    struct dia_rig_supply *supply = &rig->supplies[rig->supply_count];
    char where[64];
    enum dia_status status = dia_rig_read_name(reader, node, "supply", supply->name);
    if (status != DIA_OK)
        return status;
    snprintf(where, sizeof where, "supply '%s'", supply->name);
    status = dia_rig_read_fields(reader, node, supply_fields, supply, where);
    if (status != DIA_OK)
        return status;
    if (supply->reserve_ua >= supply->current_ua)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "reserve"),
                                   "'reserve' must be less than the 'current' of %s", where);
    rig->supply_count++;
    return DIA_OK;
}

typedef enum dia_status reads_entry(struct rig_reader *reader, const struct tree_node *node,
                                    struct dia_rig *rig);

/* Each entry of 'supplies', 'lanes', 'devices' or 'buttons': at least one, at most so many. */
static enum dia_status read_entries(struct rig_reader *reader, const struct tree_node *root,
                                    const char *key, uint32_t most, reads_entry *read,
                                    struct dia_rig *rig)
{
    const struct tree_node *map = dia_tree_get(root, key);
    char where[40];
    snprintf(where, sizeof where, "'%s'", key);
    enum dia_status status = dia_rig_must_be(reader, map, TREE_MAP, where);
    if (status != DIA_OK)
        return status;
    if (!map->child)
        return dia_rig_wrong_value(reader, map, "'%s' is empty; a rig has at least one", key);
    uint32_t n = 0;
    for (const struct tree_node *node = map->child; node && status == DIA_OK; node = node->next) {
        if (n++ == most)
            return dia_rig_wrong_key(reader, node, "a rig has at most %u %s", (unsigned)most, key);
        status = read(reader, node, rig);
    }
    return status;
}

static enum dia_status read_master(struct rig_reader *reader, const struct tree_node *root,
                                   struct dia_rig *rig)
{
    const struct tree_node *node = dia_tree_get(root, "master");
    rig->master = DIA_SHARE_ONE;
    return node ? dia_rig_read_share(reader, node, "'master'", &rig->master) : DIA_OK;
}

/* Faults of the simulated desk: kept as they are written, when they make sense. */
static enum dia_status read_faults(struct rig_reader *reader, const struct tree_node *root,
                                   struct dia_rig *rig)
{
    const struct tree_node *list = dia_tree_get(root, "faults");
    if (!list)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, "'faults'");
    struct dia_desk *desk = calloc(1, sizeof *desk);
    if (!desk)
        return dia_host_failed(reader->wrong, reader->path, "cannot be read");
    dia_desk_init(desk, rig);
    for (const struct tree_node *node = list->child; node && status == DIA_OK; node = node->next) {
        struct dia_diagnostic why = {""};
        status = dia_rig_must_be(reader, node, TREE_SCALAR, "a fault");
        if (status == DIA_OK && rig->fault_count == DIA_RIG_FAULTS)
            status =
                dia_rig_wrong_value(reader, node, "a rig has at most %d faults", DIA_RIG_FAULTS);
        else if (status == DIA_OK && dia_desk_fault(desk, node->text, &why) != DIA_OK)
            status = dia_rig_wrong_value(reader, node, "%s", why.text);
        else if (status == DIA_OK)
            strcpy(rig->faults[rig->fault_count++], node->text);
    }
    free(desk);
    return status;
}

static enum dia_status read_rig(struct rig_reader *reader, const struct tree_node *root,
                                struct dia_rig *rig)
{
    enum dia_status status = dia_rig_read_fields(reader, root, rig_fields, rig, "a rig file");
    if (status == DIA_OK)
        status = read_master(reader, root, rig);
    if (status == DIA_OK)
        status = dia_rig_read_fields(reader, dia_tree_get(root, "controller"), controller_fields,
                                     &rig->controller, "'controller'");
    if (status == DIA_OK)
        status = read_entries(reader, root, "supplies", DIA_RIG_SUPPLIES, read_supply, rig);
    if (status == DIA_OK && !dia_tree_get(root, "lanes") && !dia_tree_get(root, "devices"))
        return dia_rig_wrong_key(reader, root,
                                 "a rig file has 'lanes' (of pixels), 'devices' or both; "
                                 "write 'lanes:' and a lane below it");
    if (status == DIA_OK && dia_tree_get(root, "lanes"))
        status = read_entries(reader, root, "lanes", DIA_RIG_LANES, dia_rig_read_lane, rig);
    if (status == DIA_OK && dia_tree_get(root, "devices"))
        status = read_entries(reader, root, "devices", DIA_RIG_DEVICES, dia_rig_read_device, rig);
    if (status == DIA_OK && dia_tree_get(root, "buttons"))
        status = read_entries(reader, root, "buttons", DIA_RIG_BUTTONS, dia_rig_read_button, rig);
    if (status == DIA_OK && dia_tree_get(root, "lanes"))
        status = dia_rig_check_groups(reader, dia_tree_get(root, "lanes"), rig);
    if (status == DIA_OK)
        status = read_faults(reader, root, rig);
    return status;
}

enum dia_status dia_rig_load(struct dia_rig *rig, const char *path, struct dia_diagnostic *wrong)
{
    struct rig_reader reader = {path, wrong};
    struct tree tree;
    memset(rig, 0, sizeof *rig);
    rig->frame_rate_mhz = 30000;
    enum dia_status status = dia_tree_load(&tree, path, wrong);
    if (status != DIA_OK)
        return status;
    status = read_rig(&reader, tree.root, rig);
    dia_tree_free(&tree);
    return status;
}
