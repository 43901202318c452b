/* SPDX-License-Identifier: MIT */
#ifndef DIA_LINUX_PRIVATE_H
#define DIA_LINUX_PRIVATE_H

#include <pthread.h>

#include <diachrome/linux_port.h>

/* What is sent on a bus. */
struct linux_job {
    const uint8_t *bytes;
    uint32_t n, clock_hz;
    uint8_t address; /* of I2C */
};

/*
 * A bus. Its thread sleeps until there is a job; `sends` does it and returns 0 or the kernel's
 * error. Or it has pins, and no device and no thread.
 */
struct dia_linux_bus {
    char path[64];
    int fd; /* -1: it has pins */
    struct dia_linux_lines *lines;
    uint8_t clock_pin, data_pin;
    uint32_t room; /* bytes that fit a transfer */
    int (*sends)(struct dia_linux_bus *bus, const struct linux_job *job);
    pthread_t thread;
    pthread_mutex_t mutex;
    pthread_cond_t wake;
    struct linux_job job;
    uint8_t has_thread, is_sending, ends;
    int error; /* of the last job, until it is told; 0: none */
    int told;  /* the one that was told last */
};

/* One-wire pixels on the data line of a bus: bits of SPI for each value of a byte. */
struct dia_linux_pulse {
    struct dia_linux_pulse *next;
    struct dia_linux_bus *bus;
    uint8_t pin, width; /* bits of SPI for a bit */
    uint32_t clock_hz, most;
    uint8_t *bits;           /* a frame */
    uint8_t pattern[256][8]; /* width bytes each */
};

/* linux_open.c: opens a device; -1 and why. `kind` finds others of its kind: "/dev/spidev". */
int dia_linux_open(struct dia_linux *computer, const char *path, const char *kind);
enum dia_status dia_linux_wrong(struct dia_linux *computer, enum dia_status status,
                                const char *format, ...) __attribute__((format(printf, 3, 4)));

/* linux_bus.c */
struct dia_linux_bus *dia_linux_bus_new(const char *path, int fd,
                                        int (*sends)(struct dia_linux_bus *bus,
                                                     const struct linux_job *job));
void dia_linux_bus_free(struct dia_linux_bus *bus);
/* How long it takes on the wire says whether it goes to the thread. */
enum dia_status dia_linux_bus_start(struct dia_linux *computer, struct dia_linux_bus *bus,
                                    const struct linux_job *job, uint64_t wire_us);
enum dia_status dia_linux_bus_poll(struct dia_linux *computer, struct dia_linux_bus *bus);

/* linux_gpio.c */
enum dia_status dia_linux_pin_write(struct dia_port *port, uint8_t pin, uint8_t level);
enum dia_status dia_linux_pin_release(struct dia_port *port, uint8_t pin);
enum dia_status dia_linux_pin_read(struct dia_port *port, uint8_t pin, uint8_t *level);
enum dia_status dia_linux_lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                      uint8_t clock_pin, const uint8_t *bytes, uint16_t n);
/* Clocks bytes out of two pins, both outputs; 0 or the kernel's error. In any thread. */
int dia_linux_lines_send(struct dia_linux_lines *lines, uint8_t clock_pin, uint8_t data_pin,
                         const uint8_t *bytes, uint32_t n);
int dia_linux_has_pin(const struct dia_linux *computer, uint8_t pin);
void dia_linux_lines_close(struct dia_linux *computer);

/* linux_spi.c, linux_pulses.c, linux_i2c.c */
struct dia_linux_bus *dia_linux_spi_open(struct dia_linux *computer, const char *path);
enum dia_status dia_linux_spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                    const uint8_t *bytes, uint32_t n);
enum dia_status dia_linux_spi_poll(struct dia_port *port, uint8_t bus);
enum dia_status dia_linux_pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                      uint32_t n, const struct dia_pulse_timing *timing);
enum dia_status dia_linux_pulse_poll(struct dia_port *port, uint8_t pin);
struct dia_linux_pulse *dia_linux_pulse_on(const struct dia_linux *computer, uint8_t pin);
enum dia_status dia_linux_i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                    const uint8_t *bytes, uint32_t n);
enum dia_status dia_linux_i2c_poll(struct dia_port *port, uint8_t bus);

#endif
