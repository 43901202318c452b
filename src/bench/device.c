/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>

#include "device.h"

void dia_device_finds(struct device *device, const char *code, uint64_t t, const char *format, ...)
{
    struct dia_finding *known = dia_findings_find(device->findings, code, device->name);
    if (known) {
        known->times++;
        return;
    }
    struct dia_finding finding = {.level = DIA_ERROR, .t_ns = t};
    va_list args;
    va_start(args, format);
    vsnprintf(finding.text, sizeof finding.text, format, args);
    va_end(args);
    snprintf(finding.code, sizeof finding.code, "%s", code);
    snprintf(finding.place, sizeof finding.place, "%s", device->name);
    snprintf(finding.source, sizeof finding.source, "%s", device->sheet);
    dia_findings_add(device->findings, &finding);
}

void dia_device_lasts(struct device *device, const char *code, const char *what, uint64_t from,
                      uint64_t to, uint32_t least_ns)
{
    if (from != 0 && to - from + device->slack_ns < least_ns)
        dia_device_finds(device, code, to,
                         "%s lasts %" PRIu64 " ns; it must be %" PRIu32 " ns or longer", what,
                         to - from, least_ns);
}

void dia_device_drive(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    if (device->answer->drive && device->pins[role] != DIA_NO_PIN)
        device->answer->drive(device->answer->self, t, device->pins[role], level);
}

int dia_device_lamps(struct device *device, uint32_t count)
{
    device->shown.level = calloc(count, sizeof *device->shown.level);
    device->shown.count = count;
    return device->shown.level ? 0 : -1;
}
