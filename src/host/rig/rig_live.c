/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include <diachrome/flashing.h>

#include "rig_live.h"

/* clang-format off */
#define AT(field) offsetof(struct dia_rig_live, field)
static const struct field live_fields[] = {
    {"listen",  HOLDS_TEXT, 0, DIA_NUMBER, 0, 64,  AT(listen),  "127.0.0.1:8480"},
    {"name",    HOLDS_TEXT, 0, DIA_NUMBER, 0, 64,  AT(name),    "pier.example"},
    {"presets", HOLDS_TEXT, 0, DIA_NUMBER, 0, 256, AT(presets), "presets"},
    {"pairings", HOLDS_TEXT, 0, DIA_NUMBER, 0, 256, AT(pairings), "pairings"},
    {"save",    HOLDS_TEXT, 0, DIA_NUMBER, 0, 8,   AT(save),    "yes"},
    {"e131",    HOLDS_TEXT, 0, DIA_NUMBER, 0, 64,  AT(e131),    "0.0.0.0"},
    {"flashes", HOLDS_QUANTITY, 0, DIA_NUMBER, 1, DIA_FLASHES_MOST, AT(flashes), "3"},
    {"send",    HOLDS_MORE, 0, DIA_NUMBER, 0, 0,   0,           "{ to: multicast }"},
    {"mqtt",    HOLDS_MORE, 0, DIA_NUMBER, 0, 0,   0,           "{ broker: localhost }"},
    {0},
};
#undef AT
#define AT(field) offsetof(struct dia_rig_mqtt, field)
static const struct field mqtt_fields[] = {
    {"broker",        HOLDS_TEXT, 1, DIA_NUMBER, 0, 128, AT(broker),        "localhost"},
    {"base",          HOLDS_TEXT, 0, DIA_NUMBER, 0, 64,  AT(base),          "house/pier"},
    {"user",          HOLDS_TEXT, 0, DIA_NUMBER, 0, 64,  AT(user),          "pier"},
    {"password_file", HOLDS_TEXT, 0, DIA_NUMBER, 0, 256, AT(password_file), "/etc/diachrome/mqtt"},
    {"ca_file",       HOLDS_TEXT, 0, DIA_NUMBER, 0, 256, AT(ca_file),       "/etc/ssl/certs/ca-certificates.crt"},
    {"version",       HOLDS_TEXT, 0, DIA_NUMBER, 0, 8,   AT(version),       "5"},
    {0},
};
#undef AT
#define AT(field) offsetof(struct dia_rig_send, field)
static const struct field send_fields[] = {
    {"to",       HOLDS_TEXT,     1, DIA_NUMBER, 0, 64,    AT(to),       "multicast"},
    {"first",    HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 63999, AT(first),    "1"},
    {"priority", HOLDS_QUANTITY, 0, DIA_NUMBER, 0, 200,   AT(priority), "100"},
    {"sync",     HOLDS_QUANTITY, 0, DIA_NUMBER, 0, 63999, AT(sync),     "7000"},
    {0},
};
#undef AT
/* clang-format on */

static enum dia_status read_send(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_rig_send *send)
{
    enum dia_status status = dia_rig_must_be(reader, node, TREE_MAP, "'send'");
    return status == DIA_OK ? dia_rig_read_fields(reader, node, send_fields, send, "'send'")
                            : status;
}

static enum dia_status read_mqtt(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_rig_mqtt *mqtt)
{
    enum dia_status status = dia_rig_must_be(reader, node, TREE_MAP, "'mqtt'");
    if (status == DIA_OK)
        status = dia_rig_read_fields(reader, node, mqtt_fields, mqtt, "'mqtt'");
    if (status == DIA_OK && strpbrk(mqtt->base, "+#"))
        return dia_rig_wrong_value(reader, dia_tree_get(node, "base"),
                                   "'base' is a topic such as house/pier, without + and #");
    if (status == DIA_OK && mqtt->version[0] && strcmp(mqtt->version, "5") != 0 &&
        strcmp(mqtt->version, "3.1.1") != 0)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "version"),
                                   "'version' is 3.1.1 or 5; found '%s'", mqtt->version);
    return status;
}

enum dia_status dia_rig_read_live(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_rig_live *live)
{
    live->send.first = 1;
    live->send.priority = 100;
    if (!node)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, node, TREE_MAP, "'live'");
    const struct tree_node *mqtt = status == DIA_OK ? dia_tree_get(node, "mqtt") : NULL;
    const struct tree_node *send = status == DIA_OK ? dia_tree_get(node, "send") : NULL;
    if (status == DIA_OK)
        status = dia_rig_read_fields(reader, node, live_fields, live, "'live'");
    if (status == DIA_OK && live->save[0] && strcmp(live->save, "yes") != 0 &&
        strcmp(live->save, "no") != 0)
        status = dia_rig_wrong_value(reader, dia_tree_get(node, "save"),
                                     "'save' is yes or no; found '%s'", live->save);
    if (send)
        status = dia_rig_both(status, read_send(reader, send, &live->send));
    return mqtt ? dia_rig_both(status, read_mqtt(reader, mqtt, &live->mqtt)) : status;
}
