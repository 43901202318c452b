/* SPDX-License-Identifier: MIT */
#include <stdatomic.h>
#include <string.h>

#include <diachrome/digits.h>

#include "mirror.h"

/*
 * In each turn one pin of the selecting kind is active, and the pins of the other kind say what
 * is lit: commons select and segments say, or with resistors on the commons the other way round.
 */
struct side {
    const uint8_t *pins;
    uint8_t count, active; /* active: level that lights */
};

static struct side segments_of(const struct dia_digits_setup *setup)
{
    struct side side = {setup->segment_pin, 8, !setup->common_anode};
    return side;
}

static struct side commons_of(const struct dia_digits_setup *setup)
{
    struct side side = {setup->common_pin, setup->digits,
                        (uint8_t)(setup->common_anode ^ setup->transistors)};
    return side;
}

static struct side selecting(const struct dia_digits_setup *setup)
{
    return setup->resistors_on_commons ? segments_of(setup) : commons_of(setup);
}

static struct side saying(const struct dia_digits_setup *setup)
{
    return setup->resistors_on_commons ? commons_of(setup) : segments_of(setup);
}

uint16_t dia_digits_turn_us(uint32_t refresh_mhz, uint8_t digits, uint8_t resistors_on_commons)
{
    uint8_t turns = resistors_on_commons ? 8 : digits;
    if (refresh_mhz == 0 || turns == 0)
        return 0;
    uint32_t turn = 1000000000u / refresh_mhz / turns;
    return turn < 20 || turn > 8000 ? 0 : (uint16_t)turn;
}

static enum dia_status put(struct dia_port *port, uint8_t pin, uint8_t level)
{
    return pin == DIA_NO_SEGMENT ? DIA_OK : port->ops->pin_write(port, pin, level);
}

/* Marks a pin as used; 0 when it is used already. */
static uint8_t take(uint8_t used[32], uint8_t pin)
{
    uint8_t mask = (uint8_t)(1u << (pin & 7u)), free = !(used[pin >> 3] & mask);
    used[pin >> 3] |= mask;
    return free;
}

static uint8_t is_right(const struct dia_digits_setup *setup)
{
    uint8_t used[32] = {0}, right = 1;
    if (setup->digits == 0 || setup->digits > DIA_DIGITS_MOST || setup->turn_us < 20 ||
        setup->turn_us > 8000)
        return 0;
    for (uint8_t k = 0; k < 8; k++) {
        if (setup->segment_pin[k] != DIA_NO_SEGMENT)
            right &= take(used, setup->segment_pin[k]);
    }
    for (uint8_t k = 0; k < setup->digits; k++)
        if (setup->common_pin[k] == DIA_NO_SEGMENT || !take(used, setup->common_pin[k]))
            right = 0;
    return right;
}

/* Selecting pins first: then nothing is lit while the others change. */
static enum dia_status all_off(struct dia_port *port, struct side side)
{
    enum dia_status status = DIA_OK;
    for (uint8_t k = 0; k < side.count && status == DIA_OK; k++)
        status = put(port, side.pins[k], !side.active);
    return status;
}

enum dia_status dia_digits_init(struct dia_digits *digits, struct dia_port *port,
                                const struct dia_digits_setup *setup)
{
    if (!port->ops->wait_ns)
        return DIA_UNSUPPORTED;
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    enum dia_status status = all_off(port, selecting(setup));
    if (status == DIA_OK)
        status = all_off(port, saying(setup));
    if (status != DIA_OK)
        return status;
    memset(digits, 0, sizeof *digits);
    digits->port = port;
    digits->setup = *setup;
    digits->master = DIA_SHARE_ONE;
    digits->turn = selecting(setup).count;
    return DIA_OK;
}

enum dia_status dia_digits_poll(const struct dia_digits *digits)
{
    return digits->swap ? DIA_BUSY : DIA_OK;
}

enum dia_status dia_digits_show(struct dia_digits *digits, const uint8_t *segments)
{
    if (digits->swap)
        return DIA_BUSY;
    memset(digits->wanted, 0, sizeof digits->wanted);
    memcpy(digits->wanted, segments, digits->setup.digits);
    if (digits->setup.resistors_on_commons) {
        uint8_t by_segment[8]; /* the point first */
        mirror(digits->wanted, by_segment, 1);
        for (uint8_t k = 0; k < 8; k++)
            digits->wanted[k] = by_segment[7 - k];
    }
    atomic_signal_fence(memory_order_release); /* all is there before the tick is told */
    digits->swap = 1;
    return DIA_OK;
}

static void begin_round(struct dia_digits *digits)
{
    if (digits->swap) {
        memcpy(digits->shown, digits->wanted, sizeof digits->shown);
        atomic_signal_fence(memory_order_acquire);
        digits->swap = 0;
    }
    digits->turn = 0;
    digits->rounds++;
}

/* Only the lines that change are written. */
static void say(struct dia_digits *digits, struct side side, uint8_t lines)
{
    uint8_t changed = digits->lines ^ lines;
    for (uint8_t k = 0; k < side.count; k++) {
        if (changed & 1u << k)
            put(digits->port, side.pins[k], lines & 1u << k ? side.active : !side.active);
    }
    digits->lines = lines;
}

/* A master below 1 shortens every turn alike, and a dark rest makes the round whole. */
uint16_t dia_digits_tick(struct dia_digits *digits)
{
    struct side select = selecting(&digits->setup);
    uint16_t turn_us = digits->setup.turn_us;
    uint16_t lit_us = (uint16_t)((uint32_t)turn_us * digits->master >> 15);
    if (digits->turn < select.count)
        put(digits->port, select.pins[digits->turn], !select.active);
    digits->turn++;
    if (digits->turn == select.count && lit_us != turn_us && lit_us != 0)
        return (uint16_t)((uint16_t)(turn_us - lit_us) * select.count);
    if (digits->turn >= select.count)
        begin_round(digits);
    if (lit_us == 0) { /* dark: one round after the other */
        digits->turn = select.count;
        return turn_us;
    }
    digits->port->ops->wait_ns(digits->port, DIA_DIGITS_BLANK_NS);
    say(digits, saying(&digits->setup), digits->shown[digits->turn]);
    put(digits->port, select.pins[digits->turn], select.active);
    return lit_us;
}

void dia_digits_dark(struct dia_digits *digits)
{
    all_off(digits->port, selecting(&digits->setup));
    all_off(digits->port, saying(&digits->setup));
    digits->lines = 0;
}
