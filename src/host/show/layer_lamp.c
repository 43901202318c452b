/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "show_private.h"

int dia_show_lamp(const struct dia_rig *rig, const char *text, uint32_t *device, uint32_t *lamp,
                  struct dia_diagnostic *wrong)
{
    const char *point = strchr(text, '.'), *names[DIA_RIG_LAMP_NAMES + 1] = {NULL};
    if (!point)
        return 0;
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *of = &rig->devices[i];
        size_t n = strlen(of->name);
        if ((size_t)(point - text) != n || strncmp(text, of->name, n) != 0)
            continue;
        for (uint32_t k = 0; k < of->lamp_name_count; k++) {
            names[k] = of->lamp_names[k];
            if (strcmp(names[k], point + 1) == 0) {
                *device = i;
                *lamp = k;
                return 1;
            }
        }
        const char *near = dia_nearest(point + 1, names);
        if (!names[0])
            dia_host_wrong(wrong,
                           "'%s' has no lamps with names; 'names' in the rig gives them some",
                           of->name);
        else
            dia_host_wrong(wrong, "'%s' has no lamp '%.40s'; %s '%s'", of->name, point + 1,
                           near ? "did you mean" : "the first one is", near ? near : names[0]);
        return -1;
    }
    return 0;
}
