/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "rig_layout.h"

/* "2 1 turned 90": column and row of a panel in the larger grid, from 1, and how it is turned. */
static enum dia_status read_place(struct rig_reader *reader, const struct tree_node *node,
                                  const struct dia_wall *wall, struct dia_wall_place *place)
{
    unsigned column, row, turn = 0;
    int end = 0;
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "a panel");
    if (status != DIA_OK)
        return status;
    if (sscanf(node->text, "%3u %3u%n", &column, &row, &end) != 2 ||
        (node->text[end] && (sscanf(node->text + end, " turned %3u%n", &turn, &end) != 1 ||
                             turn % 90 || turn > 270)) ||
        column < 1 || column > wall->columns || row < 1 || row > wall->rows)
        return dia_rig_wrong_value(
            reader, node,
            "a panel is 'COLUMN ROW' of 1 1 to %u %u, perhaps with 'turned 90', 180 "
            "or 270; found '%.40s'",
            wall->columns, wall->rows, node->text);
    place->column = (uint8_t)(column - 1);
    place->row = (uint8_t)(row - 1);
    place->turn = (uint8_t)(turn / 90);
    return DIA_OK;
}

/* Panels in the order of the wire: as the list says, or row after row. */
enum dia_status dia_rig_read_order(struct rig_reader *reader, const struct tree_node *list,
                                   struct dia_rig_layout *layout)
{
    struct dia_wall *wall = &layout->wall;
    enum dia_status status = DIA_OK;
    if (!list) {
        for (uint8_t k = 0; k < wall->count; k++)
            layout->places[k] = (struct dia_wall_place){k % wall->columns, k / wall->columns, 0};
        return DIA_OK;
    }
    status = dia_rig_must_be(reader, list, TREE_LIST, "'order'");
    uint8_t k = 0;
    for (const struct tree_node *each = list->child; each && status == DIA_OK; each = each->next) {
        if (k == wall->count)
            return dia_rig_wrong_value(reader, each, "there are %u panels; this is one more",
                                       wall->count);
        status = read_place(reader, each, wall, &layout->places[k]);
        for (uint8_t i = 0; i < k && status == DIA_OK; i++) {
            if (layout->places[i].column == layout->places[k].column &&
                layout->places[i].row == layout->places[k].row)
                return dia_rig_wrong_value(reader, each, "a panel is already at %u %u",
                                           layout->places[k].column + 1u,
                                           layout->places[k].row + 1u);
        }
        if (status == DIA_OK && layout->places[k].turn & 1 &&
            wall->panel.columns != wall->panel.rows)
            return dia_rig_wrong_value(
                reader, each,
                "a panel of %u columns and %u rows cannot be turned by a quarter; "
                "only square ones can",
                wall->panel.columns, wall->panel.rows);
        k++;
    }
    if (status == DIA_OK && k != wall->count)
        return dia_rig_wrong_value(
            reader, list, "'order' lists %u of the %u panels; list each once", k, wall->count);
    return status;
}
