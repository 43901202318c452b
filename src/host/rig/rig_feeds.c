/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/feeding.h>

#include "host_private.h"
#include "rig_feeds.h"
#include "rig_lane.h"

#define RAIL_LEAST_UOHM_M 1000u
#define RAIL_MOST_UOHM_M  100000000u /* 100 ohm a metre */

struct words {
    char at[12], section[20], supply[DIA_RIG_NAME];
};

/* clang-format off */
#define AT(field) offsetof(struct dia_rig_feed, field)
static const struct field feed_fields[] = {
    {"at",      HOLDS_MORE,     1, DIA_NUMBER,  0, 0,             0,             "start"},
    {"length",  HOLDS_QUANTITY, 1, DIA_LENGTH,  0, 1000000000,    AT(length_um), "1 m"},
    {"section", HOLDS_MORE,     1, DIA_NUMBER,  0, 0,             0,             "0.75 mm2"},
    {"supply",  HOLDS_MORE,     0, DIA_NUMBER,  0, 0,             0,             "main"},
    {"fuse",    HOLDS_QUANTITY, 0, DIA_CURRENT, 1000, 4000000000, AT(fuse_ua),   "3 A"},
    {0},
};
/* the second table: what is said in words, and the others so that they are known */
static const struct field feed_words[] = {
    {"at",      HOLDS_TEXT,     1, DIA_NUMBER,  0, 12,           offsetof(struct words, at),      "start"},
    {"section", HOLDS_TEXT,     1, DIA_NUMBER,  0, 20,           offsetof(struct words, section), "0.75 mm2"},
    {"supply",  HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_NAME, offsetof(struct words, supply),  "main"},
    {"length", HOLDS_MORE, 0, 0, 0, 0, 0, ""}, {"fuse", HOLDS_MORE, 0, 0, 0, 0, 0, ""},
    {0},
};
#undef AT
/* clang-format on */

static enum dia_status read_at(struct rig_reader *reader, const struct tree_node *node,
                               const char *text, uint32_t count, uint32_t *element)
{
    char *end = NULL;
    unsigned long number = strtoul(text, &end, 10);
    if (strcmp(text, "start") == 0)
        *element = 0;
    else if (strcmp(text, "middle") == 0)
        *element = (count - 1) / 2;
    else if (strcmp(text, "end") == 0)
        *element = count - 1;
    else if (*end == 0 && text[0] >= '0' && text[0] <= '9' && number < count)
        *element = (uint32_t)number;
    else
        return dia_rig_wrong_value(reader, node,
                                   "'at' is start, middle, end or a pixel 0 to %u; found '%.40s'",
                                   (unsigned)(count - 1), text);
    return DIA_OK;
}

static enum dia_status read_section(struct rig_reader *reader, const struct tree_node *node,
                                    const char *text, uint32_t *um2)
{
    struct dia_diagnostic why = {""};
    if (dia_section_read(text, "'section'", um2, &why) != DIA_OK)
        return dia_rig_wrong_value(reader, node, "%.300s", why.text);
    return DIA_OK;
}

static enum dia_status read_feed(struct rig_reader *reader, const struct tree_node *node,
                                 const struct dia_rig *rig, struct dia_rig_lane *lane,
                                 int is_ground)
{
    const char *where = is_ground ? "a ground" : "a feed";
    struct words words = {"", "", ""};
    if (lane->feed_count == DIA_RIG_FEEDS)
        return dia_rig_wrong_value(reader, node, "a lane has at most %d feeds and grounds",
                                   DIA_RIG_FEEDS);
    struct dia_rig_feed *feed = &lane->feeds[lane->feed_count];
    memset(feed, 0, sizeof *feed);
    enum dia_status status = dia_rig_must_be(reader, node, TREE_MAP, where);
    if (status != DIA_OK)
        return status;
    status = dia_rig_read_fields(reader, node, feed_fields, feed, where);
    status = dia_rig_both(status, dia_rig_read_fields(reader, node, feed_words, &words, where));
    if (status != DIA_OK)
        return status;
    status = read_at(reader, dia_tree_get(node, "at"), words.at, lane->count, &feed->element);
    status = dia_rig_both(status, read_section(reader, dia_tree_get(node, "section"), words.section,
                                               &feed->section_um2));
    const struct tree_node *supply = dia_tree_get(node, "supply");
    if (is_ground && (supply || feed->fuse_ua))
        status = dia_rig_both(status, dia_rig_wrong_key(reader, node,
                                                        "a ground is one wire, without 'supply' "
                                                        "and without 'fuse'"));
    feed->supply = is_ground ? DIA_RIG_NO_SUPPLY : lane->supply;
    if (supply && !is_ground)
        status = dia_rig_both(
            status, dia_rig_find_supply(reader, node, "a feed", words.supply, rig, &feed->supply));
    lane->feed_count += status == DIA_OK;
    return status;
}

static enum dia_status read_list(struct rig_reader *reader, const struct tree_node *list,
                                 const char *what, const struct dia_rig *rig,
                                 struct dia_rig_lane *lane, int is_ground)
{
    if (!list)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, what);
    if (status != DIA_OK)
        return status;
    if (!list->child)
        return dia_rig_wrong_value(
            reader, list, "%s is empty; write [ { at: start, length: 1 m, section: 0.75 mm2 } ]",
            what);
    for (const struct tree_node *node = list->child; node; node = node->next)
        status = dia_rig_both(status, read_feed(reader, node, rig, lane, is_ground));
    return status;
}

static enum dia_status quantity(struct rig_reader *reader, const struct tree_node *node,
                                enum dia_quantity kind, int64_t min, int64_t max, const char *what,
                                uint32_t *value)
{
    struct dia_diagnostic why = {""};
    int64_t found = 0;
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, what);
    if (status != DIA_OK)
        return status;
    if (dia_quantity_read(node->text, kind, min, max, what, &found, &why) != DIA_OK)
        return dia_rig_wrong_value(reader, node, "%.300s", why.text);
    *value = (uint32_t)found;
    return DIA_OK;
}

/* Volts at the last pixel at full white with rails of so much. -1: memory ran out. */
static int64_t far_mv(const struct dia_rig *rig, struct dia_rig_lane *lane, uint32_t uohm_m)
{
    struct dia_lane_network network;
    struct dia_lane_lit white = dia_lane_white(lane);
    struct dia_lane_volts volts;
    lane->rail_uohm_m = uohm_m;
    dia_lane_network(&network, rig, lane);
    return dia_lane_volts(&network, &white, &volts) == DIA_OK ? (int64_t)volts.last_mv : -1;
}

/* The more the rails resist, the less is left: halving, in steps of a tenth of a percent. */
static enum dia_status measured(struct rig_reader *reader, const struct tree_node *node,
                                const struct dia_rig *rig, struct dia_rig_lane *lane)
{
    uint32_t mv = 0, low = RAIL_LEAST_UOHM_M, high = RAIL_MOST_UOHM_M;
    struct dia_words w[3];
    enum dia_status status = quantity(reader, node, DIA_VOLTAGE, 100, 60000, "'far_end'", &mv);
    if (status != DIA_OK)
        return status;
    for (uint32_t i = 0; i < lane->feed_count; i++) {
        if (lane->feeds[i].element == lane->count - 1)
            return dia_rig_wrong_key(reader, node,
                                     "'far_end' is measured with no wire at the last pixel; a feed "
                                     "or ground is there");
    }
    int64_t most = far_mv(rig, lane, low), least = far_mv(rig, lane, high);
    if (most < 0 || least < 0)
        return dia_host_failed(reader->wrong, reader->path, "cannot be read");
    if (mv > most || mv < least)
        return dia_rig_wrong_value(reader, node,
                                   "'far_end' of %s cannot be measured with these wires; rails "
                                   "of 0.001 to 100 ohm/m give %s to %s",
                                   dia_quantity_as(mv, DIA_VOLTAGE, &w[0]),
                                   dia_quantity_as(least, DIA_VOLTAGE, &w[1]),
                                   dia_quantity_as(most, DIA_VOLTAGE, &w[2]));
    while (high - low > low / 1000) {
        uint32_t between = low + (high - low) / 2;
        if (far_mv(rig, lane, between) > (int64_t)mv)
            low = between;
        else
            high = between;
    }
    lane->rail_uohm_m = low + (high - low) / 2;
    return DIA_OK;
}

static enum dia_status read_rail(struct rig_reader *reader, const struct tree_node *node,
                                 const struct dia_rig *rig, struct dia_rig_lane *lane)
{
    static const char *const ways[] = {"rail", "copper", "far_end"};
    const struct tree_node *said = NULL;
    uint32_t copper_um = DIA_RAIL_COPPER_UM;
    for (int i = 0; i < 3; i++) {
        const struct tree_node *way = dia_tree_get(node, ways[i]);
        if (way && said)
            return dia_rig_wrong_key(reader, way,
                                     "'%s' and '%s' both say how much the rails resist; keep one",
                                     said->key, way->key);
        said = way ? way : said;
    }
    if (said && strcmp(said->key, "far_end") == 0)
        return measured(reader, said, rig, lane);
    if (said && strcmp(said->key, "rail") == 0)
        return DIA_OK;
    enum dia_status status =
        said ? quantity(reader, said, DIA_LENGTH, 5, 1000, "'copper'", &copper_um) : DIA_OK;
    lane->rail_uohm_m = dia_rail_uohm_m(copper_um);
    return status;
}

enum dia_status dia_rig_read_feeds(struct rig_reader *reader, const struct tree_node *node,
                                   const char *where, const struct dia_rig *rig,
                                   struct dia_rig_lane *lane)
{
    static const char *const need_feeds[] = {"grounds", "far_end"};
    const struct tree_node *feeds = dia_tree_get(node, "feeds");
    for (int i = 0; i < 2 && !feeds; i++) {
        const struct tree_node *other = dia_tree_get(node, need_feeds[i]);
        if (other)
            return dia_rig_wrong_key(reader, other,
                                     "'%s' needs 'feeds', which say where %s gets its current; "
                                     "write 'feeds: [ { at: start, length: 1 m, section: 0.75 mm2 "
                                     "} ]'",
                                     other->key, where);
    }
    if (!feeds)
        return read_rail(reader, node, rig, lane);
    enum dia_status status = read_list(reader, feeds, "'feeds'", rig, lane, 0);
    status = dia_rig_both(
        status, read_list(reader, dia_tree_get(node, "grounds"), "'grounds'", rig, lane, 1));
    return status == DIA_OK ? read_rail(reader, node, rig, lane) : status;
}
