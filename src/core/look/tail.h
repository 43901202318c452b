/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_TAIL_H
#define DIA_CORE_TAIL_H

#include <diachrome/fixed.h>

/*
 * A light that goes along: fully lit for the length of its head, and from there to its end falling
 * with the square of what is left of its tail, which looks even. An element is as wide as the pitch
 * and lit by the mean of what lies over it, so that all of the light is there wherever it is. All
 * lengths are of one unit, which is the user's.
 */
struct tail {
    uint32_t pitch, head, reach; /* reach: head and tail */
    uint32_t slope;              /* 2^32 / tail */
    uint16_t lost, third;        /* what the tail loses over a pitch, a third of its square */
    uint16_t width, over;        /* private: of 16 bits, the pitch, and 2^32 / width - 65536 */
    uint8_t down, up;            /* by these shifts */
};

/* Head and tail together at most 2^31. */
void dia_tail_make(struct tail *tail, uint32_t pitch, uint32_t head, uint32_t length);

/* As tail_level, where a border lies on the element. */
uint16_t dia_tail_border(const struct tail *tail, uint32_t behind);

static inline uint16_t tail_left(const struct tail *tail, uint32_t behind_head)
{
    return (uint16_t)(65535u - (behind_head * tail->slope >> 16));
}

/* How much light there is on an element, 0..65535, all of it behind the front and its far side so
 * far: of two levels a and b at its sides the mean of the squares between is
 * a * b + (a - b)^2 / 3. */
static inline uint16_t tail_level_behind(const struct tail *tail, uint32_t behind)
{
    uint32_t near = behind - tail->pitch;
    if (near >= tail->reach)
        return 0;
    if (behind <= tail->head)
        return 65535u;
    if (near < tail->head || behind > tail->reach)
        return dia_tail_border(tail, behind);
    uint16_t b = tail_left(tail, behind - tail->head);
    return (uint16_t)(((uint32_t)b * (uint16_t)(b + tail->lost) >> 16) + tail->third);
}

/* The same, wherever the element is. */
static inline uint16_t tail_level(const struct tail *tail, uint32_t behind)
{
    return behind >= tail->pitch ? tail_level_behind(tail, behind) : dia_tail_border(tail, behind);
}

/*
 * The same for lights that come again at even distances, each with its tail within a share of
 * those. Places are phases from the front of a light, of the near sides of elements when it moves
 * away (towards higher ones), and of the same sides when not. Length over lights is the distance.
 */
void dia_tail_make_turn(struct tail *tail, uint32_t pitch_um, uint32_t lights, uint32_t length_um,
                        dia_share share);
void dia_tail_turn_run(const struct tail *tail, int away, const dia_phase *places, uint32_t n,
                       uint16_t *levels);

#endif
