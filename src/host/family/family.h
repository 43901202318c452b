/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FAMILY_H
#define DIA_HOST_FAMILY_H

#include <stddef.h>

#include <diachrome/refresh_plan.h>
#include <diachrome/resistor.h>
#include <diachrome/rig.h>

/*
 * All that the desktop knows of a family of devices, in one struct and one file each: keys of the
 * rig, roles of pins, faults, driver and model, limits, questions of bring-up. Nothing else asks
 * which family a device is of. docs/adding-a-family.md walks through one.
 *
 * This header is at the bottom of src/host: rig, play, check, picture and bringup call through it.
 * The files that fill it in are at the top, and know them all.
 */

/* A chip: a third one of a family is one more line of its list. */
struct family_part {
    const char *name;  /* as the rig file has it; NULL ends the list */
    const void *sheet; /* the part: struct dia_matrix_part or the like; NULL: there is no chip */
};

/* What a pin is to a bus: devices may share those. */
enum family_wire {
    FAMILY_NO_BUS,
    FAMILY_SPI_CLOCK,
    FAMILY_SPI_DATA,
    FAMILY_I2C_CLOCK,
    FAMILY_I2C_DATA
};

/* Supply and logic levels by the sheet: high input at a supply voltage, mV. */
struct family_levels {
    uint32_t supply_min_mv, supply_max_mv, input_high_mv;
    const char *source;
    uint32_t works_from_mv; /* below what the sheet says, many do work; 0: none is known to */
    const char *instead;    /* said where the high is too low: what else to take; NULL */
};

/* What to put into a line that goes both ways. */
#define DIA_TWO_WAY_SHIFTER "a transistor with a pull-up on each side"

/* What is in the way of the current of its lamps, and where their resistors are. */
struct family_circuit {
    struct dia_led_circuit led; /* its forward voltage is filled in by who calls */
    const char *at;             /* "lamp", "segment", "common": each has a resistor of its own */
    uint32_t resistors;
    uint32_t duty_permille; /* share of its time that a resistor carries current at the most */
    const char *source;     /* of what is in the way; a choice */
};

/* How a lamp is switched on and off: so often, in one of so many turns. */
struct family_lit {
    uint32_t mhz; /* thousandths of a hertz; 0: it is not */
    uint32_t turns, turn;
};

/* How a device reads its wires, for pictures of edges. */
enum family_reads {
    FAMILY_READS_CLOCKED,   /* data at the rising clock; a frame wire begins and ends words */
    FAMILY_READS_TWO_WIRES, /* start, bytes with an answer, stop */
    FAMILY_READS_ENABLE     /* lines of data at the falling enable, in one or two halves */
};
#define FAMILY_NO_ROLE 255
struct family_reading {
    uint8_t by; /* enum family_reads */
    uint8_t data, clock,
        frame;            /* roles; FAMILY_NO_ROLE: there is none. Of lines the highest bit's */
    uint8_t choice, away; /* of lines: what chooses instruction or character, and reading */
    uint8_t ends_high;    /* 1: words end as the frame wire rises, and none begins as it falls */
    uint8_t bits;         /* of a word: 8 or 16 */
    uint8_t least_first;  /* 1: its lowest bit first */
    uint8_t has_address;  /* of two wires: 1: the first byte is one */
    uint8_t halves;       /* 1: four lines, so a word is two halves */
};
struct family_word {
    uint32_t value, number; /* which it is of its frame, from 0 */
    uint8_t choice;         /* level of that wire */
};

struct dia_check;
struct dia_check_device;
struct dia_player;
struct field;
struct rig_reader;
struct tree_node;
struct device_words;
struct fault_kind;
struct play_device;
struct dia_cells_wanted;
struct run;

struct dia_rig_family {
    const struct family_part *parts;
    const char *what; /* "a shift-register chain": whom a fault is for */

    /* ---- the rig ---- */
    const char *const *roles; /* of its pins, by their names on the sheets; ended by NULL */
    const uint8_t *wires;     /* enum family_wire by role; NULL: none is of a bus */
    const struct field *fields;
    enum dia_status (*read)(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device);
    int (*needs_pin)(const struct dia_rig_device *device, uint8_t role, uint32_t digits);
    int (*has_no_pin)(const struct dia_rig_device *device, uint8_t role,
                      uint32_t digits);                           /* or NULL */
    enum dia_route (*route)(const struct dia_rig_device *device); /* NULL: on pins */
    /* which output each lamp hangs on, when its wiring has changed; NULL: by itself */
    void (*wire)(struct dia_rig_device *device);

    /* ---- what it looks like ---- */
    uint8_t lies;     /* enum dia_lies of those without digits */
    uint8_t is_chain; /* 1: of chips, which are counted */
    uint8_t has_keys;
    /* in how many turns its lamps are lit, of which the bench's mean is a part; NULL: one */
    uint32_t (*turns)(const struct dia_rig_device *device);
    /* how a lamp is switched; NULL: it is on all the time, or nothing is known of it */
    void (*lit)(const struct dia_rig_device *device, uint32_t lamp, struct family_lit *lit);
    /* how its wires are read, 1, or 0: they are no words; and what a word says, "row 3 = 18" */
    int (*reading)(const struct dia_rig_device *device, struct family_reading *reading);
    void (*says)(const struct dia_rig_device *device, const struct family_word *word,
                 char text[24]);
    /* how it is connected, for people; NULL: pins and clock */
    void (*facts)(const struct dia_rig_device *device, char *text, size_t size);

    /* ---- at play ---- */
    size_t
        driver_bytes; /* of the driver's struct, of which play_device->driver is the first field */
    /* bytes to draw in, and of the driver's own memory */
    void (*sizes)(const struct dia_rig_device *from, size_t *drawing, size_t *memory);
    int (*on_bench)(struct dia_player *player, uint32_t number, struct dia_device_setup *setup);
    enum dia_status (*connect)(struct dia_player *player, const struct dia_rig_device *from,
                               struct play_device *device);
    /* counts the periods of what is lit in turns; NULL: it is not */
    const volatile uint8_t *(*counter)(const struct play_device *device);
    uint8_t refresh_every; /* frames, after which all is sent again; 0: never */
    /* the code of a glyph of its own, as dia_characters_own; NULL: it has none */
    enum dia_status (*own)(struct play_device *device, const uint8_t rows[8], uint8_t busy,
                           uint8_t *code);
    /* whether it is on, and where its cursor is; NULL: it has neither */
    void (*want)(struct play_device *device, const struct dia_cells_wanted *wanted,
                 dia_share master);
    /* what the drawing lacks of what one driver shows, in another one; NULL: it has it all */
    void (*copy)(struct dia_driver *to, const struct dia_driver *from);
    uint8_t (*keys)(const struct play_device *device); /* held, as the driver has read; NULL */

    /* ---- limits ---- */
    struct family_levels (*levels)(const void *sheet, uint32_t supply_mv);
    /* the resistors of its lamps; NULL: it has none */
    void (*circuit)(const struct dia_rig *rig, const struct dia_rig_device *device,
                    struct family_circuit *circuit);
    uint8_t sets_current; /* 1: one resistor at the chip sets that of its segments (MAX7219) */
    /* lines that it drives too, "DIO": a shifter for one way would block them. NULL: none */
    const char *(*two_way)(const struct dia_rig_device *device);
    /* what its ticks take; NULL: it has none */
    void (*ticks)(const struct dia_rig *rig, const struct dia_rig_device *device,
                  struct dia_refresh_setup *setup);
    void (*numbers)(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device);
    void (*limits)(struct dia_check *check, const struct dia_rig_device *device,
                   const struct dia_check_device *c); /* NULL */
    uint8_t flickers; /* 1: the mains of its light are its ticks, so IEEE 1789 counts */

    /* ---- faults and questions ---- */
    const struct fault_kind *faults; /* ended by one without a word; NULL: none of its own */
    /* its digits or modules, in place: 1, or 0: it has none. NULL: none has */
    int (*reverse)(struct dia_rig_device *device);
    int (*ask)(struct run *run); /* of bring-up: 0, or -1 to end */
};

/* Every so many frames all is sent again: what a disturbance has changed comes back. */
#define FAMILY_REFRESH_EVERY 8

/* All of them, ended by NULL. */
extern const struct dia_rig_family *const dia_rig_families[];

#endif
