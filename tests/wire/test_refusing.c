/* SPDX-License-Identifier: MIT */
#include "asking.h"

/* What a driver does when the port refuses, cannot do what it needs, or is given what cannot be. */

static const struct dia_port_ops *right; /* the port as it is */
static struct dia_port_ops refusing;
static uint32_t calls, refuse_at, refuse_every; /* refuse_every 2: every second call */
static enum dia_status refuse_with;

/* Whether this call is refused. A pin is never busy: that it is refused is a failure. */
static int refused(void)
{
    uint32_t call = calls++;
    return refuse_every ? call % refuse_every == refuse_at : call == refuse_at;
}

#define REFUSE(call, with) (refused() ? (with) : (call))

static enum dia_status pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    return REFUSE(right->pin_write(port, pin, level), DIA_PORT_FAILED);
}

static enum dia_status pin_release(struct dia_port *port, uint8_t pin)
{
    return REFUSE(right->pin_release(port, pin), DIA_PORT_FAILED);
}

static enum dia_status pin_read(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    return REFUSE(right->pin_read(port, pin, level), DIA_PORT_FAILED);
}

static enum dia_status pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                   uint32_t n, const struct dia_pulse_timing *timing)
{
    return REFUSE(right->pulse_start(port, pin, bytes, n, timing), refuse_with);
}

static enum dia_status planes_start(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    const uint8_t *planes, const uint32_t *lengths,
                                    const struct dia_pulse_timing *timing)
{
    return REFUSE(right->planes_start(port, first_pin, width, planes, lengths, timing),
                  refuse_with);
}

static enum dia_status pulse_poll(struct dia_port *port, uint8_t pin)
{
    return REFUSE(right->pulse_poll(port, pin), refuse_with);
}

/* Of one that was broken off, nothing is sent any more. */
static enum dia_status broken_off(enum dia_status (*poll)(struct dia_port *, uint8_t),
                                  struct dia_port *port, uint8_t bus)
{
    while (refuse_with == DIA_PORT_FAILED && poll(port, bus) == DIA_BUSY)
        ;
    return refuse_with;
}

static enum dia_status spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                 const uint8_t *bytes, uint32_t n)
{
    if (!refused())
        return right->spi_start(port, bus, clock_hz, bytes, n);
    /* a failure may come in the middle: half of the bytes have gone out by then */
    if (refuse_with == DIA_PORT_FAILED && n > 1 &&
        right->spi_start(port, bus, clock_hz, bytes, n / 2) == DIA_OK)
        broken_off(right->spi_poll, port, bus);
    return refuse_with;
}

static enum dia_status spi_poll(struct dia_port *port, uint8_t bus)
{
    return REFUSE(right->spi_poll(port, bus), broken_off(right->spi_poll, port, bus));
}

static enum dia_status i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                 const uint8_t *bytes, uint32_t n)
{
    return REFUSE(right->i2c_start(port, bus, address, bytes, n), refuse_with);
}

static enum dia_status i2c_poll(struct dia_port *port, uint8_t bus)
{
    return REFUSE(right->i2c_poll(port, bus), broken_off(right->i2c_poll, port, bus));
}

/* One that fails has clocked half of them out. */
static enum dia_status lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                   uint8_t clock_pin, const uint8_t *bytes, uint16_t n)
{
    if (!refused())
        return right->lines_shift(port, first_pin, width, clock_pin, bytes, n);
    right->lines_shift(port, first_pin, width, clock_pin, bytes, n / 2);
    return DIA_PORT_FAILED;
}

static void arm(uint32_t at, uint32_t every, enum dia_status with)
{
    right = sim.port.ops;
    refusing = *right;
    refusing.pin_write = pin_write;
    refusing.pin_release = pin_release;
    refusing.pin_read = pin_read;
    refusing.pulse_start = pulse_start;
    refusing.planes_start = planes_start;
    refusing.pulse_poll = pulse_poll;
    refusing.spi_start = spi_start;
    refusing.spi_poll = spi_poll;
    refusing.i2c_start = i2c_start;
    refusing.i2c_poll = i2c_poll;
    refusing.lines_shift = lines_shift;
    sim.port.ops = &refusing;
    calls = 0;
    refuse_at = at;
    refuse_every = every;
    refuse_with = with;
}

/*
 * Shows a pattern until it is shown or the tries are over. What was accepted, with no error told,
 * shows. 1: it shows.
 */
static int brings_up(const struct family *family, int device, uint16_t pattern, int tries)
{
    family_draw(family, pattern);
    for (; tries != 0; tries--) {
        uint32_t before = told;
        enum dia_status status = keep_asking(family->driver, show_once);
        if (status == DIA_OK)
            status = keep_asking(family->driver, poll_once);
        if (status == DIA_OK) {
            family_look(family, device);
            status = dia_driver_poll(family->driver, NULL); /* it may have failed meanwhile */
        }
        assert_int_not_equal(status, DIA_BUSY); /* no endless waiting */
        told += status != DIA_OK;
        if (told != before)
            continue;
        if (!family_shows(family, device, pattern))
            fail_msg("%s: refused call %u: it said that it shows", family->name,
                     (unsigned)refuse_at);
        return 1;
    }
    return 0;
}

static void a_port_that_refuses_once_loses_nothing(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        uint32_t all = UINT32_MAX;
        for (uint32_t at = 0; at < all; at++) {
            for (int busy = 0; busy < 2; busy++) {
                families_desk();
                int device = families[k].connect();
                told = 0;
                arm(at, 0, busy ? DIA_BUSY : DIA_PORT_FAILED);
                int shows = brings_up(&families[k], device, 0x9d35, 5) &&
                            brings_up(&families[k], device, 0x5aa7, 5);
                if (!shows)
                    fail_msg("%s: refused call %u: it never shows", families[k].name, (unsigned)at);
                if (all == UINT32_MAX || calls > all)
                    all = calls; /* what a run takes that is refused once */
                desk_clear();
                if (all > 3000)
                    all = 3000;
            }
        }
        print_message("%-30s %u calls\n", families[k].name, (unsigned)all);
    }
}

/*
 * Every second and every third call refused, for good: each show ends in the right picture or in an
 * error, and when the port is well again all is right with the next show.
 */
static void a_port_that_keeps_refusing_is_told(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        for (uint32_t every = 1; every <= 3; every++) {
            for (uint32_t at = 0; at < every; at++) {
                for (int busy = 0; busy < 2; busy++) {
                    families_desk();
                    int device = families[k].connect();
                    told = 0;
                    arm(at, every, busy ? DIA_BUSY : DIA_PORT_FAILED);
                    for (size_t n = 0; n < PATTERNS; n++) {
                        family_draw(&families[k], patterns[n]);
                        enum dia_status status = keep_asking(families[k].driver, show_once);
                        if (status == DIA_OK)
                            status = keep_asking(families[k].driver, poll_once);
                        family_look(&families[k], device);
                        if (status == DIA_OK && told == 0 &&
                            dia_driver_poll(families[k].driver, NULL) == DIA_OK &&
                            !family_shows(&families[k], device, patterns[n]))
                            fail_msg("%s: one of %u refused: it said that it shows",
                                     families[k].name, (unsigned)every);
                        told += status != DIA_OK;
                    }
                    assert_true(every > 1 || told != 0);
                    enum dia_status worst = dia_driver_dark(families[k].driver);
                    assert_true(every > 1 || worst != DIA_OK);
                    sim.port.ops = right;
                    refuse_every = 0;
                    if (!brings_up(&families[k], device, 0x9d35, 4))
                        fail_msg("%s: one of %u refused: it never comes back", families[k].name,
                                 (unsigned)every);
                    desk_clear();
                }
            }
        }
    }
}

/* The same of a set: a strip, a matrix, a display and the lane of a group, shown together. */
static void a_set_loses_nothing_either(void **state)
{
    (void)state;
    static const size_t which[] = {0, 3, 12, 13};
    uint32_t all = UINT32_MAX;
    for (uint32_t at = 0; at < all; at += at < 200 ? 1 : 101) {
        for (int busy = 0; busy < 2; busy++) {
            struct dia_set_supply supplies[1] = {{.given_ua = DIA_NO_LIMIT}};
            struct dia_set_member members[4];
            struct dia_set set;
            int device[4];
            families_desk();
            for (int i = 0; i < 4; i++) {
                device[i] = families[which[i]].connect();
                members[i] =
                    (struct dia_set_member){.driver = families[which[i]].driver,
                                            .lamp_ua = families[which[i]].channels ? 0 : 1000};
            }
            assert_int_equal(dia_set_init(&set, supplies, 1, members, 4), DIA_OK);
            arm(at, 0, busy ? DIA_BUSY : DIA_PORT_FAILED);
            for (size_t n = 0; n < 2; n++) {
                enum dia_status status = DIA_BUSY;
                for (int i = 0; i < 4; i++)
                    family_draw(&families[which[i]], patterns[2 * n]);
                for (int tries = 0; tries < 8 && status != DIA_OK; tries++)
                    status = dia_set_show_and_wait(&set);
                if (status != DIA_OK)
                    fail_msg("refused call %u: it never shows", (unsigned)at);
                for (int i = 0; i < 4; i++) {
                    family_look(&families[which[i]], device[i]);
                    assert_int_equal(members[i].status, DIA_OK);
                    if (!family_shows(&families[which[i]], device[i], patterns[2 * n]))
                        fail_msg("refused call %u: %s does not show", (unsigned)at,
                                 families[which[i]].name);
                }
            }
            if (all == UINT32_MAX || calls > all)
                all = calls;
            refuse_at = UINT32_MAX;
            assert_int_equal(dia_set_dark(&set), DIA_OK);
            refuse_every = 1;
            refuse_at = 0;
            assert_int_not_equal(dia_set_dark(&set), DIA_OK);
            desk_clear();
        }
    }
    print_message("%-30s %u calls\n", "a set of four", (unsigned)all);
}

/* A pin that is refused during init is told, and all is right with the next init. */
static void an_init_that_is_refused_is_told(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        uint32_t all = UINT32_MAX;
        for (uint32_t at = 0; at < all; at++) {
            families_desk();
            arm(at, 0, DIA_PORT_FAILED);
            init_may_fail = 1;
            int device = families[k].connect();
            init_may_fail = 0;
            if (calls <= at)
                all = at; /* no more calls than that */
            else if (init_said != DIA_PORT_FAILED)
                fail_msg("%s: refused call %u of init: it said %s", families[k].name, (unsigned)at,
                         dia_status_text(init_said));
            desk_clear();
            families_desk();
            device = families[k].connect();
            assert_true(brings_up(&families[k], device, 0x9d35, 1));
            desk_clear();
        }
    }
}

/* A port that lacks a call: init says so, or all works without it. */
static void a_port_that_lacks_a_call_is_found_by_init(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        uint32_t unsupported = 0;
        for (int lacks = 0; lacks < 11; lacks++) {
            families_desk();
            right = sim.port.ops;
            refusing = *right;
            sim.port.ops = &refusing;
            switch (lacks) {
            case 0:
                refusing.pin_write = NULL;
                break;
            case 1:
                refusing.pin_release = NULL;
                break;
            case 2:
                refusing.pin_read = NULL;
                break;
            case 3:
                refusing.wait_ns = NULL;
                break;
            case 4:
                refusing.pulse_start = NULL;
                break;
            case 5:
                refusing.pulse_poll = NULL;
                break;
            case 6:
                refusing.planes_start = NULL;
                break;
            case 7:
                refusing.spi_start = NULL;
                break;
            case 8:
                refusing.spi_poll = NULL;
                break;
            case 9:
                refusing.i2c_start = NULL;
                break;
            default:
                refusing.i2c_poll = NULL;
                break;
            }
            init_may_fail = 1;
            int device = families[k].connect();
            init_may_fail = 0;
            unsupported += init_said == DIA_UNSUPPORTED;
            if (init_said == DIA_OK)
                assert_true(brings_up(&families[k], device, 0x9d35, 1));
            else
                assert_int_equal(init_said, DIA_UNSUPPORTED);
            desk_clear();
        }
        assert_in_range(unsupported, 1, 5);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_port_that_refuses_once_loses_nothing),
        cmocka_unit_test(a_port_that_keeps_refusing_is_told),
        cmocka_unit_test(a_set_loses_nothing_either),
        cmocka_unit_test(an_init_that_is_refused_is_told),
        cmocka_unit_test(a_port_that_lacks_a_call_is_found_by_init),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
