/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "bringup_device.h"
#include "contexts.h"
#include "check_limits.h"
#include "family_read.h"
#include "fault_kinds.h"
#include "host_private.h"
#include "player_private.h"
#include "rig_wire.h"

/* MAX7219, MAX7221: dots, or digits of seven segments. */

static const struct family_part parts[] = {
    {"MAX7219", &dia_max7219}, {"MAX7221", &dia_max7221}, {NULL, NULL}};
static const char *const roles[] = {"din", "clk", "cs", NULL};
static const uint8_t wires[DIA_RIG_PINS] = {FAMILY_SPI_DATA, FAMILY_SPI_CLOCK};

/* clang-format off */
static const struct field matrix_fields[] = {
    COMMON, SPI, SHIFTER, TEXT, PITCH, CURRENT("segment_current", 40000), RESISTOR,
    {"chips", HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 32,       AT(chips),    "4"},
    {"clock", HOLDS_QUANTITY, 0, DIA_CLOCK,  1000, 10000000, AT(clock_hz), "1 MHz"},
    {"rows",  HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 4,        AT(rows),     "2"},
    {"turn",  HOLDS_QUANTITY, 0, DIA_NUMBER, 0, 270,      AT(turn),     "90"},
    MORE("shows", "dots"), MORE("mirrored", "yes"), MORE("first", "left"), MORE("serpentine", "yes"),
    {0},
};
/* clang-format on */

static enum dia_route route(const struct dia_rig_device *device)
{
    (void)device;
    return DIA_ON_SPI;
}

static void wire(struct dia_rig_device *device)
{
    uint32_t across = device->count / (device->module_rows ? device->module_rows : 1);
    dia_family_wire_digits(device);
    for (uint32_t i = 0; i < device->lamps; i++)
        device->output_of[i] = (uint16_t)dia_matrix_segment(
            &device->wiring, (uint16_t)device->count, 8, (uint16_t)(i / 8), (uint8_t)(i % 8));
    if (device->digits)
        return;
    device->lamps = device->count * 64;
    for (uint32_t i = 0; i < device->lamps; i++) {
        uint32_t columns = across * 8, row = i / columns, of = row / 8;
        struct dia_matrix_wiring wiring = device->wiring;
        wiring.from_right ^= (uint8_t)(device->serpentine && of % 2);
        device->place_of[i] = (uint16_t)(i % columns);
        device->output_of[i] =
            (uint16_t)(of * across * 64 + dia_matrix_dot(&wiring, (uint16_t)across,
                                                         (uint16_t)(i % columns),
                                                         (uint8_t)(row % 8)));
    }
}

/* Modules one above the other: the chain goes through row after row of them, from the top. */
static enum dia_status read_rows(struct rig_reader *reader, const struct tree_node *node,
                                 const struct device_words *words, struct dia_rig_device *device,
                                 uint8_t digits)
{
    const struct tree_node *rows = dia_tree_get(node, "rows"),
                           *serpentine = dia_tree_get(node, "serpentine");
    device->module_rows = (uint8_t)(words->rows ? words->rows : 1);
    if (digits && (rows || serpentine))
        return dia_rig_wrong_key(reader, rows ? rows : serpentine, "'%s' is for 'shows: dots'",
                                 rows ? "rows" : "serpentine");
    if (device->count % device->module_rows)
        return dia_rig_wrong_value(reader, rows, "%u modules do not make %u rows",
                                   (unsigned)device->count, (unsigned)device->module_rows);
    return DIA_OK;
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const shows[] = {"dots", "digits", NULL};
    uint8_t digits = 0;
    device->clock_hz = device->clock_hz ? device->clock_hz : 1000000;
    enum dia_status status =
        dia_rig_read_choice(reader, dia_tree_get(node, "shows"), "'shows'", shows, &digits);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(node, "mirrored"), "'mirrored'",
                                     dia_family_no_yes, &device->wiring.mirrored);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(node, "first"), "'first'",
                                     dia_family_ends, &device->wiring.from_right);
    if (status == DIA_OK)
        status = dia_rig_read_choice(reader, dia_tree_get(node, "serpentine"), "'serpentine'",
                                     dia_family_no_yes, &device->serpentine);
    if (status == DIA_OK)
        status = read_rows(reader, node, words, device, digits);
    if (status != DIA_OK)
        return status;
    if (words->turn % 90 != 0)
        return dia_rig_wrong_value(reader, dia_tree_get(node, "turn"),
                                   "'turn' is 0, 90, 180 or 270 (degrees clockwise)");
    device->wiring.turn = (uint8_t)(words->turn / 90);
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 40000;
    if (digits) {
        device->digits = device->count * 8;
        wire(device);
        status = dia_family_place(reader, node, words, device, device->digits, 12000);
        return status == DIA_OK ? dia_family_text(reader, node, device, 1, device->digits) : status;
    }
    if (dia_tree_get(node, "text"))
        return dia_rig_wrong_key(reader, dia_tree_get(node, "text"),
                                 "'text' is for digits; with 'shows: dots' looks are shown");
    wire(device);
    return dia_family_place(reader, node, words, device, device->count / device->module_rows * 8,
                            4000);
}

/* ---- at play --------------------------------------------------------------------------------- */

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = DIA_MATRIX_ROWS(from->count);
    *memory = DIA_MATRIX_BYTES(from->count);
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    (void)number;
    return dia_bench_matrix(player->bench, setup);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    const uint8_t *pins = from->pins;
    enum dia_status status =
        dia_play_spi(player, from->bus, from->spi, pins[DIA_MATRIX_CLK], pins[DIA_MATRIX_DIN]);
    if (status != DIA_OK)
        return status;
    return dia_matrix_init((struct dia_matrix *)device->driver, player->port, from->part, from->bus,
                           pins[DIA_MATRIX_CS], from->clock_hz, device->drawing, device->memory,
                           (uint16_t)from->count);
}

/* ---- limits ---------------------------------------------------------------------------------- */

static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    const struct dia_matrix_part *part = sheet;
    (void)supply_mv;
    return (struct family_levels){.supply_min_mv = part->supply_min_mv,
                                  .supply_max_mv = part->supply_max_mv,
                                  .input_high_mv = part->input_high_mv,
                                  .source = part->source};
}

static int reading(const struct dia_rig_device *device, struct family_reading *reading)
{
    (void)device;
    *reading = (struct family_reading){
        .data = DIA_MATRIX_DIN, .clock = DIA_MATRIX_CLK, .frame = DIA_MATRIX_CS, .bits = 16};
    return 1;
}

/* Registers by the sheet: digits 1 to 8, which are rows here, then those that set it up. */
static void says(const struct dia_rig_device *device, const struct family_word *word, char text[24])
{
    static const char *const names[] = {"decode", "intensity", "scan limit"};
    unsigned address = word->value >> 8 & 15, value = word->value & 255;
    (void)device;
    if (address == 0)
        snprintf(text, 24, "no-op");
    else if (address <= 8)
        snprintf(text, 24, "row %u = %02x", address, value);
    else if (address <= 11)
        snprintf(text, 24, "%s %u", names[address - 9], value);
    else if (address == 12)
        snprintf(text, 24, value & 1 ? "on" : "off");
    else
        snprintf(text, 24, address == 15 ? "test %u" : "? %04x",
                 address == 15 ? value & 1 : word->value & 0xffff);
}

/* A row of each chip at a time. */
static void lit(const struct dia_rig_device *device, uint32_t lamp, struct family_lit *lit)
{
    const struct dia_matrix_part *part = device->part;
    *lit = (struct family_lit){part->scan_hz[1] * 1000u, 8, device->output_of[lamp] / 8u % 8u};
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    const struct dia_matrix_part *part = device->part;
    uint32_t intensity = (uint32_t)rig->master * 31u >> 16;
    uint32_t of_32 = part->duty[0] + 2u * intensity;
    of_32 = of_32 > part->duty[1] ? part->duty[1] : of_32;
    c->bits = 8u * 16u * device->count;
    c->refresh_mhz = part->scan_hz[1] * 1000u;
    c->duty_permille = of_32 * 1000u / 32u / 8u;
    c->ram_bytes = DIA_MATRIX_ROWS(device->count) + DIA_MATRIX_BYTES(device->count) +
                   CONTEXT_BYTES(rig, matrix);
    c->output_ua = device->lamp_ua;
    c->chip_ua = 8u * device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua / 8u * of_32 / 32u;
}

/* ---- faults and questions -------------------------------------------------------------------- */

static enum dia_status mirrored(struct dia_desk *desk, const struct said *said,
                                struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    (void)wrong;
    device->wiring.mirrored = !device->wiring.mirrored;
    wire(device);
    return DIA_OK;
}

static enum dia_status turned(struct dia_desk *desk, const struct said *said,
                              struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    uint32_t degrees = 0;
    if (dia_fault_number(said, said->first, 90, 270, &degrees, wrong) != DIA_OK ||
        degrees % 90 != 0)
        return dia_host_wrong(wrong, "fault '%s: turned' takes 90, 180 or 270; found '%s'",
                              said->target, said->first ? said->first : "nothing");
    device->wiring.turn = (uint8_t)((device->wiring.turn + degrees / 90) % 4);
    wire(device);
    return DIA_OK;
}

static const struct fault_kind own_faults[] = {
    {"mirrored", OF_DEVICE, mirrored}, {"turned", OF_DEVICE, turned}, {NULL, 0, NULL}};

static int reverse(struct dia_rig_device *device)
{
    device->wiring.from_right = !device->wiring.from_right;
    wire(device);
    return 1;
}

static int ask(struct run *run)
{
    return dia_device_believed(run)->digits ? dia_bringup_digits(run) : dia_bringup_dots(run);
}

const struct dia_rig_family dia_family_matrix = {
    .parts = parts,
    .what = "modules of dots",
    .roles = roles,
    .wires = wires,
    .fields = matrix_fields,
    .read = read,
    .needs_pin = dia_family_needs_all,
    .route = route,
    .wire = wire,
    .lies = DIA_LIES_DOTS,
    .is_chain = 1,
    .lit = lit,
    .reading = reading,
    .says = says,
    .driver_bytes = sizeof(struct dia_matrix),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .refresh_every = FAMILY_REFRESH_EVERY,
    .sets_current = 1,
    .levels = levels,
    .numbers = numbers,
    .faults = own_faults,
    .reverse = reverse,
    .ask = ask,
};
