/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FAMILY_READ_H
#define DIA_HOST_FAMILY_READ_H

#include <stddef.h>

#include "family.h"
#include "rig_device.h"
#include "rig_layout.h"

/* What the files of families share for their keys. */

/* clang-format off */
#define AT(field) offsetof(struct device_words, field)
#define COMMON                                                                                     \
    {"chip",            HOLDS_MORE,     1, DIA_NUMBER,  0, 0,              0,            "MAX7219"},  \
    {"pins",            HOLDS_MORE,     1, DIA_NUMBER,  0, 0,              0,            "{ din: 21, clk: 22, cs: 23 }"}, \
    {"at",              HOLDS_MORE,     0, DIA_NUMBER,  0, 0,              0,            "{ x: 120 mm, y: 40 mm }"},      \
    {"supply",          HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_NAME,   AT(supply),   "main"},     \
    {"node",            HOLDS_TEXT,     0, DIA_NUMBER,  0, DIA_RIG_NAME,   AT(node),     "west"},     \
    {"colour",          HOLDS_TEXT,     0, DIA_NUMBER,  0, 16,             AT(colour),   "red"}
#define TEXT    {"text",  HOLDS_MORE,   0, DIA_NUMBER, 0, 0, 0, "\"12.34\""}
#define PITCH   {"pitch", HOLDS_QUANTITY, 0, DIA_LENGTH, 100, 10000000, AT(pitch_um), "4 mm"}
#define SHIFTER {"shifter", HOLDS_SHIFTER, 0, DIA_VOLTAGE, 1000, 30000, AT(shifter), "74AHCT125"}
#define SPI     {"spi",   HOLDS_TEXT,   0, DIA_NUMBER, 0, DIA_RIG_DEV_PATH, AT(spi), "/dev/spidev0.0"}
#define I2C     {"i2c",   HOLDS_TEXT,   0, DIA_NUMBER, 0, DIA_RIG_DEV_PATH, AT(i2c), "/dev/i2c-1"}
#define NAMES   {"names", HOLDS_MORE,   0, DIA_NUMBER, 0, 0, 0, "[mail, tide]"}
#define MORE(key, example) {key, HOLDS_MORE, 0, DIA_NUMBER, 0, 0, 0, example}
#define CURRENT(key, most) {key, HOLDS_QUANTITY, 0, DIA_CURRENT, 100, most, AT(lamp_ua), "5 mA"}
/* the same of lamps whose current a resistor sets */
#define RESISTOR \
    {"resistor", HOLDS_QUANTITY, 0, DIA_RESISTANCE, 1000, 1000000000, AT(resistor_mohm), "330 ohm"}, \
    {"forward",  HOLDS_QUANTITY, 0, DIA_VOLTAGE,    1000, 24000,      AT(forward_mv),    "2 V"}
/* clang-format on */

extern const char *const dia_family_no_yes[], *const dia_family_ends[];

/* One line of text for digits, or one for each row of a character display. */
enum dia_status dia_family_text(struct rig_reader *reader, const struct tree_node *node,
                                struct dia_rig_device *device, uint32_t rows, uint32_t columns);

/* Where its elements lie: in a line, at the pitch of the file or else at this one. */
enum dia_status dia_family_place(struct rig_reader *reader, const struct tree_node *node,
                                 const struct device_words *words, struct dia_rig_device *device,
                                 uint32_t places, int32_t pitch_um);

/* Choice: 20 mA a pin, half of what common controllers stand for a moment. */
#define FAMILY_PIN_UA 20000u

/* All pins are needed. */
int dia_family_needs_all(const struct dia_rig_device *device, uint8_t role, uint32_t digits);

/* Digits one after the other, as they are sent: lamp i is output i. */
void dia_family_wire_digits(struct dia_rig_device *device);

/* A master as the share of light it lets through, in thousandths. */
uint32_t dia_family_permille(dia_share master);

#endif
