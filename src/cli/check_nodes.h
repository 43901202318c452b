/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_CHECK_NODES_H
#define DIA_CLI_CHECK_NODES_H

#include <diachrome/check.h>

/* The check of a whole rig with nodes: each node's part is checked by itself, and a line for each
 * says how it went. */
struct check_nodes;

struct check_nodes *check_nodes_new(const struct dia_rig *whole, int as_json); /* NULL: no memory */

/* One node more, of which the findings are kept. */
void check_nodes_add(struct check_nodes *nodes, const struct dia_check *check,
                     const struct dia_rig *part);

/* What came of it, on stdout. The exit code. */
int check_nodes_report(struct check_nodes *nodes, int in_colour);
void check_nodes_free(struct check_nodes *nodes);

#endif
