/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_RIG_H
#define DIACHROME_RIG_H

#include <stddef.h>
#include <stdint.h>

#include "bench.h"
#include "diachrome.h"
#include "diagnostic.h"
#include "linkage.h"

DIA_BEGIN

/*
 * A rig: the hardware as a file describes it. docs/rig-format.md has every key. What is in here
 * has been checked: in range, names known, no name twice, no pin twice but for the
 * wires of a bus.
 *
 * Cost: a rig is 250 KB; reading one takes milliseconds and 1 MB; all else looks up what is there.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_RIG_SUPPLIES   16
#define DIA_RIG_LANES      256 /* of all nodes together */
#define DIA_RIG_GROUPS     8
#define DIA_RIG_DEVICES    16
#define DIA_RIG_LAMPS      4096    /* of one device, or pixels of a colour panel */
#define DIA_RIG_PINS       16      /* of one device */
#define DIA_RIG_NOWHERE    0xffffu /* a segment that is not wired */
#define DIA_RIG_BUTTONS    8
#define DIA_RIG_FAULTS     16              /* written in a file */
#define DIA_RIG_PANELS     64              /* panels of one lane */
#define DIA_RIG_GAPS       64              /* of one lane */
#define DIA_RIG_POINTS     8192            /* of all lanes together */
#define DIA_RIG_LAMP_NAMES 32              /* single lamps of a device that have names */
#define DIA_RIG_FEEDS      DIA_RAILS_FEEDS /* and grounds of one lane */
#define DIA_RIG_NO_SUPPLY  UINT32_MAX
#define DIA_RIG_NAME       32 /* longest name of a supply, lane or device, the zero included */
#define DIA_RIG_DEV_PATH   48 /* and of a device of Linux, "/dev/spidev0.0" */

struct dia_rig_controller {
    char name[64];
    uint32_t clock_hz, ram_bytes, flash_bytes, logic_high_mv;
    uint8_t holds;   /* 1: it sends one-wire pulses itself, with interrupts off */
    uint8_t counted; /* 1: its processor is one whose cycles were counted (schedule.h) */
    char gpio[DIA_RIG_DEV_PATH]; /* of a small Linux computer: where its pins are, /dev/gpiochip0 */
};

struct dia_rig_supply {
    char name[DIA_RIG_NAME];
    uint32_t voltage_mv, current_ua, reserve_ua;
};

/* A level shifter before a lane or device. */
enum dia_shifter {
    DIA_SHIFTER_ANY, /* the file says the voltage of its output, and no more */
    DIA_SHIFTER_74AHCT125,
    DIA_SHIFTER_74HCT245,
    DIA_SHIFTER_BSS138, /* a pass transistor with a pull-up on each side: the only one both ways */
    DIA_RIG_SHIFTERS
};
struct dia_rig_shifter {
    uint32_t mv; /* of its high; 0: there is none */
    uint32_t is; /* enum dia_shifter */
};
/* Its part number; NULL of those without. */
const char *dia_rig_shifter_name(uint32_t is);

/* How the elements of a lane lie. */
enum dia_shape {
    DIA_SHAPE_LINE,   /* from the left; element i at start + i * pitch */
    DIA_SHAPE_RING,   /* element 0 at the top, on clockwise as seen from the front */
    DIA_SHAPE_GRID,   /* in columns and rows */
    DIA_SHAPE_FOLD,   /* a line there and back */
    DIA_SHAPE_PANELS, /* grids that are alike, in a larger grid */
    DIA_SHAPE_POINTS  /* anywhere */
};
struct dia_rig_layout {
    uint8_t shape; /* enum dia_shape */
    struct dia_grid grid;
    int32_t start_um, pitch_um;
    int32_t diameter_um; /* of a ring */
    struct dia_fold fold;
    struct dia_wall wall; /* without its list of */
    struct dia_wall_place places[DIA_RIG_PANELS];
    uint32_t first_point;        /* in points[] of the rig */
    uint16_t gaps[DIA_RIG_GAPS]; /* pixels that have no place, in rising order */
    uint32_t gap_count;
    struct dia_surface surface; /* the line, the ring or the columns; else the pixels in a line */
};

/* Where a thing is on the desk: its upper left corner as it lies there, turned or not. */
struct dia_rig_at {
    uint8_t given; /* 0: the file does not say */
    uint8_t turn;  /* quarter turns clockwise, 0..3 */
    int32_t x_um, y_um;
};

/* Where wires come to the rails of a lane: one for the supply and one for the ground, alike. */
struct dia_rig_feed {
    uint32_t element;
    uint32_t supply;                 /* number in supplies[]; DIA_RIG_NO_SUPPLY: a ground wire */
    uint32_t length_um, section_um2; /* of each wire */
    uint32_t fuse_ua;                /* 0: none */
};

enum dia_dithering {
    DIA_DITHERING_AUTO, /* in time where it is not seen at the rig's frame rate, else in space */
    DIA_DITHERING_TIME,
    DIA_DITHERING_SPACE,
    DIA_DITHERING_NONE
};

struct dia_rig_lane {
    char name[DIA_RIG_NAME];
    char node[DIA_RIG_NAME]; /* that drives it; "": the rig has one controller */
    uint32_t place;          /* its number in the whole rig */
    uint32_t pin, count;
    uint32_t clock_pin, clock_hz; /* of a chip with a clock line */
    uint8_t bus;                  /* and its SPI bus: 0 for the first such lane of the rig, ... */
    char spi[DIA_RIG_DEV_PATH];   /* device of Linux that sends it; "": its pins */
    uint32_t supply;              /* number in supplies[] */
    struct dia_pixel_part part;   /* the chip's sheet, with the order and currents of the file */
    char order[5];                /* of its bytes, "GRB" */
    uint32_t channel_ua, idle_ua; /* as the file states them; 0: as the sheet */
    dia_share white[4];
    uint16_t gamma;    /* in thousandths; 0: the curve of sRGB */
    uint8_t dithering; /* enum dia_dithering */
    struct dia_rig_layout layout;
    struct dia_rig_at at;
    struct dia_rig_shifter shifter;
    struct dia_rig_feed feeds[DIA_RIG_FEEDS]; /* feeds, then grounds; see feeding.h */
    uint32_t feed_count;                      /* both; 0: nothing is known of them */
    uint32_t rail_uohm_m; /* of each rail, in millionths of an ohm a metre; said or usual */
    uint8_t group; /* 0: sent by itself; else 1.. : sent together with the lanes of that group */
};

/* How the elements of a device lie. */
enum dia_lies {
    DIA_LIES_DOTS,   /* a grid of lamps, eight rows */
    DIA_LIES_LINE,   /* lamps in a line */
    DIA_LIES_DIGITS, /* digits of seven segments, perhaps with single lamps */
    DIA_LIES_CELLS   /* characters in rows and columns */
};

struct dia_rig_family;

/*
 * A driver of lamps or cells. Its lamps are numbered as they lie: dots row after row from the top
 * left, lamps from the left, digits from the left with eight segments each (a..g and the point).
 */
struct dia_rig_device {
    char name[DIA_RIG_NAME];
    char node[DIA_RIG_NAME]; /* as that of a lane */
    uint32_t place;
    char chip[16];
    const struct dia_rig_family *family; /* what it is: src/host/family */
    const void *part;           /* its sheet: struct dia_matrix_part or the like; NULL: no chip */
    uint8_t pins[DIA_RIG_PINS]; /* by role, as the bench has them; DIA_NO_PIN where none is wired */
    uint8_t bus;                /* its SPI or I2C bus */
    uint8_t shares;             /* 1: other devices are on that bus too */
    char spi[DIA_RIG_DEV_PATH]; /* device of Linux for that bus; "": its pins */
    char i2c[DIA_RIG_DEV_PATH];
    uint8_t by_spi;            /* of a shift-register chain */
    uint32_t supply;           /* number in supplies[] */
    uint32_t count;            /* chips in the chain; 1 where there is only one */
    uint32_t digits;           /* of all chips together; 0 for none */
    uint8_t per_digit;         /* lamps of a digit: 8, or 15 or 17; the last is its point */
    uint32_t lamps;            /* all of them, segments too; pixels of a colour panel */
    uint8_t channels;          /* levels of each: 1, or of a colour panel 3, red green blue */
    uint16_t blank_ns, off_ns; /* of such a panel: how long it is dark at each change of rows, and
                                  until what is switched off is off */
    uint32_t clock_hz, refresh_mhz;
    uint32_t lamp_ua;       /* of a lamp while it is lit */
    uint32_t resistor_mohm; /* that sets it, as the file says; 0: the file says how much flows */
    uint32_t forward_mv;    /* of its LEDs, as the file says or by colour */
    struct dia_matrix_wiring wiring;
    uint8_t module_rows, serpentine; /* of modules of dots, one above the other; each other row
                                        of them runs the other way */
    uint8_t depth, slices;           /* of a shift-register chain */
    uint8_t anode;                   /* lamps or digits have a common anode */
    uint8_t inverted, by_segment;    /* of digits that are lit in turns */
    uint16_t segment_output[17];     /* of such digits on a shift-register chain, */
    uint16_t common_output[16];      /* DIA_RIG_NOWHERE where there is none */
    uint8_t commons;                 /* how many of these; 0: it is not lit in turns */
    uint8_t columns, rows, split, address; /* of a character display */
    uint8_t lines;                         /* its enum dia_characters_bus */
    const struct dia_rom *rom;             /* of its characters; NULL: it has none */
    uint32_t oscillator_hz;                /* slowest to reckon with; 0: as its sheet */
    struct dia_rig_shifter shifter;
    struct dia_rgb colour; /* of its light */
    char text[4][41]; /* what it shows, by rows; of a character display in the codes of its ROM */
    uint16_t output_of[DIA_RIG_LAMPS];                 /* of each lamp: where the bench shows it, or
                                                          DIA_RIG_NOWHERE */
    uint16_t place_of[DIA_RIG_LAMPS];                  /* of each lamp: along the surface */
    char lamp_names[DIA_RIG_LAMP_NAMES][DIA_RIG_NAME]; /* of single lamps, from the first */
    uint8_t lamp_name_count;
    int32_t pitch_um; /* from one place to the next */
    struct dia_rig_at at;
    struct dia_surface surface; /* what looks run along */
};

/* A push-button between a pin and one of the rails. */
struct dia_rig_button {
    char name[DIA_RIG_NAME];
    char node[DIA_RIG_NAME];
    uint32_t pin, place;
    uint8_t pressed; /* level of the pin while it is pressed: 0, with a pull-up, or 1 */
};

/* A value as a line of a show has it, "depth input decimals=2": show.h reads it. */
#define DIA_RIG_VALUES 16
struct dia_rig_value {
    char line[200];
    uint32_t at; /* line of the file, from 1 */
};

/* How it is to be served on the network: see serve.h. "": the file does not say. */
struct dia_rig_mqtt {
    char broker[128]; /* "HOST" or "HOST:PORT"; "": none */
    char base[64];    /* of its topics */
    char user[64], password_file[256], ca_file[256];
    char version[8]; /* 3.1.1 or 5 */
};
struct dia_rig_send {               /* of lanes, by E1.31 */
    char to[64];                    /* "multicast", or "ADDRESS" or "ADDRESS:PORT"; "": nobody */
    uint32_t first, priority, sync; /* universe, 1..63999; 0..200; universe, 0: none */
};
struct dia_rig_live {
    char listen[64], name[64], presets[256], pairings[256], save[8], e131[64];
    uint32_t flashes; /* a second, at most; 0: any number */
    struct dia_rig_mqtt mqtt;
    struct dia_rig_send send;
};

struct dia_rig {
    char path[256]; /* of its file, cut to its end where it is longer: for messages */
    char name[64];
    dia_share master;
    uint32_t frame_rate_mhz; /* thousandths of a frame a second */
    struct dia_rig_controller controller;
    struct dia_rig_supply supplies[DIA_RIG_SUPPLIES];
    uint32_t supply_count;
    struct dia_rig_lane lanes[DIA_RIG_LANES];
    uint32_t lane_count;
    char groups[DIA_RIG_GROUPS][DIA_RIG_NAME]; /* name of group k + 1 */
    uint32_t group_count;
    struct dia_rig_device devices[DIA_RIG_DEVICES];
    uint32_t device_count;
    struct dia_rig_button buttons[DIA_RIG_BUTTONS];
    uint32_t button_count;
    struct dia_rig_value values[DIA_RIG_VALUES]; /* that shows on it have from the start */
    uint32_t value_count;
    char faults[DIA_RIG_FAULTS][64]; /* of the simulated desk; see fault.h */
    uint32_t fault_count;
    uint32_t seed; /* of what is random in them */
    struct dia_rig_live live;
    uint8_t live_streams;                    /* private: see dia_rig_plays_live */
    struct dia_point points[DIA_RIG_POINTS]; /* of lanes whose pixels lie anywhere */
    uint32_t point_count;
    const struct dia_rig *whole; /* what it is a node's part of; NULL: it is all there is */
    struct dia_rig *own_whole;   /* that, on the heap, where it was read with the part */
    char node[DIA_RIG_NAME];     /* that node */
};

/* DIA_BAD_VALUE and a line of file:line:column, what is wrong and what would be right, for each
 * mistake in the file, at most 20. DIA_PORT_FAILED when memory ran out. */
enum dia_status dia_rig_load(struct dia_rig *rig, const char *path, struct dia_diagnostic *wrong);

/*
 * Many controllers, one picture: lanes, devices and buttons of a file may say which node drives
 * them. Each node has a controller of that kind, pins and buses of its own, and of each supply that
 * it names one for itself. A node's part of a rig is a rig that has only what the node drives; it
 * is played, checked and brought up as any other. Shows are read for the whole all the same, so
 * that all nodes show pieces of one picture.
 */

/* As dia_rig_load, and then the part of a node; node NULL: all of it. DIA_BAD_VALUE too where the
 * rig has no such node. Give it back by dia_rig_free. */
enum dia_status dia_rig_load_node(struct dia_rig *rig, const char *path, const char *node,
                                  struct dia_diagnostic *wrong);

/* The part of a node of a rig that is whole, and that outlives it. DIA_BAD_VALUE: no such node;
 * DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_rig_part(struct dia_rig *part, const struct dia_rig *whole, const char *node,
                             struct dia_diagnostic *wrong);

/* Gives back the whole that was read with a part; no-op for others. */
void dia_rig_free(struct dia_rig *rig);

/* The whole that a rig is a part of, or itself. */
const struct dia_rig *dia_rig_whole(const struct dia_rig *rig);

/* Names of its nodes in the order of the file, at most `most`; how many there are. They are the
 * rig's. */
#define DIA_RIG_NODES (DIA_RIG_LANES + DIA_RIG_DEVICES + DIA_RIG_BUTTONS)
uint32_t dia_rig_nodes(const struct dia_rig *rig, const char **names, uint32_t most);

/* Call it before a show is read: streams of pictures show their newest frame (dia_film_open_live),
 * since the rig plays in real time. */
void dia_rig_plays_live(struct dia_rig *rig);

/* Which pixel of a lane lies at a place of its line or ring, from the left or clockwise; of a grid
 * in a column of its top row. */
uint32_t dia_rig_pixel_at(const struct dia_rig_lane *lane, uint32_t place);

/*
 * The pixels of a lane that have a place, as they lie, in the order of its wire. What the surface
 * is made of is kept in `lying`, which must live as long as the surface is used, as must the rig.
 */
struct dia_rig_lying {
    struct dia_surface surface;
    struct dia_ring ring;
    struct dia_wall wall;
    struct dia_places places;
};
void dia_rig_lie(const struct dia_rig *rig, const struct dia_rig_lane *lane,
                 struct dia_rig_lying *lying);

/* Where the middle of a segment of a device's digits lies, from its upper left corner. */
struct dia_point dia_rig_segment(const struct dia_rig_device *device, uint32_t lamp);

/* Of a lane, mV: the high that its first pixel gets, from the controller or a shifter; the voltage
 * that its input compares with; and the high that it needs, by its sheet. */
uint32_t dia_rig_lane_high_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane);
uint32_t dia_rig_lane_logic_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane);
uint32_t dia_rig_lane_needs_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane);

/* The lane, device or button on a pin, or NULL. */
const char *dia_rig_on_pin(const struct dia_rig *rig, uint32_t pin);

/* The wires of a rig by their names in a trace: wire k and its pin, 1; 0: there is none any more. A
 * lane without a clock has one of its own name; NAME_clock and NAME_data are of one with a clock;
 * NAME_DIN and so on of a device; a button has its name. A wire of a bus comes for each device on
 * it. */
int dia_rig_wire(const struct dia_rig *rig, uint32_t k, char name[64], uint8_t *pin);

/* Name of a role of a pin of a device as the file, the trace and messages write it: "din", "e",
 * "digit2". NULL behind the last. */
const char *dia_rig_role(const struct dia_rig_device *device, uint8_t role);

enum dia_lies dia_rig_lies(const struct dia_rig_device *device);

/* The segments of each digit that show a text, device->digits of them, by the kind it has. How many
 * signs did not fit. */
uint16_t dia_rig_digits_text(const struct dia_rig_device *device, const char *text,
                             uint32_t *segments);

/* 1: it is a chain of chips, device->count of them. */
uint8_t dia_rig_is_chain(const struct dia_rig_device *device);

/* What a cell of a character display shows for a code, in UTF-8, as its ROM has it. Returns text.
 */
const char *dia_rig_cell_text(const struct dia_rig_device *device, uint8_t code, char text[8]);

/* 1: it has keys that can be held, see dia_player_hold_keys. */
uint8_t dia_rig_has_keys(const struct dia_rig_device *device);

/* The drive step from which on its lanes are dithered in time where the file does not say how:
 * dia_develop.time_from. */
uint8_t dia_rig_time_from(const struct dia_rig *rig);

/* In how many turns its lamps are lit by the controller, one after the other; 1: all at once. */
uint32_t dia_rig_turns(const struct dia_rig_device *device);

/* For people: "board: 4 x MAX7219"; and how it is connected: "din 10, clk 11, cs 12, 1 MHz". */
void dia_rig_title(const struct dia_rig_device *device, char *text, size_t size);
void dia_rig_facts(const struct dia_rig_device *device, char *text, size_t size);

DIA_END

#endif
