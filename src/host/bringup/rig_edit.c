/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <diachrome/bringup.h>

#include "host_private.h"
#include "yaml_tree.h"

/*
 * A change to a file is made in its text: the characters of one value are replaced, or a key with
 * its value is put before the first one of its map. All else stays as it is, byte for byte.
 */
struct text {
    char *bytes;
    size_t length;
};

static enum dia_status read_text(const char *path, struct text *text, struct dia_diagnostic *wrong)
{
    FILE *file = fopen(path, "rb");
    if (!file)
        return dia_host_failed(wrong, path, "cannot be read");
    text->bytes = malloc((1u << 20) + 1);
    text->length = text->bytes ? fread(text->bytes, 1, 1u << 20, file) : 0;
    int failed = !text->bytes || ferror(file);
    fclose(file);
    if (failed)
        return dia_host_failed(wrong, path, "cannot be read");
    text->bytes[text->length] = 0;
    return DIA_OK;
}

/* Where a line and column (both from 1, columns in characters) are, in bytes. */
static size_t offset_of(const struct text *text, size_t line, size_t column)
{
    size_t at = 0;
    while (line > 1 && at < text->length)
        line -= text->bytes[at++] == '\n';
    while (column > 1 && at < text->length) {
        at++;
        while (((unsigned char)text->bytes[at] & 0xc0) == 0x80)
            at++;
        column--;
    }
    return at;
}

static enum dia_status put(struct text *text, size_t from, size_t to, const char *with,
                           struct dia_diagnostic *wrong)
{
    size_t n = strlen(with), length = text->length - (to - from) + n;
    char *bytes = malloc(length + 1);
    if (!bytes)
        return dia_host_failed(wrong, "rig file", "cannot be changed");
    memcpy(bytes, text->bytes, from);
    memcpy(bytes + from, with, n);
    memcpy(bytes + from + n, text->bytes + to, text->length - to + 1);
    free(text->bytes);
    text->bytes = bytes;
    text->length = length;
    return DIA_OK;
}

static enum dia_status replace(struct text *text, const struct tree_node *node, const char *value,
                               struct dia_diagnostic *wrong)
{
    return put(text, offset_of(text, node->line, node->column),
               offset_of(text, node->end_line, node->end_column), value, wrong);
}

/* Before the first key of a map: in its brackets, or as a line of its own. */
static enum dia_status insert(struct text *text, const struct tree_node *map, const char *key,
                              const char *value, struct dia_diagnostic *wrong)
{
    char line[400];
    const struct tree_node *first = map->child;
    size_t at = offset_of(text, first->key_line, first->key_column);
    if (map->in_brackets)
        snprintf(line, sizeof line, "%s: %s, ", key, value);
    else /* the indentation is there already; it is wanted again for the key that was first */
        snprintf(line, sizeof line, "%s: %s\n%*s", key, value, (int)first->key_column - 1, "");
    return put(text, at, at, line, wrong);
}

static enum dia_status change(struct text *text, const struct tree_node *root,
                              const struct dia_rig_edit *edit, struct dia_diagnostic *wrong)
{
    const struct tree_node *map = dia_tree_get(root, edit->section);
    map = map ? dia_tree_get(map, edit->name) : NULL;
    if (map && edit->inside[0])
        map = dia_tree_get(map, edit->inside);
    if (!map || map->kind != TREE_MAP || !map->child)
        return dia_host_wrong(wrong, "there is no %s '%s' in the file to be changed", edit->section,
                              edit->name);
    const struct tree_node *node = dia_tree_get(map, edit->key);
    if (!node)
        return insert(text, map, edit->key, edit->value, wrong);
    if (node->kind != TREE_SCALAR && !node->in_brackets)
        return dia_host_wrong(wrong, "'%s' of '%s' is written over several lines; write '%s: %s'",
                              edit->key, edit->name, edit->key, edit->value);
    return replace(text, node, edit->value, wrong);
}

/* A neighbour of the file, to be read as a whole before it takes its place. */
static enum dia_status write_text(const char *path, const struct text *text,
                                  struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    if (fwrite(text->bytes, 1, text->length, out.file) != text->length) {
        status = dia_host_failed(wrong, path, "cannot be written");
        dia_host_output_discard(&out);
        return status;
    }
    return dia_host_output_close(&out, wrong);
}

static enum dia_status change_all(const char *work, struct text *text,
                                  const struct dia_rig_edit *edits, uint32_t count,
                                  struct dia_diagnostic *wrong)
{
    for (uint32_t i = 0; i < count; i++) {
        struct tree tree;
        enum dia_status status = write_text(work, text, wrong);
        if (status == DIA_OK)
            status = dia_tree_load(&tree, work, wrong);
        if (status != DIA_OK)
            return status;
        status = change(text, tree.root, &edits[i], wrong);
        dia_tree_free(&tree);
        if (status != DIA_OK)
            return status;
    }
    return write_text(work, text, wrong);
}

enum dia_status dia_rig_edit(const char *path, const struct dia_rig_edit *edits, uint32_t count,
                             struct dia_diagnostic *wrong)
{
    char work[4096];
    struct text text;
    struct dia_rig *rig = calloc(1, sizeof *rig);
    const char *slash = strrchr(path, '/');
    int folder = slash ? (int)(slash - path) + 1 : 0;
    if (!rig || snprintf(work, sizeof work, "%.*s.changed-%ld", folder, path, (long)getpid()) >=
                    (int)sizeof work) {
        free(rig);
        errno = ENAMETOOLONG;
        return dia_host_failed(wrong, path, "cannot be changed");
    }
    enum dia_status status = dia_rig_load(rig, path, wrong);
    if (status == DIA_OK)
        status = read_text(path, &text, wrong);
    if (status != DIA_OK) {
        free(rig);
        return status;
    }
    status = change_all(work, &text, edits, count, wrong);
    if (status == DIA_OK)
        status = dia_rig_load(rig, work, wrong);
    if (status == DIA_OK)
        status = write_text(path, &text, wrong);
    remove(work);
    free(text.bytes);
    free(rig);
    return status;
}
