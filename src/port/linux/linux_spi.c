/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <linux/spi/spidev.h>

#include "linux_private.h"

#define BIT_US     3    /* of a bit by pins: two system calls, at a guess */
#define USUAL_ROOM 4096 /* of spidev, unless it was loaded with another bufsiz */

static uint32_t room_of_spidev(void)
{
    unsigned room = USUAL_ROOM;
    FILE *file = fopen("/sys/module/spidev/parameters/bufsiz", "r");
    if (file) {
        if (fscanf(file, "%u", &room) != 1 || room < 16)
            room = USUAL_ROOM;
        fclose(file);
    }
    return room;
}

/* In pieces that fit the kernel's buffer: between two of them the clock rests. */
static int sends(struct dia_linux_bus *bus, const struct linux_job *job)
{
    for (uint32_t sent = 0, n; sent < job->n; sent += n) {
        n = job->n - sent < bus->room ? job->n - sent : bus->room;
        struct spi_ioc_transfer transfer = {.tx_buf = (uintptr_t)(job->bytes + sent),
                                            .len = n,
                                            .speed_hz = job->clock_hz,
                                            .bits_per_word = 8};
        if (ioctl(bus->fd, SPI_IOC_MESSAGE(1), &transfer) < 0)
            return errno ? errno : EIO;
    }
    return 0;
}

static int sends_by_pins(struct dia_linux_bus *bus, const struct linux_job *job)
{
    return dia_linux_lines_send(bus->lines, bus->clock_pin, bus->data_pin, job->bytes, job->n);
}

struct dia_linux_bus *dia_linux_spi_open(struct dia_linux *computer, const char *path)
{
    uint8_t mode = SPI_MODE_0, bits = 8;
    int fd = dia_linux_open(computer, path, "/dev/spidev");
    if (fd < 0)
        return NULL;
    if (ioctl(fd, SPI_IOC_WR_MODE, &mode) != 0 || ioctl(fd, SPI_IOC_WR_BITS_PER_WORD, &bits) != 0) {
        dia_linux_wrong(computer, DIA_PORT_FAILED, "%s is no SPI device of mode 0 and 8 bits: %s",
                        path, strerror(errno));
        close(fd);
        return NULL;
    }
    struct dia_linux_bus *bus = dia_linux_bus_new(path, fd, sends);
    if (!bus) {
        dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: out of memory", path);
        close(fd);
        return NULL;
    }
    bus->room = room_of_spidev();
    return bus;
}

static enum dia_status is_free(struct dia_linux *computer, uint8_t bus, const char *path)
{
    if (bus >= 16 || computer->spi[bus])
        return dia_linux_wrong(computer, DIA_BAD_VALUE, "SPI bus %u is given twice, or above 15",
                               bus);
    int taken = 0;
    for (int k = 0; path && k < 16; k++)
        taken |= computer->spi[k] && strcmp(computer->spi[k]->path, path) == 0;
    for (const struct dia_linux_pulse *pulse = computer->pulses; path && pulse; pulse = pulse->next)
        taken |= strcmp(pulse->bus->path, path) == 0;
    return taken ? dia_linux_wrong(computer, DIA_BAD_VALUE, "%s is given twice", path) : DIA_OK;
}

enum dia_status dia_linux_spi(struct dia_linux *computer, uint8_t bus, const char *path)
{
    enum dia_status status = is_free(computer, bus, path);
    if (status != DIA_OK)
        return status;
    computer->spi[bus] = dia_linux_spi_open(computer, path);
    return computer->spi[bus] ? DIA_OK : DIA_PORT_FAILED;
}

enum dia_status dia_linux_spi_pins(struct dia_linux *computer, uint8_t bus, uint8_t clock_pin,
                                   uint8_t data_pin)
{
    enum dia_status status = is_free(computer, bus, NULL);
    if (status == DIA_OK && (clock_pin == data_pin || !dia_linux_has_pin(computer, clock_pin) ||
                             !dia_linux_has_pin(computer, data_pin)))
        return dia_linux_wrong(computer, DIA_BAD_VALUE,
                               "pins %u and %u cannot be clock and data: give two different ones "
                               "to the port first",
                               clock_pin, data_pin);
    if (status == DIA_OK)
        status = dia_linux_pin_write(&computer->port, clock_pin, 0);
    if (status == DIA_OK)
        status = dia_linux_pin_write(&computer->port, data_pin, 0);
    if (status != DIA_OK)
        return status;
    struct dia_linux_bus *made = dia_linux_bus_new("an SPI bus of pins", -1, sends_by_pins);
    if (!made)
        return dia_linux_wrong(computer, DIA_PORT_FAILED, "out of memory");
    made->lines = computer->lines;
    made->clock_pin = clock_pin;
    made->data_pin = data_pin;
    computer->spi[bus] = made;
    return DIA_OK;
}

uint32_t dia_linux_spi_room(const struct dia_linux *computer, uint8_t bus)
{
    return bus < 16 && computer->spi[bus] && computer->spi[bus]->fd >= 0 ? computer->spi[bus]->room
                                                                         : 0;
}

enum dia_status dia_linux_spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                    const uint8_t *bytes, uint32_t n)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    if (bus >= 16 || !computer->spi[bus] || n == 0 || clock_hz == 0)
        return dia_linux_wrong(computer, DIA_BAD_VALUE,
                               "there is no SPI bus %u, or nothing to send", bus);
    struct linux_job job = {.bytes = bytes, .n = n, .clock_hz = clock_hz};
    uint64_t wire_us = computer->spi[bus]->fd < 0 ? n * 8ull * BIT_US : n * 8000000ull / clock_hz;
    return dia_linux_bus_start(computer, computer->spi[bus], &job, wire_us);
}

enum dia_status dia_linux_spi_poll(struct dia_port *port, uint8_t bus)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    if (bus >= 16 || !computer->spi[bus])
        return DIA_BAD_VALUE;
    return dia_linux_bus_poll(computer, computer->spi[bus]);
}
