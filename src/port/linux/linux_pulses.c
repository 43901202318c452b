/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "linux_private.h"

/*
 * Pulses as bits of SPI: a bit is `width` of them, high ones first. A width is possible where some
 * clock keeps all four ranges of the part; it is as wide as its range of clocks. An SPI controller
 * divides its own clock and so may run slower than it is asked to, so the clock asked for is a
 * third of the way from the fastest to the slowest that would do. The narrowest width with a range
 * of 10 % is taken, else the one with the widest range: choices.
 */
#define LEAST_WIDTH 3
#define MOST_WIDTH  8
#define WIDE_ENOUGH 0.1

struct shape {
    uint8_t width, high[2];
    double least_ns, most_ns; /* of a bit of SPI */
};

static void narrow(struct shape *shape, const struct dia_pulse_range *range, uint8_t bits)
{
    double least = (double)range->min_ns / bits, most = (double)range->max_ns / bits;
    shape->least_ns = least > shape->least_ns ? least : shape->least_ns;
    shape->most_ns = most < shape->most_ns ? most : shape->most_ns;
}

static double range_of(const struct shape *shape)
{
    return (shape->most_ns - shape->least_ns) / shape->least_ns;
}

/* 1, or 0: no clock keeps the ranges. */
static int find_shape(const struct dia_pulse_timing *timing, struct shape *best)
{
    int found = 0;
    for (uint8_t width = LEAST_WIDTH; width <= MOST_WIDTH; width++) {
        for (uint8_t h0 = 1; h0 < width; h0++) {
            for (uint8_t h1 = (uint8_t)(h0 + 1); h1 < width; h1++) {
                struct shape shape = {width, {h0, h1}, 0, 1e9};
                narrow(&shape, &timing->range[DIA_T0H], h0);
                narrow(&shape, &timing->range[DIA_T0L], (uint8_t)(width - h0));
                narrow(&shape, &timing->range[DIA_T1H], h1);
                narrow(&shape, &timing->range[DIA_T1L], (uint8_t)(width - h1));
                if (shape.most_ns < shape.least_ns)
                    continue;
                if (!found || range_of(&shape) > range_of(best))
                    *best = shape;
                found = 1;
            }
        }
        if (found && range_of(best) > WIDE_ENOUGH)
            break;
    }
    return found;
}

static void make_patterns(struct dia_linux_pulse *pulse, const struct shape *shape)
{
    for (unsigned byte = 0; byte < 256; byte++) {
        unsigned at = 0;
        for (int k = 7; k >= 0; k--) {
            for (uint8_t bit = 0; bit < shape->width; bit++, at++) {
                if (bit < shape->high[byte >> k & 1])
                    pulse->pattern[byte][at / 8] |= (uint8_t)(0x80 >> at % 8);
            }
        }
    }
}

struct dia_linux_pulse *dia_linux_pulse_on(const struct dia_linux *computer, uint8_t pin)
{
    struct dia_linux_pulse *pulse = computer->pulses;
    while (pulse && pulse->pin != pin)
        pulse = pulse->next;
    return pulse;
}

/* A byte low before and behind: some controllers leave the line as the last bit was, and some need
 * a moment to begin. */
static uint32_t bytes_of(const struct dia_linux_pulse *pulse, uint32_t n)
{
    return n * pulse->width + 2;
}

static enum dia_status open_bus(struct dia_linux *computer, struct dia_linux_pulse *pulse,
                                const char *path)
{
    uint32_t bytes = bytes_of(pulse, pulse->most);
    for (int k = 0; k < 16; k++) {
        if (computer->spi[k] && strcmp(computer->spi[k]->path, path) == 0)
            return dia_linux_wrong(computer, DIA_BAD_VALUE, "%s is given twice", path);
    }
    for (const struct dia_linux_pulse *other = computer->pulses; other; other = other->next) {
        if (strcmp(other->bus->path, path) == 0)
            return dia_linux_wrong(computer, DIA_BAD_VALUE, "%s is given twice", path);
    }
    pulse->bits = calloc(bytes, 1);
    if (!pulse->bits)
        return dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: out of memory", path);
    pulse->bus = dia_linux_spi_open(computer, path);
    if (!pulse->bus)
        return DIA_PORT_FAILED;
    if (bytes > pulse->bus->room)
        return dia_linux_wrong(computer, DIA_UNSUPPORTED,
                               "%s: a frame is a transfer of %u bytes, and the kernel's buffer has "
                               "%u: start Linux with spidev.bufsiz=%u",
                               path, (unsigned)bytes, (unsigned)pulse->bus->room,
                               (unsigned)(bytes + 4095) / 4096 * 4096);
    return DIA_OK;
}

enum dia_status dia_linux_pulses(struct dia_linux *computer, uint8_t pin, const char *path,
                                 uint32_t n, const struct dia_pulse_timing *timing)
{
    struct shape shape = {0};
    if (n == 0 || dia_linux_pulse_on(computer, pin))
        return dia_linux_wrong(computer, DIA_BAD_VALUE, "the pulses of pin %u are given once", pin);
    if (!find_shape(timing, &shape))
        return dia_linux_wrong(computer, DIA_UNSUPPORTED,
                               "%s: no clock of SPI keeps the pulses of this part", path);
    struct dia_linux_pulse *pulse = calloc(1, sizeof *pulse);
    if (!pulse)
        return dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: out of memory", path);
    pulse->pin = pin;
    pulse->width = shape.width;
    pulse->most = n;
    pulse->clock_hz = (uint32_t)(1e9 / (shape.least_ns + (shape.most_ns - shape.least_ns) / 3));
    make_patterns(pulse, &shape);
    enum dia_status status = open_bus(computer, pulse, path);
    if (status != DIA_OK) {
        dia_linux_bus_free(pulse->bus);
        free(pulse->bits);
        free(pulse);
        return status;
    }
    pulse->next = computer->pulses;
    computer->pulses = pulse;
    return DIA_OK;
}

int dia_linux_pulse_facts(const struct dia_linux *computer, uint8_t pin,
                          struct dia_linux_pulse_facts *facts)
{
    const struct dia_linux_pulse *pulse = dia_linux_pulse_on(computer, pin);
    if (!pulse)
        return 0;
    *facts = (struct dia_linux_pulse_facts){pulse->clock_hz, pulse->width,
                                            bytes_of(pulse, pulse->most), pulse->bus->room};
    return 1;
}

enum dia_status dia_linux_pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                      uint32_t n, const struct dia_pulse_timing *timing)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    struct dia_linux_pulse *pulse = dia_linux_pulse_on(computer, pin);
    (void)timing; /* those that dia_linux_pulses had */
    if (!pulse || n == 0 || n > pulse->most)
        return dia_linux_wrong(computer, DIA_BAD_VALUE,
                               "pin %u sends no pulses, or not so many bytes", pin);
    enum dia_status status = dia_linux_bus_poll(computer, pulse->bus);
    if (status != DIA_OK)
        return status;
    uint8_t *to = pulse->bits + 1;
    for (uint32_t i = 0; i < n; i++, to += pulse->width)
        memcpy(to, pulse->pattern[bytes[i]], pulse->width);
    *to = 0;
    struct linux_job job = {
        .bytes = pulse->bits, .n = bytes_of(pulse, n), .clock_hz = pulse->clock_hz};
    return dia_linux_bus_start(computer, pulse->bus, &job, job.n * 8000000ull / job.clock_hz);
}

enum dia_status dia_linux_pulse_poll(struct dia_port *port, uint8_t pin)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    struct dia_linux_pulse *pulse = dia_linux_pulse_on(computer, pin);
    return pulse ? dia_linux_bus_poll(computer, pulse->bus) : DIA_BAD_VALUE;
}
