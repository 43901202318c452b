/* SPDX-License-Identifier: MIT */
#include "rig_rom.h"

int dia_rig_cell_code(const struct dia_rig_device *device, const char **text)
{
    return dia_rom_code(device->rom, dia_utf8_next(text));
}

const char *dia_rig_cell_text(const struct dia_rig_device *device, uint8_t code, char text[8])
{
    uint16_t sign = dia_rom_sign(device->rom, code);
    return dia_utf8_of(sign ? sign : 0x2592, text); /* a shade: a glyph, or one without a name */
}
