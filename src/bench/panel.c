/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "device.h"

/*
 * TM1638 and TM1637. Bytes come lowest bit first, each bit taken when CLK rises. With a TM1638 the
 * first byte after STB has fallen is a command; with a TM1637 a fall of DIO while CLK is high
 * starts, a rise stops, and the chip pulls DIO low in a ninth clock.
 *
 * Commands by their upper two bits: 01 data (bit 1: read keys, bit 2: address stays), 11 address,
 * 10 display (bit 3: on; bits 2..0: level). While keys are read, the chip sets the next bit of DIO
 * when CLK falls.
 *
 * Sheets: CLK low and high 400 ns, period 1 us, DIO 100 ns before and after the rising CLK, STB
 * high 1 us, 1 us from the last rising CLK to the rising STB, 1 us from the command to read to the
 * first CLK. A TM1637 has RAM for six digits.
 */
#define DIGITS          8
#define TWO_WIRE_DIGITS 6
struct panel {
    struct device device;
    int two_wire;
    uint8_t ram[16], address, stays, reads, lit, level;
    uint8_t byte, bits, first; /* being read; first: the next byte is a command */
    uint8_t active;
    uint64_t rise, fall, command_end;
    uint32_t out_bit;
    uint16_t keys;
    uint32_t lamp_ua;
    uint8_t wired[16]; /* which bits of the RAM a lamp hangs on */
    uint8_t changed;
};

static const uint8_t sixteenths[8] = {1, 2, 4, 10, 11, 12, 13, 14};

static void obey(struct panel *panel, uint8_t byte, uint64_t t)
{
    switch (byte >> 6) {
    case 1:
        panel->reads = byte >> 1 & 1;
        panel->stays = byte >> 2 & 1;
        panel->out_bit = 0;
        break;
    case 2:
        panel->lit = byte >> 3 & 1;
        panel->level = byte & 7;
        panel->changed = 1;
        break;
    case 3:
        panel->address = byte & 15;
        panel->reads = 0;
        break;
    default:
        dia_device_finds(&panel->device, "command", t,
                         "%02x is no command; those begin with 4, 8 or c", byte);
    }
    panel->command_end = t;
}

static void take(struct panel *panel, uint8_t byte, uint64_t t)
{
    if (panel->first) {
        panel->first = 0;
        obey(panel, byte, t);
    } else if (!panel->reads) {
        if (!panel->two_wire || panel->address < TWO_WIRE_DIGITS)
            panel->ram[panel->address] = byte;
        panel->changed = 1;
        if (!panel->stays)
            panel->address = (uint8_t)((panel->address + 1) & 15);
    }
}

static void begin(struct panel *panel)
{
    panel->active = 1;
    panel->first = 1;
    panel->bits = 0;
    panel->reads = 0;
    panel->rise = 0;
}

static void finish(struct panel *panel, uint64_t t)
{
    uint8_t rest = panel->two_wire ? 1 : 0; /* the clock that a stop takes */
    if (panel->active && panel->bits != rest)
        dia_device_finds(&panel->device, "word-part", t,
                         "the transmission ended after %u bits of a byte", panel->bits);
    if (panel->active && panel->changed) {
        panel->device.shown.frames++;
        panel->device.shown.latched_ns = t;
    }
    panel->active = 0;
    dia_device_drive(&panel->device, t, DIA_PANEL_DIO, 2);
}

static void clock_rises(struct panel *panel, uint64_t t)
{
    struct device *device = &panel->device;
    if (!panel->active)
        return;
    dia_device_lasts(device, "clock-fast", "a clock period", panel->rise, t, 1000);
    dia_device_lasts(device, "pulse-short", "a low of CLK", panel->fall, t, 400);
    panel->rise = t;
    if (panel->two_wire && panel->bits >= 8)
        return; /* the answer */
    if (!panel->reads || panel->first)
        dia_device_lasts(device, "set-up-short", "DIO before the rising CLK",
                         device->changed[DIA_PANEL_DIO], t, 100);
    panel->byte = (uint8_t)(panel->byte >> 1 | (device->level[DIA_PANEL_DIO] ? 0x80 : 0));
    panel->bits++;
    if (panel->bits == 8) {
        take(panel, panel->byte, t);
        if (!panel->two_wire)
            panel->bits = 0;
    }
}

/* Key k of the first four stands in bit 0 of byte k, of the others in bit 4 of byte k - 4. */
static uint8_t key_bit(const struct panel *panel, uint32_t n)
{
    uint32_t byte = n / 8, bit = n % 8;
    if (byte > 3 || bit % 4 != 0)
        return 0;
    return panel->keys >> (byte + (bit ? 4 : 0)) & 1;
}

static void clock_falls(struct panel *panel, uint64_t t)
{
    struct device *device = &panel->device;
    panel->fall = t;
    if (!panel->active)
        return;
    dia_device_lasts(device, "pulse-short", "a high of CLK", panel->rise, t, 400);
    if (panel->two_wire && panel->bits == 8) {
        /* the eighth clock falls: pull DIO low; the ninth: let it go */
        dia_device_drive(device, t + 100, DIA_PANEL_DIO, 0);
        panel->bits = 9;
    } else if (panel->two_wire && panel->bits == 9) {
        dia_device_drive(device, t + 100, DIA_PANEL_DIO, 2);
        panel->bits = 0;
    } else if (panel->reads && !panel->first) {
        if (panel->out_bit == 0)
            dia_device_lasts(device, "wait-short",
                             "the time from the command to the first bit read", panel->command_end,
                             t, 1000);
        dia_device_drive(device, t + 100, DIA_PANEL_DIO, key_bit(panel, panel->out_bit++) ? 2 : 0);
    }
}

static void edge(struct device *device, uint64_t t, uint8_t role, uint8_t level)
{
    struct panel *panel = (struct panel *)device;
    if (role == DIA_PANEL_STB && level) {
        if (panel->active)
            dia_device_lasts(device, "strobe-short",
                             "the time from the last rising CLK to the rising STB", panel->rise, t,
                             1000);
        finish(panel, t);
    } else if (role == DIA_PANEL_STB) {
        dia_device_lasts(device, "strobe-short", "a high of STB", device->changed[role], t, 1000);
        begin(panel);
    } else if (role == DIA_PANEL_CLK && level) {
        clock_rises(panel, t);
    } else if (role == DIA_PANEL_CLK) {
        clock_falls(panel, t);
    } else if (panel->two_wire && device->level[DIA_PANEL_CLK]) {
        if (level)
            finish(panel, t);
        else
            begin(panel);
    } else if (panel->active && !panel->reads && panel->rise != 0 && device->level[DIA_PANEL_CLK]) {
        dia_device_lasts(device, "hold-short", "DIO after the rising CLK", panel->rise, t, 100);
    }
}

static void settle(struct device *device, uint64_t t)
{
    struct panel *panel = (struct panel *)device;
    uint32_t duty = panel->lit ? sixteenths[panel->level] : 0, on = 0;
    (void)t;
    if (!panel->changed)
        return;
    panel->changed = 0;
    for (uint32_t i = 0; i < 128; i++) {
        uint32_t bit = (panel->ram[i / 8] & panel->wired[i / 8]) >> (i % 8) & 1;
        device->shown.level[i] = (uint16_t)(bit * duty * 65535 / 16);
        on += bit;
    }
    device->shown.draws_ua = (uint64_t)on * duty * panel->lamp_ua / 16;
}

static void free_panel(struct device *device)
{
    free(device->shown.level);
    free(device);
}

static void keys(struct device *device, uint16_t held)
{
    ((struct panel *)device)->keys = held;
}

/* Digits from the first on; with a TM1638 each has a single lamp too, on bit 0 of the odd address.
 */
static void wire(struct panel *panel, uint32_t digits)
{
    uint32_t most = panel->two_wire ? TWO_WIRE_DIGITS : DIGITS, each = panel->two_wire ? 1 : 2;
    digits = digits == 0 || digits > most ? most : digits;
    for (uint32_t i = 0; i < digits; i++)
        panel->wired[i * each] = 0xff;
    for (uint32_t i = 0; i < DIGITS && !panel->two_wire; i++)
        panel->wired[i * each + 1] = 1;
}

static const struct device_class class = {
    .edge = edge, .settle = settle, .free = free_panel, .keys = keys};

int dia_bench_panel(struct dia_bench *bench, const struct dia_device_setup *setup)
{
    int two_wire = strcmp(setup->part, "TM1637") == 0;
    if (!two_wire && strcmp(setup->part, "TM1638") != 0)
        return -1;
    struct panel *panel = calloc(1, sizeof *panel);
    if (!panel)
        return -1;
    panel->device.of = &class;
    panel->device.sheet =
        two_wire ? "TM1637 sheet, interface timing" : "TM1638 sheet, switching characteristics";
    panel->two_wire = two_wire;
    panel->lamp_ua = setup->lamp_ua;
    wire(panel, setup->count);
    memset(panel->device.pins, DIA_NO_PIN, sizeof panel->device.pins);
    memcpy(panel->device.pins, setup->pins, DIA_PANEL_PINS);
    if (two_wire)
        panel->device.pins[DIA_PANEL_STB] = DIA_NO_PIN;
    if (dia_device_lamps(&panel->device, 128) != 0) {
        free_panel(&panel->device);
        return -1;
    }
    memset(panel->ram, 0x5a, sizeof panel->ram); /* not cleared by power-up; the display is off */
    return dia_bench_add(bench, &panel->device, setup);
}
