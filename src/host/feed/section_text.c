/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/feeding.h>
#include <diachrome/quantity.h>

#include "host_private.h"

enum dia_status dia_section_read(const char *text, const char *what, uint32_t *um2,
                                 struct dia_diagnostic *wrong)
{
    struct dia_diagnostic why = {""};
    int64_t value;
    int gauge, used = 0;
    if (strncmp(text, "AWG", 3) == 0) {
        if (sscanf(text, "AWG %3d%n", &gauge, &used) != 1 || text[used] != 0 ||
            gauge < DIA_AWG_LEAST || gauge > DIA_AWG_MOST)
            return dia_host_wrong(wrong, "%s as a gauge is 'AWG %d' to 'AWG %d'; found '%.40s'",
                                  what, DIA_AWG_LEAST, DIA_AWG_MOST, text);
        *um2 = dia_awg_um2(gauge);
        return DIA_OK;
    }
    if (dia_quantity_read(text, DIA_SECTION, DIA_SECTION_LEAST_UM2, DIA_SECTION_MOST_UM2, what,
                          &value, &why) != DIA_OK)
        return dia_host_wrong(wrong, "%.300s; or a gauge such as 'AWG 18'", why.text);
    *um2 = (uint32_t)value;
    return DIA_OK;
}
