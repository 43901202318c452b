/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "rig_device.h"
#include "rig_layout.h"
#include "rig_wire.h"

/* clang-format off */
#define AT(field) offsetof(struct device_words, field)
#define COMMON                                                                                     \
    {"chip",            HOLDS_MORE,     1, DIA_NUMBER,  0, 0,              0,            "MAX7219"},  \
    {"pins",            HOLDS_MORE,     1, DIA_NUMBER,  0, 0,              0,            "{ din: 10, clk: 11, cs: 12 }"}, \
    {"at",              HOLDS_MORE,     0, DIA_NUMBER,  0, 0,              0,            "{ x: 120 mm, y: 40 mm }"},      \
    {"supply",          HOLDS_TEXT,     1, DIA_NUMBER,  0, DIA_RIG_NAME,   AT(supply),   "main"},     \
    {"colour",          HOLDS_TEXT,     0, DIA_NUMBER,  0, 16,             AT(colour),   "red"}
#define TEXT    {"text",  HOLDS_MORE,   0, DIA_NUMBER, 0, 0, 0, "\"12.34\""}
#define PITCH   {"pitch", HOLDS_QUANTITY, 0, DIA_LENGTH, 100, 10000000, AT(pitch_um), "4 mm"}
#define SHIFTER {"shifter", HOLDS_QUANTITY, 0, DIA_VOLTAGE, 1000, 30000, AT(shifter_mv), "5 V"}
#define MORE(key, example) {key, HOLDS_MORE, 0, DIA_NUMBER, 0, 0, 0, example}
#define CURRENT(key, most) {key, HOLDS_QUANTITY, 0, DIA_CURRENT, 100, most, AT(lamp_ua), "5 mA"}

static const struct field matrix_fields[] = {
    COMMON, SHIFTER, TEXT, PITCH, CURRENT("segment_current", 40000),
    {"chips", HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 32,       AT(chips),    "4"},
    {"clock", HOLDS_QUANTITY, 1, DIA_CLOCK,  1000, 10000000, AT(clock_hz), "1 MHz"},
    {"turn",  HOLDS_QUANTITY, 0, DIA_NUMBER, 0, 270,      AT(turn),     "90"},
    MORE("shows", "dots"), MORE("mirrored", "yes"), MORE("first", "left"),
    {0},
};
static const struct field shift_fields[] = {
    COMMON, SHIFTER, PITCH, CURRENT("lamp_current", 35000),
    {"chips",   HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 255,      AT(chips),       "3"},
    {"lamps",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 2040,     AT(lamps),       "24"},
    {"clock",   HOLDS_QUANTITY, 0, DIA_CLOCK,  1000, 24000000, AT(clock_hz), "1 MHz"},
    {"depth",   HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 8,        AT(depth),       "4"},
    {"refresh", HOLDS_QUANTITY, 0, DIA_RATE,   10000, 10000000, AT(refresh_mhz), "120 Hz"},
    MORE("slices", "weighted"), MORE("wiring", "[1A, 1B, 1C]"),
    {0},
};
static const struct field digits_fields[] = {
    COMMON, TEXT, PITCH, CURRENT("segment_current", 40000),
    {"digits",  HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 8,        AT(digits),      "4"},
    {"refresh", HOLDS_QUANTITY, 0, DIA_RATE,   20000, 2000000, AT(refresh_mhz), "200 Hz"},
    MORE("common", "cathode"), MORE("transistors", "no"), MORE("resistors", "segments"),
    {0},
};
static const struct field panel_fields[] = {
    COMMON, SHIFTER, TEXT, PITCH, CURRENT("segment_current", 50000),
    {"digits", HOLDS_QUANTITY, 0, DIA_NUMBER, 1, 8, AT(digits), "4"},
    MORE("first", "left"),
    {0},
};
static const struct field characters_fields[] = {
    COMMON, SHIFTER, TEXT,
    {"oscillator",    HOLDS_QUANTITY, 0, DIA_CLOCK, 40000, 190000, AT(oscillator_hz), "120 kHz"},
    {"columns",       HOLDS_QUANTITY, 1, DIA_NUMBER, 8, 40,  AT(columns), "20"},
    {"rows",          HOLDS_QUANTITY, 1, DIA_NUMBER, 1, 4,   AT(rows),    "4"},
    {"address",       HOLDS_TEXT,     0, DIA_NUMBER, 0, 8,   AT(address), "0x27"},
    {"light_current", HOLDS_QUANTITY, 0, DIA_CURRENT, 0, 1000000, AT(lamp_ua), "20 mA"},
    MORE("split", "yes"), MORE("lines", "4"),
    {0},
};
/* clang-format on */

static const char *const no_yes[] = {"no", "yes", NULL};
static const char *const ends[] = {"left", "right", NULL};

/* One line of text for digits, or one for each row of a character display. */
static enum dia_status read_text(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_rig_device *device, uint32_t rows, uint32_t columns)
{
    const struct tree_node *text = tree_get(node, "text");
    if (!text)
        return DIA_OK;
    const struct tree_node *line = text->kind == TREE_LIST ? text->child : text;
    for (uint32_t row = 0; line; row++, line = text->kind == TREE_LIST ? line->next : NULL) {
        enum dia_status status = rig_must_be(reader, line, TREE_SCALAR, "'text'");
        if (status != DIA_OK)
            return status;
        if (row == rows)
            return rig_wrong_value(reader, line, "'text' has more lines than the %u of '%s'",
                                   (unsigned)rows, device->name);
        size_t length = strlen(line->text);
        uint8_t segments[DIA_RIG_LAMPS / 8];
        int fits =
            device->kind == DIA_KIND_CHARACTERS
                ? length <= columns
                : length <= 40 && dia_segments_text(line->text, segments, (uint16_t)columns) == 0;
        if (!fits)
            return rig_wrong_value(reader, line, "'%.40s' does not fit; '%s' has room for %u",
                                   line->text, device->name, (unsigned)columns);
        snprintf(device->text[row], sizeof device->text[row], "%.40s", line->text);
    }
    return DIA_OK;
}

static enum dia_status place(struct rig_reader *reader, const struct tree_node *node,
                             const struct device_words *words, struct dia_rig_device *device,
                             uint32_t places, int32_t pitch_um)
{
    device->pitch_um = words->pitch_um ? words->pitch_um : pitch_um;
    if (dia_surface_line(&device->surface, places, 0, device->pitch_um) != DIA_OK)
        return rig_wrong_key(reader, node, "'%s' is longer than 2147 m; check 'pitch'",
                             device->name);
    return DIA_OK;
}

static enum dia_status read_matrix(struct rig_reader *reader, const struct tree_node *node,
                                   const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const shows[] = {"dots", "digits", NULL};
    uint8_t digits = 0;
    enum dia_status status =
        rig_read_choice(reader, tree_get(node, "shows"), "'shows'", shows, &digits);
    if (status == DIA_OK)
        status = rig_read_choice(reader, tree_get(node, "mirrored"), "'mirrored'", no_yes,
                                 &device->wiring.mirrored);
    if (status == DIA_OK)
        status = rig_read_choice(reader, tree_get(node, "first"), "'first'", ends,
                                 &device->wiring.from_right);
    if (status != DIA_OK)
        return status;
    if (words->turn % 90 != 0)
        return rig_wrong_value(reader, tree_get(node, "turn"),
                               "'turn' is 0, 90, 180 or 270 (degrees clockwise)");
    device->wiring.turn = (uint8_t)(words->turn / 90);
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 40000;
    if (digits) {
        device->digits = device->count * 8;
        rig_wire(device);
        status = place(reader, node, words, device, device->digits, 12000);
        return status == DIA_OK ? read_text(reader, node, device, 1, device->digits) : status;
    }
    if (tree_get(node, "text"))
        return rig_wrong_key(reader, tree_get(node, "text"),
                             "'text' is for digits; with 'shows: dots' looks are shown");
    rig_wire(device);
    return place(reader, node, words, device, device->count * 8, 4000);
}

static enum dia_status read_wiring(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig_device *device)
{
    uint32_t n = 0;
    const struct tree_node *list = tree_get(node, "wiring");
    for (uint32_t i = 0; i < device->lamps; i++)
        device->output_of[i] = (uint16_t)i;
    if (!list)
        return DIA_OK;
    enum dia_status status = rig_must_be(reader, list, TREE_LIST, "'wiring'");
    if (status != DIA_OK)
        return status;
    for (const struct tree_node *entry = list->child; entry; entry = entry->next, n++) {
        int output = -1;
        if (entry->kind == TREE_SCALAR)
            output = rig_output(entry->text, device->count);
        if (output < 0)
            return rig_wrong_value(reader, entry,
                                   "'wiring' takes a chip 1 to %u and its output A to H, such as "
                                   "1A; found '%.20s'",
                                   (unsigned)device->count,
                                   entry->kind == TREE_SCALAR ? entry->text : "a list");
        for (uint32_t k = 0; k < n && k < device->lamps; k++) {
            if (device->output_of[k] == output)
                return rig_wrong_value(reader, entry, "output %s drives lamp %u already",
                                       entry->text, (unsigned)k);
        }
        if (n < device->lamps)
            device->output_of[n] = (uint16_t)output;
    }
    if (n != device->lamps)
        return rig_wrong_value(reader, list, "'wiring' has %u outputs for %u lamps", (unsigned)n,
                               (unsigned)device->lamps);
    return DIA_OK;
}

static enum dia_status read_shift(struct rig_reader *reader, const struct tree_node *node,
                                  const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const slices[] = {"weighted", "even", NULL};
    enum dia_status status =
        rig_read_choice(reader, tree_get(node, "slices"), "'slices'", slices, &device->slices);
    if (status != DIA_OK)
        return status;
    device->by_spi = words->clock_hz != 0;
    device->depth = (uint8_t)(words->depth ? words->depth : 1);
    device->refresh_mhz = words->refresh_mhz ? words->refresh_mhz : 120000;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    device->lamps = words->lamps ? words->lamps : device->count * 8;
    if (device->lamps > device->count * 8)
        return rig_wrong_value(
            reader, tree_get(node, "lamps"), "%u lamps do not fit the %u outputs of %u chips",
            (unsigned)device->lamps, (unsigned)device->count * 8, (unsigned)device->count);
    uint32_t unit_us = dia_slices_unit_us(device->refresh_mhz, device->depth);
    uint32_t bits_us = device->by_spi ? device->count * 8000u / (words->clock_hz / 1000u) + 1u : 0;
    if (unit_us <= bits_us)
        return rig_wrong_key(reader, node,
                             "the shortest slice of '%s' is %u us, and its bits take %u us: a "
                             "lower 'refresh' or 'depth', or a higher 'clock'",
                             device->name, (unsigned)unit_us, (unsigned)bits_us);
    if (!device->slices && unit_us << (device->depth - 1u) > 65535u)
        return rig_wrong_key(
            reader, node, "a slice of '%s' is longer than 65 ms; a higher 'refresh'", device->name);
    status = read_wiring(reader, node, device);
    for (uint32_t i = 0; i < device->lamps; i++)
        device->place_of[i] = (uint16_t)i;
    return status == DIA_OK ? place(reader, node, words, device, device->lamps, 50000) : status;
}

static enum dia_status read_digits(struct rig_reader *reader, const struct tree_node *node,
                                   const struct device_words *words, struct dia_rig_device *device)
{
    static const char *const commons[] = {"cathode", "anode", NULL};
    static const char *const resistors[] = {"segments", "commons", NULL};
    enum dia_status status =
        rig_read_choice(reader, tree_get(node, "common"), "'common'", commons, &device->anode);
    if (status == DIA_OK)
        status = rig_read_choice(reader, tree_get(node, "transistors"), "'transistors'", no_yes,
                                 &device->transistors);
    if (status == DIA_OK)
        status = rig_read_choice(reader, tree_get(node, "resistors"), "'resistors'", resistors,
                                 &device->on_commons);
    if (status != DIA_OK)
        return status;
    device->digits = words->digits;
    device->refresh_mhz = words->refresh_mhz ? words->refresh_mhz : 200000;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    if (dia_digits_turn_us(device->refresh_mhz, (uint8_t)device->digits, device->on_commons) == 0)
        return rig_wrong_value(reader, tree_get(node, "refresh"),
                               "'refresh' gives each turn less than 20 us or more than 8 ms");
    rig_wire(device);
    status = place(reader, node, words, device, device->digits, 14000);
    return status == DIA_OK ? read_text(reader, node, device, 1, device->digits) : status;
}

static enum dia_status read_panel(struct rig_reader *reader, const struct tree_node *node,
                                  const struct device_words *words, struct dia_rig_device *device)
{
    int with_lamps = strcmp(device->chip, "TM1638") == 0;
    uint32_t most = with_lamps ? 8 : 6;
    enum dia_status status = rig_read_choice(reader, tree_get(node, "first"), "'first'", ends,
                                             &device->wiring.from_right);
    if (status != DIA_OK)
        return status;
    device->digits = words->digits ? words->digits : with_lamps ? 8 : 4;
    if (device->digits > most)
        return rig_wrong_value(reader, tree_get(node, "digits"), "%s drives at most %u digits",
                               device->chip, (unsigned)most);
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 5000;
    rig_wire(device);
    status = place(reader, node, words, device, device->digits, 9000);
    return status == DIA_OK ? read_text(reader, node, device, 1, device->digits) : status;
}

/* As its sheet writes it, 0x27, or 39. */
static enum dia_status read_address(struct rig_reader *reader, const struct tree_node *node,
                                    const char *text, uint8_t *address)
{
    char *end;
    unsigned long value = strtoul(text, &end, 0);
    if (text[0] == 0)
        return DIA_OK;
    if (*end != 0 || text[0] == '-' || value < 3 || value > 0x77)
        return rig_wrong_value(
            reader, tree_get(node, "address"),
            "'address' is an I2C address, 0x03 to 0x77, such as 0x27; found '%s'", text);
    *address = (uint8_t)value;
    return DIA_OK;
}

static enum dia_status read_characters(struct rig_reader *reader, const struct tree_node *node,
                                       const struct device_words *words,
                                       struct dia_rig_device *device)
{
    enum dia_status status =
        rig_read_choice(reader, tree_get(node, "split"), "'split'", no_yes, &device->split);
    if (status != DIA_OK)
        return status;
    device->columns = (uint8_t)words->columns;
    device->rows = (uint8_t)words->rows;
    status = read_address(reader, node, words->address, &device->address);
    if (status != DIA_OK)
        return status;
    device->lamp_ua = words->lamp_ua;
    device->oscillator_hz = words->oscillator_hz;
    if (device->rows == 3 || device->columns * device->rows > 80 ||
        (device->split && (device->rows != 1 || device->columns % 2)))
        return rig_wrong_key(
            reader, node,
            "no %ux%u display%s; there are 8x1 to 40x2, 16x4 and 20x4, and a split "
            "row has two equal halves",
            device->columns, device->rows, device->split ? " with 'split'" : "");
    if (device->pins[DIA_CHARACTERS_SCL] != DIA_NO_PIN)
        device->lines = DIA_BUS_EXPANDER;
    else
        device->lines =
            device->pins[DIA_CHARACTERS_D0] == DIA_NO_PIN ? DIA_BUS_4_LINES : DIA_BUS_8_LINES;
    static const char *const lines[] = {"4", "8", NULL};
    uint8_t eight = device->lines == DIA_BUS_8_LINES;
    status = rig_read_choice(reader, tree_get(node, "lines"), "'lines'", lines, &eight);
    if (status != DIA_OK)
        return status;
    if (eight && device->lines != DIA_BUS_8_LINES)
        return rig_wrong_value(reader, tree_get(node, "lines"), "'lines: 8' needs pins d0 to d7");
    if (!eight && device->lines == DIA_BUS_8_LINES)
        device->lines = DIA_BUS_4_LINES;
    if ((device->address != 0) != (device->lines == DIA_BUS_EXPANDER))
        return rig_wrong_key(reader, node,
                             device->address
                                 ? "'address' is for a display with 'pins: { scl: 18, sda: 19 }'"
                                 : "an expander needs its I2C 'address'; write 'address: 0x27'");
    status = place(reader, node, words, device, device->columns, 3550);
    return status == DIA_OK ? read_text(reader, node, device, device->rows, device->columns)
                            : status;
}

static const char *const matrix_chips[] = {"MAX7219", "MAX7221", NULL};
static const char *const shift_chips[] = {"74HC595", "74HCT595", NULL};
static const char *const digits_chips[] = {"digits", NULL};
static const char *const panel_chips[] = {"TM1638", "TM1637", NULL};
static const char *const characters_chips[] = {"HD44780", NULL};

const struct device_kind device_kinds[] = {
    {matrix_chips, matrix_fields, read_matrix},
    {shift_chips, shift_fields, read_shift},
    {digits_chips, digits_fields, read_digits},
    {panel_chips, panel_fields, read_panel},
    {characters_chips, characters_fields, read_characters},
    {NULL, NULL, NULL},
};
