/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "beacon.h"
#include "lit.h"

/* A lamp is lit while its pin is high. */
struct model {
    struct device device;
    struct lit lit;
    uint32_t lamp_ua;
};

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    device->shown.frames++;
    device->shown.latched_ns = t;
    dia_lit_set(&((struct model *)device)->lit, role, level ? LIT_FULL : 0, t);
}

static void settle(struct device *device, uint64_t t)
{
    struct model *model = (struct model *)device;
    dia_lit_expose(&model->lit, device->shown.latched_ns); /* as it is since the last change */
    dia_lit_settle(&model->lit, t, model->lamp_ua, &device->shown);
}

static void free_model(struct device *device)
{
    free(device->shown.level);
    dia_lit_free(&((struct model *)device)->lit);
    free(device);
}

static const struct device_class class = {.edge = edge, .settle = settle, .free = free_model};

int bench_beacon(struct dia_bench *bench, const struct dia_device_setup *setup)
{
    struct model *model = calloc(1, sizeof *model);
    if (!model)
        return -1;
    model->device.of = &class;
    model->device.sheet = "a made-up sheet";
    model->lamp_ua = setup->lamp_ua;
    memset(model->device.pins, DIA_NO_PIN, sizeof model->device.pins);
    memcpy(model->device.pins, setup->pins, setup->count);
    if (dia_lit_init(&model->lit, setup->count) != 0 ||
        dia_device_lamps(&model->device, setup->count) != 0) {
        free_model(&model->device);
        return -1;
    }
    return dia_bench_add(bench, &model->device, setup);
}
