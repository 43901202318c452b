/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAYER_PRIVATE_H
#define DIA_HOST_PLAYER_PRIVATE_H

#include <diachrome/group.h>
#include <diachrome/linux_port.h>
#include <diachrome/outlet.h>
#include <diachrome/player.h>
#include <diachrome/set.h>
#include <diachrome/shift.h>

#include "player_nodes.h"

/* When a frame of one lane or device was on its way. */
struct play_time {
    uint64_t began_ns, shown_ns;
    uint8_t on_its_way;
    uint8_t waits; /* for its turn: that is not its own time */
};

/* A lane at work. */
struct play_lane {
    struct dia_strip strip;
    struct play_time time;
    struct dia_rgb *pixels;
    uint8_t *memory;
    uint16_t curve[256]; /* where its gamma is not that of sRGB */
    uint16_t whole[256]; /* where it is not dithered */
    int chain;
};

/* Lanes sent at once. */
struct play_group {
    struct dia_group group;
    uint8_t first_pin;
    uint8_t *planes;
};

/* A device at work. */
struct play_device {
    struct dia_driver *driver; /* the first field of the family's own struct */
    uint8_t *levels;           /* of each lamp */
    uint8_t *drawing;          /* what the driver gets, and its own memory */
    uint8_t *memory;
    struct dia_shift_digits shift_digits; /* of digits in turns on a chain */
    struct dia_sim *sim;                  /* whose timer, of that number, calls its ticks; */
    int timer;                            /* -1: it has none */
    uint32_t tick_ns;                     /* how long a tick keeps the processor */
    int on_bench;
    struct play_time time;
    uint32_t frames; /* so far */
    uint8_t is_cells;
    uint8_t refused; /* a frame of it ever was */
    uint8_t glyphs;  /* of a character display: a bit for each that this frame shows */
};

/* It plays on the bench; or it has none, and drives real parts (outlet.h); or nodes do, each on its
 * bench. */
struct dia_player {
    struct play_nodes *nodes;    /* not NULL: of the rest it has the rig and the desk alone */
    struct dia_port *port;       /* of the sim, or of the computer */
    struct dia_linux *computer;  /* NULL: the sim */
    const char *connecting;      /* lane or device that was being connected last */
    struct play_kept *kept;      /* of each member, where it is kept from flashing; NULL */
    uint32_t run_ms;             /* of the next frame, for that */
    uint64_t held_back;          /* frames of members that would have been a flash too many */
    struct dia_outlet *outlet;   /* that shows the same on real parts; NULL: none */
    const struct dia_rig *rig;   /* as the controller knows it */
    const struct dia_desk *desk; /* as it is */
    struct dia_desk *own;        /* the desk, where the player made it */
    struct dia_sim sim;
    dia_share master;
    uint32_t missed; /* as the sim counts, when it was last complained about */
    struct dia_bench *bench;
    int supplies[DIA_RIG_SUPPLIES]; /* numbers on the bench */
    struct dia_set set;
    struct dia_set_supply set_supplies[DIA_RIG_SUPPLIES];
    struct dia_set_member members[DIA_RIG_DEVICES + DIA_RIG_LANES]; /* devices, then lanes */
    struct play_lane lanes[DIA_RIG_LANES];
    struct play_group groups[DIA_RIG_GROUPS];
    struct play_device devices[DIA_RIG_DEVICES];
    struct play_shape *shapes; /* of all signs that a glyph may be, where a rig has cells */
    uint32_t shape_count;
};

/* Who plays a lane or device: the player, or of a rig with nodes that of its node, where it has
 * another number. */
static inline const struct dia_player *dia_play_of_lane(const struct dia_player *player,
                                                        uint32_t *lane)
{
    if (!player->nodes)
        return player;
    const struct play_part *part = &player->nodes->lanes[*lane];
    *lane = part->number;
    return part->of;
}

static inline const struct dia_player *dia_play_of_device(const struct dia_player *player,
                                                          uint32_t *device)
{
    if (!player->nodes)
        return player;
    const struct play_part *part = &player->nodes->devices[*device];
    *device = part->number;
    return part->of;
}

/* Drivers get what they send by: a bus, or pulses on the pin of a lane. */
enum dia_status dia_play_spi(struct dia_player *player, uint8_t bus, const char *path,
                             uint8_t clock_pin, uint8_t data_pin);
enum dia_status dia_play_i2c(struct dia_player *player, uint8_t bus, const char *path,
                             uint8_t scl_pin, uint8_t sda_pin);
enum dia_status dia_play_pulses(struct dia_player *player, const struct dia_rig_lane *lane);

/* flashing.c: what would be a flash too many shows what was there before. */
void dia_play_keep_from_flashing(struct dia_player *player);
void dia_play_kept_free(struct dia_player *player);

/* outlet_ask.c: hands over what the drivers of a player have been drawn. */
void dia_outlet_take(struct dia_outlet *outlet, const struct dia_player *from);

/* Connects all lanes and groups, and their chains on the bench: 0, or -1. */
int dia_play_lanes_connect(struct dia_player *player);
void dia_play_lanes_free(struct dia_player *player);
void dia_play_lanes_draw(struct dia_player *player, const struct dia_content *content,
                         uint32_t slot);

/* The worst that the last frame of a lane came to. */
enum dia_status dia_play_lanes_status(const struct dia_player *player);

/* The dots of a sign, as the faces have them. */
struct play_shape {
    uint16_t sign;
    uint8_t rows[8];
};

/* All of them, if the rig has cells: 0, or -1. */
int dia_play_shapes(struct dia_player *player);

/* The same of the devices. */
int dia_play_devices_connect(struct dia_player *player);
void dia_play_devices_free(struct dia_player *player);
void dia_play_devices_draw(struct dia_player *player, const struct dia_content *content);

/* The code of a cell for a sign that its ROM lacks, after dia_play_glyphs_begin for each frame. */
void dia_play_glyphs_begin(struct play_device *device);
struct dia_drawing_files; /* signs may stand for their drawings, as of a time; NULL: there are none
                           */
uint8_t dia_play_glyph(struct dia_player *player, uint32_t device, uint16_t sign,
                       const struct dia_drawing_files *files, uint32_t ms);

/* Something to be told, once for each code and text. */
void dia_player_complain(struct dia_player *player, const char *place, const char *code,
                         enum dia_finding_level level, const char *text);

/* There is no memory for a bench: says so. */
void dia_play_no_memory(const struct dia_rig *rig, struct dia_diagnostic *wrong);

/* Pins with buttons, which are let go. */
void dia_play_buttons_connect(struct dia_player *player);

/* Time until a tick is due, us: nothing but ends of transmissions happens before. 1 to a second. */
uint64_t dia_play_next_tick_us(const struct dia_sim *sim);

/* Looks at what is lit in turns for as long as an eye needs. */
void dia_play_devices_look(struct dia_player *player);

#endif
