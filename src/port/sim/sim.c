/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/sim.h>

#include "sim_private.h"

#define ASKING_NS 1000u
#define PIN_NS    100u     /* of a controller without a clock */
#define LATE_NS   1000000u /* a timer that is later than that will not catch up */

void dia_sim_flush(struct dia_sim *sim)
{
    if (sim->batched == 0 || sim->flushing)
        return;
    sim->flushing = 1;
    while (sim->batched != 0) {
        for (uint8_t i = 0; i < sim->listener_count; i++)
            sim->listeners[i].take(sim->listeners[i].self, sim->batch, sim->batched);
        memcpy(sim->batch, sim->answers, sim->answered * sizeof sim->answers[0]);
        sim->batched = sim->answered;
        sim->answered = 0;
    }
    sim->flushing = 0;
}

void dia_sim_room(struct dia_sim *sim, uint32_t n)
{
    if (DIA_SIM_BATCH - sim->batched < n)
        dia_sim_flush(sim);
}

int dia_sim_burst(struct dia_sim *sim, const struct dia_burst *burst)
{
    dia_sim_flush(sim); /* what came before it */
    return sim->listeners[0].burst(sim->listeners[0].self, burst);
}

void dia_sim_let_go(struct dia_sim *sim, uint64_t t_ns, uint8_t pin)
{
    dia_sim_flush(sim); /* the other end may have something to say to it */
    sim->let_go[pin] = 1;
    sim_edge(sim, t_ns, pin, sim->outside[pin] != 0);
}

void dia_sim_write(struct dia_sim *sim, uint64_t t_ns, uint8_t pin, uint8_t level)
{
    sim->let_go[pin] = 0;
    sim_edge(sim, t_ns, pin, level);
}

void dia_sim_drive(void *self, uint64_t t_ns, uint8_t pin, uint8_t level)
{
    struct dia_sim *sim = self;
    sim->outside[pin] = level;
    if (!sim->let_go[pin] || sim->level[pin] == (level != 0))
        return;
    if (!sim->flushing) {
        dia_sim_room(sim, 1);
        sim_edge(sim, t_ns, pin, level != 0);
    } else if (sim->answered < DIA_SIM_ANSWERS) {
        sim->answers[sim->answered++] = (struct dia_edge){t_ns, pin, level != 0, 1};
        sim->level[pin] = level != 0;
    }
}

static uint64_t sooner(uint64_t a, uint64_t b)
{
    return a < b ? a : b;
}

/* What is due by now; when something is due next. */
static uint64_t send_until_now(struct dia_sim *sim)
{
    uint64_t next = dia_sim_pulses_until(sim);
    next = sooner(next, dia_sim_planes_until(sim));
    next = sooner(next, dia_sim_spi_until(sim));
    return sooner(next, dia_sim_i2c_until(sim));
}

/* The timer that is due first by then, or NULL. */
static struct dia_sim_timer *next_timer(struct dia_sim *sim, uint64_t until_ns)
{
    struct dia_sim_timer *next = NULL;
    for (uint8_t i = 0; i < sim->timer_count; i++) {
        struct dia_sim_timer *timer = &sim->timers[i];
        if (timer->run && timer->due_ns <= until_ns && (!next || timer->due_ns < next->due_ns))
            next = timer;
    }
    return next;
}

/*
 * Time goes on to a moment, with the interrupts on the way. What an interrupt asks for takes time
 * of its own; no interrupt comes inside another one.
 */
void dia_sim_go_on_to(struct dia_sim *sim, uint64_t until_ns)
{
    struct dia_sim_timer *timer;
    if (until_ns < sim->quiet_ns) {
        sim->now_ns = until_ns > sim->now_ns ? until_ns : sim->now_ns;
        return;
    }
    while (!sim->in_timer && (timer = next_timer(sim, until_ns)) != NULL) {
        if (timer->due_ns > sim->now_ns)
            sim->now_ns = timer->due_ns;
        send_until_now(sim);
        sim->in_timer = 1;
        uint64_t late_ns = sim->now_ns - timer->due_ns;
        timer->latest_ns = late_ns > timer->latest_ns ? late_ns : timer->latest_ns;
        uint32_t again_us = timer->run(timer->self);
        sim->in_timer = 0;
        if (again_us == 0)
            timer->run = NULL;
        timer->due_ns += again_us * 1000u;
        if (sim->holds && late_ns > again_us * 1000u) {
            timer->due_ns = sim->now_ns + ASKING_NS;
        } else if (timer->due_ns + LATE_NS < sim->now_ns) {
            timer->due_ns = sim->now_ns;
            sim->missed++;
        }
    }
    if (until_ns > sim->now_ns)
        sim->now_ns = until_ns;
    sim->quiet_ns = send_until_now(sim);
    timer = sim->in_timer ? NULL : next_timer(sim, sim->quiet_ns); /* no other comes meanwhile */
    sim->quiet_ns = timer ? timer->due_ns : sim->quiet_ns;
}

void dia_sim_advance_us(struct dia_sim *sim, uint64_t us)
{
    dia_sim_go_on_to(sim, sim->now_ns + us * 1000u);
    dia_sim_flush(sim);
}

int dia_sim_timer(struct dia_sim *sim, dia_sim_timer_run *run, void *self, uint32_t us)
{
    if (sim->timer_count == DIA_SIM_TIMERS)
        return -1;
    sim->quiet_ns = 0;
    sim->timers[sim->timer_count] =
        (struct dia_sim_timer){run, self, sim->now_ns + (uint64_t)us * 1000u, 0};
    return sim->timer_count++;
}

void dia_sim_hold(struct dia_sim *sim)
{
    sim->holds = 1;
}

static void ask(struct dia_sim *sim)
{
    dia_sim_go_on_to(sim, sim->now_ns + ASKING_NS);
}

/* Two cycles for what is done to a pin. */
static void touch(struct dia_sim *sim)
{
    uint64_t ns = sim->clock_hz ? (2000000000u + sim->clock_hz - 1) / sim->clock_hz : PIN_NS;
    dia_sim_go_on_to(sim, sim->now_ns + ns);
}

static uint32_t now_us(struct dia_port *port)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    ask(sim);
    return (uint32_t)(sim->now_ns / 1000u);
}

static enum dia_status pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS || level > 1)
        return DIA_BAD_VALUE;
    touch(sim);
    dia_sim_room(sim, 1);
    dia_sim_write(sim, sim->now_ns, pin, level);
    if (!sim->in_timer) /* listeners are up to date with the program; interrupts are too many */
        dia_sim_flush(sim);
    return DIA_OK;
}

static enum dia_status pin_release(struct dia_port *port, uint8_t pin)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    touch(sim);
    dia_sim_room(sim, 1);
    dia_sim_let_go(sim, sim->now_ns, pin);
    return DIA_OK;
}

static enum dia_status pin_read(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    touch(sim);
    dia_sim_flush(sim); /* so that the other end has had its say */
    *level = sim->level[pin];
    return DIA_OK;
}

static void wait_ns(struct dia_port *port, uint16_t ns)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    dia_sim_go_on_to(sim, sim->now_ns + ns);
}

static int in_planes(const struct dia_sim *sim, uint8_t pin)
{
    const struct dia_sim_planes *p = &sim->planes;
    return p->next != NULL && pin >= p->first_pin && pin < p->first_pin + p->width;
}

/* Nothing else happens until all is sent; what is due meanwhile is due when it ends. */
static void hold(struct dia_sim *sim, const uint8_t *const *sends)
{
    uint8_t outer = sim->in_timer;
    if (!sim->holds)
        return;
    sim->in_timer = 1;
    while (*sends != NULL) {
        uint64_t next = send_until_now(sim);
        if (*sends != NULL)
            sim->now_ns = next > sim->now_ns ? next : sim->now_ns + 1;
    }
    sim->in_timer = outer;
    sim->quiet_ns = 0;
}

static enum dia_status pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                   uint32_t n, const DIA_ROM struct dia_pulse_timing *timing)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS || n == 0)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->pulses[pin].next != NULL || in_planes(sim, pin))
        return DIA_BUSY;
    dia_sim_pulses_begin(sim, pin, bytes, n, timing);
    hold(sim, &sim->pulses[pin].next);
    return DIA_OK;
}

static enum dia_status planes_start(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    const uint8_t *planes, const uint32_t *lengths,
                                    const DIA_ROM struct dia_pulse_timing *timing)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    uint32_t any = 0;
    if (width == 0 || width > 16 || first_pin + width > DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    for (uint8_t k = 0; k < width; k++)
        any |= lengths[k];
    if (any == 0)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->planes.next != NULL)
        return DIA_BUSY;
    for (uint8_t k = 0; k < width; k++) {
        if (sim->pulses[first_pin + k].next != NULL)
            return DIA_BUSY;
    }
    dia_sim_planes_begin(sim, first_pin, width, planes, lengths, timing);
    hold(sim, &sim->planes.next);
    return DIA_OK;
}

static enum dia_status pulse_poll(struct dia_port *port, uint8_t pin)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->pulses[pin].next != NULL || in_planes(sim, pin))
        return DIA_BUSY;
    dia_sim_flush(sim);
    return DIA_OK;
}

static enum dia_status spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                 const uint8_t *bytes, uint32_t n)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (bus >= DIA_SIM_BUSES || !sim->spi[bus].present || n == 0 || clock_hz == 0)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->spi[bus].next != NULL)
        return DIA_BUSY;
    dia_sim_spi_begin(sim, bus, clock_hz, bytes, n);
    return DIA_OK;
}

static enum dia_status spi_poll(struct dia_port *port, uint8_t bus)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (bus >= DIA_SIM_BUSES || !sim->spi[bus].present)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->spi[bus].next != NULL)
        return DIA_BUSY;
    dia_sim_flush(sim);
    return DIA_OK;
}

static enum dia_status i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                 const uint8_t *bytes, uint32_t n)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (bus >= DIA_SIM_BUSES || !sim->i2c[bus].present || n == 0 || address > 127)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->i2c[bus].next != NULL)
        return DIA_BUSY;
    dia_sim_i2c_begin(sim, bus, address, bytes, n);
    return DIA_OK;
}

static enum dia_status i2c_poll(struct dia_port *port, uint8_t bus)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (bus >= DIA_SIM_BUSES || !sim->i2c[bus].present)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->i2c[bus].next != NULL)
        return DIA_BUSY;
    dia_sim_flush(sim);
    return sim->i2c[bus].refused ? DIA_PORT_FAILED : DIA_OK;
}

static const struct dia_port_ops ops = {
    .now_us = now_us,
    .pin_write = pin_write,
    .pin_release = pin_release,
    .pin_read = pin_read,
    .wait_ns = wait_ns,
    .i2c_start = i2c_start,
    .i2c_poll = i2c_poll,
    .pulse_start = pulse_start,
    .pulse_poll = pulse_poll,
    .planes_start = planes_start,
    .spi_start = spi_start,
    .spi_poll = spi_poll,
    .lines_shift = dia_sim_lines_shift,
};

void dia_sim_init(struct dia_sim *sim, uint32_t clock_hz)
{
    memset(sim, 0, sizeof *sim);
    memset(sim->outside, 2, sizeof sim->outside);
    sim->port.ops = &ops;
    sim->clock_hz = clock_hz;
}

enum dia_status dia_sim_listen(struct dia_sim *sim, dia_edge_listener *take, void *self)
{
    if (sim->listener_count == DIA_SIM_LISTENERS)
        return DIA_UNSUPPORTED;
    dia_sim_flush(sim); /* which others are still to hear */
    sim->listeners[sim->listener_count].take = take;
    sim->listeners[sim->listener_count].burst = NULL;
    sim->listeners[sim->listener_count].self = self;
    sim->listener_count++;
    /* what was wired before it came: in which order a desk is set up does not matter */
    for (uint8_t pin = 0; sim->now_ns == 0 && pin < DIA_SIM_PINS; pin++) {
        struct dia_edge edge = {0, pin, sim->level[pin], sim->let_go[pin]};
        if (edge.level || edge.let_go)
            take(self, &edge, 1);
    }
    return DIA_OK;
}

enum dia_status dia_sim_bursts(struct dia_sim *sim, dia_burst_listener *burst)
{
    if (sim->listener_count == 0)
        return DIA_UNSUPPORTED;
    sim->listeners[sim->listener_count - 1].burst = burst;
    return DIA_OK;
}

enum dia_status dia_sim_spi_pins(struct dia_sim *sim, uint8_t bus, uint8_t clock_pin,
                                 uint8_t data_pin)
{
    if (bus >= DIA_SIM_BUSES || clock_pin >= DIA_SIM_PINS || data_pin >= DIA_SIM_PINS ||
        clock_pin == data_pin)
        return DIA_BAD_VALUE;
    sim->spi[bus].clock_pin = clock_pin;
    sim->spi[bus].data_pin = data_pin;
    sim->spi[bus].present = 1;
    return DIA_OK;
}

/* Both lines are let go from the start: the bus rests high. */
enum dia_status dia_sim_i2c_pins(struct dia_sim *sim, uint8_t bus, uint8_t scl_pin, uint8_t sda_pin)
{
    if (bus >= DIA_SIM_BUSES || scl_pin >= DIA_SIM_PINS || sda_pin >= DIA_SIM_PINS ||
        scl_pin == sda_pin)
        return DIA_BAD_VALUE;
    sim->i2c[bus].scl_pin = scl_pin;
    sim->i2c[bus].sda_pin = sda_pin;
    sim->i2c[bus].present = 1;
    dia_sim_room(sim, 2);
    dia_sim_let_go(sim, sim->now_ns, sda_pin);
    dia_sim_let_go(sim, sim->now_ns, scl_pin);
    return DIA_OK;
}
