/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "rig_layout.h"

/* "2 1 turned 90": column and row of a panel in the larger grid, from 1, and how it is turned. */
static enum dia_status read_tile(struct rig_reader *reader, const struct tree_node *node,
                                 const struct dia_tiles *tiles, struct dia_tile *tile)
{
    unsigned column, row, turn = 0;
    int end = 0;
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "a panel");
    if (status != DIA_OK)
        return status;
    if (sscanf(node->text, "%3u %3u%n", &column, &row, &end) != 2 ||
        (node->text[end] && (sscanf(node->text + end, " turned %3u%n", &turn, &end) != 1 ||
                             turn % 90 || turn > 270)) ||
        column < 1 || column > tiles->columns || row < 1 || row > tiles->rows)
        return dia_rig_wrong_value(
            reader, node,
            "a panel is 'COLUMN ROW' of 1 1 to %u %u, perhaps with 'turned 90', 180 "
            "or 270; found '%.40s'",
            tiles->columns, tiles->rows, node->text);
    tile->column = (uint8_t)(column - 1);
    tile->row = (uint8_t)(row - 1);
    tile->turn = (uint8_t)(turn / 90);
    return DIA_OK;
}

/* Panels in the order of the wire: as the list says, or row after row. */
enum dia_status dia_rig_read_order(struct rig_reader *reader, const struct tree_node *list,
                                   struct dia_rig_layout *layout)
{
    struct dia_tiles *tiles = &layout->tiles;
    enum dia_status status = DIA_OK;
    if (!list) {
        for (uint8_t k = 0; k < tiles->count; k++)
            layout->tile[k] = (struct dia_tile){k % tiles->columns, k / tiles->columns, 0};
        return DIA_OK;
    }
    status = dia_rig_must_be(reader, list, TREE_LIST, "'order'");
    uint8_t k = 0;
    for (const struct tree_node *each = list->child; each && status == DIA_OK; each = each->next) {
        if (k == tiles->count)
            return dia_rig_wrong_value(reader, each, "there are %u panels; this is one more",
                                       tiles->count);
        status = read_tile(reader, each, tiles, &layout->tile[k]);
        for (uint8_t i = 0; i < k && status == DIA_OK; i++) {
            if (layout->tile[i].column == layout->tile[k].column &&
                layout->tile[i].row == layout->tile[k].row)
                return dia_rig_wrong_value(reader, each, "a panel is already at %u %u",
                                           layout->tile[k].column + 1u, layout->tile[k].row + 1u);
        }
        if (status == DIA_OK && layout->tile[k].turn & 1 &&
            tiles->panel.columns != tiles->panel.rows)
            return dia_rig_wrong_value(
                reader, each,
                "a panel of %u columns and %u rows cannot be turned by a quarter; "
                "only square ones can",
                tiles->panel.columns, tiles->panel.rows);
        k++;
    }
    if (status == DIA_OK && k != tiles->count)
        return dia_rig_wrong_value(reader, list, "'order' has %u panels, but there are %u", k,
                                   tiles->count);
    return status;
}
