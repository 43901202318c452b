/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "check_devices.h"

static const struct dia_matrix_part *matrix_part(const struct dia_rig_device *device)
{
    return strcmp(device->chip, "MAX7221") == 0 ? &dia_max7221 : &dia_max7219;
}

static const struct dia_shift_part *shift_part(const struct dia_rig_device *device)
{
    return strcmp(device->chip, "74HCT595") == 0 ? &dia_74hct595 : &dia_74hc595;
}

static const struct dia_panel_part *panel_part(const struct dia_rig_device *device)
{
    return strcmp(device->chip, "TM1637") == 0 ? &dia_tm1637 : &dia_tm1638;
}

struct device_levels check_levels(const struct dia_rig_device *device, uint32_t supply_mv)
{
    switch (device->kind) {
    case DIA_KIND_MATRIX: {
        const struct dia_matrix_part *part = matrix_part(device);
        return (struct device_levels){part->supply_min_mv, part->supply_max_mv, part->input_high_mv,
                                      part->source};
    }
    case DIA_KIND_SHIFT: {
        const struct dia_shift_part *part = shift_part(device);
        uint32_t high = part->input_high_mv ? part->input_high_mv
                                            : supply_mv * part->input_high_permille / 1000;
        return (struct device_levels){part->supply_min_mv, part->supply_max_mv, high, part->source};
    }
    case DIA_KIND_PANEL: {
        const struct dia_panel_part *part = panel_part(device);
        return (struct device_levels){part->supply_min_mv, part->supply_max_mv,
                                      supply_mv * part->input_high_permille / 1000, part->source};
    }
    case DIA_KIND_CHARACTERS:
        return (struct device_levels){dia_hd44780.supply_min_mv, dia_hd44780.supply_max_mv,
                                      dia_hd44780.input_high_mv, dia_hd44780.source};
    default:
        return (struct device_levels){0, 60000, 0, ""};
    }
}

/* A master as the share of light it lets through, in thousandths. */
static uint32_t permille(dia_share master)
{
    return master * 1000u / DIA_SHARE_ONE;
}

static void matrix(struct dia_check_device *c, const struct dia_rig *rig,
                   const struct dia_rig_device *device)
{
    const struct dia_matrix_part *part = matrix_part(device);
    uint32_t intensity = (uint32_t)rig->master * 31u >> 16;
    uint32_t of_32 = part->duty[0] + 2u * intensity;
    of_32 = of_32 > part->duty[1] ? part->duty[1] : of_32;
    c->bits = 8u * 16u * device->count;
    c->refresh_mhz = part->scan_hz[1] * 1000u;
    c->duty_permille = of_32 * 1000u / 32u / 8u;
    c->ram_bytes = DIA_MATRIX_ROWS(device->count) + DIA_MATRIX_BYTES(device->count) +
                   (uint32_t)sizeof(struct dia_matrix);
    c->output_ua = device->lamp_ua;
    c->chip_ua = 8u * device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua / 8u * of_32 / 32u;
}

static void shift(struct dia_check_device *c, const struct dia_rig *rig,
                  const struct dia_rig_device *device)
{
    uint32_t unit_us = dia_slices_unit_us(device->refresh_mhz, device->depth);
    uint32_t units = (1u << device->depth) - 1u, cycles;
    uint32_t ticks = dia_slices_count(device->slices, device->depth);
    uint32_t on_chip[256] = {0}, most = 0;
    for (uint32_t i = 0; i < device->lamps; i++) {
        uint32_t n = ++on_chip[device->output_of[i] / 8];
        most = n > most ? n : most;
    }
    c->bits = 8u * device->count * device->depth;
    c->refresh_mhz = 1000000000u / (unit_us * units);
    c->duty_permille = permille(rig->master);
    c->tick_mhz = (uint32_t)((uint64_t)c->refresh_mhz * ticks);
    cycles = DIA_TICK_ENTER + (device->by_spi ? DIA_TICK_SPI + device->count * DIA_TICK_SPI_CHIP
                                              : DIA_TICK_PINS + device->count * DIA_TICK_PINS_CHIP);
    if (device->shares) /* the tick waits for its bits */
        cycles += (uint32_t)(8ull * device->count * rig->controller.clock_hz / device->clock_hz);
    c->tick_permille = (uint32_t)((uint64_t)c->tick_mhz * cycles / rig->controller.clock_hz);
    c->ram_bytes = DIA_SHIFT_LEVELS(device->count) + DIA_SHIFT_BYTES(device->count, device->depth) +
                   (uint32_t)sizeof(struct dia_shift);
    c->output_ua = device->lamp_ua;
    c->chip_ua = most * device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua * permille(rig->master) / 1000u;
}

static void digits(struct dia_check_device *c, const struct dia_rig *rig,
                   const struct dia_rig_device *device)
{
    uint32_t turns = device->on_commons ? 8u : device->digits;
    uint32_t turn_us =
        dia_digits_turn_us(device->refresh_mhz, (uint8_t)device->digits, device->on_commons);
    c->refresh_mhz = 1000000000u / (turn_us * turns);
    c->duty_permille = permille(rig->master) / turns;
    c->tick_mhz = c->refresh_mhz * (turns + (rig->master != DIA_SHARE_ONE));
    c->tick_permille = (uint32_t)((uint64_t)c->tick_mhz * (DIA_TICK_DIGITS + DIA_TICK_ENTER) /
                                  rig->controller.clock_hz);
    c->ram_bytes = device->digits + (uint32_t)sizeof(struct dia_digits);
    c->output_ua = device->lamp_ua;
    /* what a common carries: all segments of a digit, or with resistors on the commons one */
    c->chip_ua = device->on_commons ? device->lamp_ua : 8u * device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua / turns * permille(rig->master) / 1000u;
}

static void panel(struct dia_check_device *c, const struct dia_rig *rig,
                  const struct dia_rig_device *device)
{
    const struct dia_panel_part *part = panel_part(device);
    (void)rig;
    /* 0x40; 0xc0 and the data; the light; 0x42 and four bytes of keys */
    c->bits = part->lamps ? 8u * (1 + 17 + 1 + 5) : 9u * (1u + 1u + part->digits + 1u);
    c->duty_permille = 875;
    c->ram_bytes = DIA_PANEL_DRAWING + (uint32_t)sizeof(struct dia_panel);
    c->output_ua = device->lamp_ua;
    c->chip_ua = 8u * device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua * 14u / 16u;
}

/* A whole new text: each row its place and its characters, with the safe waits. */
static void characters(struct dia_check_device *c, const struct dia_rig *rig,
                       const struct dia_rig_device *device)
{
    uint32_t places = (uint32_t)device->columns * device->rows, entries = places + device->rows;
    uint32_t entry_us = dia_hd44780.write_us + 11u;
    (void)rig;
    if (device->lines == DIA_BUS_EXPANDER)
        entry_us += 10u * (9u * 5u + 3u); /* 100 kHz: address and four bytes */
    c->bits = entries * 8u;
    c->frame_ns = entries * entry_us * 1000ull;
    c->duty_permille = 1000;
    c->ram_bytes = places * 2u + (uint32_t)sizeof(struct dia_characters);
    c->drawn_ua = device->lamp_ua;
}

void check_devices(struct dia_check *check, const struct dia_rig *rig)
{
    static void (*const of_kind[])(struct dia_check_device *, const struct dia_rig *,
                                   const struct dia_rig_device *) = {matrix, shift, digits, panel,
                                                                     characters};
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct dia_check_device *c = &check->devices[i];
        of_kind[rig->devices[i].kind](c, rig, &rig->devices[i]);
        c->rate_mhz = c->frame_ns ? (uint32_t)(1000000000000u / c->frame_ns) : 0;
        if (check->rate_mhz == 0)
            check->rate_mhz = c->rate_mhz;
        check->frame_ram += c->ram_bytes;
        check->tick_permille += c->tick_permille;
    }
}
