/* SPDX-License-Identifier: MIT */
#include "asking.h"

/* What holds for every driver, whatever its family. */

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
        for (uint32_t i = 0; i < 7; i++)
            assert_int_equal(dia_bench_lamps(bench, device)->level[i] != 0,
                             i == 5 || i == 1 || i == 2);
        desk_clear();
    }
}

/* How long each may take, us, worked out by hand; 0: the family's own test has it. Pixels: 8 bits
 * of 3 us a byte, the gap, 20 us. With a clock: whole ms. Matrix: 14 words of 2 chips of 16 bits
 * at half of 4 MHz, 50 us each. Planes: 4 units of 300 us. Digits: two rounds of 2 turns. Panels:
 * 24 bytes of 27 half bits and 100 us. A lane: two transmissions. */
static const uint32_t worst_us[] = {5 * 3 * 24 + 50 + 20,
                                    1000,
                                    1000 + 500,
                                    14 * (8 + 50),
                                    4 * 300,
                                    4 * 300,
                                    4 * 300,
                                    2 * 200 * 2,
                                    24 * (27 + 100),
                                    24 * (54 + 100),
                                    0,
                                    0,
                                    0,
                                    2 * (5 * 3 * 24 + 50 + 30),
                                    0,
                                    3 * 300,
                                    4 * 300,
                                    0};

static void each_says_what_it_is(void **state)
{
    (void)state;
    assert_int_equal(sizeof worst_us / sizeof worst_us[0], FAMILIES);
    for (size_t k = 0; k < FAMILIES; k++) {
        struct dia_about about;
        families_desk();
        families[k].connect();
        dia_driver_about(families[k].driver, &about);
        assert_int_equal(about.element, families[k].element);
        assert_int_equal(about.drawing_bytes, families[k].driver->drawing_bytes);
        assert_true(about.elements != 0 && about.worst_us != 0);
        if (worst_us[k])
            assert_int_equal(about.worst_us, worst_us[k]);
        assert_true(about.route != DIA_ON_PINS || about.pins != 0);
        for (uint8_t i = 0; i < about.pins; i++) /* no pin twice */
            for (uint8_t j = 0; j < i; j++)
                assert_int_not_equal(about.pin[i], about.pin[j]);
        /* all that is wired, but for the wires of a bus */
        uint32_t wired = 0, said = 0;
        for (size_t i = 0; i < sizeof desk_pins[k]; i++) {
            uint8_t pin = desk_pins[k][i];
            if (pin != 0 && pin != DIA_NO_PIN && pin != SPI_DATA && pin != SPI_CLOCK &&
                pin != I2C_SCL && pin != I2C_SDA)
                wired++;
            for (uint8_t j = 0; j < about.pins; j++)
                said += pin != 0 && about.pin[j] == pin;
        }
        /* a panel of 8 digits and 8 lamps has 16 addresses of 8, but not all of them are there */
        assert_int_equal(about.elements,
                         families[k].driver == &its[8].any ? 72 : families[k].elements);
        if (families[k].driver == &its[0].any || families[k].driver == &its[13].any)
            assert_int_equal(about.pin[0], families[k].driver == &its[0].any ? 5 : 49);
        if (families[k].element != DIA_PIXELS) {
            assert_int_equal(about.pins, wired);
            assert_int_equal(said, wired);
        }
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

/* Who sleeps for as long as poll says waits for little longer than who never sleeps. */
static void poll_says_when_to_come_again(void **state)
{
    (void)state;
    for (size_t k = 0; k < FAMILIES; k++) {
        uint64_t took_ns[2];
        for (int sleeps = 0; sleeps < 2; sleeps++) {
            uint32_t again_us = 0;
            families_desk();
            families[k].connect();
            family_draw(&families[k], 0x5aa7);
            assert_int_equal(dia_driver_show_and_wait(families[k].driver), DIA_OK);
            dia_sim_advance_us(&sim, 1000);
            family_draw(&families[k], 0x9d35);
            uint64_t before_ns = sim.now_ns;
            assert_int_equal(dia_driver_show(families[k].driver), DIA_OK);
            while (dia_driver_poll(families[k].driver, &again_us) == DIA_BUSY)
                dia_sim_advance_us(&sim, sleeps && again_us ? again_us : 1);
            took_ns[sleeps] = sim.now_ns - before_ns;
            desk_clear();
        }
        if (took_ns[1] > took_ns[0] + took_ns[0] / 4 + 50000)
            fail_msg("%s: %.0f us, and %.0f us when it sleeps as told", families[k].name,
                     (double)took_ns[0] / 1e3, (double)took_ns[1] / 1e3);
    }
}

/* The same of I2C, and of SPI for each family that has a select: nothing goes out while somebody
 * else holds the bus, and all of it after that. */
static void nothing_goes_out_on_a_held_bus(void **state)
{
    (void)state;
    static const size_t on_buses[] = {1, 3, 6, 12};
    for (size_t i = 0; i < sizeof on_buses / sizeof on_buses[0]; i++) {
        const struct family *family = &families[on_buses[i]];
        uint8_t i2c = on_buses[i] == 12, clock = i2c ? I2C_SCL : SPI_CLOCK;
        families_desk();
        int device = family->connect();
        family_draw(family, 0x1240);
        assert_int_equal(dia_driver_show_and_wait(family->driver), DIA_OK);
        assert_int_equal(i2c ? dia_port_claim_i2c(&sim.port, 0) : dia_port_claim_spi(&sim.port, 0),
                         DIA_OK);
        dia_sim_advance_us(&sim, 10000);
        uint32_t before = edges_heard[clock];
        family_draw(family, 0x9d35);
        enum dia_status status = dia_driver_show(family->driver);
        assert_true(status == DIA_OK || status == DIA_BUSY);
        for (int k = 0; k < 20; k++) {
            dia_driver_poll(family->driver, NULL);
            dia_sim_advance_us(&sim, 500);
        }
        if (edges_heard[clock] != before)
            fail_msg("%s: sends on a bus that somebody else holds", family->name);
        if (i2c)
            dia_port_release_i2c(&sim.port, 0);
        else
            dia_port_release_spi(&sim.port, 0);
        if (status == DIA_BUSY) /* it was not taken */
            assert_int_equal(keep_asking(family->driver, show_once), DIA_OK);
        assert_int_equal(keep_asking(family->driver, poll_once), DIA_OK);
        family_look(family, device);
        if (!family_shows(family, device, 0x9d35))
            fail_msg("%s: it never shows", family->name);
        desk_finds(NULL);
        desk_clear();
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(twenty_shows_are_twenty_frames),
        cmocka_unit_test(a_strip_needs_no_poll),
        cmocka_unit_test(a_drawing_is_kept),
        cmocka_unit_test(levels_go_through_a_wiring_map),
        cmocka_unit_test(each_says_what_it_is),
        cmocka_unit_test(several_drivers_share_a_bus),
        cmocka_unit_test(a_held_bus_is_waited_for),
        cmocka_unit_test(poll_says_when_to_come_again),
        cmocka_unit_test(nothing_goes_out_on_a_held_bus),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
