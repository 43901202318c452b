/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "linux_private.h"

static uint64_t now_ns(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
}

static uint32_t now_us(struct dia_port *port)
{
    (void)port;
    return (uint32_t)(now_ns() / 1000);
}

/* Too short for the scheduler. */
static void wait_ns(struct dia_port *port, uint16_t ns)
{
    (void)port;
    for (uint64_t until = now_ns() + ns; now_ns() < until;)
        ;
}

static const struct dia_port_ops ops = {
    .now_us = now_us,
    .pin_write = dia_linux_pin_write,
    .pin_release = dia_linux_pin_release,
    .pin_read = dia_linux_pin_read,
    .wait_ns = wait_ns,
    .pulse_start = dia_linux_pulse_start,
    .pulse_poll = dia_linux_pulse_poll,
    .spi_start = dia_linux_spi_start,
    .spi_poll = dia_linux_spi_poll,
    .i2c_start = dia_linux_i2c_start,
    .i2c_poll = dia_linux_i2c_poll,
    .lines_shift = dia_linux_lines_shift,
};

void dia_linux_init(struct dia_linux *computer)
{
    memset(computer, 0, sizeof *computer);
    computer->port.ops = &ops;
}

void dia_linux_close(struct dia_linux *computer)
{
    for (struct dia_linux_pulse *pulse = computer->pulses, *next; pulse; pulse = next) {
        next = pulse->next;
        dia_linux_bus_free(pulse->bus);
        free(pulse->bits);
        free(pulse);
    }
    for (int k = 0; k < 16; k++) {
        dia_linux_bus_free(computer->spi[k]);
        dia_linux_bus_free(computer->i2c[k]);
    }
    dia_linux_lines_close(computer);
    dia_linux_init(computer);
}
