/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "family_read.h"
#include "rig_rom.h"

const char *const dia_family_no_yes[] = {"no", "yes", NULL};
const char *const dia_family_ends[] = {"left", "right", NULL};

/* A line of a character display, in the codes of its ROM. */
static enum dia_status read_cells(struct rig_reader *reader, const struct tree_node *line,
                                  const struct dia_rig_device *device, uint32_t columns, char *row)
{
    uint32_t used = 0;
    for (const char *at = line->text; *at;) {
        const char *letter = at;
        int code = dia_rig_cell_code(device, &at);
        if (code < 0)
            return dia_rig_wrong_value(reader, line,
                                       "the ROM of '%s' (%s) has no '%.*s'; besides ASCII%s; a "
                                       "layer of the look text draws it as a glyph",
                                       device->name, device->rom->name, (int)(at - letter), letter,
                                       device->rom == &dia_rom_a00
                                           ? " without \\ and ~ it has \u00e4 \u00f6 \u00fc \u00df "
                                             "\u00f1 \u00b0 \u00b5 \u03a9 \u2192 \u2190 and "
                                             "half-width katakana"
                                           : " it has the letters of Western Europe");
        if (used++ == columns)
            return dia_rig_wrong_value(reader, line, "'%.60s' does not fit; '%s' has room for %u",
                                       line->text, device->name, (unsigned)columns);
        row[used - 1] = (char)code;
    }
    row[used] = 0;
    return DIA_OK;
}

enum dia_status dia_family_text(struct rig_reader *reader, const struct tree_node *node,
                                struct dia_rig_device *device, uint32_t rows, uint32_t columns)
{
    const struct tree_node *text = dia_tree_get(node, "text");
    if (!text)
        return DIA_OK;
    const struct tree_node *line = text->kind == TREE_LIST ? text->child : text;
    for (uint32_t row = 0; line; row++, line = text->kind == TREE_LIST ? line->next : NULL) {
        enum dia_status status = dia_rig_must_be(reader, line, TREE_SCALAR, "'text'");
        if (status != DIA_OK)
            return status;
        if (row == rows)
            return dia_rig_wrong_value(reader, line, "'%s' shows %u line%s; 'text' has more",
                                       device->name, (unsigned)rows, rows == 1 ? "" : "s");
        if (dia_rig_lies(device) == DIA_LIES_CELLS) {
            status = read_cells(reader, line, device, columns, device->text[row]);
            if (status != DIA_OK)
                return status;
            continue;
        }
        uint32_t segments[DIA_RIG_LAMPS / 8];
        if (strlen(line->text) > 40 || dia_rig_digits_text(device, line->text, segments) != 0)
            return dia_rig_wrong_value(reader, line, "'%.40s' does not fit; '%s' has room for %u",
                                       line->text, device->name, (unsigned)columns);
        snprintf(device->text[row], sizeof device->text[row], "%.40s", line->text);
    }
    return DIA_OK;
}

enum dia_status dia_family_place(struct rig_reader *reader, const struct tree_node *node,
                                 const struct device_words *words, struct dia_rig_device *device,
                                 uint32_t places, int32_t pitch_um)
{
    device->pitch_um = words->pitch_um ? words->pitch_um : pitch_um;
    if (dia_surface_line(&device->surface, places, 0, device->pitch_um) != DIA_OK)
        return dia_rig_wrong_key(reader, node, "'%s' is longer than 2147 m; check 'pitch'",
                                 device->name);
    return DIA_OK;
}

int dia_family_needs_all(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)device;
    (void)role;
    (void)digits;
    return 1;
}

void dia_family_wire_digits(struct dia_rig_device *device)
{
    device->lamps = device->digits * 8;
    for (uint32_t i = 0; i < device->lamps; i++) {
        device->place_of[i] = (uint16_t)(i / 8);
        device->output_of[i] = (uint16_t)i;
    }
}

uint32_t dia_family_permille(dia_share master)
{
    return master * 1000u / DIA_SHARE_ONE;
}
