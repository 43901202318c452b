/* SPDX-License-Identifier: MIT */
#include "../product.h"
#include "tail.h"

void dia_tail_make(struct tail *tail, uint32_t pitch, uint32_t head, uint32_t length)
{
    tail->pitch = pitch;
    tail->head = head;
    tail->reach = head + length;
    tail->slope = length ? 0xffffffffu / length : 0;
    tail->lost = pitch < length ? (uint16_t)(pitch * tail->slope >> 16) : 65535u;
    tail->third = (uint16_t)((uint32_t)tail->lost * tail->lost / 3u >> 16);
    for (tail->down = 0; tail->down < 16 && pitch > 65535u; pitch >>= 1)
        tail->down++;
    for (tail->up = 0; tail->up < 15 && pitch < 32768u; pitch <<= 1)
        tail->up++;
    tail->width = (uint16_t)pitch;
    tail->over = (uint16_t)(0xffffffffu / pitch - 65536u);
}

/* How much of from..to lies on low..high. */
static uint32_t common(uint32_t from, uint32_t to, uint32_t low, uint32_t high)
{
    from = from > low ? from : low;
    to = to < high ? to : high;
    return to > from ? to - from : 0;
}

/* A part of the pitch times a level. No division: at most three too few are found out from what is
 * left. */
static uint32_t part_of(const struct tail *tail, uint32_t part, uint16_t level)
{
    uint16_t high, steps, width = tail->width;
    uint32_t whole = product_of((uint16_t)(part >> (tail->down & 31u) << (tail->up & 31u)), level);
    high = (uint16_t)(whole >> 16);
    steps = (uint16_t)(high + product_high(high, tail->over));
    for (uint32_t left = whole - product_of(steps, width); left >= width; left -= width)
        steps++;
    return steps;
}

/* x / 3 / 65536, rounded down */
static uint16_t third_of(uint32_t x)
{
    return product_high((uint16_t)(x >> 16), 43691u) >> 1;
}

uint16_t dia_tail_border(const struct tail *tail, uint32_t behind)
{
    uint32_t near = behind > tail->pitch ? behind - tail->pitch : 0;
    uint32_t head = common(near, behind, 0, tail->head);
    uint32_t rest = common(near, behind, tail->head, tail->reach);
    uint32_t level = part_of(tail, head, 65535u);
    if (rest != 0) {
        uint32_t from = near > tail->head ? near - tail->head : 0;
        uint32_t a = tail_left(tail, from), b = tail_left(tail, from + rest);
        level += part_of(tail, rest, (uint16_t)((a * b >> 16) + third_of((a - b) * (a - b))));
    }
    return (uint16_t)(level < 65535u ? level : 65535u);
}

/* ---- at even distances ------------------------------------------------------------------------
 */

#define TURN 0x1000000u /* from light to light, so many units */

/* More than 16 distances on one element are as 16: such elements all look the same. */
void dia_tail_make_turn(struct tail *tail, uint32_t pitch_um, uint32_t lights, uint32_t length_um,
                        dia_share share)
{
    uint64_t many = (uint64_t)pitch_um * lights * TURN / length_um;
    uint32_t pitch = many == 0 ? 1u : many < 16u * TURN ? (uint32_t)many : 16u * TURN;
    uint32_t reach = (uint32_t)share * (TURN / DIA_SHARE_ONE);
    uint32_t head = pitch < reach ? pitch : reach;
    dia_tail_make(tail, pitch, head, reach - head);
}

/* An element that lies over the front of a light, and so over the end of the one ahead of it, or
 * over more of them. */
static uint16_t several(const struct tail *tail, uint32_t behind)
{
    uint32_t level = 0;
    for (; behind < tail->pitch + tail->reach; behind += TURN)
        level += dia_tail_border(tail, behind);
    return (uint16_t)(level < 65535u ? level : 65535u);
}

void dia_tail_turn_run(const struct tail *tail, int away, const dia_phase *places, uint32_t n,
                       uint16_t *levels)
{
    for (; n != 0; n--, places++) {
        uint32_t place = *places >> 8;
        uint32_t behind = (away ? 0u - place : place + tail->pitch) & (TURN - 1u);
        *levels++ = behind < tail->pitch ? several(tail, behind) : tail_level_behind(tail, behind);
    }
}
