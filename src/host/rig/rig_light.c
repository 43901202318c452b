/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "rig_layout.h"
#include "rig_light.h"

static enum dia_status read_white(struct rig_reader *reader, const struct tree_node *lane,
                                  struct dia_rig_lane *out)
{
    const struct tree_node *list = dia_tree_get(lane, "white");
    uint8_t channels = (uint8_t)strlen(out->order), n = 0;
    for (uint8_t c = 0; c < 4; c++)
        out->white[c] = DIA_SHARE_ONE;
    if (!list)
        return DIA_OK;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, "'white'");
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *node = list->child; node; node = node->next) {
        if (n < channels)
            status = dia_rig_read_share(reader, node, "'white'", &out->white[n]);
        n++;
        if (status != DIA_OK)
            return status;
    }
    if (n != channels)
        return dia_rig_wrong_value(
            reader, list, "'white' of %s takes %d percentages, for %s; found %d", out->part.name,
            channels, channels == 4 ? "red, green, blue, white" : "red, green, blue", n);
    return DIA_OK;
}

/* A plain number with decimals, of a range. */
static enum dia_status read_number(struct rig_reader *reader, const struct tree_node *node,
                                   const char *what, double min, double max, double *value)
{
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, what);
    char *end;
    if (status != DIA_OK)
        return status;
    *value = strtod(node->text, &end);
    if (end == node->text || *end || !isfinite(*value) || *value < min || *value > max)
        return dia_rig_wrong_value(reader, node, "%s is a number of %g to %g; found '%.40s'", what,
                                   min, max, node->text);
    return DIA_OK;
}

/* Three numbers on any scale: brought to one that dia_white_measured takes. */
static enum dia_status read_seen(struct rig_reader *reader, const struct tree_node *list,
                                 struct dia_rig_lane *out)
{
    double seen[3] = {0, 0, 0}, most = 0;
    uint32_t scaled[3];
    int n = 0;
    enum dia_status status = dia_rig_must_be(reader, list, TREE_LIST, "'white_seen'");
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *node = list->child; node; node = node->next, n++) {
        if (n < 3)
            status = read_number(reader, node, "'white_seen'", 0.001, 1e6, &seen[n]);
        if (status != DIA_OK)
            return status;
        most = n < 3 && seen[n] > most ? seen[n] : most;
    }
    if (n != 3)
        return dia_rig_wrong_value(
            reader, list,
            "'white_seen' takes three numbers, the light of red, green and blue; "
            "found %d",
            n);
    for (int c = 0; c < 3; c++)
        scaled[c] = (uint32_t)(seen[c] / most * 65536 + 0.5);
    if (dia_white_measured(out->white, scaled) != DIA_OK)
        return dia_rig_wrong_value(reader, list,
                                   "'white_seen' has next to nothing of one colour; is "
                                   "that die lit?");
    return DIA_OK;
}

static enum dia_status read_curve(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_rig_lane *out)
{
    double gamma = 0;
    out->gamma = 0;
    if (!node || (node->kind == TREE_SCALAR && strcmp(node->text, "sRGB") == 0))
        return DIA_OK;
    enum dia_status status = read_number(reader, node, "'curve', if not sRGB,", 1, 4, &gamma);
    out->gamma = (uint16_t)(gamma * 1000 + 0.5);
    return status;
}

static enum dia_status read_dithering(struct rig_reader *reader, const struct tree_node *node,
                                      struct dia_rig_lane *out)
{
    static const char *const ways[] = {"auto", "time", "space", "none", NULL};
    enum dia_status status =
        dia_rig_read_choice(reader, node, "'dithering'", ways, &out->dithering);
    if (status != DIA_OK || out->dithering != DIA_DITHERING_NONE)
        return status;
    if (out->part.channels->count != 3)
        return dia_rig_wrong_value(reader, node,
                                   "'dithering: none' is not for %s, which has four bytes a pixel; "
                                   "write auto, time or space",
                                   out->part.name);
    if (out->white[0] != out->white[1] || out->white[1] != out->white[2])
        return dia_rig_wrong_value(reader, node,
                                   "'dithering: none' takes an even 'white'; else write space");
    return DIA_OK;
}

enum dia_status dia_rig_read_light(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig_lane *lane)
{
    const struct tree_node *seen = dia_tree_get(node, "white_seen");
    if (seen && dia_tree_get(node, "white"))
        return dia_rig_wrong_key(reader, seen,
                                 "'white' and 'white_seen' both say what white is; keep "
                                 "one");
    enum dia_status status = read_white(reader, node, lane);
    if (status == DIA_OK && seen)
        status = read_seen(reader, seen, lane);
    if (status == DIA_OK)
        status = read_curve(reader, dia_tree_get(node, "curve"), lane);
    return dia_rig_both(status, read_dithering(reader, dia_tree_get(node, "dithering"), lane));
}
