/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "lit.h"

/* Lamps on pins: each is lit while its pin is high, or where it hangs on the supply, low. */
struct pin_lamps {
    struct device device;
    struct lit lit;
    uint32_t count, lamp_ua;
    uint8_t sinks;
};

static void light(struct pin_lamps *lamps, uint64_t t)
{
    for (uint32_t k = 0; k < lamps->count; k++)
        dia_lit_set(&lamps->lit, k, lamps->device.level[k] != lamps->sinks ? LIT_FULL : 0, t);
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    (void)role;
    (void)level;
    device->shown.frames++;
    device->shown.latched_ns = t;
    light((struct pin_lamps *)device, t);
}

static void settle(struct device *device, uint64_t t)
{
    struct pin_lamps *lamps = (struct pin_lamps *)device;
    dia_lit_settle(&lamps->lit, t, lamps->lamp_ua, &device->shown);
}

static void expose(struct device *device, uint64_t t)
{
    dia_lit_expose(&((struct pin_lamps *)device)->lit, t);
}

static void free_lamps(struct device *device)
{
    free(device->shown.level);
    dia_lit_free(&((struct pin_lamps *)device)->lit);
    free(device);
}

static const struct device_class class = {
    .edge = edge, .settle = settle, .expose = expose, .free = free_lamps};

int dia_bench_pin_lamps(struct dia_bench *bench, const struct dia_device_setup *setup)
{
    if (setup->count == 0 || setup->count > 16 || strcmp(setup->part, "lamps") != 0)
        return -1;
    struct pin_lamps *lamps = calloc(1, sizeof *lamps);
    if (!lamps)
        return -1;
    lamps->device.of = &class;
    lamps->device.sheet = "";
    lamps->count = setup->count;
    lamps->lamp_ua = setup->lamp_ua;
    lamps->sinks = (setup->options & DIA_PIN_LAMPS_SINK) != 0;
    memset(lamps->device.pins, DIA_NO_PIN, sizeof lamps->device.pins);
    memcpy(lamps->device.pins, setup->pins, setup->count);
    if (dia_lit_init(&lamps->lit, setup->count) != 0 ||
        dia_device_lamps(&lamps->device, setup->count) != 0) {
        free_lamps(&lamps->device);
        return -1;
    }
    light(lamps, 0);
    return dia_bench_add(bench, &lamps->device, setup);
}
