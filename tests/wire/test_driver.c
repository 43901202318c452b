/* SPDX-License-Identifier: MIT */
#include "families.h"

/* What holds for every driver, whatever its family. */

static const uint16_t patterns[] = {0x9d35, 0x0000, 0x5aa7, 0xffff, 0x1240};
#define PATTERNS (sizeof patterns / sizeof patterns[0])

static void twenty_shows_are_twenty_frames(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        families_desk();
        int device = families[k].connect();
        for (uint32_t n = 0; n < 20; n++) {
            family_draw(&families[k], patterns[n % PATTERNS]);
            assert_int_equal(dia_driver_show_and_wait(families[k].driver), DIA_OK);
            family_look(&families[k], device);
            if (!family_shows(&families[k], device, patterns[n % PATTERNS]))
                fail_msg("%s: show %u is not what it shows", families[k].name, (unsigned)n);
            if (families[k].element == DIA_PIXELS)
                assert_int_equal(dia_bench_shown(bench, device)->frames, n + 1);
            dia_sim_advance_us(&sim, 50000); /* a program that only waits */
        }
        desk_finds(NULL);
        desk_clear();
    }
}

/* Strips need no poll: draw, show, rest, from the first show on, right after init. */
static void a_strip_needs_no_poll(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES && families[k].element == DIA_PIXELS; k++) {
        families_desk();
        int chain = families[k].connect();
        for (uint32_t n = 0; n < 20; n++) {
            family_draw(&families[k], patterns[n % PATTERNS]);
            uint64_t before_ns = sim.now_ns;
            assert_int_equal(dia_driver_show(families[k].driver), DIA_OK);
            assert_true(sim.now_ns - before_ns < 530000); /* the gap of a WS2801 is the longest */
            dia_sim_advance_us(&sim, 50000);
            desk_settle();
            assert_int_equal(dia_bench_shown(bench, chain)->frames, n + 1);
            assert_true(family_shows(&families[k], chain, patterns[n % PATTERNS]));
        }
        desk_finds(NULL);
        desk_clear();
    }
}

static void a_drawing_is_kept(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        struct dia_driver *driver = families[k].driver;
        families_desk();
        int device = families[k].connect();
        family_draw(&families[k], 0xfffe);
        assert_int_equal(dia_driver_show_and_wait(driver), DIA_OK);
        /* one element; the others are as they were */
        if (families[k].element == DIA_LAMPS)
            dia_driver_levels(driver, (uint8_t[]){255}, 1, NULL);
        else
            memset(driver->drawing, families[k].element == DIA_CELLS ? 'A' : 255,
                   families[k].element == DIA_CELLS ? 1 : 3);
        assert_int_equal(dia_driver_show_and_wait(driver), DIA_OK);
        family_look(&families[k], device);
        /* every sixteenth is element 0 of the pattern: only the first was drawn */
        uint32_t wrong = 0;
        for (uint32_t i = 16; i < families[k].elements && families[k].element == DIA_LAMPS; i += 16)
            wrong += dia_bench_lamps(bench, device)->level[i] != 0;
        assert_int_equal(wrong, 0);
        if (families[k].elements <= 16)
            assert_true(family_shows(&families[k], device, 0xffff));
        /* all of it goes, and comes back */
        assert_int_equal(dia_driver_dark(driver), DIA_OK);
        family_look(&families[k], device);
        if (families[k].element == DIA_CELLS)
            assert_false(dia_bench_cells(bench, device)->on);
        else
            assert_true(family_shows(&families[k], device, 0));
        if (families[k].elements <= 16) {
            assert_int_equal(dia_driver_show_and_wait(driver), DIA_OK);
            family_look(&families[k], device);
            assert_true(family_shows(&families[k], device, 0xffff));
        }
        dia_driver_clear(driver);
        assert_int_equal(dia_driver_show_and_wait(driver), DIA_OK);
        family_look(&families[k], device);
        assert_true(family_shows(&families[k], device, 0));
        desk_finds(NULL);
        desk_clear();
    }
}

/* Lamps 0 to 3 hang on outputs 5, 0, 2 and one that is not there; all others stay as they are. */
static void levels_go_through_a_wiring_map(void **state)
{
    (void)state;
    static const uint16_t outputs[] = {5, 0, 2, 60000};
    for (size_t k = 0; k < FAMILIES; k++) {
        if (families[k].element != DIA_LAMPS)
            continue;
        families_desk();
        int device = families[k].connect();
        family_draw(&families[k], 0x0003); /* 0 and 1 are on, 16 and 17 too ... */
        assert_int_equal(
            dia_driver_levels(families[k].driver, (uint8_t[]){255, 0, 128, 255}, 4, outputs),
            DIA_OK);
        assert_int_equal(dia_driver_show_and_wait(families[k].driver), DIA_OK);
        family_look(&families[k], device);
        for (uint32_t i = 0; i < 8; i++)
            assert_int_equal(dia_bench_lamps(bench, device)->level[i] != 0,
                             i == 5 || i == 1 || i == 2);
        desk_clear();
    }
}

static void each_says_what_it_is(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        struct dia_about about;
        families_desk();
        families[k].connect();
        dia_driver_about(families[k].driver, &about);
        assert_int_equal(about.element, families[k].element);
        assert_int_equal(about.drawing_bytes, families[k].driver->drawing_bytes);
        assert_true(about.elements != 0 && about.worst_us != 0);
        assert_true(about.route != DIA_ON_PINS || about.pins != 0);
        for (uint8_t i = 0; i < about.pins; i++) /* no pin twice */
            for (uint8_t j = 0; j < i; j++)
                assert_int_not_equal(about.pin[i], about.pin[j]);
        /* it is shown in that time */
        uint64_t before_ns = sim.now_ns;
        family_draw(&families[k], 0x5aa7);
        assert_int_equal(dia_driver_show_and_wait(families[k].driver), DIA_OK);
        assert_true(sim.now_ns - before_ns <= about.worst_us * 1000ull);
        assert_int_equal(dia_driver_levels(families[k].driver, NULL, 0, NULL),
                         about.element == DIA_LAMPS ? DIA_OK : DIA_UNSUPPORTED);
        desk_clear();
    }
}

/* ---- a port that refuses -------------------------------------------------------------------- */

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
    sim.port.ops = &refusing;
    calls = 0;
    refuse_at = at;
    refuse_every = every;
    refuse_with = with;
}

/* As a program that does not give up at once: DIA_BUSY is asked again, for 2 s at most. */
static enum dia_status keep_asking(struct dia_driver *driver,
                                   enum dia_status (*what)(struct dia_driver *driver))
{
    uint64_t until_ns = sim.now_ns + 2000000000u;
    enum dia_status status;
    while ((status = what(driver)) == DIA_BUSY && sim.now_ns < until_ns)
        dia_sim_advance_us(&sim, 20);
    return status;
}

static enum dia_status poll_once(struct dia_driver *driver)
{
    uint32_t again_us = UINT32_MAX;
    enum dia_status status = dia_driver_poll(driver, &again_us);
    assert_int_not_equal(again_us, UINT32_MAX);
    if (status == DIA_BUSY && again_us > 20)
        dia_sim_advance_us(&sim, again_us - 20);
    return status;
}

/* A busy show is what a program polls for; an error that poll tells is told. */
static uint32_t told;
static enum dia_status show_once(struct dia_driver *driver)
{
    enum dia_status status = dia_driver_show(driver);
    if (status == DIA_BUSY && poll_once(driver) == DIA_PORT_FAILED)
        told++;
    return status;
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

/* ---- several on one bus --------------------------------------------------------------------- */

/* Those that have a select or a latch, and the expander: the last one is on a bus of its own. */
static const size_t together[] = {3, 6, 7, 12};

/* All of them, shown and polled in every order, one call each in turn. */
static void several_drivers_share_a_bus(void **state)
{
    (void)state;
    static const uint8_t orders[][4] = {{0, 1, 2, 3}, {3, 2, 1, 0}, {1, 0, 3, 2},
                                        {2, 3, 1, 0}, {1, 3, 0, 2}, {0, 2, 3, 1}};
    for (size_t o = 0; o < sizeof orders / sizeof orders[0]; o++) {
        int device[4];
        families_desk();
        for (int i = 0; i < 4; i++)
            device[i] = families[together[i]].connect();
        for (size_t n = 0; n < 2 * PATTERNS; n++) {
            int busy = 1;
            for (int i = 0; i < 4; i++) {
                const struct family *family = &families[together[orders[o][i]]];
                family_draw(family, (uint16_t)(patterns[n % PATTERNS] ^ orders[o][i]));
                assert_int_equal(keep_asking(family->driver, show_once), DIA_OK);
            }
            for (uint32_t calls_left = 100000; busy && calls_left != 0; calls_left--) {
                busy = 0;
                for (int i = 3; i >= 0; i--) {
                    enum dia_status status =
                        dia_driver_poll(families[together[orders[o][i]]].driver, NULL);
                    assert_true(status == DIA_OK || status == DIA_BUSY);
                    busy |= status == DIA_BUSY;
                }
                dia_sim_advance_us(&sim, 3);
            }
            assert_false(busy);
            for (int i = 0; i < 4; i++) {
                family_look(&families[together[i]], device[i]);
                if (!family_shows(&families[together[i]], device[i],
                                  (uint16_t)(patterns[n % PATTERNS] ^ i)))
                    fail_msg("order %u, frame %u: %s is wrong", (unsigned)o, (unsigned)n,
                             families[together[i]].name);
            }
        }
        desk_clear();
    }
}

/* Two matrices on one bus, each with a select of its own, handed over before either is polled: one
 * would once be lost. A program that holds the bus itself makes them wait, no more. */
static void a_held_bus_is_waited_for(void **state)
{
    (void)state;
    struct dia_matrix other;
    static uint8_t rows[DIA_MATRIX_ROWS(1)], memory[DIA_MATRIX_BYTES(1)];
    static const uint8_t pins[] = {SPI_DATA, SPI_CLOCK, 50};
    const struct dia_device_setup setup = {
        .name = "other", .part = "MAX7221", .pins = pins, .count = 1};
    families_desk();
    int first = families[3].connect(), second = dia_bench_matrix(bench, &setup);
    assert_int_equal(
        dia_matrix_init(&other, &sim.port, &dia_max7221, 0, 50, 1000000, rows, memory, 1), DIA_OK);
    family_draw(&families[3], 0x9d35);
    dia_matrix_set(&other, 9, 1);
    assert_int_equal(dia_port_claim_spi(&sim.port, 0), DIA_OK);
    assert_int_equal(dia_driver_show(families[3].driver), DIA_OK);
    assert_int_equal(dia_driver_show(&other.driver), DIA_OK);
    assert_int_equal(dia_driver_wait(&other.driver), DIA_BUSY); /* and it comes back */
    dia_port_release_spi(&sim.port, 0);
    for (int busy = 1; busy;) {
        busy = dia_driver_poll(&other.driver, NULL) == DIA_BUSY;
        busy |= dia_driver_poll(families[3].driver, NULL) == DIA_BUSY;
    }
    desk_settle();
    assert_true(family_shows(&families[3], first, 0x9d35));
    assert_true(dia_bench_lamps(bench, second)->level[9] != 0);
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(twenty_shows_are_twenty_frames),
        cmocka_unit_test(a_strip_needs_no_poll),
        cmocka_unit_test(a_drawing_is_kept),
        cmocka_unit_test(levels_go_through_a_wiring_map),
        cmocka_unit_test(each_says_what_it_is),
        cmocka_unit_test(a_port_that_refuses_once_loses_nothing),
        cmocka_unit_test(a_port_that_keeps_refusing_is_told),
        cmocka_unit_test(several_drivers_share_a_bus),
        cmocka_unit_test(a_held_bus_is_waited_for),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
