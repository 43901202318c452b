/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../level.h"

/*
 * The same bytes as level_plainly, with all that does not wait for a carry done before, in loops
 * that turn into vectors: each light is so many whole steps of its pixel's level and a rest. Then
 * a carry makes it one step more, or none.
 */
#define WORTH_A_TABLE 256u /* pixels; 3 KB of stack */
#define AT_ONCE       64u
#define SMALL_STEPS   ((1u << SMALL_STEP) - 1u)

struct some {
    uint32_t rest[3][AT_ONCE];  /* first the light */
    uint32_t limit[3][AT_ONCE]; /* a rest with its carry from here on is one step more */
    uint16_t level[AT_ONCE], reciprocal[AT_ONCE];
    uint8_t byte[4][AT_ONCE]; /* first the whole steps */
};

static void look_up(struct some *some, const uint32_t (*table)[256], const struct dia_rgb *pixels,
                    uint32_t n)
{
    for (uint32_t i = 0; i < n; i++) {
        uint32_t r = table[0][pixels[i].r], g = table[1][pixels[i].g], b = table[2][pixels[i].b];
        uint32_t most = r > g ? r : g;
        most = b > most ? b : most;
        some->rest[0][i] = r;
        some->rest[1][i] = g;
        some->rest[2][i] = b;
        uint32_t level = (most >> (SMALL_STEP + 8)) + 1;
        some->level[i] = (uint16_t)level;
        some->reciprocal[i] = dia_level_reciprocals[level];
    }
}

static void divide(struct some *some, uint32_t channel, uint32_t n)
{
    uint32_t *rest = some->rest[channel], *limit = some->limit[channel];
    const uint16_t *levels = some->level, *reciprocals = some->reciprocal;
    uint8_t *whole = some->byte[channel];
    uint16_t quotients[AT_ONCE], lefts[AT_ONCE];
    for (uint32_t i = 0; i < n; i++)
        lefts[i] = (uint16_t)(rest[i] >> SMALL_STEP);
    for (uint32_t i = 0; i < n; i++) {
        uint16_t x = lefts[i], level = levels[i];
        uint16_t quotient = (uint16_t)((uint32_t)x * reciprocals[i] >> 16);
        uint16_t left = (uint16_t)(x - (uint16_t)(quotient * level));
        uint16_t more = left >= level;
        quotients[i] = (uint16_t)(quotient + more);
        lefts[i] = (uint16_t)(left - (uint16_t)(level * more));
    }
    for (uint32_t i = 0; i < n; i++)
        whole[i] = (uint8_t)quotients[i];
    for (uint32_t i = 0; i < n; i++)
        rest[i] = (rest[i] & SMALL_STEPS) | (uint32_t)lefts[i] << SMALL_STEP;
    for (uint32_t i = 0; i < n; i++) /* out of reach at 255: no byte is more */
        quotients[i] = (uint16_t)((uint16_t)((uint16_t)(quotients[i] + 1) >> 8 << 10) | levels[i]);
    for (uint32_t i = 0; i < n; i++)
        limit[i] = (uint32_t)quotients[i] << SMALL_STEP;
}

/* Without a branch: which of two numbers below 2^30 is less says the upper bit of their difference.
 */
static inline uint8_t add_up(uint32_t *carry, uint32_t rest, uint32_t limit, uint8_t whole,
                             uint32_t step)
{
    uint32_t sum = rest + (*carry < step ? *carry : step - 1);
    uint32_t less = (sum - limit) >> 31;
    *carry = sum - (step & (less - 1u));
    return (uint8_t)(whole + 1u - less);
}

/* All that waits for the pixel before. */
static void carry_on(struct some *some, struct dia_carry *kept, uint32_t n)
{
    uint32_t r = kept->channel[0], g = kept->channel[1], b = kept->channel[2];
    for (uint32_t i = 0; i < n; i++) {
        uint32_t step = (uint32_t)some->level[i] << SMALL_STEP;
        some->byte[0][i] = add_up(&r, some->rest[0][i], some->limit[0][i], some->byte[0][i], step);
        some->byte[1][i] = add_up(&g, some->rest[1][i], some->limit[1][i], some->byte[1][i], step);
        some->byte[2][i] = add_up(&b, some->rest[2][i], some->limit[2][i], some->byte[2][i], step);
    }
    kept->channel[0] = r;
    kept->channel[1] = g;
    kept->channel[2] = b;
}

static void some_pixels(const struct dia_develop *develop, const uint32_t (*table)[256],
                        struct dia_carry *kept, const struct dia_rgb *pixels, uint32_t n,
                        uint8_t *out)
{
    struct some some;
    const uint8_t mark = develop->mark;
    /* cppcheck-suppress uninitvar; where they are, not what is in them */
    const uint8_t *at[4] = {some.byte[0], some.byte[0], some.byte[0], some.byte[0]};
    look_up(&some, table, pixels, n);
    for (uint32_t c = 0; c < 3; c++)
        divide(&some, c, n);
    if (kept->channel[3] != LEVEL_BEGUN)
        level_begin(kept, (uint8_t)some.level[0]);
    carry_on(&some, kept, n);
    for (uint32_t i = 0; i < n; i++)
        some.byte[3][i] = (uint8_t)(some.level[i] | mark);
    for (uint32_t c = 0; c < 4; c++)
        at[develop->place[c]] = some.byte[c];
    const uint8_t *first = at[0], *second = at[1], *third = at[2], *fourth = at[3];
    for (uint32_t i = 0; i < n; i++) {
        out[4 * i] = first[i];
        out[4 * i + 1] = second[i];
        out[4 * i + 2] = third[i];
        out[4 * i + 3] = fourth[i];
    }
}

void dia_channels_level_run(const struct dia_develop *develop, struct dia_carry *carry,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint32_t table[3][256];
    if (n < WORTH_A_TABLE) {
        level_plainly(develop, carry, pixels, n, out);
        return;
    }
    for (uint8_t c = 0; c < 3; c++) {
        for (uint32_t code = 0; code < 256; code++)
            table[c][code] = small_steps(develop, (uint8_t)code, c);
    }
    while (n != 0) {
        uint16_t run = n < AT_ONCE ? n : AT_ONCE;
        some_pixels(develop, (const uint32_t(*)[256])table, carry, pixels, run, out);
        pixels += run;
        out += 4u * run;
        n = (uint16_t)(n - run);
    }
}
