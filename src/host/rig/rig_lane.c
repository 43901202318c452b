/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>
#include <diachrome/sim.h>

#include "rig_at.h"
#include "rig_feeds.h"
#include "rig_kernel.h"
#include "rig_lane.h"
#include "rig_layout.h"
#include "rig_light.h"
#include "rig_node.h"
#include "rig_wire.h"

/* What a lane says in words, before it is looked up. */
struct words {
    char chip[32], order[8], supply[DIA_RIG_NAME], group[DIA_RIG_NAME];
};

/* clang-format off */
#define AT(field) offsetof(struct dia_rig_lane, field)
static const struct field lane_fields[] = {
    {"pin",             HOLDS_QUANTITY, 1, DIA_NUMBER,  0, DIA_SIM_PINS - 1,  AT(pin),        "17"},
    {"chip",            HOLDS_MORE,     1, DIA_NUMBER,  0, 0,                 0,              "WS2812B"},
    {"clock_pin",       HOLDS_QUANTITY, 0, DIA_NUMBER,  0, DIA_SIM_PINS - 1,  AT(clock_pin),  "18"},
    {"clock",           HOLDS_QUANTITY, 0, DIA_CLOCK,   1000, 100000000,      AT(clock_hz),   "4 MHz"},
    {"count",           HOLDS_QUANTITY, 1, DIA_NUMBER,  1, 65535,             AT(count),      "48"},
    {"order",           HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "GRB"},
    {"supply",          HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "main"},
    {"line",            HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "{ pitch: 16.7 mm }"},
    {"ring",            HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "{ diameter: 66 mm }"},
    {"grid",            HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "{ columns: 16, rows: 8, pitch: 10 mm }"},
    {"fold",            HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "{ pitch: 16.7 mm, gap: 40 mm }"},
    {"panels",          HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "{ columns: 8, rows: 8, pitch: 10 mm, across: 2, down: 2 }"},
    {"points",          HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "places.csv"},
    {"gaps",            HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "[12-14, 30]"},
    {"at",              HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "{ x: 120 mm, y: 40 mm }"},
    {"group",           HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "A"},
    {"node",            HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_NAME,      AT(node),       "west"},
    {"spi",             HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_DEV_PATH,    AT(spi),        "/dev/spidev0.0"},
    {"shifter",         HOLDS_SHIFTER,  0, DIA_VOLTAGE, 1000, 30000,          AT(shifter),    "74AHCT125"},
    {"white",           HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "[100 %, 80 %, 70 %]"},
    {"white_seen",      HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "[100, 125, 160]"},
    {"curve",           HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "2.2"},
    {"dithering",       HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "space"},
    {"feeds",           HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "[ { at: start, length: 1 m, section: 0.75 mm2 } ]"},
    {"grounds",         HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "[ { at: end, length: 1 m, section: 0.75 mm2 } ]"},
    {"rail",            HOLDS_QUANTITY, 0, DIA_RAIL,    1000, 100000000,      AT(rail_uohm_m), "0.12 ohm/m"},
    {"copper",          HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "70 um"},
    {"far_end",         HOLDS_MORE,     0, DIA_NUMBER,  0, 0,                 0,              "2.1 V"},
    {"channel_current", HOLDS_QUANTITY, 0, DIA_CURRENT, 100, 60000,           AT(channel_ua), "12 mA"},
    {"idle_current",    HOLDS_QUANTITY, 0, DIA_CURRENT, 100, 60000,           AT(idle_ua),    "0.6 mA"},
    {0},
};
#undef AT
#define AT(field) offsetof(struct words, field)
static const struct field word_fields[] = {
    {"chip",            HOLDS_TEXT,     1, DIA_NUMBER,  0, 32,           AT(chip),   "WS2812B"},
    {"order",           HOLDS_TEXT,     0, DIA_NUMBER,  0, 8,            AT(order),  "GRB"},
    {"supply",          HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_NAME, AT(supply), "main"},
    {"group",           HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_NAME, AT(group),  "A"},
    /* the others, so that they are known */
    {"pin", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"count", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"clock_pin", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"clock", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"line", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"ring", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"at", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"white_seen", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"curve", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"dithering", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"fold", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"panels", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"node", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"spi", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"points", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"gaps", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"grid", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"white", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"shifter", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"feeds", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"grounds", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"rail", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"copper", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"far_end", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {"channel_current", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"idle_current", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {0},
};
#undef AT
/* clang-format on */

/* The parts of both families, one after the other; NULL after the last. */
static const struct dia_pixel_part *part_number(uint32_t k)
{
    for (uint32_t i = 0; dia_onewire_parts[i]; i++, k--) {
        if (k == 0)
            return dia_onewire_parts[i];
    }
    for (uint32_t i = 0; dia_clocked_parts[i]; i++, k--) {
        if (k == 0)
            return dia_clocked_parts[i];
    }
    return NULL;
}

static enum dia_status find_chip(struct rig_reader *reader, const struct tree_node *lane,
                                 const char *word, struct dia_rig_lane *out)
{
    const char *names[24];
    char all[240] = "";
    uint32_t n = 0;
    for (const struct dia_pixel_part *part; (part = part_number(n)) != NULL && n < 23; n++) {
        if (strcmp(part->name, word) == 0) {
            out->part = *part;
            return DIA_OK;
        }
        size_t used = strlen(all);
        snprintf(all + used, sizeof all - used, "%s%s", used ? ", " : "", part->name);
        names[n] = part->name;
    }
    names[n] = NULL;
    const struct tree_node *node = dia_tree_get(lane, "chip");
    const char *near = dia_nearest(word, names);
    if (near && strncmp(word, "WS2811", 7) != 0)
        return dia_rig_wrong_value(reader, node, "unknown chip '%s'; did you mean %s?", word, near);
    return dia_rig_wrong_value(reader, node, "unknown chip '%s'; known: %s", word, all);
}

/* A chip with a clock line wants a pin for it, the others want neither that nor a clock. */
static enum dia_status check_clock(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig *rig, struct dia_rig_lane *lane)
{
    static const char *const keys[] = {"clock_pin", "clock"};
    int clocked = lane->part.family == DIA_CLOCKED;
    for (int i = 0; i < 2; i++) {
        const struct tree_node *value = dia_tree_get(node, keys[i]);
        if (value && !clocked)
            return dia_rig_wrong_key(reader, value,
                                     "'%s' is for chips with a clock line; %s has none", keys[i],
                                     lane->part.name);
    }
    if (!clocked)
        return DIA_OK;
    if (!dia_tree_get(node, "clock_pin"))
        return dia_rig_wrong_key(reader, node,
                                 "lane '%s' has no 'clock_pin', which %s needs; write "
                                 "'clock_pin: 18'",
                                 lane->name, lane->part.name);
    if (!dia_tree_get(node, "clock"))
        lane->clock_hz = 4000000; /* which wires of some metres carry */
    if (lane->clock_hz > lane->part.clock.max_hz)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "clock"),
                                   "'clock' of %s is at most %u MHz", lane->part.name,
                                   (unsigned)(lane->part.clock.max_hz / 1000000));
    for (uint32_t i = 0; i < rig->lane_count; i++)
        lane->bus = (uint8_t)(lane->bus + (rig->lanes[i].part.family == DIA_CLOCKED &&
                                           strcmp(rig->lanes[i].node, lane->node) == 0));
    if (lane->bus >= DIA_SIM_BUSES)
        return dia_rig_wrong_key(reader, node, "a rig has at most %d lanes with a clock line",
                                 DIA_SIM_BUSES);
    return DIA_OK;
}

enum dia_status dia_rig_find_supply(struct rig_reader *reader, const struct tree_node *lane,
                                    const char *where, const char *word, const struct dia_rig *rig,
                                    uint32_t *supply)
{
    const char *names[DIA_RIG_SUPPLIES + 1];
    const struct tree_node *node = dia_tree_get(lane, "supply");
    *supply = 0;
    if (rig->supply_count == 0 || (node && word[0] == 0))
        return DIA_BAD_VALUE; /* which is told */
    if (!node && rig->supply_count == 1)
        return DIA_OK;
    if (!node)
        return dia_rig_wrong_key(reader, lane,
                                 "%s does not say which of the %u supplies it hangs on; write "
                                 "'supply: %s'",
                                 where, (unsigned)rig->supply_count, rig->supplies[0].name);
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        names[i] = rig->supplies[i].name;
        if (strcmp(names[i], word) == 0) {
            *supply = i;
            return DIA_OK;
        }
    }
    names[rig->supply_count] = NULL;
    const char *near = dia_nearest(word, names);
    return dia_rig_wrong_value(reader, node,
                               "unknown supply '%s'; %s '%s', listed under 'supplies'", word,
                               near ? "did you mean" : "there is", near ? near : names[0]);
}

static void take_currents(struct dia_rig_lane *lane)
{
    for (uint8_t c = 0; lane->channel_ua && c < lane->part.channels->powers; c++)
        lane->part.power.channel_ua[c] = (uint16_t)lane->channel_ua;
    if (lane->idle_ua)
        lane->part.power.idle_ua = (uint16_t)lane->idle_ua;
}

static enum dia_status pin_is_free(struct rig_reader *reader, const struct tree_node *node,
                                   const char *key, uint32_t pin, const struct dia_rig *rig,
                                   const char *of)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *other = &rig->lanes[i];
        if (strcmp(other->node, of) != 0)
            continue;
        if (other->pin == pin || (other->part.family == DIA_CLOCKED && other->clock_pin == pin))
            return dia_rig_wrong_value(reader, dia_tree_get(node, key),
                                       "pin %u already drives lane '%s'; each lane has its own",
                                       (unsigned)pin, other->name);
    }
    return DIA_OK;
}

static enum dia_status pins_are_free(struct rig_reader *reader, const struct tree_node *node,
                                     const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    enum dia_status status = pin_is_free(reader, node, "pin", lane->pin, rig, lane->node);
    if (status != DIA_OK || lane->part.family != DIA_CLOCKED)
        return status;
    if (lane->clock_pin == lane->pin)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "clock_pin"),
                                   "'clock_pin' is the same as 'pin', which is the data line");
    return pin_is_free(reader, node, "clock_pin", lane->clock_pin, rig, lane->node);
}

/* Whether a lane has the name by which a trace calls a wire of a lane with a clock. */
static int is_wire_of(const struct dia_rig_lane *lane, const struct dia_rig_lane *clocked)
{
    size_t n = strlen(clocked->name);
    return clocked->part.family == DIA_CLOCKED && strncmp(lane->name, clocked->name, n) == 0 &&
           (strcmp(lane->name + n, "_clock") == 0 || strcmp(lane->name + n, "_data") == 0);
}

static enum dia_status name_is_free(struct rig_reader *reader, const struct tree_node *node,
                                    const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *other = &rig->lanes[i];
        if (is_wire_of(lane, other) || is_wire_of(other, lane))
            return dia_rig_wrong_key(
                reader, node,
                "'%s' and '%s' would have a wire of one name in a trace; give one "
                "of them another name",
                lane->name, other->name);
    }
    return DIA_OK;
}

/* Lanes of one group are sent at once: one chip, on neighbouring pins, which dia_rig_check_groups
 * sees to when all lanes are read. */
static enum dia_status join_group(struct rig_reader *reader, const struct tree_node *node,
                                  const char *name, struct dia_rig *rig, struct dia_rig_lane *lane)
{
    const struct tree_node *group = dia_tree_get(node, "group");
    if (!group)
        return DIA_OK;
    if (lane->part.family != DIA_ONEWIRE)
        return dia_rig_wrong_key(reader, group,
                                 "'group' is for chips without a clock line; %s has one",
                                 lane->part.name);
    uint32_t k = 0;
    while (k < rig->group_count && strcmp(rig->groups[k], name) != 0)
        k++;
    if (k == DIA_RIG_GROUPS)
        return dia_rig_wrong_value(reader, group, "a rig has at most %d groups", DIA_RIG_GROUPS);
    if (k == rig->group_count)
        strcpy(rig->groups[rig->group_count++], name);
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *other = &rig->lanes[i];
        if (other->group == k + 1 && strcmp(other->node, lane->node) != 0)
            return dia_rig_wrong_value(reader, group,
                                       "group '%s' has lane '%s' of another node; lanes sent at "
                                       "once are of one node",
                                       name, other->name);
        if (other->group == k + 1 && strcmp(other->part.name, lane->part.name) != 0)
            return dia_rig_wrong_value(
                reader, group,
                "lane '%s' of group '%s' is %s; lanes sent at once are of one "
                "chip, and this is %s",
                other->name, name, other->part.name, lane->part.name);
    }
    lane->group = (uint8_t)(k + 1);
    return DIA_OK;
}

enum dia_status dia_rig_check_groups(struct rig_reader *reader, const struct tree_node *lanes,
                                     const struct dia_rig *rig)
{
    for (uint32_t k = 0; k < rig->group_count; k++) {
        uint32_t first = DIA_SIM_PINS, last = 0, n = 0;
        for (uint32_t i = 0; i < rig->lane_count; i++) {
            if (rig->lanes[i].group != k + 1)
                continue;
            first = rig->lanes[i].pin < first ? rig->lanes[i].pin : first;
            last = rig->lanes[i].pin > last ? rig->lanes[i].pin : last;
            n++;
        }
        if (n > DIA_PARALLEL_MOST)
            return dia_rig_wrong_value(reader, lanes,
                                       "group '%s' has %u lanes; at most %d go at once",
                                       rig->groups[k], (unsigned)n, DIA_PARALLEL_MOST);
        if (last - first + 1 != n)
            return dia_rig_wrong_value(
                reader, lanes,
                "the %u lanes of group '%s' are on pins %u to %u; those of a "
                "group are on neighbouring pins, one after the other",
                (unsigned)n, rig->groups[k], (unsigned)first, (unsigned)last);
    }
    return DIA_OK;
}

/* What is wrong with its chip, its bytes and its light. */
static enum dia_status read_chip(struct rig_reader *reader, const struct tree_node *node,
                                 const struct words *words, struct dia_rig *rig,
                                 struct dia_rig_lane *lane)
{
    struct dia_diagnostic why = {""};
    if (words->chip[0] == 0)
        return DIA_BAD_VALUE; /* which is told */
    enum dia_status status = find_chip(reader, node, words->chip, lane);
    if (status != DIA_OK)
        return status;
    if (dia_rig_set_order(lane, words->order, &why) != DIA_OK)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "order"), "%.300s", why.text);
    status = dia_rig_both(status, dia_rig_read_light(reader, node, lane));
    status = dia_rig_both(status, check_clock(reader, node, rig, lane));
    return dia_rig_both(status, join_group(reader, node, words->group, rig, lane));
}

enum dia_status dia_rig_read_lane(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_rig *rig)
{
    struct dia_rig_lane *lane = &rig->lanes[rig->lane_count];
    struct words words = {"", "", "", ""};
    char where[64];
    memset(lane, 0, sizeof *lane);
    enum dia_status status = dia_rig_read_name(reader, node, "lane", lane->name);
    if (status != DIA_OK)
        return status;
    snprintf(where, sizeof where, "lane '%s'", lane->name);
    status = dia_rig_must_be(reader, node, TREE_MAP, where);
    if (status != DIA_OK)
        return status;
    status = dia_rig_read_fields(reader, node, lane_fields, lane, where);
    status = dia_rig_both(status, dia_rig_read_fields(reader, node, word_fields, &words, where));
    status = dia_rig_both(status, dia_rig_check_node(reader, node, lane->node));
    enum dia_status chip = read_chip(reader, node, &words, rig, lane);
    if (status == DIA_OK && chip == DIA_OK)
        status = dia_rig_both(pins_are_free(reader, node, rig, lane),
                              dia_rig_lane_kernel(reader, node, rig, lane));
    status = dia_rig_both(status, chip);
    status = dia_rig_both(
        status, dia_rig_find_supply(reader, node, where, words.supply, rig, &lane->supply));
    status = dia_rig_both(status, name_is_free(reader, node, rig, lane));
    status = dia_rig_both(status, dia_rig_read_at(reader, node, &lane->at));
    if (lane->count != 0)
        status = dia_rig_both(
            status, dia_rig_read_layout(reader, node, where, lane->count, rig, &lane->layout));
    if (status != DIA_OK)
        return status;
    take_currents(lane);
    status = dia_rig_read_feeds(reader, node, where, rig, lane);
    lane->place = rig->lane_count;
    rig->lane_count += status == DIA_OK;
    return status;
}
