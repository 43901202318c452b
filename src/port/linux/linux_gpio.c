/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <linux/gpio.h>

#include "linux_private.h"

/*
 * All lines are one request, so several can be set in one call. Bits in here are numbered as the
 * request has its lines; index_of says which line of it a pin is. A bus of pins sends in a thread
 * of its own, so what is kept of the lines has a mutex.
 */
struct dia_linux_lines {
    int fd;
    char path[64];
    uint64_t pins;                  /* that there are */
    pthread_mutex_t mutex;          /* of these: */
    uint64_t outputs, high, let_go; /* of the request's lines; neither: never written yet */
    uint8_t index_of[64];
};

static uint64_t line_of(const struct dia_linux *computer, uint8_t pin)
{
    const struct dia_linux_lines *lines = computer->lines;
    return dia_linux_has_pin(computer, pin) ? (uint64_t)1 << lines->index_of[pin] : 0;
}

int dia_linux_has_pin(const struct dia_linux *computer, uint8_t pin)
{
    return computer->lines && pin < 64 && (computer->lines->pins >> pin & 1);
}

static enum dia_status refused(struct dia_linux *computer, const char *what)
{
    return dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: %s was refused: %s",
                           computer->lines->path, what, strerror(errno));
}

static void configure(const struct dia_linux_lines *lines, struct gpio_v2_line_config *config)
{
    memset(config, 0, sizeof *config);
    config->flags = GPIO_V2_LINE_FLAG_INPUT;
    if (lines->outputs) {
        struct gpio_v2_line_config_attribute *outputs = &config->attrs[config->num_attrs++];
        outputs->mask = lines->outputs;
        outputs->attr.id = GPIO_V2_LINE_ATTR_ID_FLAGS;
        outputs->attr.flags = GPIO_V2_LINE_FLAG_OUTPUT;
        struct gpio_v2_line_config_attribute *levels = &config->attrs[config->num_attrs++];
        levels->mask = lines->outputs;
        levels->attr.id = GPIO_V2_LINE_ATTR_ID_OUTPUT_VALUES;
        levels->attr.values = lines->high;
    }
    if (lines->let_go) {
        struct gpio_v2_line_config_attribute *let_go = &config->attrs[config->num_attrs++];
        let_go->mask = lines->let_go;
        let_go->attr.id = GPIO_V2_LINE_ATTR_ID_FLAGS;
        let_go->attr.flags = GPIO_V2_LINE_FLAG_INPUT | GPIO_V2_LINE_FLAG_BIAS_PULL_UP;
    }
}

/* A line changes its direction; nothing has changed when the kernel refuses. */
static enum dia_status turn(struct dia_linux *computer, uint64_t line, int is_output, uint8_t level)
{
    struct dia_linux_lines *lines = computer->lines;
    struct gpio_v2_line_config config;
    pthread_mutex_lock(&lines->mutex);
    uint64_t outputs = lines->outputs, high = lines->high, let_go = lines->let_go;
    lines->outputs = is_output ? lines->outputs | line : lines->outputs & ~line;
    lines->let_go = is_output ? lines->let_go & ~line : lines->let_go | line;
    lines->high = is_output && level ? lines->high | line : lines->high & ~line;
    configure(lines, &config);
    int failed = ioctl(lines->fd, GPIO_V2_LINE_SET_CONFIG_IOCTL, &config) != 0;
    if (failed) {
        lines->outputs = outputs;
        lines->high = high;
        lines->let_go = let_go;
    }
    pthread_mutex_unlock(&lines->mutex);
    return failed ? refused(computer, is_output ? "an output" : "an input with a pull-up") : DIA_OK;
}

/* 0, or the kernel's error. */
static int set_lines(struct dia_linux_lines *lines, uint64_t mask, uint64_t bits)
{
    struct gpio_v2_line_values values = {.bits = bits, .mask = mask};
    pthread_mutex_lock(&lines->mutex);
    int failed = ioctl(lines->fd, GPIO_V2_LINE_SET_VALUES_IOCTL, &values) != 0;
    int error = errno;
    if (!failed)
        lines->high = (lines->high & ~mask) | (bits & mask);
    pthread_mutex_unlock(&lines->mutex);
    return failed ? error : 0;
}

static enum dia_status set(struct dia_linux *computer, uint64_t mask, uint64_t bits)
{
    errno = set_lines(computer->lines, mask, bits);
    return errno ? refused(computer, "the level of an output") : DIA_OK;
}

/* Data and a low clock in one call, then the clock. */
int dia_linux_lines_send(struct dia_linux_lines *lines, uint8_t clock_pin, uint8_t data_pin,
                         const uint8_t *bytes, uint32_t n)
{
    uint64_t clock = (uint64_t)1 << lines->index_of[clock_pin];
    uint64_t data = (uint64_t)1 << lines->index_of[data_pin];
    int error = 0;
    for (uint32_t i = 0; i < n * 8 && !error; i++) {
        error = set_lines(lines, clock | data, bytes[i / 8] & 0x80u >> i % 8 ? data : 0);
        if (!error)
            error = set_lines(lines, clock, clock);
    }
    int rests = set_lines(lines, clock, 0);
    return error ? error : rests;
}

enum dia_status dia_linux_pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    struct dia_linux_pulse *pulse = dia_linux_pulse_on(computer, pin);
    if (pulse) /* the data line of a bus rests low */
        return level ? DIA_UNSUPPORTED : DIA_OK;
    uint64_t line = line_of(computer, pin);
    if (!line)
        return dia_linux_wrong(computer, DIA_BAD_VALUE, "pin %u was not given to the port", pin);
    if (!(computer->lines->outputs & line))
        return turn(computer, line, 1, level);
    if (!(computer->lines->high & line) == !level)
        return DIA_OK; /* as it is */
    return set(computer, line, level ? line : 0);
}

enum dia_status dia_linux_pin_release(struct dia_port *port, uint8_t pin)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    uint64_t line = line_of(computer, pin);
    if (!line)
        return dia_linux_wrong(computer, DIA_BAD_VALUE, "pin %u was not given to the port", pin);
    return computer->lines->let_go & line ? DIA_OK : turn(computer, line, 0, 0);
}

enum dia_status dia_linux_pin_read(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    uint64_t line = line_of(computer, pin);
    if (!line)
        return DIA_BAD_VALUE;
    struct gpio_v2_line_values values = {.mask = line};
    if (ioctl(computer->lines->fd, GPIO_V2_LINE_GET_VALUES_IOCTL, &values) != 0)
        return refused(computer, "the level of an input");
    *level = (values.bits & line) != 0;
    return DIA_OK;
}

/* A system call is longer than any of the times that are asked for. */
enum dia_status dia_linux_lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                      uint8_t clock_pin, const uint8_t *bytes, uint16_t n)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    uint64_t clock = line_of(computer, clock_pin), data = 0, line[8];
    for (uint8_t k = 0; k < width && k < 8; k++) {
        line[k] = line_of(computer, (uint8_t)(first_pin + k));
        if (!line[k])
            return DIA_BAD_VALUE;
        data |= line[k];
    }
    if (!clock || width == 0 || width > 8)
        return DIA_BAD_VALUE;
    for (uint16_t i = 0; i < n; i++) {
        uint64_t bits = 0;
        for (uint8_t k = 0; k < width; k++)
            bits |= bytes[i] >> k & 1 ? line[k] : 0;
        enum dia_status status = set(computer, data | clock, bits); /* the clock falls here */
        if (status == DIA_OK)
            status = set(computer, clock, clock);
        if (status != DIA_OK)
            return status;
    }
    return set(computer, clock, 0);
}

/* Who holds a line that was refused. */
static void say_who(struct dia_linux *computer, int chip, const char *path, uint64_t pins)
{
    int error = errno;
    for (uint8_t pin = 0; pin < 64; pin++) {
        struct gpio_v2_line_info info = {.offset = pin};
        if (!(pins >> pin & 1))
            continue;
        if (ioctl(chip, GPIO_V2_GET_LINEINFO_IOCTL, &info) != 0) {
            dia_linux_wrong(computer, DIA_PORT_FAILED, "%s has no line %u", path, pin);
            return;
        }
        if (info.flags & GPIO_V2_LINE_FLAG_USED) {
            dia_linux_wrong(computer, DIA_PORT_FAILED,
                            "line %u of %s is in use by '%.31s'; end that, or switch it off in the "
                            "settings of the board",
                            pin, path, info.consumer[0] ? info.consumer : "the kernel");
            return;
        }
    }
    dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: its lines were refused: %s%s", path,
                    strerror(error),
                    error == ENOTTY || error == EINVAL
                        ? "; its second version is needed, which Linux has from 5.10 on"
                        : "");
}

enum dia_status dia_linux_gpio(struct dia_linux *computer, const char *path, uint64_t pins)
{
    struct gpio_v2_line_request request;
    if (computer->lines || pins == 0)
        return dia_linux_wrong(computer, DIA_BAD_VALUE, "the pins of a port are given once");
    struct dia_linux_lines *lines = calloc(1, sizeof *lines);
    if (!lines)
        return dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: out of memory", path);
    int chip = dia_linux_open(computer, path, "/dev/gpiochip");
    if (chip < 0) {
        free(lines);
        return DIA_PORT_FAILED;
    }
    memset(&request, 0, sizeof request);
    snprintf(request.consumer, sizeof request.consumer, "diachrome");
    for (uint8_t pin = 0; pin < 64; pin++) {
        if (!(pins >> pin & 1))
            continue;
        lines->index_of[pin] = (uint8_t)request.num_lines;
        request.offsets[request.num_lines++] = pin;
    }
    snprintf(lines->path, sizeof lines->path, "%s", path);
    lines->pins = pins;
    configure(lines, &request.config);
    int failed = ioctl(chip, GPIO_V2_GET_LINE_IOCTL, &request) != 0;
    if (failed)
        say_who(computer, chip, path, pins);
    close(chip);
    if (failed) {
        free(lines);
        return DIA_PORT_FAILED;
    }
    pthread_mutex_init(&lines->mutex, NULL);
    lines->fd = request.fd;
    computer->lines = lines;
    return DIA_OK;
}

void dia_linux_lines_close(struct dia_linux *computer)
{
    if (!computer->lines)
        return;
    close(computer->lines->fd);
    pthread_mutex_destroy(&computer->lines->mutex);
    free(computer->lines);
    computer->lines = NULL;
}
