/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <yaml.h>

#include "host_private.h"
#include "yaml_tree.h"

#define MOST_BYTES  (1u << 20)
#define MOST_LEVELS 16

/* Everything allocated for a tree hangs in one list. */
struct piece {
    struct piece *next;
};

struct loader {
    const char *path;
    struct dia_diagnostic *wrong;
    struct tree *tree;
    yaml_parser_t parser;
    const unsigned char *bytes;
    size_t size;
};

static void *take(struct tree *tree, size_t size)
{
    struct piece *piece = calloc(1, sizeof *piece + size);
    if (!piece)
        return NULL;
    piece->next = tree->memory;
    tree->memory = piece;
    return piece + 1;
}

static const char *copied(struct tree *tree, const yaml_char_t *text, size_t length)
{
    char *copy = take(tree, length + 1);
    if (copy)
        memcpy(copy, text, length);
    return copy;
}

void dia_tree_free(struct tree *tree)
{
    struct piece *piece = tree->memory;
    while (piece) {
        struct piece *next = piece->next;
        free(piece);
        piece = next;
    }
    tree->memory = NULL;
    tree->root = NULL;
}

static enum dia_status wrong_at(struct loader *loader, yaml_mark_t mark, const char *what)
{
    return dia_host_wrong(loader->wrong, "%s:%zu:%zu: %s", loader->path, mark.line + 1,
                          mark.column + 1, what);
}

static enum dia_status no_memory(struct loader *loader)
{
    errno = ENOMEM;
    return dia_host_failed(loader->wrong, loader->path, "cannot be read");
}

/* What the parser stumbled over. Reader errors (bytes that are no text) carry an offset only. */
static enum dia_status not_yaml(struct loader *loader)
{
    const yaml_parser_t *parser = &loader->parser;
    char what[200];
    yaml_mark_t mark = parser->problem_mark;
    if (parser->error == YAML_MEMORY_ERROR)
        return no_memory(loader);
    if (parser->error == YAML_READER_ERROR) {
        mark.line = mark.column = 0;
        for (size_t i = 0; i < parser->problem_offset && i < loader->size; i++) {
            mark.column++;
            if (loader->bytes[i] == '\n') {
                mark.line++;
                mark.column = 0;
            }
        }
        snprintf(what, sizeof what, "this is not a text file: %s; a rig file is YAML in UTF-8",
                 parser->problem);
    } else {
        snprintf(what, sizeof what, "this is not YAML: %s%s%s; a rig file is made of 'key: value'",
                 parser->problem ? parser->problem : "", parser->context ? " " : "",
                 parser->context ? parser->context : "");
    }
    return wrong_at(loader, mark, what);
}

static enum dia_status next_event(struct loader *loader, yaml_event_t *event)
{
    return yaml_parser_parse(&loader->parser, event) ? DIA_OK : not_yaml(loader);
}

static struct tree_node *new_node(struct loader *loader, const yaml_event_t *event)
{
    struct tree_node *node = take(loader->tree, sizeof *node);
    if (!node)
        return NULL;
    node->line = event->start_mark.line + 1;
    node->column = event->start_mark.column + 1;
    node->end_line = event->end_mark.line + 1;
    node->end_column = event->end_mark.column + 1;
    node->in_brackets = (event->type == YAML_MAPPING_START_EVENT &&
                         event->data.mapping_start.style == YAML_FLOW_MAPPING_STYLE) ||
                        (event->type == YAML_SEQUENCE_START_EVENT &&
                         event->data.sequence_start.style == YAML_FLOW_SEQUENCE_STYLE);
    node->kind = event->type == YAML_MAPPING_START_EVENT    ? TREE_MAP
                 : event->type == YAML_SEQUENCE_START_EVENT ? TREE_LIST
                                                            : TREE_SCALAR;
    if (node->kind == TREE_SCALAR)
        node->text = copied(loader->tree, event->data.scalar.value, event->data.scalar.length);
    return node->kind == TREE_SCALAR && !node->text ? NULL : node;
}

static enum dia_status read_value(struct loader *loader, yaml_event_t *event, int level,
                                  struct tree_node **out);

static enum dia_status key_known(struct loader *loader, const struct tree_node *map,
                                 const char *key, yaml_mark_t mark)
{
    char what[160];
    for (const struct tree_node *other = map->child; other; other = other->next) {
        if (other->key && strcmp(other->key, key) == 0) {
            snprintf(what, sizeof what,
                     "'%.60s' is here twice, first on line %zu; keep one of them", key,
                     other->key_line);
            return wrong_at(loader, mark, what);
        }
    }
    return DIA_OK;
}

/* One entry of a list or map, its first event already there; *event is used up. */
static enum dia_status read_entry(struct loader *loader, struct tree_node *parent, int level,
                                  yaml_event_t *event, struct tree_node **entry)
{
    const char *key = NULL;
    yaml_mark_t mark = event->start_mark;
    if (parent->kind == TREE_MAP) {
        if (event->type != YAML_SCALAR_EVENT) {
            yaml_event_delete(event);
            return wrong_at(loader, mark, "a key must be a word, as in 'key: value'");
        }
        key = copied(loader->tree, event->data.scalar.value, event->data.scalar.length);
        yaml_event_delete(event);
        if (!key)
            return no_memory(loader);
        enum dia_status status = key_known(loader, parent, key, mark);
        if (status == DIA_OK)
            status = next_event(loader, event);
        if (status != DIA_OK)
            return status;
    }
    enum dia_status status = read_value(loader, event, level + 1, entry);
    if (status == DIA_OK) {
        (*entry)->key = key;
        (*entry)->key_line = mark.line + 1;
        (*entry)->key_column = mark.column + 1;
    }
    return status;
}

static enum dia_status read_entries(struct loader *loader, struct tree_node *parent, int level)
{
    yaml_event_type_t end =
        parent->kind == TREE_MAP ? YAML_MAPPING_END_EVENT : YAML_SEQUENCE_END_EVENT;
    struct tree_node **tail = &parent->child;
    for (;;) {
        yaml_event_t event;
        enum dia_status status = next_event(loader, &event);
        if (status != DIA_OK)
            return status;
        if (event.type == end) {
            parent->end_line = event.end_mark.line + 1;
            parent->end_column = event.end_mark.column + 1;
            yaml_event_delete(&event);
            return DIA_OK;
        }
        struct tree_node *entry = NULL;
        status = read_entry(loader, parent, level, &event, &entry);
        if (status != DIA_OK)
            return status;
        *tail = entry;
        tail = &entry->next;
    }
}

/* What YAML allows and a rig file has no use for; NULL: nothing. */
static const char *wrong_in(const yaml_event_t *event)
{
    const yaml_char_t *tag =
        event->type == YAML_SCALAR_EVENT           ? event->data.scalar.tag
        : event->type == YAML_MAPPING_START_EVENT  ? event->data.mapping_start.tag
        : event->type == YAML_SEQUENCE_START_EVENT ? event->data.sequence_start.tag
                                                   : NULL;
    if (tag)
        return "a rig file has no tags such as !!binary; write the value itself";
    if (event->type == YAML_SCALAR_EVENT &&
        memchr(event->data.scalar.value, 0, event->data.scalar.length))
        return "a text cannot have the character 0 in it";
    return NULL;
}

/* The value that begins with *event, which is used up. */
static enum dia_status read_value(struct loader *loader, yaml_event_t *event, int level,
                                  struct tree_node **out)
{
    yaml_mark_t mark = event->start_mark;
    if (event->type == YAML_ALIAS_EVENT) {
        yaml_event_delete(event);
        return wrong_at(loader, mark, "a rig file has no aliases; write the value itself");
    }
    const char *wrong = wrong_in(event);
    struct tree_node *node = wrong ? NULL : new_node(loader, event);
    yaml_event_delete(event);
    if (wrong)
        return wrong_at(loader, mark, wrong);
    if (!node)
        return no_memory(loader);
    *out = node;
    if (node->kind == TREE_SCALAR)
        return DIA_OK;
    if (level >= MOST_LEVELS)
        return wrong_at(loader, mark, "this nests deeper than 16 levels; a rig file needs 4");
    return read_entries(loader, node, level);
}

static enum dia_status read_document(struct loader *loader)
{
    yaml_event_t event;
    struct tree_node *root = NULL;
    for (;;) {
        enum dia_status status = next_event(loader, &event);
        if (status != DIA_OK)
            return status;
        yaml_event_type_t type = event.type;
        yaml_mark_t mark = event.start_mark;
        if (type == YAML_STREAM_START_EVENT || type == YAML_DOCUMENT_END_EVENT) {
            yaml_event_delete(&event);
        } else if (type == YAML_STREAM_END_EVENT) {
            yaml_event_delete(&event);
            loader->tree->root = root;
            return root ? DIA_OK
                        : wrong_at(loader, (yaml_mark_t){0, 0, 0},
                                   "the file is empty; a rig begins with 'rig: NAME'");
        } else if (type == YAML_DOCUMENT_START_EVENT) {
            yaml_event_delete(&event);
            if (root)
                return wrong_at(loader, mark, "a second document begins here; a file is one rig");
        } else {
            status = read_value(loader, &event, 0, &root);
            if (status != DIA_OK)
                return status;
        }
    }
}

/* All of the file, but no more than fits; a file that is larger is not read to its end. */
static enum dia_status read_file(struct loader *loader, unsigned char *room)
{
    FILE *file = fopen(loader->path, "rb");
    if (!file) {
        dia_host_failed(loader->wrong, loader->path, "cannot be read");
        return DIA_BAD_VALUE;
    }
    loader->size = fread(room, 1, MOST_BYTES + 1, file);
    int failed = ferror(file);
    if (failed)
        dia_host_failed(loader->wrong, loader->path, "cannot be read");
    fclose(file);
    if (failed)
        return DIA_BAD_VALUE;
    if (loader->size > MOST_BYTES)
        return wrong_at(loader, (yaml_mark_t){0, 0, 0},
                        "the file is larger than 1 MB; a rig is a page of text");
    return DIA_OK;
}

enum dia_status dia_tree_load(struct tree *tree, const char *path, struct dia_diagnostic *wrong)
{
    struct loader loader = {.path = path, .wrong = wrong, .tree = tree};
    tree->root = NULL;
    tree->memory = NULL;
    unsigned char *room = malloc(MOST_BYTES + 1);
    if (!room || !yaml_parser_initialize(&loader.parser)) {
        free(room);
        return no_memory(&loader);
    }
    loader.bytes = room;
    enum dia_status status = read_file(&loader, room);
    if (status == DIA_OK) {
        yaml_parser_set_input_string(&loader.parser, room, loader.size);
        status = read_document(&loader);
    }
    yaml_parser_delete(&loader.parser);
    free(room);
    if (status != DIA_OK)
        dia_tree_free(tree);
    return status;
}

const struct tree_node *dia_tree_get(const struct tree_node *map, const char *key)
{
    for (const struct tree_node *node = map->child; node; node = node->next) {
        if (strcmp(node->key, key) == 0)
            return node;
    }
    return NULL;
}
