/* SPDX-License-Identifier: MIT */
#include "families.h"

/* The last value that a range has, and the first that it has not. */

static struct dia_rgb pixels[4];
static uint8_t memory[256], planes[DIA_PLANES_BYTES(2, 12)];

static void strips_have_limits(void **state)
{
    (void)state;
    struct dia_strip strip;
    struct dia_inplace_strip inplace;
    struct dia_group group;
    families_desk();
    struct dia_port *port = &sim.port;
    assert_int_equal(dia_strip_init(&strip, port, 63, &dia_ws2812b, pixels, memory, 1), DIA_OK);
    assert_int_equal(dia_strip_init(&strip, port, 64, &dia_ws2812b, pixels, memory, 1),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_strip_init(&strip, port, 5, &dia_ws2812b, pixels, memory, 0),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_strip_init(&strip, port, 5, &dia_apa102, pixels, memory, 1),
                     DIA_UNSUPPORTED);
    assert_int_equal(
        dia_strip_init_clocked(&strip, port, 0, &dia_apa102, 1000000, pixels, memory, 0),
        DIA_BAD_VALUE);
    assert_int_equal(
        dia_strip_init_clocked(&strip, port, 0, &dia_ws2812b, 1000000, pixels, memory, 1),
        DIA_UNSUPPORTED);
    assert_int_equal(dia_inplace_strip_init(&inplace, port, 64, &dia_ws2812b, memory, 1),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_inplace_strip_init(&inplace, port, 5, &dia_ws2812b, memory, 0),
                     DIA_BAD_VALUE);
    /* less than what is kept for the controller: nothing is left for light */
    assert_int_equal(dia_inplace_strip_init(&inplace, port, 5, &dia_ws2812b, memory, 4), DIA_OK);
    dia_inplace_strip_supply(&inplace, 100, 100);
    assert_int_equal(inplace.given_ua, 0);
    dia_inplace_strip_supply(&inplace, 101, 100);
    assert_int_equal(inplace.given_ua, 1000);
    assert_int_equal(dia_strip_init(&strip, port, 6, &dia_ws2812b, pixels, memory, 4), DIA_OK);
    dia_strip_supply(&strip, 100, 101);
    assert_int_equal(strip.given_ua, 0);
    dia_strip_supply(&strip, 65535, 0);
    assert_int_equal(strip.given_ua, 65535000);

    assert_int_equal(dia_group_init(&group, port, 48, 2, &dia_ws2812b, planes, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_group_init(&group, port, 63, 2, &dia_ws2812b, planes, 12), DIA_BAD_VALUE);
    assert_int_equal(dia_group_init(&group, port, 48, 2, &dia_ws2812b, planes, 12), DIA_OK);
    assert_int_equal(dia_strip_init_lane(&strip, &group, 0, &dia_ws2812b, pixels, memory, 0),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_strip_init_lane(&strip, &group, 0, &dia_ws2812b, pixels, memory, 5),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_strip_init_lane(&strip, &group, 2, &dia_ws2812b, pixels, memory, 4),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_strip_init_lane(&strip, &group, 1, &dia_ws2812b, pixels, memory, 4),
                     DIA_OK);
    assert_int_equal(dia_group_is_waiting(&group, 1), 0);
    assert_int_equal(dia_driver_show_and_wait(&strip.driver), DIA_OK);
    assert_int_equal(dia_driver_show(&strip.driver), DIA_OK);
    assert_int_equal(dia_group_is_waiting(&group, 1), 1);
    assert_int_equal(dia_group_is_waiting(&group, 0), 0);
    assert_int_equal(dia_group_is_waiting(&group, 16), 0);
    desk_clear();
}

static void digits_have_limits(void **state)
{
    (void)state;
    struct dia_digits digits;
    struct dia_digits_setup right = {.segment_pin = {15, 16, 17, 18, 19, 20, 21, 22},
                                     .common_pin = {23, 24},
                                     .digits = 2,
                                     .turn_us = 8000};
    families_desk();
    assert_int_equal(dia_digits_init(&digits, &sim.port, &right, memory), DIA_OK);
    for (int k = 0; k < 5; k++) {
        struct dia_digits_setup wrong = right;
        switch (k) {
        case 0:
            wrong.digits = 0;
            break;
        case 1:
            wrong.turn_us = 8001;
            break;
        case 2:
            wrong.common_pin[1] = DIA_NO_PIN;
            break;
        case 3:
            wrong.common_pin[0] = 64;
            break;
        default:
            wrong.segment_pin[7] = 64;
            break;
        }
        assert_int_equal(dia_digits_init(&digits, &sim.port, &wrong, memory), DIA_BAD_VALUE);
    }
    /* 1 s / 4 digits / refresh, 20 to 8000 us */
    assert_int_equal(dia_digits_turn_us(0, 4, 0), 0);
    assert_int_equal(dia_digits_turn_us(100000, 0, 0), 0);
    assert_int_equal(dia_digits_turn_us(12500000, 4, 0), 20);
    assert_int_equal(dia_digits_turn_us(12600000, 4, 0), 0);
    assert_int_equal(dia_digits_turn_us(31250, 4, 0), 8000);
    assert_int_equal(dia_digits_turn_us(31240, 4, 0), 0);
    /* 1 s / 255 units / 0.06 Hz is 65.4 ms; at 0.05 Hz 78 ms, more than a unit can be */
    assert_int_equal(dia_slices_unit_us(60, 8), 65359);
    assert_int_equal(dia_slices_unit_us(50, 8), 65535);
    assert_int_equal(dia_slices_unit_us(100000, 0), 0);
    assert_int_equal(dia_slices_unit_us(100000, 9), 0);
    desk_clear();
}

static void shift_registers_have_limits(void **state)
{
    (void)state;
    struct dia_shift shift;
    struct dia_shift_setup right = {.part = &dia_74hc595,
                                    .data_pin = 4,
                                    .clock_pin = 5,
                                    .latch_pin = 7,
                                    .enable_pin = 8,
                                    .bus = DIA_SHIFT_BY_PINS,
                                    .depth = 2,
                                    .chips = 1,
                                    .clock_hz = 1000000,
                                    .unit_us = 300};
    families_desk();
    assert_int_equal(sim.port.ops->pin_write(&sim.port, 4, 1), DIA_OK);
    assert_int_equal(sim.port.ops->pin_write(&sim.port, 5, 1), DIA_OK);
    assert_int_equal(dia_shift_init(&shift, &sim.port, &right, memory, memory + 8), DIA_OK);
    assert_int_equal(sim.level[4] << 2 | sim.level[5] << 1 | sim.level[8],
                     1); /* dark, and at rest */
    for (int k = 0; k < 8; k++) {
        struct dia_shift_setup wrong = right;
        switch (k) {
        case 6:
            wrong.unit_us = 512, wrong.depth = 8;
            break; /* the longest slice is 65536 us */
        case 7:
            wrong.chips = DIA_SHIFT_MOST + 1;
            break;
        case 0:
            wrong.data_pin = 64;
            break;
        case 1:
            wrong.clock_pin = 64;
            break;
        case 2:
            wrong.latch_pin = 64;
            break;
        case 3:
            wrong.enable_pin = 64;
            break;
        case 4:
            wrong.bus = 0, wrong.clock_hz = 0;
            break;
        default:
            wrong.bus = 0, wrong.latch_pin = 64;
            break;
        }
        if (dia_shift_init(&shift, &sim.port, &wrong, memory, memory + 8) != DIA_BAD_VALUE)
            fail_msg("wrong setup %d is taken", k);
    }
    right.unit_us = 511;
    right.depth = 8;
    assert_int_equal(dia_shift_init(&shift, &sim.port, &right, memory, memory + 8), DIA_OK);
    right.depth = 2;
    /* by SPI at 1 MHz: 8 bits a chip are 8 us, so a unit of 10 holds a chip, but not two */
    right.bus = 0;
    right.unit_us = 9;
    assert_int_equal(dia_shift_init(&shift, &sim.port, &right, memory, memory + 8), DIA_BAD_VALUE);
    right.unit_us = 10;
    assert_int_equal(dia_shift_init(&shift, &sim.port, &right, memory, memory + 8), DIA_OK);
    right.chips = 2;
    assert_int_equal(dia_shift_init(&shift, &sim.port, &right, memory, memory + 16), DIA_BAD_VALUE);
    desk_clear();
}

static void the_others_have_limits(void **state)
{
    (void)state;
    struct dia_matrix matrix;
    struct dia_panel panel;
    struct dia_characters display;
    struct dia_set set;
    struct dia_set_supply supplies[1] = {{.given_ua = 1}};
    struct dia_set_member members[1] = {{.driver = &panel.driver}};
    families_desk();
    struct dia_port *port = &sim.port;
    assert_int_equal(dia_matrix_init(&matrix, port, &dia_max7219, 0, 6, 0, memory, memory + 8, 1),
                     DIA_BAD_VALUE);
    for (uint8_t wrong = 0; wrong < 3; wrong++)
        assert_int_equal(dia_panel_init(&panel, port, &dia_tm1638, wrong == 0 ? 64 : 25,
                                        wrong == 1 ? 64 : 26, wrong == 2 ? 64 : 27, memory),
                         DIA_BAD_VALUE);
    assert_int_equal(dia_panel_init(&panel, port, &dia_tm1638, 25, 26, 27, memory), DIA_OK);
    assert_int_equal(dia_panel_digit(&panel, 7, 1), DIA_OK);
    assert_int_equal(dia_panel_digit(&panel, 8, 1), DIA_BAD_VALUE);
    assert_int_equal(dia_panel_lamp(&panel, 7, 1), DIA_OK);
    assert_int_equal(dia_panel_lamp(&panel, 8, 1), DIA_BAD_VALUE);
    assert_int_equal(dia_set_init(&set, supplies, 1, members, 1), DIA_OK);

    static const struct {
        uint8_t bus, address;
        uint16_t khz;
        enum dia_status says;
    } displays[] = {
        {DIA_BUS_EXPANDER, 127, 0, DIA_OK},           {DIA_BUS_EXPANDER, 128, 0, DIA_BAD_VALUE},
        {DIA_BUS_EXPANDER + 1, 39, 0, DIA_BAD_VALUE}, {DIA_BUS_EXPANDER, 39, 20, DIA_OK},
        {DIA_BUS_EXPANDER, 39, 19, DIA_BAD_VALUE},
    };
    for (size_t k = 0; k < sizeof displays / sizeof displays[0]; k++) {
        struct dia_characters_setup setup = {.part = &dia_hd44780,
                                             .bus = displays[k].bus,
                                             .address = displays[k].address,
                                             .oscillator_khz = displays[k].khz,
                                             .columns = 8,
                                             .rows = 2};
        assert_int_equal(dia_characters_init(&display, port, &setup, memory, memory + 16),
                         displays[k].says);
    }
    /* all places, codes and styles there are, and the first beyond */
    struct dia_characters_setup setup = {
        .part = &dia_hd44780, .bus = DIA_BUS_EXPANDER, .address = 39, .columns = 8, .rows = 2};
    assert_int_equal(dia_characters_init(&display, port, &setup, memory, memory + 16), DIA_OK);
    assert_int_equal(dia_characters_text(&display, 0, 1, "12345678", 8), DIA_OK);
    assert_int_equal(dia_characters_text(&display, 1, 1, "12345678", 8), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_text(&display, 0, 2, "1", 1), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_place(&display, 8, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_glyph(&display, 15, memory), DIA_OK);
    assert_int_equal(dia_characters_glyph(&display, 16, memory), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_cursor(&display, 7, 1, 3), DIA_OK);
    assert_int_equal(dia_characters_cursor(&display, 7, 1, 4), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_cursor(&display, 7, 2, 1), DIA_BAD_VALUE);
    /* a pen goes from the end of the last row to the first */
    assert_int_equal(dia_characters_place(&display, 7, 1), DIA_OK);
    assert_int_equal(dia_characters_put(&display, 'Y'), DIA_OK);
    assert_int_equal(dia_characters_put(&display, 'Z'), DIA_OK);
    assert_memory_equal(memory, "Z       1234567Y", 16);
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(strips_have_limits),
        cmocka_unit_test(digits_have_limits),
        cmocka_unit_test(shift_registers_have_limits),
        cmocka_unit_test(the_others_have_limits),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
