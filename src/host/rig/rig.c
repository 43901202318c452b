/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "rig_fields.h"
#include <diachrome/fault.h>

#include "host_private.h"
#include "rig_controller.h"
#include "rig_device.h"
#include "rig_lane.h"
#include "rig_live.h"
#include "rig_node.h"

/* clang-format off */
static const struct field rig_fields[] = {
    {"rig",        HOLDS_TEXT,     0, DIA_NUMBER,  0, 64,      offsetof(struct dia_rig, name), "my desk"},
    {"master",     HOLDS_MORE,     0, DIA_PERCENT, 0, 0,       0, "30 %"},
    {"frame_rate", HOLDS_QUANTITY, 0, DIA_RATE,    100, 1000000, offsetof(struct dia_rig, frame_rate_mhz), "30 Hz"},
    {"controller", HOLDS_MORE,     1, DIA_NUMBER,  0, 0,       0, "ATmega328P"},
    {"supplies",   HOLDS_MORE,     1, DIA_NUMBER,  0, 0,       0, "{ usb: { current: 2 A } }"},
    {"lanes",      HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "{ shelf: { pin: 17, chip: WS2812B, count: 48 } }"},
    {"devices",    HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "{ board: { chip: MAX7219, pins: { din: 21, clk: 22, cs: 23 } } }"},
    {"buttons",    HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "{ bell: { pin: 27 } }"},
    {"values",     HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "{ depth: input }"},
    {"faults",     HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "[ \"rail: dead 17\" ]"},
    {"live",       HOLDS_MORE,     0, DIA_NUMBER,  0, 0,       0, "{ listen: 0.0.0.0 }"},
    {"seed",       HOLDS_QUANTITY, 0, DIA_NUMBER,  0, 1000000, offsetof(struct dia_rig, seed), "7"},
    {0},
};
#define AT(field) offsetof(struct dia_rig_supply, field)
static const struct field supply_fields[] = {
    {"voltage",    HOLDS_QUANTITY, 0, DIA_VOLTAGE, 1000, 60000,           AT(voltage_mv), "5 V"},
    {"current",    HOLDS_QUANTITY, 1, DIA_CURRENT, 1000, 4000000000,      AT(current_ua), "2 A"},
    {"reserve",    HOLDS_QUANTITY, 0, DIA_CURRENT, 0, 4000000000,         AT(reserve_ua), "100 mA"},
    {0},
};
#undef AT
/* clang-format on */

/* It is there for those who name it even where something in it is wrong. */
static enum dia_status read_supply(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig *rig)
{
    struct dia_rig_supply *supply = &rig->supplies[rig->supply_count];
    char where[64];
    enum dia_status status = dia_rig_read_name(reader, node, "supply", supply->name);
    if (status != DIA_OK)
        return status;
    rig->supply_count++;
    snprintf(where, sizeof where, "supply '%s'", supply->name);
    supply->voltage_mv = 5000;
    status = dia_rig_read_fields(reader, node, supply_fields, supply, where);
    if (status == DIA_OK && supply->reserve_ua >= supply->current_ua)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "reserve"),
                                   "'reserve' must be less than the 'current' of %s", where);
    return status;
}

/* As it is: whoever makes a show of it says what is wrong with it. */
static enum dia_status read_value(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_rig *rig)
{
    struct dia_rig_value *value = &rig->values[rig->value_count];
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "a value");
    if (status != DIA_OK)
        return status;
    int n = snprintf(value->line, sizeof value->line, "%s %s", node->key, node->text);
    if (n >= (int)sizeof value->line)
        return dia_rig_wrong_value(reader, node, "a value has at most %u bytes",
                                   (unsigned)sizeof value->line - 1);
    value->at = (uint32_t)node->key_line;
    rig->value_count++;
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
    for (const struct tree_node *node = map->child; node; node = node->next) {
        if (n++ == most)
            return dia_rig_wrong_key(reader, node, "a rig has at most %u %s", (unsigned)most, key);
        status = dia_rig_both(status, read(reader, node, rig));
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

static enum dia_status read_fault(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_desk *desk, struct dia_rig *rig)
{
    struct dia_diagnostic why = {""};
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "a fault");
    if (status != DIA_OK)
        return status;
    if (rig->fault_count == DIA_RIG_FAULTS)
        return dia_rig_wrong_value(reader, node, "a rig has at most %d faults", DIA_RIG_FAULTS);
    if (dia_desk_fault(desk, node->text, &why) != DIA_OK)
        return dia_rig_wrong_value(reader, node, "%.300s", why.text);
    strcpy(rig->faults[rig->fault_count++], node->text);
    return DIA_OK;
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
    for (const struct tree_node *node = list->child; node; node = node->next)
        status = dia_rig_both(status, read_fault(reader, node, desk, rig));
    free(desk);
    return status;
}

/* What is not said: the name of the file, without its folder and what comes behind a point. */
static void take_name(const char *path, char *name, size_t size)
{
    const char *slash = strrchr(path, '/'), *begin = slash ? slash + 1 : path;
    size_t n = strcspn(begin, ".");
    snprintf(name, size, "%.*s", n ? (int)n : (int)strlen(begin), begin);
}

static enum dia_status read_part(struct rig_reader *reader, const struct tree_node *root,
                                 const char *key, uint32_t most, reads_entry *read,
                                 struct dia_rig *rig)
{
    return dia_tree_get(root, key) ? read_entries(reader, root, key, most, read, rig) : DIA_OK;
}

/* Each part, whatever is wrong with those before it; but what looks at all of them only where all
 * are right. */
static enum dia_status read_rig(struct rig_reader *reader, const struct tree_node *root,
                                struct dia_rig *rig)
{
    enum dia_status status = dia_rig_must_be(reader, root, TREE_MAP, "a rig file");
    if (status != DIA_OK)
        return status;
    take_name(reader->path, rig->name, sizeof rig->name);
    status = dia_rig_read_fields(reader, root, rig_fields, rig, "a rig file");
    status = dia_rig_both(status, read_master(reader, root, rig));
    status = dia_rig_both(status, dia_rig_read_controller(reader, dia_tree_get(root, "controller"),
                                                          &rig->controller));
    status = dia_rig_both(status,
                          read_part(reader, root, "supplies", DIA_RIG_SUPPLIES, read_supply, rig));
    if (!dia_tree_get(root, "lanes") && !dia_tree_get(root, "devices"))
        status = dia_rig_both(
            status,
            dia_rig_wrong_key(reader, root,
                              "a rig file has 'lanes' (of pixels), 'devices' or both; "
                              "write 'lanes: { shelf: { pin: 17, chip: WS2812B, count: 48 } }'"));
    status = dia_rig_both(status,
                          read_part(reader, root, "lanes", DIA_RIG_LANES, dia_rig_read_lane, rig));
    status = dia_rig_both(
        status, read_part(reader, root, "devices", DIA_RIG_DEVICES, dia_rig_read_device, rig));
    status = dia_rig_both(
        status, read_part(reader, root, "buttons", DIA_RIG_BUTTONS, dia_rig_read_button, rig));
    status =
        dia_rig_both(status, read_part(reader, root, "values", DIA_RIG_VALUES, read_value, rig));
    status =
        dia_rig_both(status, dia_rig_read_live(reader, dia_tree_get(root, "live"), &rig->live));
    if (status == DIA_OK && dia_tree_get(root, "lanes"))
        status = dia_rig_check_groups(reader, dia_tree_get(root, "lanes"), rig);
    if (status == DIA_OK)
        status = dia_rig_check_nodes(reader, root, rig);
    if (status == DIA_OK)
        status = read_faults(reader, root, rig);
    return status;
}

enum dia_status dia_rig_load(struct dia_rig *rig, const char *path, struct dia_diagnostic *wrong)
{
    struct rig_reader *reader = calloc(1, sizeof *reader);
    struct tree tree;
    memset(rig, 0, sizeof *rig);
    rig->frame_rate_mhz = 30000;
    size_t length = strlen(path),
           over = length < sizeof rig->path ? 0 : length - sizeof rig->path + 1;
    snprintf(rig->path, sizeof rig->path, "%s", path + over);
    if (!reader)
        return dia_host_failed(wrong, path, "cannot be read");
    reader->path = path;
    reader->wrong = wrong;
    enum dia_status status = dia_tree_load(&tree, path, wrong);
    if (status == DIA_OK) {
        status = read_rig(reader, tree.root, rig);
        if (status == DIA_BAD_VALUE)
            dia_rig_tell(reader);
        dia_tree_free(&tree);
    }
    free(reader);
    return status;
}
