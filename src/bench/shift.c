/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "lit.h"

/*
 * 74HC595 in a chain: SER is taken in with each rising SRCLK and moves on by one output, from QA
 * to QH and then into the next chip; when RCLK rises, all outputs take what stands before them;
 * they are lit while OE is low.
 *
 * Sheet, 4.5 V, -40 to 85 C: SRCLK 24 MHz (41 ns) and high 20 ns, SER 25 ns before it rises, RCLK
 * high 20 ns, SRCLK 25 ns before RCLK (choice: as SER).
 */
struct shift {
    struct device device;
    uint32_t outputs;
    uint8_t *stage; /* a ring: output k stands at (head + k) % outputs */
    uint32_t head;
    uint64_t clocks; /* since the last latch */
    uint64_t rise, latched;
    uint8_t *held; /* behind the latch */
    uint32_t lamp_ua;
    uint8_t sinks;
    struct dia_shift_turns turns; /* digits: 0: each output is a lamp */
    struct lit lit;
    struct dia_shift_fault fault;
};

static void bit(struct device *device, uint8_t bit)
{
    struct shift *shift = (struct shift *)device;
    shift->head = (shift->head ? shift->head : shift->outputs) - 1;
    shift->stage[shift->head] = bit;
    shift->clocks++;
}

static void clock_rises(struct shift *shift, uint64_t t)
{
    struct device *device = &shift->device;
    dia_device_lasts(device, "clock-fast", "a clock period", shift->rise, t, 41);
    dia_device_lasts(device, "set-up-short", "SER before the rising SRCLK",
                     device->changed[DIA_SHIFT_SER], t, 25);
    shift->rise = t;
    bit(device, device->level[DIA_SHIFT_SER]);
}

enum { FLOATS = 2 };

/* What an output is at: 0, 1, or nothing drives it. */
static uint8_t output(const struct shift *shift, uint32_t i)
{
    if ((int)i == shift->fault.stuck_output)
        return shift->fault.stuck_level;
    if (i >= shift->outputs || shift->device.level[DIA_SHIFT_OE])
        return FLOATS;
    return shift->held[i] != 0;
}

/* A transistor at a common turns the level round; one whose base floats is off. */
static uint8_t common_conducts(const struct shift *shift, uint32_t digit)
{
    uint8_t level = output(shift, shift->turns.common[digit]);
    if (level == FLOATS)
        return 0;
    return (level ^ shift->turns.inverted) == shift->turns.anode;
}

/* From a lamp of a digit to the same of the next. */
static uint32_t stride(const struct dia_shift_turns *turns)
{
    return turns->segments > 8 ? 24 : 8;
}

static void light_digits(struct shift *shift, uint64_t t)
{
    for (uint32_t d = 0; d < shift->turns.digits; d++) {
        uint8_t common = common_conducts(shift, d);
        for (uint32_t s = 0; s < shift->turns.segments; s++) {
            uint8_t lights = shift->turns.segment[s] != DIA_TURNS_NO_OUTPUT &&
                             output(shift, shift->turns.segment[s]) == !shift->turns.anode;
            dia_lit_set(&shift->lit, d * stride(&shift->turns) + s, common && lights ? LIT_FULL : 0,
                        t);
        }
    }
}

static void light(struct shift *shift, uint64_t t)
{
    if (shift->turns.digits) {
        light_digits(shift, t);
        return;
    }
    for (uint32_t i = 0; i < shift->outputs; i++)
        dia_lit_set(&shift->lit, i, output(shift, i) == !shift->sinks ? LIT_FULL : 0, t);
}

static void latch_rises(struct shift *shift, uint64_t t)
{
    struct device *device = &shift->device;
    dia_device_lasts(device, "set-up-short", "SRCLK before the rising RCLK", shift->rise, t, 25);
    if (!device->shares && shift->clocks % shift->outputs != 0) /* else some are of others */
        dia_device_finds(device, "word-part", t, "RCLK rose after %u bits; the chain takes %u",
                         (unsigned)shift->clocks, (unsigned)shift->outputs);
    for (uint32_t i = 0, at = shift->head; i < shift->outputs; i++, at++) {
        at = at == shift->outputs ? 0 : at;
        if ((int)(i / 8) != shift->fault.deaf_chip)
            shift->held[i] = shift->stage[at];
    }
    shift->clocks = 0;
    shift->latched = t;
    device->shown.frames++;
    device->shown.latched_ns = t;
    light(shift, t);
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    struct shift *shift = (struct shift *)device;
    if (role == DIA_SHIFT_SRCLK && level)
        clock_rises(shift, t);
    else if (role == DIA_SHIFT_SRCLK)
        dia_device_lasts(device, "pulse-short", "a high of SRCLK", shift->rise, t, 20);
    else if (role == DIA_SHIFT_RCLK && level)
        latch_rises(shift, t);
    else if (role == DIA_SHIFT_RCLK)
        dia_device_lasts(device, "pulse-short", "a high of RCLK", shift->latched, t, 20);
    else if (role == DIA_SHIFT_OE)
        light(shift, t);
}

static void settle(struct device *device, uint64_t t)
{
    struct shift *shift = (struct shift *)device;
    dia_lit_settle(&shift->lit, t, shift->lamp_ua, &device->shown);
}

static void expose(struct device *device, uint64_t t)
{
    dia_lit_expose(&((struct shift *)device)->lit, t);
}

static void free_shift(struct device *device)
{
    struct shift *shift = (struct shift *)device;
    free(device->shown.level);
    free(shift->stage);
    free(shift->held);
    dia_lit_free(&shift->lit);
    free(shift);
}

static void fault(struct device *device, const struct dia_shift_fault *of)
{
    ((struct shift *)device)->fault = *of;
    light((struct shift *)device, device->changed[DIA_SHIFT_RCLK]);
}

static const struct device_class class = {.edge = edge,
                                          .settle = settle,
                                          .expose = expose,
                                          .free = free_shift,
                                          .fault = fault,
                                          .bit = bit,
                                          .half_ns = 25};

int dia_bench_shift(struct dia_bench *bench, const struct dia_device_setup *setup)
{
    if (setup->count == 0 ||
        (strcmp(setup->part, "74HC595") != 0 && strcmp(setup->part, "74HCT595") != 0))
        return -1;
    struct shift *shift = calloc(1, sizeof *shift);
    if (!shift)
        return -1;
    shift->device.of = &class;
    shift->device.sheet = "74HC595 sheet, timing requirements at 4.5 V";
    shift->device.bus_roles = 1u << DIA_SHIFT_SER | 1u << DIA_SHIFT_SRCLK;
    shift->outputs = setup->count * 8;
    shift->lamp_ua = setup->lamp_ua;
    shift->sinks = (setup->options & DIA_SHIFT_SINKS) != 0;
    shift->fault = (struct dia_shift_fault){-1, 0, -1};
    shift->stage = calloc(shift->outputs, 1);
    shift->held = calloc(shift->outputs, 1);
    if (setup->turns)
        shift->turns = *setup->turns;
    uint32_t lamps = setup->turns ? shift->turns.digits * stride(&shift->turns) : shift->outputs;
    memset(shift->device.pins, DIA_NO_PIN, sizeof shift->device.pins);
    memcpy(shift->device.pins, setup->pins, DIA_SHIFT_PINS);
    if (!shift->stage || !shift->held || shift->turns.digits > 16 || shift->turns.segments > 17 ||
        dia_lit_init(&shift->lit, lamps) != 0 || dia_device_lamps(&shift->device, lamps) != 0) {
        free_shift(&shift->device);
        return -1;
    }
    /* after power-up the latches hold anything */
    for (uint32_t i = 0; i < shift->outputs; i++)
        shift->held[i] = i % 3 == 0;
    light(shift, 0);
    return dia_bench_add(bench, &shift->device, setup);
}
