/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "rig_controller.h"
#include "rig_kernel.h"
#include "rig_layout.h"

/*
 * Controllers by their part numbers: RAM and flash by their data sheets, the clock as boards run
 * them. A part without flash of its own has that of a common board, which is a choice. The AVRs
 * send pulses as src/port/avr does; of the others we take that a timer, SPI or a pulse engine does.
 * linux is a small computer with pins (src/port/linux); its clock and memory are choices.
 */
static const struct dia_rig_controller known[] = {
    {"ATtiny85", 8000000, 512, 8u << 10, 5000, 1, 1, ""},
    {"ATmega328P", 16000000, 2u << 10, 32u << 10, 5000, 1, 1, ""},
    {"ATmega32U4", 16000000, 2560, 32u << 10, 5000, 1, 1, ""},
    {"ATmega2560", 16000000, 8u << 10, 256u << 10, 5000, 1, 1, ""},
    {"ATSAMD21G18", 48000000, 32u << 10, 256u << 10, 3300, 0, 0, ""},
    {"STM32F103C8", 72000000, 20u << 10, 64u << 10, 3300, 0, 0, ""},
    {"STM32F411CE", 100000000, 128u << 10, 512u << 10, 3300, 0, 0, ""},
    {"RP2040", 125000000, 264u << 10, 2u << 20, 3300, 0, 0, ""},
    {"RP2350", 150000000, 520u << 10, 4u << 20, 3300, 0, 0, ""},
    {"nRF52840", 64000000, 256u << 10, 1u << 20, 3300, 0, 0, ""},
    {"ESP8266", 80000000, 80u << 10, 4u << 20, 3300, 0, 0, ""},
    {"ESP32", 240000000, 520u << 10, 4u << 20, 3300, 0, 0, ""},
    {"ESP32-C3", 160000000, 400u << 10, 4u << 20, 3300, 0, 0, ""},
    {"ESP32-S3", 240000000, 512u << 10, 8u << 20, 3300, 0, 0, ""},
    {"linux", 1000000000, 512u << 20, 1u << 30, 3300, 0, 0, "/dev/gpiochip0"},
};
#define KNOWN (sizeof known / sizeof known[0])

/* clang-format off */
#define AT(field) offsetof(struct dia_rig_controller, field)
#define FIELDS(needed)                                                                             \
    {"chip",       HOLDS_MORE,     0,      DIA_NUMBER,  0, 0,          0,                 "RP2040"},      \
    {"name",       HOLDS_TEXT,     0,      DIA_NUMBER,  0, 64,         AT(name),          "8-bit board"}, \
    {"clock",      HOLDS_QUANTITY, needed, DIA_CLOCK,   1000, 2000000000, AT(clock_hz),   "16 MHz"},      \
    {"ram",        HOLDS_QUANTITY, needed, DIA_MEMORY,  1, INT32_MAX,  AT(ram_bytes),     "2 KB"},        \
    {"flash",      HOLDS_QUANTITY, needed, DIA_MEMORY,  1, INT32_MAX,  AT(flash_bytes),   "32 KB"},       \
    {"logic_high", HOLDS_QUANTITY, needed, DIA_VOLTAGE, 500, 30000,    AT(logic_high_mv), "5 V"},         \
    {"pulses",     HOLDS_MORE,     0,      DIA_NUMBER,  0, 0,          0,                 "background"},  \
    {"gpio",       HOLDS_TEXT,     0,      DIA_NUMBER,  0, DIA_RIG_DEV_PATH, AT(gpio),      "/dev/gpiochip0"}, \
    {0},
static const struct field of_a_chip[] = {FIELDS(0)};
static const struct field of_another[] = {FIELDS(1)};
#undef AT
/* clang-format on */

static enum dia_status find_chip(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_rig_controller *controller)
{
    const char *names[KNOWN + 1] = {NULL};
    char all[240] = "";
    enum dia_status status = dia_rig_must_be(reader, node, TREE_SCALAR, "'chip'");
    if (status != DIA_OK)
        return status;
    for (size_t k = 0; k < KNOWN; k++) {
        if (strcmp(known[k].name, node->text) == 0) {
            *controller = known[k];
            return DIA_OK;
        }
        names[k] = known[k].name;
        snprintf(all + strlen(all), sizeof all - strlen(all), "%s%.15s", k ? ", " : "",
                 known[k].name);
    }
    const char *near = dia_nearest(node->text, names);
    if (near)
        return dia_rig_wrong_value(reader, node, "unknown controller '%.40s'; did you mean %s?",
                                   node->text, near);
    return dia_rig_wrong_value(reader, node,
                               "unknown controller '%.40s'; known: %s; of another write clock, "
                               "ram, flash and logic_high",
                               node->text, all);
}

enum dia_status dia_rig_read_controller(struct rig_reader *reader, const struct tree_node *node,
                                        struct dia_rig_controller *controller)
{
    static const char *const pulses[] = {"background", "interrupts off", NULL};
    if (!node)
        return DIA_OK; /* that it is missing is told with the keys of the rig */
    if (node->kind == TREE_SCALAR)
        return find_chip(reader, node, controller);
    if (node->kind != TREE_MAP)
        return dia_rig_wrong_value(reader, node,
                                   "'controller' takes a part, such as ATmega328P, or keys: "
                                   "{ chip: ATmega328P, clock: 8 MHz }");
    const struct tree_node *chip = dia_tree_get(node, "chip");
    strcpy(controller->name, "controller");
    enum dia_status status = chip ? find_chip(reader, chip, controller) : DIA_OK;
    status = dia_rig_both(status, dia_rig_read_choice(reader, dia_tree_get(node, "pulses"),
                                                      "'pulses'", pulses, &controller->holds));
    status = dia_rig_both(status, dia_rig_read_fields(reader, node, chip ? of_a_chip : of_another,
                                                      controller, "'controller'"));
    return dia_rig_both(status, dia_rig_is_device(reader, node, "gpio", "/dev/gpiochip0"));
}
