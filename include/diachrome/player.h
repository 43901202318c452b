/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PLAYER_H
#define DIACHROME_PLAYER_H

#include "bench.h"
#include "diagnostic.h"
#include "fault.h"
#include "linkage.h"
#include "rig.h"
#include "sim.h"

DIA_BEGIN

/*
 * A rig at work on the bench: a simulated controller that drives its lanes, and the models of
 * what hangs on them. All a player shows has gone through the wire.
 *
 *   struct dia_player *player = dia_player_new(&rig, &wrong);
 *   dia_player_show(player, look, &values, ms, slot);
 *   dia_player_shown(player, 0)->drive[5][0]        red of pixel 5 on lane 0
 *
 * Cost: 80 s of 1,000 one-wire pixels at 30 Hz are played in a second of a desktop, some 30 s while
 * a trace listens. Memory: some 20 bytes a pixel.
 * Context: one thread at a time for an object; not from an interrupt.
 */
struct dia_player;

/* The rig must live as long as the player. What its file says under 'faults' is wrong with the
 * hardware. NULL and a diagnostic when memory ran out.
 *
 * A whole rig with nodes is played as what it is: each node has a simulated controller and a bench
 * of its own, with supplies of its own, and all of them show together. Lanes, devices and buttons
 * have their numbers of the whole rig; what is said of a supply is said of all those of its name.
 * Memory: about 1.7 MB more for each node. What is about pins and edges (dia_player_bench,
 * dia_player_level, dia_player_listen, dia_player_drives) is for the player of one node. */
struct dia_player *dia_player_new(const struct dia_rig *rig, struct dia_diagnostic *wrong);

/* The same with the hardware as it really is, which may be other than the rig says. The desk must
 * have the rig's lanes, devices and supplies in its order, and live as long as the player. Of a
 * whole rig with nodes: NULL and a diagnostic; take the part of one (dia_rig_part). */
struct dia_player *dia_player_on(const struct dia_rig *rig, const struct dia_desk *desk,
                                 struct dia_diagnostic *wrong);

/* The bench that it plays on, for edges from elsewhere. Those come after dia_player_now_ns(), where
 * the player stays. */
struct dia_bench *dia_player_bench(struct dia_player *player);

/* From now on each frame goes to real parts too (outlet.h), whose drivers are those of the same
 * rig; NULL: no more. */
struct dia_outlet;
void dia_player_drives(struct dia_player *player, struct dia_outlet *outlet);

/* The hardware as it is: what all that is shown belongs to. */
const struct dia_rig *dia_player_desk(const struct dia_player *player);
void dia_player_free(struct dia_player *player);

/* With the next show, everything is sent to every device, the set-up too. */
void dia_player_refresh(struct dia_player *player);

/* Level of a pin of the controller now, 0 or 1. */
uint8_t dia_player_level(const struct dia_player *player, uint8_t pin);

/* The overall level from the next frame on, in place of the rig's; budgets hold all the same. */
void dia_player_master(struct dia_player *player, dia_share master);

/* From now on no lane or device of lamps flashes more often than that in any second, 1 to
 * DIA_FLASHES_MOST (flashing.h): instead it shows what it showed before. 0: as often as it is told
 * to. Frames depend on those before them then. -1: memory ran out, and 0 holds. How many frames of
 * lanes and devices were held back. */
int dia_player_flashes(struct dia_player *player, uint8_t most);
void dia_player_run_ms(struct dia_player *player, uint32_t ms); /* real time of the next frame */
uint64_t dia_player_held_back(const struct dia_player *player);

/* Hears every edge from now on. */
void dia_player_listen(struct dia_player *player, dia_edge_listener *take, void *self);

/* Lets the bench rest until a moment of its clock, in ns; no-op when that is past. */
void dia_player_rest_until(struct dia_player *player, uint64_t t_ns);
uint64_t dia_player_now_ns(const struct dia_player *player);

/*
 * Shows a look at time ms on every lane, as frame number slot of the dithering: limits the lanes
 * of each supply together, sends them, and returns when the last has latched. Lanes that get
 * brighter wait for those on the same supply that get darker, so that the supply holds in
 * between; else all go at once. How long that took on the wire, latch gaps included, comes back
 * in frame_ns if it is not NULL.
 */
enum dia_status dia_player_show(struct dia_player *player, const struct dia_look *look,
                                const void *values, uint32_t ms, uint32_t slot, uint64_t *frame_ns);

/*
 * What to show, from a look or from anything else: each function fills in one lane or device.
 * Lamps are levels 0..255; of a device with digits its text comes first.
 */
struct dia_cells_wanted { /* of a character display, beside its text */
    uint8_t on;           /* 0: it shows nothing, and keeps its text */
    uint8_t cursor;       /* enum dia_cursor */
    uint8_t cursor_column, cursor_row;
};
struct dia_content {
    void *self;
    void (*pixels)(void *self, uint32_t lane, uint32_t count, struct dia_rgb *pixels);
    /* a level a lamp, or of colour panels three a pixel: red, green, blue */
    void (*lamps)(void *self, uint32_t device, uint32_t count, uint8_t *levels);
    /* row of a display or digits; NULL: that of the rig */
    const char *(*text)(void *self, uint32_t device, uint32_t row);
    /* changes what is wanted, which is on and has no cursor; NULL: it stays so */
    void (*cells)(void *self, uint32_t device, struct dia_cells_wanted *wanted);
};
enum dia_status dia_player_show_content(struct dia_player *player,
                                        const struct dia_content *content, uint32_t slot,
                                        uint64_t *frame_ns);

/* What an eye sees of n pixels together, from the first: the mean of their light, white added to
 * r g b, as an sRGB colour. */
struct dia_rgb dia_seen(const uint8_t (*drive)[4], uint32_t n, enum dia_scale scale);

/* What an eye sees of a pixel of a lane, which has too few volts or enough. */
struct dia_rgb dia_player_seen(const struct dia_player *player, uint32_t lane, uint32_t pixel);

/* What a lane shows, and what the last frame wanted to draw from a supply, what share
 * of its light it got, and what the supply gives now. */
const struct dia_shown *dia_player_shown(const struct dia_player *player, uint32_t lane);
/* How a lane is fed, frame for frame; NULL where its rig does not say and nothing is wrong with its
 * supply. */
const struct dia_fed *dia_player_fed(const struct dia_player *player, uint32_t lane);
/* Supplies off and on: all pixels are dark until the next frame. */
void dia_player_restart_pixels(struct dia_player *player);
/* Of the last frame of a lane, from its start until the next one could start. */
uint64_t dia_player_lane_ns(const struct dia_player *player, uint32_t lane);
uint32_t dia_player_asked_ua(const struct dia_player *player, uint32_t supply);
dia_share dia_player_share(const struct dia_player *player, uint32_t supply);
uint64_t dia_player_gives_ua(const struct dia_player *player, uint32_t supply);
/* How many supplies of that name there are: one at each node that has something on it. 1 but for a
 * whole rig with nodes, whose currents above are the sum of all, and whose share is the least. */
uint32_t dia_player_alike(const struct dia_player *player, uint32_t supply);
/* The most that it ever gave, between frames too; of several the sum of that. */
uint64_t dia_player_most_ua(const struct dia_player *player, uint32_t supply);

/* What a device shows: its lamps, in the order of the rig (level 0..65535 of full; red, green and
 * blue of pixel i of a colour panel are lamps 3 * i and those behind it), or its cells. */
uint16_t dia_player_lamp(const struct dia_player *player, uint32_t device, uint32_t lamp);

/* What an eye sees of a lamp of a device at a level, 0..65535: its colour. And of a lamp, or of a
 * pixel of a colour panel, as it is. */
struct dia_rgb dia_lamp_seen(const struct dia_rig_device *device, uint16_t level);
struct dia_rgb dia_player_lamp_seen(const struct dia_player *player, uint32_t device,
                                    uint32_t lamp);
const struct dia_cells_shown *dia_player_cells(const struct dia_player *player, uint32_t device);
/* The sign that a cell of a character display looks like: by its ROM, or by the dots of its glyph,
 * where these are one of the face plain; else U+2592, a shade. */
uint16_t dia_player_cell(const struct dia_player *player, uint32_t device, uint8_t row,
                         uint8_t column);
uint64_t dia_player_device_ns(const struct dia_player *player,
                              uint32_t device); /* start to shown */

/* Lets time pass until just before the k-th next tick of a device, from 0; where it has none, none
 * passes. */
void dia_player_rest_until_tick(struct dia_player *player, uint32_t device, uint32_t k);

/* How late a tick of it came at the worst, so far; 0 where it has none. */
uint64_t dia_player_late_ns(const struct dia_player *player, uint32_t device);

/* 1: a frame was refused by the device, since it does not answer or its bus does not work. */
uint8_t dia_player_refused(const struct dia_player *player, uint32_t device);

/* Keys held on a panel from now on, bit k for key k; and those its driver has read. */
void dia_player_hold_keys(struct dia_player *player, uint32_t device, uint8_t keys);
uint8_t dia_player_keys(const struct dia_player *player, uint32_t device);

/* The same of the buttons of the rig, bit k for button k: held from now on, and as their pins say.
 */
void dia_player_hold_buttons(struct dia_player *player, uint8_t held);
uint8_t dia_player_buttons(struct dia_player *player);

/* Everything dark, as a rig is left. */
enum dia_status dia_player_dark(struct dia_player *player);

/* 1: nothing is lit, on any lane or device. */
int dia_player_is_dark(const struct dia_player *player);

/* What the bench had to complain about so far, and `ticks-missed`: the controller has no time for
 * all of its ticks. */
const struct dia_findings *dia_player_findings(const struct dia_player *player);

/* Adds what was found at the part of a node to what was found elsewhere: behind a place that is
 * there at each node, such as the controller or a supply, its node is told. */
void dia_findings_of_part(struct dia_findings *whole, const struct dia_findings *from,
                          const struct dia_rig *part);

/* The highest rate at which frames of this length can follow each other, thousandths of a frame a
 * second: rounded down to three digits, since lengths differ by a microsecond or two. */
uint32_t dia_rate_at_most(uint64_t frame_ns);

/*
 * Frame number k of a run that begins at from_ms with rate_mhz thousandths of a frame a second:
 * its time in us, and its slot, which depends on the time alone so that any frame shown by itself
 * is the same as in the run.
 */
uint64_t dia_frame_us(uint32_t from_ms, uint32_t rate_mhz, uint32_t k);
uint32_t dia_frame_slot(uint64_t time_us, uint32_t rate_mhz);

DIA_END

#endif
