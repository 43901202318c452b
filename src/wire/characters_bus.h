/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_CHARACTERS_BUS_H
#define DIA_WIRE_CHARACTERS_BUS_H

#include <diachrome/characters.h>

/* What is sent at once: a byte, and what goes with it. */
#define IS_DATA    0x100u /* RS is high */
#define HALF       0x200u /* only the upper four bits, before the number of lines is agreed */
#define WAITS      0xc00u
#define WAITS_LONG 0x400u
#define WAITS_4100 0x800u
#define WAITS_100  0xc00u

/* The lines between controller and display: the pins at rest, an entry sent, the busy flag (1, 0,
 * or 2: the port refused). */
enum dia_status dia_characters_bus_init(struct dia_characters *c);
enum dia_status dia_characters_bus_send(struct dia_characters *c, uint16_t entry);
uint8_t dia_characters_bus_busy(struct dia_characters *c);

/* Of an expander: DIA_BUSY while bytes are on I2C; then the bus is released. */
enum dia_status dia_characters_bus_poll(struct dia_characters *c);

#endif
