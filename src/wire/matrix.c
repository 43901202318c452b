/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/matrix.h>

#include "bits.h"

/*
 * A frame is a row of transmissions, each a word of 16 bits for every chip between select low
 * and select high. Which are to come stands in `pending`, one bit each, sent from the lowest:
 * the set-up, the rows, and what turns the display on.
 */
enum { SHUT_DOWN, TEST_OFF, SCAN_LIMIT, NO_DECODING, INTENSITY, FIRST_ROW, LIGHT = FIRST_ROW + 8 };
#define ALL ((uint16_t)((1u << (LIGHT + 1)) - 1u))

enum { SHOWN, TO_SEND, SENDING };

static struct dia_matrix *matrix_of(struct dia_driver *driver)
{
    return (struct dia_matrix *)driver;
}

void dia_matrix_set(struct dia_matrix *matrix, uint32_t output, uint8_t on)
{
    bits_put(&matrix->driver, output, on);
}

static void refresh(struct dia_driver *driver)
{
    /* out of shut-down first: what shows goes on showing */
    matrix_of(driver)->pending |= (uint16_t)(ALL & ~(1u << SHUT_DOWN));
}

static void say_to_all(struct dia_matrix *matrix, uint8_t address, uint8_t value)
{
    uint8_t *word = matrix->words;
    for (uint16_t i = 0; i < matrix->chips; i++) {
        *word++ = address;
        *word++ = value;
    }
}

/* The word of the chip furthest away goes first. */
static void say_row(struct dia_matrix *matrix, uint8_t row)
{
    uint8_t *word = matrix->words;
    uint16_t at = (uint16_t)((matrix->chips - 1u) * 8u + row);
    for (uint16_t i = 0; i < matrix->chips; i++, at = (uint16_t)(at - 8u)) {
        *word++ = (uint8_t)(row + 1u);
        *word++ = matrix->taken[at];
    }
}

static void say(struct dia_matrix *matrix, uint8_t what)
{
    switch (what) {
    case SHUT_DOWN:
        say_to_all(matrix, 12, 0);
        break;
    case TEST_OFF:
        say_to_all(matrix, 15, 0);
        break;
    case SCAN_LIMIT:
        say_to_all(matrix, 11, (uint8_t)(matrix->digits - 1u));
        break;
    case NO_DECODING:
        say_to_all(matrix, 9, 0);
        break;
    case INTENSITY:
        say_to_all(matrix, 10, matrix->intensity);
        break;
    case LIGHT:
        say_to_all(matrix, 12, matrix->lit);
        break;
    default:
        say_row(matrix, (uint8_t)(what - FIRST_ROW));
    }
}

/* Nobody knows what the chips have now: select is high again, and the next show sends all. */
static enum dia_status give_up(struct dia_matrix *matrix, enum dia_status status)
{
    struct dia_port *port = matrix->driver.port;
    port->ops->pin_write(port, matrix->select_pin, 1);
    dia_port_release_spi(port, matrix->bus);
    refresh(&matrix->driver);
    matrix->state = SHOWN;
    return status;
}

/* Selects the chips and starts the next word, if there is one and the bus is free. */
static enum dia_status go_on(struct dia_matrix *matrix)
{
    struct dia_port *port = matrix->driver.port;
    const DIA_ROM struct dia_port_ops *ops = port->ops;
    if (matrix->pending == 0) {
        matrix->state = SHOWN;
        return DIA_OK;
    }
    matrix->state = TO_SEND;
    if (dia_port_claim_spi(port, matrix->bus) != DIA_OK)
        return DIA_BUSY;
    for (matrix->what = 0; matrix->what < 15 && !(matrix->pending >> matrix->what & 1u);)
        matrix->what++;
    say(matrix, matrix->what);
    ops->wait_ns(port, matrix->part->select_ns);
    enum dia_status status = ops->pin_write(port, matrix->select_pin, 0);
    if (status != DIA_OK)
        return give_up(matrix, DIA_PORT_FAILED);
    ops->wait_ns(port, matrix->part->select_ns);
    status = ops->spi_start(port, matrix->bus, matrix->clock_hz, matrix->words, matrix->chips * 2u);
    if (status == DIA_BUSY) { /* held by somebody who does not claim: nothing was clocked in */
        if (ops->pin_write(port, matrix->select_pin, 1) != DIA_OK)
            return give_up(matrix, DIA_PORT_FAILED);
        dia_port_release_spi(port, matrix->bus);
        return DIA_BUSY;
    }
    if (status != DIA_OK)
        return give_up(matrix, status);
    matrix->state = SENDING;
    return DIA_BUSY;
}

/* The least time that a word takes to all chips. */
static uint32_t word_us(const struct dia_matrix *matrix)
{
    return matrix->chips * 16u * 1000u / (matrix->clock_hz / 1000u + 1u);
}

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_matrix *matrix = matrix_of(driver);
    struct dia_port *port = driver->port;
    *again_us = 0;
    if (matrix->state == SHOWN)
        return DIA_OK;
    if (matrix->state == SENDING) {
        enum dia_status status = port->ops->spi_poll(port, matrix->bus);
        if (status == DIA_BUSY)
            return DIA_BUSY;
        if (status != DIA_OK || port->ops->pin_write(port, matrix->select_pin, 1) != DIA_OK)
            return give_up(matrix, DIA_PORT_FAILED);
        matrix->pending &= (uint16_t) ~(1u << matrix->what);
        dia_port_release_spi(port, matrix->bus);
    }
    enum dia_status status = go_on(matrix);
    if (status == DIA_BUSY && matrix->state == SENDING)
        *again_us = word_us(matrix);
    return status;
}

/* Duty is about (2 n + 1) / 32, so the nearest n is 15.5 * master, rounded down. */
static uint8_t intensity_of(dia_share master)
{
    return (uint8_t)((uint32_t)master * 31u >> 16);
}

static void take_master(struct dia_matrix *matrix, dia_share master)
{
    uint8_t intensity = intensity_of(master), lit = master != 0;
    if (intensity != matrix->intensity)
        matrix->pending |= 1u << INTENSITY;
    if (lit != matrix->lit)
        matrix->pending |= 1u << LIGHT;
    matrix->intensity = intensity;
    matrix->lit = lit;
}

/* Takes the drawing and begins to send it. When the port fails at once, all is sent with the next
 * show, so nothing is lost. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_matrix *matrix = matrix_of(driver);
    uint32_t again_us;
    enum dia_status status = poll(driver, &again_us);
    if (status != DIA_OK)
        return status;
    for (uint32_t i = 0; i < driver->drawing_bytes; i++) {
        if (driver->drawing[i] != matrix->taken[i])
            matrix->pending |= (uint16_t)(1u << (FIRST_ROW + (i & 7u)));
        matrix->taken[i] = driver->drawing[i];
    }
    take_master(matrix, driver->master);
    if (driver->hold) {
        matrix->state = TO_SEND;
        return DIA_OK;
    }
    status = go_on(matrix);
    return status == DIA_BUSY ? DIA_OK : status;
}

/* What is on its way is finished first; then the chips are shut down, and keep their rows. */
static enum dia_status dark(struct dia_driver *driver)
{
    struct dia_matrix *matrix = matrix_of(driver);
    if (dia_driver_wait(driver) == DIA_BUSY)
        return DIA_BUSY;
    take_master(matrix, 0);
    matrix->pending |= 1u << LIGHT;
    enum dia_status status = go_on(matrix);
    return status == DIA_BUSY ? dia_driver_wait(driver) : status;
}

/* Each of eight digits is lit for an eighth of the time, and of that for at most (n + 1) / 16. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    uint32_t lit = bits_set(driver->drawing, (uint16_t)driver->drawing_bytes);
    return driver->master ? lit * (lamp_ua / 8u + 1u) / 16u * (intensity_of(driver->master) + 1u)
                          : 0;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_matrix *matrix = (const struct dia_matrix *)driver;
    uint32_t khz = matrix->clock_hz / 1000u;
    *about = (struct dia_about){
        .elements = matrix->chips * 64u,
        .drawing_bytes = DIA_MATRIX_ROWS((uint32_t)matrix->chips),
        .private_bytes = DIA_MATRIX_BYTES((uint32_t)matrix->chips),
        /* each word, and some us for what is done between two of them */
        .worst_us = (LIGHT + 1u) * (matrix->chips * 16000u / (khz ? khz : 1u) + 50u),
        .element = DIA_LAMPS,
        .route = DIA_ON_SPI,
        .bus = matrix->bus,
        .pins = 1,
        .pin = {matrix->select_pin},
    };
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .dark = dark,
    .refresh = refresh,
    .levels = bits_levels,
    .about = about,
    .asks_ua = asks_ua,
};

enum dia_status dia_matrix_init(struct dia_matrix *matrix, struct dia_port *port,
                                const DIA_ROM struct dia_matrix_part *part, uint8_t bus,
                                uint8_t select_pin, uint32_t clock_hz, uint8_t *rows,
                                uint8_t *memory, uint16_t chips)
{
    if (!port->ops->spi_start || !port->ops->spi_poll || !port->ops->wait_ns ||
        !port->ops->pin_write)
        return DIA_UNSUPPORTED;
    if (chips == 0 || chips > DIA_MATRIX_MOST || clock_hz == 0 || clock_hz > part->max_hz)
        return DIA_BAD_VALUE;
    enum dia_status status = port->ops->pin_write(port, select_pin, 1);
    if (status != DIA_OK)
        return status;
    memset(rows, 0, (size_t)DIA_MATRIX_ROWS((uint32_t)chips));
    memset(memory, 0, (size_t)DIA_MATRIX_BYTES((uint32_t)chips));
    memset(matrix, 0, sizeof *matrix);
    matrix->driver = DIA_DRIVER(&ops, port, rows, DIA_MATRIX_ROWS((uint32_t)chips));
    matrix->part = part;
    matrix->taken = memory;
    matrix->words = memory + DIA_MATRIX_ROWS((uint32_t)chips);
    matrix->clock_hz = clock_hz;
    matrix->chips = chips;
    matrix->bus = bus;
    matrix->select_pin = select_pin;
    matrix->intensity = 15;
    matrix->lit = 1;
    matrix->digits = 8;
    matrix->pending = ALL;
    return DIA_OK;
}

uint32_t dia_matrix_dot(const struct dia_matrix_wiring *wiring, uint16_t chips, uint16_t column,
                        uint8_t row)
{
    uint16_t chip = column >> 3;
    uint8_t x = column & 7u, y = row & 7u;
    /* where the dot is on the module before it was turned: clockwise, so back */
    for (uint8_t quarter = wiring->turn & 3u; quarter != 0; quarter--) {
        uint8_t kept = x;
        x = y;
        y = (uint8_t)(7u - kept);
    }
    if (!wiring->mirrored)
        x = (uint8_t)(7u - x); /* bit 7 is at the left */
    if (wiring->from_right)
        chip = (uint16_t)(chips - 1u - chip);
    return chip * 64u + y * 8u + x;
}

uint32_t dia_matrix_segment(const struct dia_matrix_wiring *wiring, uint16_t chips, uint8_t digits,
                            uint16_t digit, uint8_t segment)
{
    if (wiring->from_right)
        digit = (uint16_t)(chips * digits - 1u - digit);
    uint8_t bit = segment > 6 ? 7 : (uint8_t)(6u - segment);
    return (uint32_t)(digit / digits) * 64u + (digit % digits) * 8u + bit;
}

/* A module as it is mounted, upright or on its head: digits are rows, and bit 7 is the first column
 * that comes. */
static void rows_from(const uint8_t *columns, uint8_t from_right, uint8_t from_below,
                      uint8_t *digits)
{
    memset(digits, 0, 8);
    for (uint8_t k = 0; k < 8; k++) {
        uint8_t column = columns[from_right ? 7u - k : k];
        for (uint8_t row = 0; row < 8; row++, column >>= 1) {
            uint8_t *digit = &digits[from_below ? 7u - row : row];
            *digit = (uint8_t)(*digit << 1 | (column & 1));
        }
    }
}

/* On its side: digits are columns. */
static void columns_from(const uint8_t *columns, uint8_t from_right, uint8_t reversed,
                         uint8_t *digits)
{
    for (uint8_t k = 0; k < 8; k++) {
        uint8_t column = columns[from_right ? 7u - k : k], bits = column;
        for (uint8_t row = 0; reversed && row < 8; row++, column >>= 1)
            bits = (uint8_t)(bits << 1 | (column & 1));
        digits[k] = bits;
    }
}

void dia_matrix_columns(struct dia_matrix *matrix, const struct dia_matrix_wiring *wiring,
                        const uint8_t *columns)
{
    for (uint16_t k = 0; k < matrix->chips; k++, columns += 8) {
        uint16_t chip = wiring->from_right ? (uint16_t)(matrix->chips - 1u - k) : k;
        uint8_t *digits = matrix->driver.drawing + 8u * chip;
        uint8_t turn = wiring->turn & 3u, mirrored = wiring->mirrored != 0;
        if (turn & 1u)
            columns_from(columns, turn == 1, (turn == 1) != mirrored, digits);
        else
            rows_from(columns, (turn == 2) != mirrored, turn == 2, digits);
    }
}
