/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "sim_private.h"

/*
 * I2C at 100 kHz (UM10204, standard mode): a bit is 10 us, the clock high for the second half of
 * it. Both lines are only ever pulled low or let go; the ninth bit of a byte is the other end's.
 */
#define HALF_NS 5000u

enum { STARTS, BYTES, STOPS };

void dia_sim_i2c_begin(struct dia_sim *sim, uint8_t bus, uint8_t address, const uint8_t *bytes,
                       uint32_t n)
{
    struct dia_sim_i2c *i2c = &sim->i2c[bus];
    i2c->next = bytes;
    i2c->left = n;
    i2c->address = address;
    i2c->refused = 0;
    i2c->stage = STARTS;
    if (i2c->at_ns < sim->now_ns) /* the stop before may still be on the line */
        i2c->at_ns = sim->now_ns;
    sim->i2c_active++;
    sim->quiet_ns = 0;
}

static void set(struct dia_sim *sim, uint64_t t_ns, uint8_t pin, uint8_t level)
{
    if (level)
        dia_sim_let_go(sim, t_ns, pin);
    else
        dia_sim_write(sim, t_ns, pin, 0);
}

/* Eight bits and the answer. Data changes in the middle of a low clock. */
static void send_byte(struct dia_sim *sim, struct dia_sim_i2c *i2c, uint8_t byte)
{
    uint64_t at = i2c->at_ns;
    dia_sim_room(sim, 40);
    for (uint8_t bit = 0; bit < 9; bit++) {
        set(sim, at + HALF_NS / 2, i2c->sda_pin, bit == 8 || (byte & 0x80u >> bit));
        set(sim, at + HALF_NS, i2c->scl_pin, 1);
        if (bit == 8)
            dia_sim_flush(sim); /* the other end answers */
        if (bit == 8 && sim->level[i2c->sda_pin])
            i2c->refused = 1;
        set(sim, at + 2 * HALF_NS, i2c->scl_pin, 0);
        at += 2 * HALF_NS;
    }
    i2c->at_ns = at;
}

static void start(struct dia_sim *sim, struct dia_sim_i2c *i2c)
{
    dia_sim_room(sim, 4);
    set(sim, i2c->at_ns, i2c->sda_pin, 0);
    set(sim, i2c->at_ns + HALF_NS, i2c->scl_pin, 0);
    i2c->at_ns += HALF_NS;
    send_byte(sim, i2c, (uint8_t)(i2c->address << 1));
    i2c->stage = i2c->refused ? STOPS : BYTES;
}

static void stop(struct dia_sim *sim, struct dia_sim_i2c *i2c)
{
    dia_sim_room(sim, 4);
    set(sim, i2c->at_ns + HALF_NS / 2, i2c->sda_pin, 0);
    set(sim, i2c->at_ns + HALF_NS, i2c->scl_pin, 1);
    set(sim, i2c->at_ns + 2 * HALF_NS, i2c->sda_pin, 1);
    i2c->at_ns += 3 * HALF_NS; /* the bus rests before the next start */
    i2c->next = NULL;
    sim->i2c_active--;
}

uint64_t dia_sim_i2c_until(struct dia_sim *sim)
{
    uint64_t next = UINT64_MAX;
    for (uint8_t bus = 0; sim->i2c_active != 0 && bus < DIA_SIM_BUSES; bus++) {
        struct dia_sim_i2c *i2c = &sim->i2c[bus];
        while (i2c->next != NULL && i2c->at_ns <= sim->now_ns) {
            if (i2c->stage == STARTS) {
                start(sim, i2c);
            } else if (i2c->stage == BYTES) {
                send_byte(sim, i2c, *i2c->next++);
                if (--i2c->left == 0 || i2c->refused)
                    i2c->stage = STOPS;
            } else {
                stop(sim, i2c);
            }
        }
        if (i2c->next != NULL && i2c->at_ns < next)
            next = i2c->at_ns;
    }
    return next;
}
