/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "rig_fields.h"

static enum dia_status wrong_at(struct rig_reader *reader, size_t line, size_t column,
                                const char *format, va_list args)
{
    char what[400];
    vsnprintf(what, sizeof what, format, args);
    return dia_host_wrong(reader->wrong, "%s:%zu:%zu: %s", reader->path, line, column, what);
}

enum dia_status dia_rig_wrong_value(struct rig_reader *reader, const struct tree_node *node,
                                    const char *format, ...)
{
    va_list args;
    va_start(args, format);
    enum dia_status status = wrong_at(reader, node->line, node->column, format, args);
    va_end(args);
    return status;
}

enum dia_status dia_rig_wrong_key(struct rig_reader *reader, const struct tree_node *node,
                                  const char *format, ...)
{
    va_list args;
    va_start(args, format);
    enum dia_status status = wrong_at(reader, node->key ? node->key_line : node->line,
                                      node->key ? node->key_column : node->column, format, args);
    va_end(args);
    return status;
}

enum dia_status dia_rig_must_be(struct rig_reader *reader, const struct tree_node *node,
                                enum tree_kind kind, const char *where)
{
    static const char *const shapes[] = {"a single value", "a list '[a, b]'",
                                         "keys with values, indented below it"};
    if (node->kind == kind)
        return DIA_OK;
    return dia_rig_wrong_value(reader, node, "%s takes %s", where, shapes[kind]);
}

static enum dia_status unknown_key(struct rig_reader *reader, const struct tree_node *node,
                                   const struct field *fields, const char *where)
{
    const char *known[24];
    char all[200] = "";
    int n = 0;
    for (; fields->key && n < 23; fields++) {
        known[n++] = fields->key;
        size_t used = strlen(all);
        snprintf(all + used, sizeof all - used, "%s%s", used ? ", " : "", fields->key);
    }
    known[n] = NULL;
    const char *near = dia_nearest(node->key, known);
    if (near)
        return dia_rig_wrong_key(reader, node, "unknown key '%.40s' in %s; did you mean '%s'?",
                                 node->key, where, near);
    return dia_rig_wrong_key(reader, node, "unknown key '%.40s' in %s; it takes %s", node->key,
                             where, all);
}

static enum dia_status all_known(struct rig_reader *reader, const struct tree_node *map,
                                 const struct field *fields, const char *where)
{
    for (const struct tree_node *node = map->child; node; node = node->next) {
        const struct field *field = fields;
        while (field->key && strcmp(field->key, node->key) != 0)
            field++;
        if (!field->key)
            return unknown_key(reader, node, fields, where);
    }
    return DIA_OK;
}

static enum dia_status read_text(struct rig_reader *reader, const struct tree_node *node,
                                 const struct field *field, char *text, const char *what)
{
    if (node->text[0] == 0)
        return dia_rig_wrong_value(reader, node, "%s is empty; such as %s", what, field->example);
    if (strlen(node->text) >= (size_t)field->max)
        return dia_rig_wrong_value(reader, node, "%s is longer than %d bytes", what,
                                   (int)field->max - 1);
    for (const char *at = node->text; *at; at++) {
        if (iscntrl((unsigned char)*at))
            return dia_rig_wrong_value(reader, node, "%s must be one line of plain text", what);
    }
    strcpy(text, node->text);
    return DIA_OK;
}

static enum dia_status read_quantity(struct rig_reader *reader, const struct tree_node *node,
                                     const struct field *field, void *out, const char *what)
{
    int64_t value;
    struct dia_diagnostic why = {""};
    if (dia_quantity_read(node->text, field->kind, field->min, field->max, what, &value, &why) !=
        DIA_OK)
        return dia_rig_wrong_value(reader, node, "%s", why.text);
    /* the ranges of the table fit the 32 bits of the field, signed or not */
    uint32_t bits = (uint32_t)value;
    memcpy(out, &bits, sizeof bits);
    return DIA_OK;
}

static enum dia_status read_field(struct rig_reader *reader, const struct tree_node *map,
                                  const struct field *field, void *base, const char *where)
{
    const struct tree_node *node = dia_tree_get(map, field->key);
    if (!node)
        return field->required ? dia_rig_wrong_key(reader, map, "%s has no '%s'; write '%s: %s'",
                                                   where, field->key, field->key, field->example)
                               : DIA_OK;
    if (field->holds == HOLDS_MORE)
        return DIA_OK;
    char what[128];
    snprintf(what, sizeof what, "'%s'", field->key);
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, what);
    if (status != DIA_OK)
        return status;
    void *out = (char *)base + field->offset;
    return field->holds == HOLDS_TEXT ? read_text(reader, node, field, out, what)
                                      : read_quantity(reader, node, field, out, what);
}

enum dia_status dia_rig_read_fields(struct rig_reader *reader, const struct tree_node *map,
                                    const struct field *fields, void *base, const char *where)
{
    enum dia_status status = dia_rig_must_be(reader, map, TREE_MAP, where);
    if (status == DIA_OK)
        status = all_known(reader, map, fields, where);
    for (; status == DIA_OK && fields->key; fields++)
        status = read_field(reader, map, fields, base, where);
    return status;
}

enum dia_status dia_rig_read_name(struct rig_reader *reader, const struct tree_node *entry,
                                  const char *what, char name[DIA_RIG_NAME])
{
    const char *key = entry->key;
    size_t n = strspn(key, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_");
    if (key[n] != 0 || !isalpha((unsigned char)key[0]) || n >= DIA_RIG_NAME)
        return dia_rig_wrong_key(
            reader, entry,
            "'%.40s' is no name for a %s; use letters, digits, - and _, a letter "
            "first, %d at most",
            key, what, DIA_RIG_NAME - 1);
    strcpy(name, key);
    return DIA_OK;
}

enum dia_status dia_rig_read_share(struct rig_reader *reader, const struct tree_node *node,
                                   const char *what, dia_share *share)
{
    int64_t ppm;
    struct dia_diagnostic why = {""};
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, what);
    if (status != DIA_OK)
        return status;
    if (dia_quantity_read(node->text, DIA_PERCENT, 0, 1000000, what, &ppm, &why) != DIA_OK)
        return dia_rig_wrong_value(reader, node, "%s", why.text);
    *share = (dia_share)((ppm * DIA_SHARE_ONE + 500000) / 1000000);
    return DIA_OK;
}
