/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "device.h"

/*
 * MAX7219 and MAX7221 in a chain. Every chip has a register of 16 bits that DIN goes through with
 * each rising clock and leaves for the next chip; when LOAD (CS) rises, each chip does what its
 * 16 bits say: bits 11..8 which register, bits 7..0 its value. A MAX7221 takes clocks only while
 * CS is low.
 *
 * Sheet: clock 10 MHz (100 ns), CLK high and low 50 ns, DIN before rising CLK 25 ns, CS high
 * 50 ns, CS low before the first rising CLK 25 ns.
 */
enum { NO_OP, DIGIT_0, DECODE = 9, INTENSITY, SCAN_LIMIT, SHUTDOWN, TEST = 15 };

struct chip {
    uint16_t shift;
    uint8_t digit[8];
    uint8_t decode, intensity, scan, on, test;
};

struct matrix {
    struct device device;
    int is_7221;
    uint32_t chips, lamp_ua;
    struct chip *chip;
    uint64_t rise; /* last rising clock */
    uint32_t bits; /* since CS fell */
    uint8_t changed;
};

/* Code B font of the sheet, for digits with their decode bit: segments A..G in bits 6..0. */
static const uint8_t code_b[16] = {0x7e, 0x30, 0x6d, 0x79, 0x33, 0x5b, 0x5f, 0x70,
                                   0x7f, 0x7b, 0x01, 0x4f, 0x37, 0x0e, 0x67, 0x00};

static void shift(struct matrix *matrix, uint8_t bit)
{
    for (uint32_t i = 0; i < matrix->chips; i++) {
        uint8_t out = (uint8_t)(matrix->chip[i].shift >> 15);
        matrix->chip[i].shift = (uint16_t)(matrix->chip[i].shift << 1 | bit);
        bit = out;
    }
    matrix->bits++;
}

static void obey(struct chip *chip)
{
    uint8_t address = chip->shift >> 8 & 15, value = (uint8_t)chip->shift;
    switch (address) {
    case NO_OP:
        break;
    case DECODE:
        chip->decode = value;
        break;
    case INTENSITY:
        chip->intensity = value & 15;
        break;
    case SCAN_LIMIT:
        chip->scan = value & 7;
        break;
    case SHUTDOWN:
        chip->on = value & 1;
        break;
    case TEST:
        chip->test = value & 1;
        break;
    default:
        if (address <= 8)
            chip->digit[address - DIGIT_0] = value;
    }
}

static void clock_rises(struct matrix *matrix, uint64_t t)
{
    struct device *device = &matrix->device;
    if (matrix->rise != 0 && t - matrix->rise < 100)
        dia_device_lasts(device, "clock-fast", "a clock period", matrix->rise, t, 100);
    dia_device_lasts(device, "pulse-short", "a low of CLK", device->changed[DIA_MATRIX_CLK], t, 50);
    dia_device_lasts(device, "set-up-short", "DIN before the rising CLK",
                     device->changed[DIA_MATRIX_DIN], t, 25);
    matrix->rise = t;
    if (device->level[DIA_MATRIX_CS]) {
        if (matrix->is_7221)
            return;
    } else {
        dia_device_lasts(device, "select-short", "CS low before the rising CLK",
                         device->changed[DIA_MATRIX_CS], t, 25);
    }
    shift(matrix, device->level[DIA_MATRIX_DIN]);
}

static void select_rises(struct matrix *matrix, uint64_t t)
{
    if (matrix->bits % 16 != 0)
        dia_device_finds(&matrix->device, "word-part", t,
                         "CS rose after %u bits; every chip takes words of 16",
                         (unsigned)matrix->bits);
    for (uint32_t i = 0; i < matrix->chips; i++)
        obey(&matrix->chip[i]);
    matrix->changed = 1;
    matrix->device.shown.frames++;
    matrix->device.shown.latched_ns = t;
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    struct matrix *matrix = (struct matrix *)device;
    if (role == DIA_MATRIX_CLK && level)
        clock_rises(matrix, t);
    else if (role == DIA_MATRIX_CLK)
        dia_device_lasts(device, "pulse-short", "a high of CLK", matrix->rise, t, 50);
    else if (role == DIA_MATRIX_CS && level)
        select_rises(matrix, t);
    else if (role == DIA_MATRIX_CS) {
        dia_device_lasts(device, "select-short", "a high of CS", device->changed[DIA_MATRIX_CS], t,
                         50);
        matrix->bits = 0;
    }
}

static uint8_t segments(const struct chip *chip, int digit)
{
    uint8_t value = chip->digit[digit];
    if (chip->test)
        return 0xff;
    if (!chip->on || digit > chip->scan)
        return 0;
    return chip->decode >> digit & 1 ? (uint8_t)(code_b[value & 15] | (value & 0x80)) : value;
}

/* In 32nds of a digit's time; the test runs at full intensity. */
static uint32_t duty(const struct matrix *matrix, const struct chip *chip)
{
    uint32_t n = chip->test ? 15 : chip->intensity;
    if (matrix->is_7221)
        return n == 15 ? 30 : 2 * n + 2;
    return 2 * n + 1;
}

static void settle(struct device *device, uint64_t t)
{
    struct matrix *matrix = (struct matrix *)device;
    uint64_t sum = 0;
    (void)t;
    if (!matrix->changed)
        return;
    matrix->changed = 0;
    for (uint32_t i = 0; i < matrix->chips; i++) {
        const struct chip *chip = &matrix->chip[i];
        uint32_t lit = duty(matrix, chip), turns = chip->test ? 8u : chip->scan + 1u;
        for (int digit = 0; digit < 8; digit++) {
            uint8_t on = segments(chip, digit);
            for (int bit = 0; bit < 8; bit++, on >>= 1) {
                device->shown.level[i * 64 + (uint32_t)digit * 8 + (uint32_t)bit] =
                    (uint16_t)(on & 1 ? lit * 65535 / 32 : 0);
                sum += (uint64_t)(on & 1) * lit * matrix->lamp_ua / (32 * turns);
            }
        }
    }
    device->shown.draws_ua = sum;
}

static void free_matrix(struct device *device)
{
    struct matrix *matrix = (struct matrix *)device;
    free(device->shown.level);
    free(matrix->chip);
    free(matrix);
}

static void bit(struct device *device, uint8_t bit)
{
    struct matrix *matrix = (struct matrix *)device;
    if (!matrix->is_7221 || !device->level[DIA_MATRIX_CS])
        shift(matrix, bit);
}

static const struct device_class class = {
    .edge = edge, .settle = settle, .free = free_matrix, .bit = bit, .half_ns = 50};

int dia_bench_matrix(struct dia_bench *bench, const struct dia_device_setup *setup)
{
    int is_7221 = strcmp(setup->part, "MAX7221") == 0;
    if (setup->count == 0 || (!is_7221 && strcmp(setup->part, "MAX7219") != 0))
        return -1;
    struct matrix *matrix = calloc(1, sizeof *matrix);
    if (!matrix)
        return -1;
    matrix->device.of = &class;
    matrix->device.sheet = "MAX7219/MAX7221 sheet, timing characteristics";
    matrix->device.bus_roles = 1u << DIA_MATRIX_DIN | 1u << DIA_MATRIX_CLK;
    matrix->is_7221 = is_7221;
    matrix->chips = setup->count;
    matrix->lamp_ua = setup->lamp_ua;
    matrix->chip = calloc(setup->count, sizeof *matrix->chip);
    memset(matrix->device.pins, DIA_NO_PIN, sizeof matrix->device.pins);
    memcpy(matrix->device.pins, setup->pins, DIA_MATRIX_PINS);
    if (!matrix->chip || dia_device_lamps(&matrix->device, setup->count * 64) != 0) {
        free_matrix(&matrix->device);
        return -1;
    }
    /* after power-up a chip is shut down; what its digits hold is anybody's guess */
    for (uint32_t i = 0; i < setup->count; i++) {
        memset(matrix->chip[i].digit, 0xa5, 8);
        matrix->chip[i].scan = 7;
        matrix->chip[i].decode = 0xff;
    }
    return dia_bench_add(bench, &matrix->device, setup);
}
