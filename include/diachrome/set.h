/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SET_H
#define DIACHROME_SET_H

#include "driver.h"
#include "linkage.h"
#include "power.h"

DIA_BEGIN

/*
 * A set: all the drivers of a controller, and the supplies that they share. Strips on one supply
 * are limited together; what lamps and displays take is set aside first. In between it holds too:
 * strips that get darker are sent first, and all that gets brighter when those show.
 *
 *   struct dia_set_supply supplies[] = {{.given_ua = 1900000}};      2 A less 100 mA
 *   struct dia_set_member members[] = {{.driver = &strip.driver},
 *                                      {.driver = &board.driver, .lamp_ua = 20000}};
 *   struct dia_set set;
 *   dia_set_init(&set, supplies, 1, members, 2);
 *   ... draw
 *   dia_set_show_and_wait(&set);               or dia_set_show, then dia_set_poll
 *   dia_set_dark(&set);                        when the program ends
 *
 * A strip in a set has no supply of its own. Drive the members by the set only; ticks go to the
 * drivers as ever.
 * Context: main loop only. Memory: supplies and members are yours, for as long as the set lives.
 * Cost:    show reads every pixel of a strip once more than the strip alone.
 */
struct dia_set_supply {
    uint32_t given_ua;        /* for light: what it gives less what is kept, uA; DIA_NO_LIMIT */
    struct dia_budget budget; /* private, as all below: of the last show */
    uint32_t kept_ua;         /* of that, set aside for lamps and displays */
    uint8_t darker;
};

struct dia_set_member {
    struct dia_driver *driver;
    uint32_t lamp_ua;  /* of a lamp, or of a display's light, while it is lit; 0 for strips */
    uint8_t supply;    /* number in supplies */
    uint8_t status;    /* yours to read: of its last frame. DIA_OK: it shows; DIA_BUSY: on its way;
                          else the error, until the next show */
    uint32_t takes_ua; /* private, as all below: of its last frame, at most */
    uint32_t asks_ua;  /* of the next one */
    uint32_t held_ua;  /* what dithering may add to it */
};

struct dia_set {
    struct dia_set_supply *supplies; /* private, as all below */
    struct dia_set_member *members;
    uint8_t supply_count, member_count;
};

/* DIA_BAD_VALUE: a member is NULL or names a supply that is not there; both counts are 1..255. */
enum dia_status dia_set_init(struct dia_set *set, struct dia_set_supply *supplies,
                             uint8_t supply_count, struct dia_set_member *members,
                             uint8_t member_count);

/*
 * Hands over the drawings of all. DIA_BUSY: one is still on its way; nothing has changed. An error
 * of a frame before may come back; nothing has changed then either. Other errors: that of a driver
 * that would not take its drawing; the others go on, poll as ever.
 */
enum dia_status dia_set_show(struct dia_set *set);

/* Keeps all going. DIA_OK: all show. DIA_BUSY: come again after *again_us (may be NULL). Other
 * errors come back once; the others go on. */
enum dia_status dia_set_poll(struct dia_set *set, uint32_t *again_us);

/* Until all show, each for as long as dia_driver_wait; and what dia_driver_show_and_wait is. */
enum dia_status dia_set_wait(struct dia_set *set);
enum dia_status dia_set_show_and_wait(struct dia_set *set);

/* All dark, one after the other; the worst answer. */
enum dia_status dia_set_dark(struct dia_set *set);

/* What the last frame asked for from a supply without limit, uA, and the share of light it got. */
uint32_t dia_set_asked_ua(const struct dia_set *set, uint8_t supply);
dia_share dia_set_share(const struct dia_set *set, uint8_t supply);

DIA_END

#endif
