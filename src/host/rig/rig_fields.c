/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "rig_fields.h"

/* The same is not told twice: keys of a lane are looked through for texts and for numbers. */
static int is_told(const struct rig_mistake *told, size_t line, size_t column, const char *text)
{
    return told->line == line && told->column == column &&
           strncmp(told->text, text, strcspn(text, ";") + 1) == 0;
}

static enum dia_status wrong_at(struct rig_reader *reader, size_t line, size_t column,
                                const char *format, va_list args)
{
    struct rig_mistake *next = &reader->mistakes[reader->count];
    char text[sizeof next->text];
    vsnprintf(text, sizeof text, format, args);
    for (uint32_t k = 0; k < reader->count; k++) {
        if (is_told(&reader->mistakes[k], line, column, text))
            return DIA_BAD_VALUE;
    }
    if (reader->count == RIG_MISTAKES) {
        reader->more++;
        return DIA_BAD_VALUE;
    }
    next->line = line;
    next->column = column;
    strcpy(next->text, text);
    reader->count++;
    return DIA_BAD_VALUE;
}

static int by_place(const void *a, const void *b)
{
    const struct rig_mistake *p = a, *q = b;
    if (p->line != q->line)
        return p->line < q->line ? -1 : 1;
    return p->column < q->column ? -1 : p->column > q->column;
}

void dia_rig_tell(struct rig_reader *reader)
{
    char *text = reader->wrong->text;
    const size_t room = sizeof reader->wrong->text - 60; /* and the last line */
    size_t used = 0;
    uint32_t k = 0;
    qsort(reader->mistakes, reader->count, sizeof *reader->mistakes, by_place);
    for (; k < reader->count; k++) {
        const struct rig_mistake *m = &reader->mistakes[k];
        int n = snprintf(text + used, room - used, "%s%s:%zu:%zu: %s", k ? "\n" : "", reader->path,
                         m->line, m->column, m->text);
        if (n < 0 || (size_t)n >= room - used) {
            text[k ? used : room - 1] = 0;
            k += k == 0;
            break;
        }
        used += (size_t)n;
    }
    if (reader->count - k + reader->more)
        snprintf(text + strlen(text), 60, "\nand %u mistakes more",
                 (unsigned)(reader->count - k + reader->more));
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
    const char *known[40];
    char all[320] = "";
    int n = 0;
    for (; fields->key && n < 39; fields++) {
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

static int is_known(const struct field *fields, const char *key)
{
    while (fields->key && strcmp(fields->key, key) != 0)
        fields++;
    return fields->key != NULL;
}

static enum dia_status all_known(struct rig_reader *reader, const struct tree_node *map,
                                 const struct field *fields, const char *where)
{
    enum dia_status status = DIA_OK;
    for (const struct tree_node *node = map->child; node; node = node->next) {
        if (!is_known(fields, node->key))
            status = unknown_key(reader, node, fields, where);
    }
    return status;
}

/* Whether some unknown key is likely to stand for this one: then nothing is missing. */
static int is_meant(const struct tree_node *map, const struct field *fields, const char *key)
{
    const char *names[] = {key, NULL};
    for (const struct tree_node *node = map->child; node; node = node->next) {
        if (!is_known(fields, node->key) && dia_nearest(node->key, names))
            return 1;
    }
    return 0;
}

static enum dia_status read_text(struct rig_reader *reader, const struct tree_node *node,
                                 const struct field *field, char *text, const char *what)
{
    if (node->text[0] == 0)
        return dia_rig_wrong_value(reader, node, "%s is empty; write such as %s", what,
                                   field->example);
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

/* By its name, at 5 V, or any that has this voltage at its output. */
static enum dia_status read_shifter(struct rig_reader *reader, const struct tree_node *node,
                                    const struct field *field, struct dia_rig_shifter *out,
                                    const char *what)
{
    const char *names[DIA_RIG_SHIFTERS];
    char all[120] = "";
    uint8_t n = 0;
    for (uint8_t k = 1; dia_rig_shifter_name(k); k++) {
        size_t used = strlen(all);
        names[n++] = dia_rig_shifter_name(k);
        snprintf(all + used, sizeof all - used, ", %s", dia_rig_shifter_name(k));
        if (strcmp(dia_rig_shifter_name(k), node->text) == 0) {
            *out = (struct dia_rig_shifter){5000, k};
            return DIA_OK;
        }
    }
    names[n] = NULL;
    if (strlen(node->text) >= 5 && !strchr(node->text, ' ') &&
        isalnum((unsigned char)node->text[4])) {
        const char *near = dia_nearest(node->text, names);
        if (near)
            return dia_rig_wrong_value(reader, node, "unknown shifter '%.40s'; did you mean %s?",
                                       node->text, near);
        return dia_rig_wrong_value(reader, node,
                                   "unknown shifter '%.40s'; say the voltage of its output%s",
                                   node->text, all);
    }
    out->is = DIA_SHIFTER_ANY;
    return read_quantity(reader, node, field, &out->mv, what);
}

static enum dia_status read_field(struct rig_reader *reader, const struct tree_node *map,
                                  const struct field *fields, const struct field *field, void *base,
                                  const char *where)
{
    const struct tree_node *node = dia_tree_get(map, field->key);
    if (!node && field->required && is_meant(map, fields, field->key))
        return DIA_BAD_VALUE; /* which is told */
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
    if (field->holds == HOLDS_SHIFTER)
        return read_shifter(reader, node, field, out, what);
    return field->holds == HOLDS_TEXT ? read_text(reader, node, field, out, what)
                                      : read_quantity(reader, node, field, out, what);
}

enum dia_status dia_rig_read_fields(struct rig_reader *reader, const struct tree_node *map,
                                    const struct field *fields, void *base, const char *where)
{
    enum dia_status status = dia_rig_must_be(reader, map, TREE_MAP, where);
    if (status != DIA_OK)
        return status;
    status = all_known(reader, map, fields, where);
    for (const struct field *field = fields; field->key; field++)
        status = dia_rig_both(status, read_field(reader, map, fields, field, base, where));
    return status;
}

int dia_rig_is_name(const char *name)
{
    size_t n = strspn(name, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_");
    return name[n] == 0 && isalpha((unsigned char)name[0]) && n < DIA_RIG_NAME;
}

enum dia_status dia_rig_read_name(struct rig_reader *reader, const struct tree_node *entry,
                                  const char *what, char name[DIA_RIG_NAME])
{
    const char *key = entry->key;
    if (!dia_rig_is_name(key))
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
