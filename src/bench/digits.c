/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "lit.h"

/*
 * Digits of seven segments on pins: an LED lights while its segment line and its common pull the
 * right ways. Where the resistors are on the commons, all LEDs lit on a common share its current.
 */
#define COMMONS 8 /* role of the first */

struct digits {
    struct device device;
    uint32_t digits, options, lamp_ua;
    struct lit lit;
};

static uint8_t is_active(const struct digits *digits, uint8_t role)
{
    uint8_t high = digits->device.level[role];
    uint8_t anode = (digits->options & DIA_DIGITS_ANODE) != 0;
    if (digits->device.pins[role] == DIA_NO_PIN)
        return 0;
    if (role < COMMONS)
        return anode ? !high : high;
    if (digits->options & DIA_DIGITS_INVERTED)
        high = !high;
    return anode ? high : !high;
}

static void light(struct digits *digits, uint64_t t)
{
    uint8_t segments = 0;
    uint16_t lines = 0;
    for (uint8_t s = 0; s < 8; s++) {
        segments |= (uint8_t)(is_active(digits, s) << s);
        lines = (uint16_t)(lines + is_active(digits, s));
    }
    for (uint8_t d = 0; d < digits->digits; d++) {
        uint8_t common = is_active(digits, (uint8_t)(COMMONS + d));
        uint16_t each = LIT_FULL;
        if (digits->options & DIA_DIGITS_BY_SEGMENT)
            each = (uint16_t)(LIT_FULL / (lines ? lines : 1));
        for (uint8_t s = 0; s < 8; s++)
            dia_lit_set(&digits->lit, d * 8u + s, common && segments >> s & 1 ? each : 0, t);
    }
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    (void)role;
    (void)level;
    device->shown.frames++;
    device->shown.latched_ns = t;
    light((struct digits *)device, t);
}

static void settle(struct device *device, uint64_t t)
{
    struct digits *digits = (struct digits *)device;
    dia_lit_settle(&digits->lit, t, digits->lamp_ua, &device->shown);
}

static void expose(struct device *device, uint64_t t)
{
    dia_lit_expose(&((struct digits *)device)->lit, t);
}

static void free_digits(struct device *device)
{
    struct digits *digits = (struct digits *)device;
    free(device->shown.level);
    dia_lit_free(&digits->lit);
    free(digits);
}

static const struct device_class class = {
    .edge = edge, .settle = settle, .expose = expose, .free = free_digits};

int dia_bench_digits(struct dia_bench *bench, const struct dia_device_setup *setup)
{
    if (setup->count == 0 || setup->count > 8 || strcmp(setup->part, "digits") != 0)
        return -1;
    struct digits *digits = calloc(1, sizeof *digits);
    if (!digits)
        return -1;
    digits->device.of = &class;
    digits->device.sheet = "";
    digits->digits = setup->count;
    digits->options = setup->options;
    digits->lamp_ua = setup->lamp_ua;
    memset(digits->device.pins, DIA_NO_PIN, sizeof digits->device.pins);
    memcpy(digits->device.pins, setup->pins, COMMONS + setup->count);
    if (dia_lit_init(&digits->lit, setup->count * 8) != 0 ||
        dia_device_lamps(&digits->device, setup->count * 8) != 0) {
        free_digits(&digits->device);
        return -1;
    }
    light(digits, 0);
    return dia_bench_add(bench, &digits->device, setup);
}
