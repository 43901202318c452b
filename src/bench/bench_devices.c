/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "bench_private.h"

static int is_bus(const struct device *device, uint8_t role)
{
    return device->bus_roles >> role & 1u;
}

/* Wires of a bus may have several devices on them; all other pins have one. */
static int may_join(const struct dia_bench *bench, const struct device *device, uint8_t role)
{
    uint8_t pin = device->pins[role];
    int others = 0;
    if (bench->on_pin[pin])
        return 0;
    for (; bench->wired[pin][others].device; others++) {
        if (!is_bus(bench->wired[pin][others].device, bench->wired[pin][others].role))
            return 0;
    }
    return others == 0 || (is_bus(device, role) && others < SHARING);
}

static int pins_are_free(const struct dia_bench *bench, const struct device *device)
{
    for (uint8_t k = 0; k < DEVICE_PINS; k++) {
        uint8_t pin = device->pins[k];
        for (int other = 0; pin != DIA_NO_PIN && other < k; other++) {
            if (device->pins[other] == pin)
                return 0;
        }
        if (pin != DIA_NO_PIN && !may_join(bench, device, k))
            return 0;
    }
    return 1;
}

static void join(struct dia_bench *bench, struct device *device, uint8_t role)
{
    uint8_t pin = device->pins[role];
    int others = 0;
    for (; bench->wired[pin][others].device; others++)
        bench->wired[pin][others].device->shares = 1;
    device->shares |= others != 0;
    bench->wired[pin][others].device = device;
    bench->wired[pin][others].role = role;
    device->level[role] = bench->level[pin];
}

int dia_bench_add(struct dia_bench *bench, struct device *device,
                  const struct dia_device_setup *setup)
{
    if (!device)
        return -1;
    snprintf(device->name, sizeof device->name, "%s", setup->name);
    device->supply = setup->supply;
    device->findings = &bench->findings;
    device->answer = &bench->answer;
    if (bench->device_count == DEVICES || !pins_are_free(bench, device) || setup->supply < 0 ||
        setup->supply > bench->supply_count) {
        device->of->free(device);
        return -1;
    }
    for (uint8_t k = 0; k < DEVICE_PINS; k++) {
        if (device->pins[k] != DIA_NO_PIN)
            join(bench, device, k);
    }
    bench->devices[bench->device_count] = device;
    dia_bench_load(bench, device->supply, 0);
    return bench->device_count++;
}

static struct device *device_of(const struct dia_bench *bench, int device)
{
    return device >= 0 && device < bench->device_count ? bench->devices[device] : NULL;
}

const struct dia_lamps_shown *dia_bench_lamps(const struct dia_bench *bench, int device)
{
    return device_of(bench, device) ? &device_of(bench, device)->shown : NULL;
}

void dia_bench_expose(struct dia_bench *bench, int device, uint64_t t_ns)
{
    struct device *of = device_of(bench, device);
    if (of && of->of->expose)
        of->of->expose(of, t_ns);
    if (of)
        of->seen = 0;
}

void dia_bench_see(struct dia_bench *bench, int device, uint64_t t_ns)
{
    struct device *of = device_of(bench, device);
    if (!of)
        return;
    dia_bench_settle_device(bench, of, t_ns);
    of->seen = 1;
}

void dia_bench_answers(struct dia_bench *bench, dia_bench_drives *drive, void *self)
{
    bench->answer.drive = drive;
    bench->answer.self = self;
}

int dia_bench_keys(struct dia_bench *bench, int device, uint16_t keys)
{
    struct device *of = device_of(bench, device);
    if (!of || !of->of->keys)
        return -1;
    of->of->keys(of, keys);
    return 0;
}

const struct dia_cells_shown *dia_bench_cells(const struct dia_bench *bench, int device)
{
    const struct device *of = device_of(bench, device);
    return of && of->of->cells ? of->of->cells(of) : NULL;
}

int dia_bench_shift_fault(struct dia_bench *bench, int device, const struct dia_shift_fault *fault)
{
    struct device *of = device_of(bench, device);
    if (!of || !of->of->fault)
        return -1;
    of->of->fault(of, fault);
    return 0;
}
