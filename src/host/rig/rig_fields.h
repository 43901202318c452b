/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_FIELDS_H
#define DIA_HOST_RIG_FIELDS_H

#include <stdint.h>

#include <diachrome/quantity.h>
#include <diachrome/rig.h>

#include "yaml_tree.h"

/* What a key of a rig file holds. */
enum field_holds {
    HOLDS_TEXT,     /* char[room] */
    HOLDS_QUANTITY, /* uint32_t or int32_t, in the unit of its kind */
    HOLDS_SHIFTER,  /* struct dia_rig_shifter: a part, or the voltage of its output */
    HOLDS_MORE      /* read elsewhere */
};

/* One key: docs/rig-format.md is this table in words. */
struct field {
    const char *key;
    enum field_holds holds;
    int required;
    enum dia_quantity kind;
    int64_t min, max; /* of a quantity; max of a text is its room */
    size_t offset;    /* in the struct that is read into */
    const char *example;
};

/* Mistakes are collected, and told together in the order of the file. */
#define RIG_MISTAKES 20
struct rig_mistake {
    size_t line, column;
    char text[400];
};
struct rig_reader {
    const char *path;
    struct dia_diagnostic *wrong;
    struct rig_mistake mistakes[RIG_MISTAKES];
    uint32_t count, more; /* more: so many that had no room */
};

/* Of two things that were read: the first that went wrong. */
static inline enum dia_status dia_rig_both(enum dia_status a, enum dia_status b)
{
    return a != DIA_OK ? a : b;
}

/* Writes all mistakes down. */
void dia_rig_tell(struct rig_reader *reader);

/* Fails with file:line:column of a node, or of its key. */
enum dia_status dia_rig_wrong_value(struct rig_reader *reader, const struct tree_node *node,
                                    const char *format, ...) __attribute__((format(printf, 3, 4)));
enum dia_status dia_rig_wrong_key(struct rig_reader *reader, const struct tree_node *node,
                                  const char *format, ...) __attribute__((format(printf, 3, 4)));

/* Fails unless node is a map (TREE_MAP), list or scalar; where is how to call it: "lane 'rail'". */
enum dia_status dia_rig_must_be(struct rig_reader *reader, const struct tree_node *node,
                                enum tree_kind kind, const char *where);

/* Reads the texts and quantities of a map into base; every key must be in the table (its last
 * entry has no key), and every required key in the map. Goes on after a mistake. */
enum dia_status dia_rig_read_fields(struct rig_reader *reader, const struct tree_node *map,
                                    const struct field *fields, void *base, const char *where);

/* A name of a supply or lane: letters, digits, - and _, a letter first, 31 at most. */
/* 1: letters, digits, - and _, a letter first, of at most DIA_RIG_NAME - 1. */
int dia_rig_is_name(const char *name);

enum dia_status dia_rig_read_name(struct rig_reader *reader, const struct tree_node *entry,
                                  const char *what, char name[DIA_RIG_NAME]);

/* 0 % to 100 %, rounded to nearest. */
enum dia_status dia_rig_read_share(struct rig_reader *reader, const struct tree_node *node,
                                   const char *what, dia_share *share);

#endif
