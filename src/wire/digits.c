/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/digits.h>

#include "fence.h"
#include "bits.h"
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
                        (uint8_t)(setup->common_anode ^ setup->inverted)};
    return side;
}

static struct side selecting(const struct dia_digits_setup *setup)
{
    return setup->by_segment ? segments_of(setup) : commons_of(setup);
}

static struct side saying(const struct dia_digits_setup *setup)
{
    return setup->by_segment ? commons_of(setup) : segments_of(setup);
}

uint16_t dia_digits_turn_us(uint32_t refresh_mhz, uint8_t digits, uint8_t by_segment)
{
    uint8_t turns = by_segment ? 8 : digits;
    if (refresh_mhz == 0 || turns == 0)
        return 0;
    uint32_t turn = 1000000000u / refresh_mhz / turns;
    return turn < 20 || turn > 8000 ? 0 : (uint16_t)turn;
}

static enum dia_status put(struct dia_port *port, uint8_t pin, uint8_t level)
{
    return pin == DIA_NO_PIN ? DIA_OK : port->ops->pin_write(port, pin, level);
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
        if (setup->segment_pin[k] != DIA_NO_PIN)
            right &= take(used, setup->segment_pin[k]);
    }
    for (uint8_t k = 0; k < setup->digits; k++)
        if (setup->common_pin[k] == DIA_NO_PIN || !take(used, setup->common_pin[k]))
            right = 0;
    return right;
}

/* Selecting pins first: then nothing is lit while the others change. */
static enum dia_status all_off(struct dia_port *port, struct side side)
{
    enum dia_status worst = DIA_OK;
    for (uint8_t k = 0; k < side.count; k++) {
        enum dia_status status = put(port, side.pins[k], !side.active);
        worst = status != DIA_OK ? status : worst;
    }
    return worst;
}

static struct dia_digits *digits_of(struct dia_driver *driver)
{
    return (struct dia_digits *)driver;
}

static enum dia_status poll(struct dia_driver *driver, uint32_t *again_us)
{
    struct dia_digits *digits = digits_of(driver);
    *again_us = digits->setup.turn_us;
    return tick_status(&digits->failed, digits->waits);
}

/* The tick takes the frame whole, segments and length of a turn, when it sees that one waits. */
static enum dia_status show(struct dia_driver *driver)
{
    struct dia_digits *digits = digits_of(driver);
    uint32_t again_us;
    enum dia_status status = poll(driver, &again_us);
    if (status != DIA_OK)
        return status;
    memset(digits->wanted, 0, sizeof digits->wanted);
    memcpy(digits->wanted, driver->drawing, digits->setup.digits);
    if (digits->setup.by_segment) {
        uint8_t by_segment[8]; /* the point first */
        mirror(digits->wanted, by_segment, 1);
        for (uint8_t k = 0; k < 8; k++)
            digits->wanted[k] = by_segment[7 - k];
    }
    digits->wanted_us = (uint16_t)((uint32_t)digits->setup.turn_us * driver->master >> 15);
    DIA_FENCE(); /* all is there before the tick is told */
    digits->waits = 1;
    digits->dark = 0;
    return DIA_OK;
}

static void begin_round(struct dia_digits *digits)
{
    if (digits->waits && !digits->driver.hold) {
        DIA_FENCE();
        memcpy(digits->shown, digits->wanted, sizeof digits->shown);
        digits->lit_us = digits->wanted_us;
        digits->waits = 0;
    }
    digits->turn = 0;
    digits->rounds = (uint8_t)(digits->rounds + 1u);
}

/* Only the lines that change are written. 0: the port refused. */
static uint8_t say(struct dia_digits *digits, struct side side, uint8_t lines)
{
    uint8_t changed = digits->known ? digits->lines ^ lines : 0xff, done = 1;
    for (uint8_t k = 0; k < side.count; k++) {
        if ((changed & 1u << k) && put(digits->driver.port, side.pins[k],
                                       lines & 1u << k ? side.active : !side.active) != DIA_OK)
            done = 0;
    }
    digits->lines = lines;
    digits->known = done;
    return done;
}

/* What was not done is done again in the next turn: nothing lights while lines are unknown. */
static uint16_t failed(struct dia_digits *digits)
{
    digits->failed = 1;
    return digits->setup.turn_us;
}

static uint16_t tick(struct dia_driver *driver)
{
    struct dia_digits *digits = digits_of(driver);
    struct side select = selecting(&digits->setup);
    uint16_t turn_us = digits->setup.turn_us;
    if (digits->dark)
        return turn_us;
    if (digits->turn < select.count &&
        put(driver->port, select.pins[digits->turn], !select.active) != DIA_OK)
        return failed(digits);
    digits->turn++;
    if (digits->turn == select.count && digits->lit_us != turn_us && digits->lit_us != 0)
        return (uint16_t)((uint16_t)(turn_us - digits->lit_us) * select.count);
    if (digits->turn >= select.count)
        begin_round(digits);
    if (digits->lit_us == 0) { /* dark: one round after the other */
        digits->turn = select.count;
        return turn_us;
    }
    driver->port->ops->wait_ns(driver->port, DIA_DIGITS_BLANK_NS);
    if (!say(digits, saying(&digits->setup), digits->shown[digits->turn]) ||
        put(driver->port, select.pins[digits->turn], select.active) != DIA_OK)
        return failed(digits);
    return digits->lit_us;
}

static enum dia_status dark(struct dia_driver *driver)
{
    struct dia_digits *digits = digits_of(driver);
    digits->dark = 1;
    DIA_FENCE(); /* from here on no tick touches a pin */
    digits->failed = 0;
    digits->waits = 0;
    digits->known = 0;
    digits->turn = selecting(&digits->setup).count;
    enum dia_status status = all_off(driver->port, selecting(&digits->setup));
    enum dia_status other = all_off(driver->port, saying(&digits->setup));
    return status != DIA_OK ? status : other;
}

static void refresh(struct dia_driver *driver)
{
    (void)driver; /* every round shows all */
}

/* All in turns; rounded up. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    const struct dia_digits *digits = (const struct dia_digits *)driver;
    uint32_t turns = selecting(&digits->setup).count;
    uint32_t lit = bits_set(driver->drawing, digits->setup.digits);
    return driver->master ? (lit * lamp_ua + turns - 1u) / turns : 0;
}

static void about(const struct dia_driver *driver, struct dia_about *about)
{
    const struct dia_digits_setup *setup = &((const struct dia_digits *)driver)->setup;
    *about = (struct dia_about){
        .elements = setup->digits * 8u,
        .drawing_bytes = setup->digits,
        .worst_us =
            2u * setup->turn_us * selecting(setup).count, /* a round, and what is left of one */
        .element = DIA_LAMPS,
        .route = DIA_ON_PINS,
    };
    for (uint8_t k = 0; k < 8u + setup->digits; k++) {
        uint8_t pin = k < 8 ? setup->segment_pin[k] : setup->common_pin[k - 8];
        if (pin != DIA_NO_PIN)
            about->pin[about->pins++] = pin;
    }
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = show,
    .poll = poll,
    .tick = tick,
    .dark = dark,
    .refresh = refresh,
    .levels = bits_levels,
    .about = about,
    .asks_ua = asks_ua,
};

enum dia_status dia_digits_init(struct dia_digits *digits, struct dia_port *port,
                                const struct dia_digits_setup *setup, uint8_t *segments)
{
    if (!port->ops->wait_ns || !port->ops->pin_write)
        return DIA_UNSUPPORTED;
    if (!is_right(setup))
        return DIA_BAD_VALUE;
    enum dia_status status = all_off(port, selecting(setup));
    if (status == DIA_OK)
        status = all_off(port, saying(setup));
    if (status != DIA_OK)
        return status;
    memset(segments, 0, setup->digits);
    memset(digits, 0, sizeof *digits);
    digits->driver = DIA_DRIVER(&ops, port, segments, setup->digits);
    digits->setup = *setup;
    digits->wanted_us = digits->lit_us = setup->turn_us;
    digits->known = 1;
    digits->turn = selecting(setup).count;
    return DIA_OK;
}
