/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/pulse_engine.h>

void dia_engine_init(struct dia_engine *engine, const struct dia_engine_setup *setup)
{
    memset(engine, 0, sizeof *engine);
    engine->setup = *setup;
}

/* A cycle begins with the first clock after so many times the divider: with a fraction, some
 * cycles are a clock longer than others. */
uint64_t dia_engine_now_ns(const struct dia_engine *engine)
{
    uint64_t whole = engine->setup.divider >> 8, part = engine->setup.divider & 255;
    uint64_t clocks = engine->cycle * whole + (engine->cycle * part >> 8);
    uint64_t hz = engine->setup.clock_hz;
    return clocks / hz * 1000000000u + clocks % hz * 1000000000u / hz;
}

static void drive(struct dia_engine *engine, uint8_t first, uint8_t n, uint32_t values,
                  dia_edge_listener *take, void *self)
{
    for (uint8_t k = 0; k < n; k++) {
        uint8_t pin = (uint8_t)((first + k) & 63), level = values >> k & 1;
        if ((engine->levels >> pin & 1) == level)
            continue;
        engine->levels ^= (uint64_t)1 << pin;
        struct dia_edge edge = {dia_engine_now_ns(engine), pin, level, 0};
        if (take)
            take(self, &edge, 1);
    }
}

/* The next word of data: 0, there is none. */
static int fetch(struct dia_engine *engine)
{
    if (engine->taken == engine->setup.data_count)
        return 0;
    engine->out = engine->setup.data[engine->taken++];
    engine->out_left = 32;
    return 1;
}

/* With automatic fetching, data is there before an OUT that needs it, or the OUT waits. */
static int has_bits(struct dia_engine *engine)
{
    uint8_t gone = (uint8_t)(32 - engine->out_left), each = engine->setup.pull_bits;
    if (each && (engine->taken == 0 || gone >= each))
        return fetch(engine);
    return 1;
}

static uint32_t out_bits(struct dia_engine *engine, uint32_t n)
{
    uint32_t bits = n == 32 ? engine->out : engine->out >> (32 - n);
    engine->out = n == 32 ? 0 : engine->out << n;
    engine->out_left = (uint8_t)(engine->out_left > n ? engine->out_left - n : 0);
    return bits;
}

/* 1: it jumps. Counting down happens whether it jumps or not. */
static int jumps(struct dia_engine *engine, uint32_t condition)
{
    switch (condition) {
    case 0:
        return 1;
    case 1:
        return engine->x == 0;
    case 2:
        return engine->x-- != 0;
    case 3:
        return engine->y == 0;
    case 4:
        return engine->y-- != 0;
    case 5:
        return engine->x != engine->y;
    case 7: /* not all bits of the data have gone */
        return 32 - engine->out_left < (engine->setup.pull_bits ? engine->setup.pull_bits : 32);
    default: /* an input pin: low */
        return 0;
    }
}

static int moves(struct dia_engine *engine, uint32_t what, dia_edge_listener *take, void *self)
{
    uint32_t from = what & 7, op = what >> 3 & 3, to = what >> 5, value = 0;
    if (from == 1 || from == 2)
        value = from == 1 ? engine->x : engine->y;
    else if (from == 7)
        value = engine->out;
    else if (from != 3) /* 3: nothing, 0 */
        return 0;
    if (op > 1)
        return 0;
    value = op ? ~value : value;
    if (to == 0)
        drive(engine, engine->setup.out_pin, engine->setup.out_count, value, take, self);
    else if (to == 1)
        engine->x = value;
    else if (to == 2)
        engine->y = value;
    else if (to == 7)
        engine->out = value;
    return to < 3 || to == 7;
}

/* What an instruction does, its pins beside it aside. 1, 0: it waits, -1: it is not known. */
static int does(struct dia_engine *engine, uint16_t word, dia_edge_listener *take, void *self)
{
    const struct dia_engine_setup *setup = &engine->setup;
    uint32_t what = word & 255, upper = what >> 5, lower = what & 31;
    switch (word >> 13) {
    case 0: /* JMP */
        if (jumps(engine, upper))
            engine->at = (uint8_t)lower;
        return 1;
    case 3: /* OUT */
        if (!has_bits(engine))
            return 0;
        if (upper > 3)
            return -1;
        uint32_t bits = out_bits(engine, lower ? lower : 32);
        if (upper == 0)
            drive(engine, setup->out_pin, setup->out_count, bits, take, self);
        else if (upper < 3)
            *(upper == 1 ? &engine->x : &engine->y) = bits;
        return 1;
    case 4: /* PULL, which waits */
        return (what & 0xa0) == 0xa0 ? fetch(engine) : -1;
    case 5:
        return moves(engine, what, take, self) ? 1 : -1;
    case 7: /* SET */
        if (upper == 0)
            drive(engine, setup->set_pin, setup->set_count, lower, take, self);
        else if (upper == 1 || upper == 2)
            *(upper == 1 ? &engine->x : &engine->y) = lower;
        return upper < 3 ? 1 : -1;
    default:
        return -1;
    }
}

/* One instruction with its delay. Pins beside it are set even while it waits. */
static void step(struct dia_engine *engine, dia_edge_listener *take, void *self)
{
    const struct dia_engine_setup *setup = &engine->setup;
    uint8_t here = engine->at;
    uint16_t word = here < setup->count ? setup->words[here] : 0xc000;
    uint32_t beside = word >> 8 & 31, delay = beside & (31u >> setup->side_count);
    engine->at = (uint8_t)(here + 1 == setup->count ? setup->wrap : here + 1);
    int done = does(engine, word, take, self);
    if (setup->side_count) /* after the instruction's own: they win */
        drive(engine, setup->side_pin, setup->side_count, beside >> (5 - setup->side_count), take,
              self);
    engine->state = done < 0 ? DIA_ENGINE_UNKNOWN : done ? DIA_ENGINE_RUNS : DIA_ENGINE_WAITS;
    if (done > 0)
        engine->cycle += 1 + delay;
    else
        engine->at = here;
}

enum dia_engine_state dia_engine_run(struct dia_engine *engine, uint64_t until_ns,
                                     dia_edge_listener *take, void *self)
{
    engine->state = DIA_ENGINE_RUNS;
    while (engine->state == DIA_ENGINE_RUNS && dia_engine_now_ns(engine) < until_ns)
        step(engine, take, self);
    return (enum dia_engine_state)engine->state;
}
