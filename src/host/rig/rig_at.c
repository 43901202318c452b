/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include "rig_at.h"
#include "rig_layout.h"

/* clang-format off */
#define AT(field) offsetof(struct dia_rig_at, field)
static const struct field at_fields[] = {
    {"x",    HOLDS_QUANTITY, 1, DIA_LENGTH, -100000000, 100000000, AT(x_um), "120 mm"},
    {"y",    HOLDS_QUANTITY, 1, DIA_LENGTH, -100000000, 100000000, AT(y_um), "40 mm"},
    {"turn", HOLDS_MORE,     0, DIA_NUMBER, 0, 0,                  0,        "90"},
    {0},
};
/* clang-format on */

enum dia_status dia_rig_read_at(struct rig_reader *reader, const struct tree_node *node,
                                struct dia_rig_at *at)
{
    static const char *const turns[] = {"0", "90", "180", "270", NULL};
    const struct tree_node *map = dia_tree_get(node, "at");
    memset(at, 0, sizeof *at);
    if (!map)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, map, TREE_MAP, "'at'");
    if (status == DIA_OK)
        status = dia_rig_read_fields(reader, map, at_fields, at, "'at'");
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(map, "turn"), "'turn'", turns, &at->turn);
    at->given = 1;
    return status;
}
