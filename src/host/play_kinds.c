/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "play_device.h"

static size_t no_memory(const struct dia_rig_device *from)
{
    (void)from;
    return 0;
}

/* On or off, by output. */
static uint32_t on_or_off(const struct dia_rig_device *from, struct play_device *device)
{
    uint32_t lit = 0;
    for (uint32_t i = 0; i < from->lamps; i++) {
        uint8_t on = 0;
        dia_lamps_develop(&device->levels[i], 1, DIA_SHARE_ONE, 1, &on);
        device->outputs[from->output_of[i]] = on;
        lit += on;
    }
    return lit;
}

/* ---- matrix drivers ---------------------------------------------------------------------- */

static size_t matrix_memory(const struct dia_rig_device *from)
{
    return DIA_MATRIX_BYTES(from->count);
}

static int matrix_on_bench(struct dia_player *player, uint32_t number,
                           const struct dia_device_setup *setup)
{
    (void)number;
    return dia_bench_matrix(player->bench, setup);
}

static enum dia_status matrix_connect(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    const uint8_t *pins = from->pins;
    enum dia_status status =
        dia_sim_spi_pins(&player->sim, from->bus, pins[DIA_MATRIX_CLK], pins[DIA_MATRIX_DIN]);
    if (status != DIA_OK)
        return status;
    return dia_matrix_init(&device->driver.matrix, &player->sim.port,
                           strcmp(from->chip, "MAX7221") == 0 ? &dia_max7221 : &dia_max7219,
                           from->bus, pins[DIA_MATRIX_CS], from->clock_hz, device->memory,
                           (uint16_t)from->count);
}

/* Each of eight digits is lit for an eighth of the time; at most 31/32 of that. */
static uint64_t matrix_develop(const struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device)
{
    uint32_t lit = on_or_off(from, device);
    for (uint32_t i = 0; i < from->lamps; i++)
        dia_matrix_set(&device->driver.matrix, from->output_of[i],
                       device->outputs[from->output_of[i]]);
    dia_matrix_master(&device->driver.matrix, player->rig->master);
    return (uint64_t)lit * from->lamp_ua / 8 * (2u * device->driver.matrix.intensity + 2u) / 32;
}

/* Every so many frames all is sent again: what a disturbance has changed comes back. */
#define REFRESH_EVERY 8

static enum dia_status matrix_start(const struct dia_rig_device *from, struct play_device *device)
{
    (void)from;
    if (device->frames % REFRESH_EVERY == 0)
        dia_matrix_refresh(&device->driver.matrix);
    return dia_matrix_start(&device->driver.matrix);
}

static enum dia_status matrix_poll(struct play_device *device)
{
    return dia_matrix_poll(&device->driver.matrix);
}

static void matrix_dark(struct dia_player *player, struct play_device *device)
{
    struct dia_matrix *matrix = &device->driver.matrix;
    (void)player;
    while (dia_matrix_poll(matrix) == DIA_BUSY)
        ;
    dia_matrix_master(matrix, 0);
    dia_matrix_start(matrix);
    while (dia_matrix_poll(matrix) == DIA_BUSY)
        ;
}

/* ---- shift registers --------------------------------------------------------------------- */

static size_t shift_memory(const struct dia_rig_device *from)
{
    return DIA_SHIFT_BYTES(from->count, from->depth);
}

static int shift_on_bench(struct dia_player *player, uint32_t number,
                          const struct dia_device_setup *setup)
{
    int device = dia_bench_shift(player->bench, setup);
    dia_bench_shift_fault(player->bench, device, &player->desk->devices[number].shift);
    return device;
}

static uint32_t shift_tick(void *shift)
{
    return dia_shift_tick(shift);
}

static enum dia_status shift_connect(struct dia_player *player, const struct dia_rig_device *from,
                                     struct play_device *device)
{
    const uint8_t *pins = from->pins;
    struct dia_shift_setup setup = {
        .part = strcmp(from->chip, "74HCT595") == 0 ? &dia_74hct595 : &dia_74hc595,
        .data_pin = pins[DIA_SHIFT_SER],
        .clock_pin = pins[DIA_SHIFT_SRCLK],
        .latch_pin = pins[DIA_SHIFT_RCLK],
        .enable_pin = pins[DIA_SHIFT_OE] == DIA_NO_PIN ? DIA_NO_ENABLE : pins[DIA_SHIFT_OE],
        .bus = from->by_spi ? from->bus : DIA_SHIFT_BY_PINS,
        .depth = from->depth,
        .slices = from->slices,
        .clock_hz = from->clock_hz,
        .chips = (uint16_t)from->count,
        .unit_us = dia_slices_unit_us(from->refresh_mhz, from->depth),
    };
    enum dia_status status = DIA_OK;
    if (from->by_spi)
        status = dia_sim_spi_pins(&player->sim, from->bus, setup.clock_pin, setup.data_pin);
    if (status == DIA_OK)
        status = dia_shift_init(&device->driver.shift, &player->sim.port, &setup, device->memory);
    if (status == DIA_OK &&
        dia_sim_timer(&player->sim, shift_tick, &device->driver.shift, setup.unit_us) < 0)
        status = DIA_UNSUPPORTED;
    return status;
}

static uint64_t shift_develop(const struct dia_player *player, const struct dia_rig_device *from,
                              struct play_device *device)
{
    uint64_t sum = 0;
    for (uint32_t i = 0; i < from->lamps; i++) {
        uint8_t *step = &device->outputs[from->output_of[i]];
        dia_lamps_develop(&device->levels[i], 1, player->rig->master, from->depth, step);
        sum += *step;
    }
    uint32_t full = (1u << from->depth) - 1u;
    return (sum * from->lamp_ua + full - 1) / full + from->lamp_ua;
}

static enum dia_status shift_start(const struct dia_rig_device *from, struct play_device *device)
{
    (void)from;
    return dia_shift_show(&device->driver.shift, device->outputs);
}

static enum dia_status shift_poll(struct play_device *device)
{
    return dia_shift_poll(&device->driver.shift);
}

static void wait_for(struct dia_player *player, const volatile uint8_t *counter)
{
    uint8_t now = *counter;
    for (uint32_t us = 0; *counter == now && us < 1000000; us++)
        dia_sim_advance_us(&player->sim, 1);
}

static void look_for(struct dia_player *player, struct play_device *device,
                     const volatile uint8_t *counter)
{
    wait_for(player, counter);
    dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
    wait_for(player, counter);
    dia_bench_see(player->bench, device->on_bench, player->sim.now_ns);
}

static void shift_look(struct dia_player *player, struct play_device *device)
{
    look_for(player, device, &device->driver.shift.periods);
}

/* No tick comes any more: what is driven by it stays as it is left. */
static void stop_ticks(struct dia_player *player, const void *driver)
{
    for (uint8_t i = 0; i < player->sim.timer_count; i++) {
        if (player->sim.timers[i].self == driver)
            player->sim.timers[i].run = NULL;
    }
}

static void shift_dark(struct dia_player *player, struct play_device *device)
{
    stop_ticks(player, &device->driver.shift);
    dia_shift_dark(&device->driver.shift);
    dia_sim_advance_us(&player->sim, 1);
    dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
}

/* ---- digits straight from pins ------------------------------------------------------------ */

static int digits_on_bench(struct dia_player *player, uint32_t number,
                           const struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    struct dia_device_setup with = *setup;
    with.options = (there->anode ? DIA_DIGITS_ANODE : 0u) |
                   (there->transistors ? DIA_DIGITS_TRANSISTORS : 0u) |
                   (there->on_commons ? DIA_DIGITS_ON_COMMONS : 0u);
    return dia_bench_digits(player->bench, &with);
}

static uint32_t digits_tick(void *digits)
{
    return dia_digits_tick(digits);
}

static enum dia_status digits_connect(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    struct dia_digits_setup setup = {
        .digits = (uint8_t)from->digits,
        .common_anode = from->anode,
        .transistors = from->transistors,
        .resistors_on_commons = from->on_commons,
        .turn_us = dia_digits_turn_us(from->refresh_mhz, (uint8_t)from->digits, from->on_commons),
    };
    for (uint8_t k = 0; k < 8; k++) {
        setup.segment_pin[k] = from->pins[k] == DIA_NO_PIN ? DIA_NO_SEGMENT : from->pins[k];
        setup.common_pin[k] = from->pins[8 + k];
    }
    enum dia_status status = dia_digits_init(&device->driver.digits, &player->sim.port, &setup);
    if (status == DIA_OK &&
        dia_sim_timer(&player->sim, digits_tick, &device->driver.digits, 100) < 0)
        status = DIA_UNSUPPORTED;
    return status;
}

static uint64_t digits_develop(const struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device)
{
    uint32_t lit = on_or_off(from, device), turns = from->on_commons ? 8 : from->digits;
    device->driver.digits.master = player->rig->master;
    return (uint64_t)lit * from->lamp_ua / turns + 1;
}

static enum dia_status digits_start(const struct dia_rig_device *from, struct play_device *device)
{
    uint8_t segments[8] = {0};
    for (uint32_t i = 0; i < from->digits * 8; i++)
        segments[i / 8] |= (uint8_t)(device->outputs[i] << (i % 8));
    return dia_digits_show(&device->driver.digits, segments);
}

static enum dia_status digits_poll(struct play_device *device)
{
    return dia_digits_poll(&device->driver.digits);
}

static void digits_look(struct dia_player *player, struct play_device *device)
{
    look_for(player, device, &device->driver.digits.rounds);
}

static void digits_dark(struct dia_player *player, struct play_device *device)
{
    stop_ticks(player, &device->driver.digits);
    dia_digits_dark(&device->driver.digits);
    dia_sim_advance_us(&player->sim, 1);
    dia_bench_expose(player->bench, device->on_bench, player->sim.now_ns);
}

/* ---- panels -------------------------------------------------------------------------------- */

static int panel_on_bench(struct dia_player *player, uint32_t number,
                          const struct dia_device_setup *setup)
{
    (void)number;
    return dia_bench_panel(player->bench, setup);
}

static enum dia_status panel_connect(struct dia_player *player, const struct dia_rig_device *from,
                                     struct play_device *device)
{
    return dia_panel_init(&device->driver.panel, &player->sim.port,
                          strcmp(from->chip, "TM1637") == 0 ? &dia_tm1637 : &dia_tm1638,
                          from->pins[DIA_PANEL_STB], from->pins[DIA_PANEL_CLK],
                          from->pins[DIA_PANEL_DIO]);
}

/* Outputs are numbered as the memory of the chip. */
static uint64_t panel_develop(const struct dia_player *player, const struct dia_rig_device *from,
                              struct play_device *device)
{
    struct dia_panel *panel = &device->driver.panel;
    uint32_t lit = on_or_off(from, device), apart = panel->part->lamps ? 2 : 1;
    for (uint8_t digit = 0; digit < panel->part->digits; digit++) {
        const uint8_t *outputs = device->outputs + digit * 8 * apart;
        uint8_t segments = 0;
        for (uint8_t k = 0; k < 8; k++)
            segments |= (uint8_t)(outputs[k] << k);
        dia_panel_digit(panel, digit, segments);
        if (panel->part->lamps)
            dia_panel_lamp(panel, digit, outputs[8]);
    }
    dia_panel_master(panel, player->rig->master);
    return (uint64_t)lit * from->lamp_ua * 14 / 16 + 1;
}

static enum dia_status panel_start(const struct dia_rig_device *from, struct play_device *device)
{
    (void)from;
    if (device->frames % REFRESH_EVERY == 0)
        dia_panel_refresh(&device->driver.panel);
    return dia_panel_start(&device->driver.panel);
}

static enum dia_status panel_poll(struct play_device *device)
{
    return dia_panel_poll(&device->driver.panel);
}

static void panel_dark(struct dia_player *player, struct play_device *device)
{
    struct dia_panel *panel = &device->driver.panel;
    (void)player;
    while (dia_panel_poll(panel) == DIA_BUSY)
        ;
    dia_panel_master(panel, 0);
    dia_panel_start(panel);
    while (dia_panel_poll(panel) == DIA_BUSY)
        ;
}

/* ---- character displays -------------------------------------------------------------------- */

#define QUEUE 160u /* entries: a whole 20 x 4 and the start-up */

static size_t characters_memory(const struct dia_rig_device *from)
{
    (void)from;
    return QUEUE * sizeof(uint16_t);
}

static int characters_on_bench(struct dia_player *player, uint32_t number,
                               const struct dia_device_setup *setup)
{
    const struct dia_rig_device *there = &player->desk->rig.devices[number];
    const struct dia_desk_device *desk = &player->desk->devices[number];
    struct dia_glass glass = {.columns = there->columns,
                              .rows = there->rows,
                              .split = there->split,
                              .address = there->address,
                              .half = desk->half,
                              .oscillator_khz = desk->oscillator_khz,
                              .contrast_mv = desk->contrast_mv};
    return dia_bench_characters(player->bench, setup, &glass);
}

static enum dia_status characters_connect(struct dia_player *player,
                                          const struct dia_rig_device *from,
                                          struct play_device *device)
{
    struct dia_characters_setup setup = {
        .part = &dia_hd44780,
        .bus = from->lines,
        .rs_pin = from->pins[DIA_CHARACTERS_RS],
        .rw_pin = from->pins[DIA_CHARACTERS_RW] == DIA_NO_PIN ? DIA_NOT_WIRED
                                                              : from->pins[DIA_CHARACTERS_RW],
        .e_pin = from->pins[DIA_CHARACTERS_E],
        .i2c_bus = from->bus,
        .address = from->address,
        .columns = from->columns,
        .rows = from->rows,
        .split = from->split,
    };
    uint8_t first = from->lines == DIA_BUS_8_LINES ? 0 : 4;
    for (uint8_t k = 0; first + k < 8; k++)
        setup.data_pin[k] = from->pins[DIA_CHARACTERS_D0 + first + k];
    setup.oscillator_khz = (uint16_t)(from->oscillator_hz / 1000);
    enum dia_status status = DIA_OK;
    if (from->lines == DIA_BUS_EXPANDER)
        status = dia_sim_i2c_pins(&player->sim, from->bus, from->pins[DIA_CHARACTERS_SCL],
                                  from->pins[DIA_CHARACTERS_SDA]);
    return status == DIA_OK ? dia_characters_init(&device->driver.characters, &player->sim.port,
                                                  &setup, (uint16_t *)(void *)device->memory, QUEUE)
                            : status;
}

static uint64_t characters_develop(const struct dia_player *player,
                                   const struct dia_rig_device *from, struct play_device *device)
{
    (void)player;
    (void)device;
    return from->lamp_ua;
}

/* A row that changes is written whole, with spaces behind it. */
static enum dia_status characters_start(const struct dia_rig_device *from,
                                        struct play_device *device)
{
    for (uint8_t row = 0; row < from->rows; row++) {
        char line[41];
        if (device->text[row][0] && strcmp(device->text[row], device->written[row]) == 0)
            continue;
        snprintf(line, sizeof line, "%-40s", device->text[row]);
        if (device->text[row][0] || device->written[row][0])
            dia_characters_text(&device->driver.characters, 0, row, line, from->columns);
        memcpy(device->written[row], device->text[row], sizeof device->written[row]);
    }
    return DIA_OK;
}

static enum dia_status characters_poll(struct play_device *device)
{
    (void)device;
    return DIA_OK; /* it shows when its time comes: see characters_look */
}

static void characters_look(struct dia_player *player, struct play_device *device)
{
    uint32_t us;
    while ((us = dia_characters_pump(&device->driver.characters)) != 0)
        dia_sim_advance_us(&player->sim, us);
    dia_bench_settle(player->bench, player->sim.now_ns);
}

static void characters_dark(struct dia_player *player, struct play_device *device)
{
    struct dia_characters *characters = &device->driver.characters;
    characters->light = 0;
    while (dia_characters_show(characters, 0, 0, 0) == DIA_BUSY)
        characters_look(player, device);
    characters_look(player, device);
}

const struct play_kind play_kinds[] = {
    {matrix_memory, matrix_on_bench, matrix_connect, matrix_develop, matrix_start, matrix_poll,
     NULL, matrix_dark},
    {shift_memory, shift_on_bench, shift_connect, shift_develop, shift_start, shift_poll,
     shift_look, shift_dark},
    {no_memory, digits_on_bench, digits_connect, digits_develop, digits_start, digits_poll,
     digits_look, digits_dark},
    {no_memory, panel_on_bench, panel_connect, panel_develop, panel_start, panel_poll, NULL,
     panel_dark},
    {characters_memory, characters_on_bench, characters_connect, characters_develop,
     characters_start, characters_poll, characters_look, characters_dark},
};
