/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/matrix.h>

/*
 * A frame is a row of transmissions, each a word of 16 bits for every chip between select low
 * and select high. Which are to come stands in `pending`, one bit each, sent from the lowest:
 * the set-up, the rows, and what turns the display on.
 */
enum { SHUT_DOWN, TEST_OFF, SCAN_LIMIT, NO_DECODING, INTENSITY, FIRST_ROW, LIGHT = FIRST_ROW + 8 };
#define ALL ((uint16_t)((1u << (LIGHT + 1)) - 1u))

enum { SHOWN, SENDING };

enum dia_status dia_matrix_init(struct dia_matrix *matrix, struct dia_port *port,
                                const DIA_ROM struct dia_matrix_part *part, uint8_t bus,
                                uint8_t select_pin, uint32_t clock_hz, uint8_t *memory,
                                uint16_t chips)
{
    if (!port->ops->spi_start || !port->ops->spi_poll || !port->ops->wait_ns)
        return DIA_UNSUPPORTED;
    if (chips == 0 || chips > DIA_MATRIX_MOST || clock_hz == 0 || clock_hz > part->max_hz)
        return DIA_BAD_VALUE;
    enum dia_status status = port->ops->pin_write(port, select_pin, 1);
    if (status != DIA_OK)
        return status;
    memset(memory, 0, (size_t)DIA_MATRIX_BYTES((uint32_t)chips));
    matrix->port = port;
    matrix->part = part;
    matrix->wanted = memory;
    matrix->sent = memory + chips * 8u;
    matrix->words = memory + chips * 16u;
    matrix->clock_hz = clock_hz;
    matrix->chips = chips;
    matrix->bus = bus;
    matrix->select_pin = select_pin;
    matrix->intensity = 15;
    matrix->lit = 1;
    matrix->digits = 8;
    matrix->pending = ALL;
    matrix->state = SHOWN;
    return DIA_OK;
}

/* Duty is about (2 n + 1) / 32, so the nearest n is 15.5 * master, rounded down. */
void dia_matrix_master(struct dia_matrix *matrix, dia_share master)
{
    uint8_t intensity = (uint8_t)((uint32_t)master * 31u >> 16), lit = master != 0;
    if (intensity != matrix->intensity)
        matrix->pending |= 1u << INTENSITY;
    if (lit != matrix->lit)
        matrix->pending |= 1u << LIGHT;
    matrix->intensity = intensity;
    matrix->lit = lit;
}

void dia_matrix_set(struct dia_matrix *matrix, uint32_t output, uint8_t on)
{
    uint32_t at = output >> 3;
    uint8_t mask = (uint8_t)(1u << (output & 7u));
    if (at >= matrix->chips * 8u)
        return;
    if (on)
        matrix->wanted[at] |= mask;
    else
        matrix->wanted[at] &= (uint8_t)~mask;
}

void dia_matrix_refresh(struct dia_matrix *matrix)
{
    /* out of shut-down first: what shows goes on showing */
    matrix->pending |= (uint16_t)(ALL & ~(1u << SHUT_DOWN));
}

static void say_to_all(struct dia_matrix *matrix, uint8_t address, uint8_t value)
{
    uint8_t *word = matrix->words;
    for (uint16_t i = 0; i < matrix->chips; i++) {
        *word++ = address;
        *word++ = value;
    }
}

/* The word of the chip furthest away goes first. `all`: whether what was sent counts as known. */
static void say_row(struct dia_matrix *matrix, uint8_t row, uint8_t all)
{
    uint8_t *word = matrix->words;
    uint16_t at = (uint16_t)((matrix->chips - 1u) * 8u + row);
    for (uint16_t i = 0; i < matrix->chips; i++, at = (uint16_t)(at - 8u)) {
        uint8_t changed = all || matrix->wanted[at] != matrix->sent[at];
        *word++ = changed ? (uint8_t)(row + 1u) : 0;
        *word++ = changed ? matrix->wanted[at] : 0;
        matrix->sent[at] = matrix->wanted[at];
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
        /* rows go out whole with a set-up, which comes before them and leaves LIGHT pending */
        say_row(matrix, (uint8_t)(what - FIRST_ROW), (matrix->pending & 1u << LIGHT) != 0);
    }
}

/* The next transmission, if there is one. */
static enum dia_status go_on(struct dia_matrix *matrix)
{
    const DIA_ROM struct dia_port_ops *ops = matrix->port->ops;
    uint8_t what = 0;
    if (matrix->pending == 0) {
        matrix->state = SHOWN;
        return DIA_OK;
    }
    while (!(matrix->pending >> what & 1u))
        what++;
    say(matrix, what);
    ops->wait_ns(matrix->port, matrix->part->select_ns);
    ops->pin_write(matrix->port, matrix->select_pin, 0);
    ops->wait_ns(matrix->port, matrix->part->select_ns);
    enum dia_status status = ops->spi_start(matrix->port, matrix->bus, matrix->clock_hz,
                                            matrix->words, matrix->chips * 2u);
    if (status != DIA_OK) {
        dia_matrix_refresh(matrix); /* nobody knows what they have */
        matrix->state = SHOWN;
        return status;
    }
    matrix->pending &= (uint16_t) ~(1u << what);
    matrix->state = SENDING;
    return DIA_BUSY;
}

enum dia_status dia_matrix_start(struct dia_matrix *matrix)
{
    enum dia_status status = dia_matrix_poll(matrix);
    if (status != DIA_OK)
        return status;
    for (uint16_t i = 0; i < matrix->chips * 8u; i++) {
        if (matrix->wanted[i] != matrix->sent[i])
            matrix->pending |= (uint16_t)(1u << (FIRST_ROW + (i & 7u)));
    }
    status = go_on(matrix);
    return status == DIA_BUSY ? DIA_OK : status;
}

enum dia_status dia_matrix_poll(struct dia_matrix *matrix)
{
    const DIA_ROM struct dia_port_ops *ops = matrix->port->ops;
    if (matrix->state == SHOWN)
        return DIA_OK;
    enum dia_status status = ops->spi_poll(matrix->port, matrix->bus);
    if (status == DIA_BUSY)
        return DIA_BUSY;
    ops->pin_write(matrix->port, matrix->select_pin, 1);
    if (status != DIA_OK) {
        dia_matrix_refresh(matrix);
        matrix->state = SHOWN;
        return status;
    }
    return go_on(matrix);
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
