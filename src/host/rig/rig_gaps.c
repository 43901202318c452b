/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "rig_layout.h"

/* "12" or "12-14". */
static enum dia_status read_range(struct rig_reader *reader, const struct tree_node *node,
                                  uint32_t count, struct dia_rig_layout *layout)
{
    unsigned from, to;
    int end = 0;
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "a gap");
    if (status != DIA_OK)
        return status;
    if (sscanf(node->text, "%5u%n", &from, &end) != 1 ||
        (node->text[end] && sscanf(node->text, "%*u-%5u%n", &to, &end) != 1) || node->text[end])
        return dia_rig_wrong_value(reader, node,
                                   "a gap is one pixel, or a range such as '12-14'; found '%.40s'",
                                   node->text);
    uint32_t last = from;
    if (sscanf(node->text, "%*u-%5u", &to) == 1)
        last = to;
    if (from > last || last >= count)
        return dia_rig_wrong_value(reader, node, "a gap is among the pixels 0 to %u; found '%.40s'",
                                   (unsigned)(count - 1), node->text);
    for (uint32_t k = from; k <= last; k++) {
        if (layout->gap_count == DIA_RIG_GAPS)
            return dia_rig_wrong_value(reader, node, "a lane has at most %d pixels without a place",
                                       DIA_RIG_GAPS);
        if (layout->gap_count && layout->gaps[layout->gap_count - 1] >= k)
            return dia_rig_wrong_value(
                reader, node, "gaps are in rising order, each once; found '%.40s'", node->text);
        layout->gaps[layout->gap_count++] = (uint16_t)k;
    }
    return DIA_OK;
}

enum dia_status dia_rig_read_gaps(struct rig_reader *reader, const struct tree_node *list,
                                  uint32_t count, struct dia_rig_layout *layout)
{
    if (!list)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, "'gaps'");
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *node = list->child; node && status == DIA_OK; node = node->next)
        status = read_range(reader, node, count, layout);
    if (status == DIA_OK && layout->gap_count == count)
        return dia_rig_wrong_value(reader, list, "no pixel is left that has a place");
    return status;
}
