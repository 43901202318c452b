/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/flashing.h>
#include <diachrome/player.h>

/* Lights that strangers may change flash no more often than the owner allows. */

/* How many flashes there are in a second at the worst, of means that were let through: by the
 * definition, from the list of all of them, each pair of opposing changes of a tenth or more. */
static unsigned flashes_in_a_second(const dia_light *mean, const uint32_t *ms, uint32_t n)
{
    static uint32_t changes[20000];
    uint32_t count = 0, most = 0;
    int direction = 0;
    dia_light extreme = mean[0];
    for (uint32_t k = 1; k < n; k++) {
        int step = (int)mean[k] - extreme, up = step > 0;
        dia_light darker = mean[k] < extreme ? mean[k] : extreme;
        if (direction && up == (direction > 0)) {
            extreme = mean[k];
            continue;
        }
        if (abs(step) * 10 < 65535 || darker * 10 >= 8 * 65535)
            continue;
        direction = up ? 1 : -1;
        extreme = mean[k];
        changes[count++] = ms[k];
    }
    for (uint32_t a = 0, b = 0; b < count; b++) {
        while (changes[b] - changes[a] >= 1000)
            a++;
        most = b - a + 1 > most ? b - a + 1 : most;
    }
    return most / 2;
}

/* What is let through of a run of means, and what stays in its place. */
static uint32_t let_through(uint8_t most, uint32_t every_ms, uint32_t n,
                            dia_light (*of)(uint32_t k), dia_light *shown, uint32_t *ms)
{
    struct dia_flashing flashing;
    uint32_t held = 0;
    dia_flashing_init(&flashing, most);
    for (uint32_t k = 0; k < n; k++) {
        ms[k] = k * every_ms + 4294960000u; /* it wraps on the way */
        uint8_t allowed = dia_flashing_allows(&flashing, of(k), ms[k]);
        assert_true(allowed || k > 0);
        shown[k] = allowed ? of(k) : shown[k - 1];
        held += !allowed;
    }
    return held;
}

static dia_light strobe(uint32_t k)
{
    return k % 2 ? 65535 : 0;
}

static dia_light slow(uint32_t k) /* 2.5 flashes a second at 20 ms */
{
    return k / 10 % 2 ? 65535 : 0;
}

static dia_light small(uint32_t k) /* 9 % */
{
    return k % 2 ? 5898 : 0;
}

static dia_light bright(uint32_t k) /* the darker one is above 80 % */
{
    return k % 2 ? 65535 : 52500;
}

static dia_light noise(uint32_t k)
{
    k *= 2654435761u;
    k ^= k >> 15;
    return (dia_light)(k * 2246822519u >> 16);
}

static void no_second_has_more_flashes_than_allowed(void **state)
{
    (void)state;
    static dia_light shown[20000];
    static uint32_t ms[20000];
    for (uint8_t most = 1; most <= DIA_FLASHES_MOST; most++) {
        assert_true(let_through(most, 20, 5000, strobe, shown, ms) > 0);
        assert_int_equal(flashes_in_a_second(shown, ms, 5000), most);
        assert_true(let_through(most, 7, 20000, noise, shown, ms) > 0);
        assert_true(flashes_in_a_second(shown, ms, 20000) <= most);
    }
    assert_int_equal(let_through(3, 20, 5000, slow, shown, ms),
                     0); /* what is allowed is as it was */
    assert_int_equal(let_through(1, 20, 5000, small, shown, ms), 0);
    assert_int_equal(let_through(1, 20, 5000, bright, shown, ms), 0);
}

/* Relative luminance: 0.2126 R + 0.7152 G + 0.0722 B. */
static void brightness_is_that_of_the_standard(void **state)
{
    (void)state;
    const struct dia_rgb pixels[4] = {{255, 0, 0}, {0, 255, 0}, {0, 0, 255}, {0, 0, 0}};
    const uint8_t levels[4] = {255, 0, 0, 255};
    assert_in_range(dia_flashing_mean(pixels, 1), 13931, 13933);     /* 0.2126 * 65535 = 13932.7 */
    assert_in_range(dia_flashing_mean(pixels + 1, 1), 46870, 46871); /* 0.7152: 46870.6 */
    assert_in_range(dia_flashing_mean(pixels, 4), 16383, 16384);     /* a quarter of all */
    assert_in_range(dia_flashing_mean_of_levels(levels, 4), 32767, 32768);
    assert_int_equal(dia_flashing_mean(pixels, 0), 0);
}

/* A strip that is told to blink 10 times a second, and master that goes up and down. */
static void a_player_holds_the_frame_before(void **state)
{
    (void)state;
    static const char text[] =
        "controller: RP2040\nsupplies:\n  usb: { current: 4 A }\n"
        "lanes:\n  shelf: { pin: 17, chip: WS2812B, count: 9 }\n"
        "devices:\n  lamps: { chip: 74HC595, pins: { ser: 1, srclk: 2, rclk: 3 }, clock: 1 MHz, "
        "depth: 1 }\n";
    static struct dia_rig rig;
    static dia_light shown[500];
    static uint32_t ms[500];
    struct dia_diagnostic wrong = {""};
    write_file("flashing.rig.yaml", text, strlen(text));
    assert_int_equal(dia_rig_load(&rig, "flashing.rig.yaml", &wrong), DIA_OK);
    for (int by_master = 0; by_master < 2; by_master++) {
        struct dia_player *player = dia_player_new(&rig, &wrong);
        struct dia_blink values;
        dia_blink_defaults(&values);
        values.colour = (struct dia_rgb){255, 255, 255};
        values.period_ms = by_master ? 3600000 : 100;
        assert_int_equal(dia_player_flashes(player, 3), 0);
        for (uint32_t k = 0; k < 500; k++) {
            dia_player_run_ms(player, k * 20);
            dia_player_master(player, by_master && k / 3 % 2 ? 0 : DIA_SHARE_ONE);
            assert_int_equal(dia_player_show(player, &dia_look_blink, &values, k * 20, 0, NULL),
                             DIA_OK);
            struct dia_rgb seen = dia_player_seen(player, 0, 4);
            shown[k] = dia_flashing_mean(&seen, 1);
            ms[k] = k * 20;
        }
        assert_int_equal(flashes_in_a_second(shown, ms, 500), 3);
        assert_true(dia_player_held_back(player) > 200);
        assert_int_equal(dia_player_flashes(player, 0), 0); /* and as often as it is told again */
        dia_player_free(player);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(no_second_has_more_flashes_than_allowed),
        cmocka_unit_test(brightness_is_that_of_the_standard),
        cmocka_unit_test(a_player_holds_the_frame_before),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
