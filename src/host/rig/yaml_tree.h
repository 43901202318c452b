/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_YAML_TREE_H
#define DIA_HOST_YAML_TREE_H

#include <stddef.h>

#include <diachrome/diagnostic.h>
#include <diachrome/status.h>

/*
 * A YAML file as a tree in which everything knows where it stands. Small files only: at most
 * 1 MiB, 16 levels, no anchors, one document.
 */
enum tree_kind { TREE_SCALAR, TREE_LIST, TREE_MAP };

struct tree_node {
    enum tree_kind kind;
    const char *text;            /* of a scalar */
    size_t line, column;         /* from 1; columns count characters */
    size_t end_line, end_column; /* just behind a scalar, or a list or map in brackets */
    int in_brackets;             /* of a list or map: [a, b] or {a: b}, else indented */
    const char *key;             /* of an entry in a map, else NULL */
    size_t key_line, key_column;
    struct tree_node *child; /* first of a list or map */
    struct tree_node *next;
};

struct tree {
    struct tree_node *root;
    void *memory; /* private */
};

/* DIA_BAD_VALUE with file:line:column for anything that is not such a file, or cannot be read. */
enum dia_status dia_tree_load(struct tree *tree, const char *path, struct dia_diagnostic *wrong);
void dia_tree_free(struct tree *tree);

/* The value of a key, or NULL. */
const struct tree_node *dia_tree_get(const struct tree_node *map, const char *key);

#endif
