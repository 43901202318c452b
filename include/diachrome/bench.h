/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_BENCH_H
#define DIACHROME_BENCH_H

#include <stdint.h>

#include "edge.h"
#include "finding.h"
#include "linkage.h"
#include "pin.h"
#include "rails.h"
#include "status.h"

DIA_BEGIN

/*
 * The bench: simulated hardware on the other end of the wire. Its models see nothing but edges
 * with time stamps, and judge them by their own copy of the data sheets.
 *
 *   struct dia_bench *bench = dia_bench_new();
 *   int supply = dia_bench_supply(bench, "pier", 2000000, 100000);
 *   int chain = dia_bench_chain(bench, &setup);
 *   dia_sim_listen(&sim, dia_bench_take, bench);
 *   ... run the program ...
 *   dia_bench_settle(bench, sim.now_ns);
 *   dia_bench_shown(bench, chain)->drive[0][1]      green of pixel 0
 *
 * Context: one thread at a time for an object; not from an interrupt.
 */
struct dia_bench;

/* NULL when memory ran out. */
struct dia_bench *dia_bench_new(void);
void dia_bench_free(struct dia_bench *bench);

/* A supply that may give max_ua and always gives steady_ua to the controller. Its number
 * from 1, or 0 when there is no room (16). */
int dia_bench_supply(struct dia_bench *bench, const char *name, uint64_t max_ua,
                     uint64_t steady_ua);

/* How many mV it gives at its terminals, and what the wires have, in ohm, that everything on it
 * shares (0: nothing). Before chains are connected to it; else its pixels always have enough. -1:
 * no such supply. */
int dia_bench_terminals(struct dia_bench *bench, int supply, uint32_t mv, double shared_ohm);

/* How a chain gets its current. */
struct dia_chain_feed {
    uint32_t element;              /* that the wires come to */
    int supply;                    /* from dia_bench_supply; 0: the ground wire only */
    double supply_ohm, ground_ohm; /* of the two wires */
    uint32_t fuse_ua;              /* in the wire to the supply rail; 0: none */
};
struct dia_chain_power {
    double rail_ohm;                    /* of each rail, from a pixel to the next */
    const struct dia_chain_feed *feeds; /* copied; the first has a supply */
    uint32_t feed_count;                /* 1..DIA_RAILS_FEEDS */
    uint32_t signal_mv;                 /* high at the first input; 0: as high as it must be */
};

/* A chain of pixels, as it lies on the desk. */
struct dia_chain_setup {
    const char *name;
    const char *part;             /* as printed on it: "WS2812B" */
    const char *order;            /* of its bytes, "GRB", or "LBGR" with L for the level of parts
                                     that have one; NULL: as its sheet says */
    uint8_t pin;                  /* that drives its data input */
    uint8_t clock_pin;            /* and its clock, of parts that have one */
    uint32_t count;               /* pixels, 1 or more */
    int supply;                   /* from dia_bench_supply, or 0: none of interest */
    uint32_t channel_ua, idle_ua; /* as measured, microamperes; 0: as its sheet says */
    const struct dia_chain_power *power; /* NULL: no resistance between it and its supply */
};

/* Its number from 0, or -1: unknown part or supply, bad order, pin in use, or no room (64). */
int dia_bench_chain(struct dia_bench *bench, const struct dia_chain_setup *setup);

/*
 * Devices with lamps or cells, as they lie on the desk. What each family takes stands beside its
 * function. Pins are given by role; DIA_NO_PIN where a role has none (it then rests low; a
 * select or an enable counts as wired to be active). Clock and data of matrix drivers and shift
 * registers, and both wires of I2C, may have several devices on them: a bus.
 */
struct dia_device_setup {
    const char *name;
    const char *part;                    /* as printed on it: "MAX7219" */
    const uint8_t *pins;                 /* by role */
    uint32_t count;                      /* chips in the chain, or digits */
    int supply;                          /* from dia_bench_supply, or 0: none of interest */
    uint32_t lamp_ua;                    /* of one lamp while it is lit, microamperes */
    uint32_t options;                    /* of some families, added; 0: none */
    const struct dia_shift_turns *turns; /* of digits on a shift-register chain, copied; or NULL */
};

/* MAX7219, MAX7221. Lamp chip * 64 + digit * 8 + bit, chip 0 next to the controller. */
enum { DIA_MATRIX_DIN, DIA_MATRIX_CLK, DIA_MATRIX_CS, DIA_MATRIX_PINS };
int dia_bench_matrix(struct dia_bench *bench, const struct dia_device_setup *setup);

/* 74HC595, 74HCT595. Lamp chip * 8 + output, chip 0 next to the controller, output 0 its QA. */
enum {
    DIA_SHIFT_SINKS = 1 /* option: lamps hang on the supply, and are lit while outputs are low */
};
/* Digits on the outputs, lit in turns: an LED lights while its segment's output and its digit's
 * common pull the right ways. Lamps are then digit * 8 + segment; of more than 8 segments,
 * digit * 24 + segment. */
#define DIA_TURNS_NO_OUTPUT 0xffffu
struct dia_shift_turns {
    uint32_t digits;         /* 1..16 */
    uint8_t anode, inverted; /* commons are anodes; each has a transistor, which inverts */
    uint8_t segments;        /* of a digit, with its point: 8, 15 or 17 */
    uint16_t segment[17];    /* outputs, chip * 8 + output; or DIA_TURNS_NO_OUTPUT */
    uint16_t common[16];
};
enum { DIA_SHIFT_SER, DIA_SHIFT_SRCLK, DIA_SHIFT_RCLK, DIA_SHIFT_OE, DIA_SHIFT_PINS };
int dia_bench_shift(struct dia_bench *bench, const struct dia_device_setup *setup);

/* "digits": digits straight from pins. Roles 0..7 are the segments a..g and the point, 8.. the
 * commons from the left. Lamp digit * 8 + segment. */
enum {
    DIA_DIGITS_ANODE = 1,     /* commons are anodes */
    DIA_DIGITS_INVERTED = 2,  /* commons are driven inverted, as by a transistor at each */
    DIA_DIGITS_BY_SEGMENT = 4 /* resistors are on the commons */
};
int dia_bench_digits(struct dia_bench *bench, const struct dia_device_setup *setup);

/* "lamps": single lamps straight from pins, which are the roles; setup->count of them, 1..16. */
enum { DIA_PIN_LAMPS_SINK = 1 /* they hang on the supply, and are lit while pins are low */ };
int dia_bench_pin_lamps(struct dia_bench *bench, const struct dia_device_setup *setup);

/*
 * "rgb-panel": a row-scanned colour panel. Pins: R1 G1 B1 R2 G2 B2, A to E, CLK, LAT, OE. Of the
 * two rows at its address, in the upper half and in the lower, those lamps are lit whose bits are
 * latched, while OE is low. What is clocked in first comes out in column 0. Lamp 3 * (row * columns
 * + column), and its green and blue behind it. What is switched
 * off is off after off_ns, rows and columns: what is addressed or lit before then glows with its
 * neighbour, a ghost.
 */
enum {
    DIA_RGB_PANEL_R1,
    DIA_RGB_PANEL_A = 6,
    DIA_RGB_PANEL_E = 10,
    DIA_RGB_PANEL_CLK,
    DIA_RGB_PANEL_LAT,
    DIA_RGB_PANEL_OE,
    DIA_RGB_PANEL_PINS
};
struct dia_rgb_panel_shape {
    uint16_t columns;
    uint8_t rows; /* 16, 32 or 64 */
    uint16_t off_ns;
};
int dia_bench_rgb_panel(struct dia_bench *bench, const struct dia_device_setup *setup,
                        const struct dia_rgb_panel_shape *shape);

/* TM1638, TM1637. Lamp address * 8 + bit. count: digits that hang on it, 0: as many as it can have.
 */
enum { DIA_PANEL_STB, DIA_PANEL_CLK, DIA_PANEL_DIO, DIA_PANEL_PINS };
int dia_bench_panel(struct dia_bench *bench, const struct dia_device_setup *setup);

/* Which keys of a panel are held from now on, bit k for key k. -1: the device is no panel. */
int dia_bench_keys(struct dia_bench *bench, int device, uint16_t keys);

/*
 * "HD44780", with its glass. Pins: RS, RW, E and D0..D7 (with four lines D4..D7 only), or the SCL
 * and SDA of an I2C expander.
 */
enum {
    DIA_CHARACTERS_RS,
    DIA_CHARACTERS_RW,
    DIA_CHARACTERS_E,
    DIA_CHARACTERS_D0,
    DIA_CHARACTERS_SCL = DIA_CHARACTERS_D0 + 8,
    DIA_CHARACTERS_SDA,
    DIA_CHARACTERS_PINS
};
struct dia_glass {
    uint8_t columns, rows;
    uint8_t split;           /* 1: one row, whose second half is the chip's second line */
    uint8_t address;         /* of the expander, 7 bits */
    uint8_t half;            /* 1: on since before, with four lines, in the middle of a pair */
    uint16_t oscillator_khz; /* 0: 270, the typical one */
    int16_t contrast_off_mv; /* at its contrast pin, above 500 mV, where all is right, or below */
};
int dia_bench_characters(struct dia_bench *bench, const struct dia_device_setup *setup,
                         const struct dia_glass *glass);

/* What a character display shows. */
struct dia_cells_shown {
    uint8_t columns, rows;
    uint8_t code[4][40];   /* of each place; 0..15 are glyphs */
    uint8_t glyph[8][8];   /* a byte a row from the top, bit 4 at the left */
    uint8_t on;            /* 0: nothing shows, but the text is kept */
    uint8_t cursor_column; /* where the cursor stands, 255: not on the glass */
    uint8_t cursor_row;
    uint8_t underline, block; /* how it shows */
    uint8_t blocks;           /* 1: never set up; the first row shows blocks */
    uint8_t contrast;         /* enum dia_contrast */
    uint32_t frames;          /* instructions and characters so far */
    uint64_t latched_ns;      /* when the last of them was taken */
};
enum dia_contrast {
    DIA_CONTRAST_GOOD,
    DIA_CONTRAST_FAINT, /* nothing is to be seen */
    DIA_CONTRAST_DARK   /* all dots are dark */
};
const struct dia_cells_shown *dia_bench_cells(const struct dia_bench *bench, int device);

/* What the lamps of a device show. The bench owns it; settle brings it up to date. */
struct dia_lamps_shown {
    uint16_t *level; /* of each lamp, linear, 65535 is lit all of its time */
    uint32_t count;
    uint32_t frames;     /* changes latched so far */
    uint64_t latched_ns; /* when the last one was */
    uint64_t draws_ua;   /* average over the refresh */
};
const struct dia_lamps_shown *dia_bench_lamps(const struct dia_bench *bench, int device);

/* An eye, or a camera: what lamps that are lit in turns show is the average from here to the next
 * settle. */
void dia_bench_expose(struct dia_bench *bench, int device, uint64_t t_ns);

/* Ends the exposure at t_ns: what was seen stays as it is, whatever comes, until the next one. */
void dia_bench_see(struct dia_bench *bench, int device, uint64_t t_ns);

/* What the bench drives on a pin at a time: 0, 1, or 2 for nothing. See dia_sim_drive. */
typedef void dia_bench_drives(void *self, uint64_t t_ns, uint8_t pin, uint8_t level);
void dia_bench_answers(struct dia_bench *bench, dia_bench_drives *drive, void *self);

/*
 * Things that are wrong with the hardware. All that is random comes from a seed, so a run can be
 * repeated. -1: no such chain, device or pin.
 */
struct dia_chain_fault {
    uint8_t wrong_end; /* 1: the data comes in at the other end, so nothing takes it */
    uint32_t dead;     /* pixels that still work, counted from the first; 0: all do. The next one is
                          dark and passes nothing on */
    uint32_t wrong_ppm; /* of the bits are taken wrongly: a high that is too low for the input */
    uint32_t seed;
};
int dia_bench_chain_fault(struct dia_bench *bench, int chain, const struct dia_chain_fault *fault);

struct dia_shift_fault {
    int stuck_output; /* that is always at stuck_level; -1: none */
    uint8_t stuck_level;
    int deaf_chip; /* that ignores the latch; -1: none */
};
int dia_bench_shift_fault(struct dia_bench *bench, int device, const struct dia_shift_fault *fault);

/* So many of the edges on a pin, in millionths, are followed by a spike of 30 ns. */
void dia_bench_noise(struct dia_bench *bench, uint8_t pin, uint32_t ppm, uint32_t seed);

/*
 * For edges that were captured on real wires. Their times may be off by so many ns, so pulses may
 * be that much longer or shorter than sheets say. And wires may be in the middle of a frame at
 * t_ns: what comes before the first rest is left aside.
 */
void dia_bench_slack(struct dia_bench *bench, uint32_t ns);
void dia_bench_join(struct dia_bench *bench, uint64_t t_ns);

/* A dia_edge_listener. */
void dia_bench_take(void *bench, const struct dia_edge *edges, uint32_t n);

/* Takes a burst on the wires of a chain of pixels, for dia_sim_bursts: what it shows, draws and has
 * to say is the same as from its edges. 0: it wants the edges, where a shape is near a limit of the
 * sheet, a line has spikes, or something else than a chain listens. Cost: some steps a byte. */
int dia_bench_take_burst(void *bench, const struct dia_burst *burst);

/* Tells the bench that no more edges come before t_ns: what latches by then, has latched. Parts
 * with a level and 7-bit parts have no latch time; call this when their frame is over. */
void dia_bench_settle(struct dia_bench *bench, uint64_t t_ns);

enum dia_scale {
    DIA_SCALE_BYTE,  /* drive 0..255 */
    DIA_SCALE_LEVEL, /* drive 0..255, times drive[3] / 31 */
    DIA_SCALE_SEVEN  /* drive 0..127 */
};

/* What a chain shows, NULL for no such chain. The bench owns it; it changes when the chain
 * latches. */
struct dia_shown {
    uint8_t (*drive)[4]; /* r g b w of each pixel, or r g b and the level; 0 where there is none */
    uint8_t (*lit)[4];   /* what of that is lit: less where a pixel has too few volts, else drive */
    uint32_t count;      /* pixels */
    enum dia_scale scale; /* what full is */
    uint8_t channels;     /* bytes a pixel */
    uint32_t frames;      /* latched so far */
    uint64_t latched_ns;  /* when the last one was */
    uint64_t draws_ua;
};
const struct dia_shown *dia_bench_shown(const struct dia_bench *bench, int chain);

/*
 * How a chain is fed, by the volts that each pixel has (rails.h). A pixel that has too few is
 * dimmed, blue first; one whose logic has too few takes no data, nor do those behind it, so they
 * keep what they showed.
 */
struct dia_fed {
    const uint16_t *mv;  /* between the rails of each pixel, now */
    uint32_t least_mv;   /* the fewest that any pixel had in any frame so far, */
    uint32_t least_at;   /* which pixel, */
    uint32_t feeds_mv;   /* and what the feed with the fewest had in that frame */
    uint32_t needs_mv;   /* the highest that a high at the first input had to be, by its sheet */
    uint32_t feed_count; /* as they were set up */
    int64_t feed_ua[DIA_RAILS_FEEDS];       /* now; negative: back into the supply */
    uint64_t feed_most_ua[DIA_RAILS_FEEDS]; /* the most so far, of both wires */
};
/* All supplies of pixels are switched off and on: they are dark until their next frame. Else those
 * that take no data, for want of volts, could keep the volts down for good. */
void dia_bench_restart_pixels(struct dia_bench *bench, uint64_t t_ns);

/* NULL: nothing is between it and its supply. The bench owns it; it changes as what shows. */
const struct dia_fed *dia_bench_fed(const struct dia_bench *bench, int chain);

/* What a pixel needs and draws, as its sheet says, at a supply of so many mV; see rails.h. */
struct dia_pixel_need {
    struct dia_rails_need rails;
    double logic_volt;             /* below this it takes no data */
    double channel_amp, quiet_amp; /* of a channel at full drive; with all dark */
    uint8_t channels;              /* dies: r g b, or r g b w */
    uint8_t series;                /* 1: its dies are one string with one current */
};
/* -1: unknown part. */
int dia_bench_need(const char *part, uint32_t supply_mv, struct dia_pixel_need *need);

/* Light of the channels r g b w of a drive, linear, 65535 is full. */
void dia_drive_light(const uint8_t drive[4], enum dia_scale scale, uint16_t light[4]);

/* What a supply gives now, and the most it ever gave, microamperes; 0 of one that is not there. */
uint64_t dia_bench_gives_ua(const struct dia_bench *bench, int supply);
uint64_t dia_bench_most_ua(const struct dia_bench *bench, int supply);

/*
 * What was wrong so far, all of level error:
 *   pulse-high, pulse-low   a pulse outside the sheet's minimum and maximum
 *   latch-short             a pause after a whole frame, too short to latch
 *   frame-short             a latch before every pixel had its bits
 *   clock-fast              a clock period shorter than the sheet's least
 *   clocks-short            too few clocks (or zero bytes) after the pixels: the last do not show
 *   start-short             a frame that begins after fewer than 32 zero bits
 *   word-mark               a word for a pixel that does not begin with 111; a byte that is
 *                           neither 7 bits below a set bit nor zero
 *   bits-left               more bits than the chain has pixels for
 *   supply-over             more current than the supply may give
 *   starved                 a lit pixel has too few volts for one of its colours
 *   data-refused            a pixel has too few volts for its logic, or its input too low a high
 *   volts-unknown           the network of its rails did not settle
 *   fuse-over               more current through a feed than its fuse is for
 *   back-feed               50 mA or more go back into a supply, from one with more volts
 * Drivers of lamps and cells:
 *   clock-fast, cycle-short, pulse-short, set-up-short, hold-short, select-short, strobe-short,
 *   wait-short              a time shorter than the sheet's least
 *   word-part               a latch, select or stop in the middle of a word
 *   command                 a byte that is no command
 *   busy                    an instruction while the chip was busy with the one before
 *   power-up                an instruction too soon after power-up
 *   ghost                   a row is lit before the row before it is off
 */
const struct dia_findings *dia_bench_findings(const struct dia_bench *bench);

/* Adds a finding of something else on the desk, such as the controller. It is copied. */
void dia_bench_complain(struct dia_bench *bench, const struct dia_finding *finding);

DIA_END

#endif
