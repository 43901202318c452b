/* SPDX-License-Identifier: MIT */
/* proof: small: -eva-precision 2 */
#include "port.h"

/* Lines of pixels of every part, by one wire, with a clock, in a group and in place, on a port that
 * may refuse anything; and sets of drivers on one supply. */
#define COUNT 5

static struct dia_rgb drawn[COUNT];
static uint8_t memory[DIA_CLOCKED_BYTES(4, COUNT)], planes[DIA_PLANES_BYTES(2, 4 * COUNT)];

static void one_wire(const struct dia_pixel_part *part)
{
    struct dia_strip strip;
    struct dia_onewire line;
    dia_onewire_wire_ns(part, any_number());
    if (dia_onewire_init(&line, &a_port, (uint8_t)any(0, 255), part) == DIA_OK) {
        dia_onewire_start(&line, memory, sizeof memory);
        dia_onewire_poll(&line);
        dia_onewire_is_sending(&line);
        dia_onewire_again_us(&line);
    }
    if (dia_strip_init(&strip, &a_port, (uint8_t)any(0, 255), part, drawn, memory, COUNT) != DIA_OK)
        return;
    dia_strip_supply(&strip, (uint16_t)any(0, UINT16_MAX), (uint16_t)any(0, UINT16_MAX));
    driven(&strip.driver, NULL, 0);
}

static void with_a_clock(const struct dia_pixel_part *part)
{
    struct dia_strip strip;
    struct dia_clocked line;
    uint8_t bus = (uint8_t)any(0, 255);
    dia_clocked_mark(part);
    dia_clocked_lead(part, COUNT);
    if (dia_clocked_init(&line, &a_port, bus, part, any_number()) == DIA_OK) {
        dia_clocked_start(&line, memory, COUNT);
        dia_clocked_poll(&line);
        dia_clocked_start_whole(&line, memory, dia_clocked_bytes(part, COUNT));
        dia_clocked_poll(&line);
        dia_clocked_is_sending(&line);
        dia_clocked_again_us(&line);
    }
    if (dia_strip_init_clocked(&strip, &a_port, bus, part, any_number(), drawn, memory, COUNT) ==
        DIA_OK)
        driven(&strip.driver, NULL, 0);
}

static void in_a_group(void)
{
    struct dia_group group;
    struct dia_parallel pins;
    struct dia_strip strip;
    const uint8_t *const lanes[2] = {memory, memory};
    const uint32_t lengths[2] = {3u * COUNT, 2};
    dia_planes_make(planes, 2, lanes, lengths);
    if (dia_parallel_init(&pins, &a_port, (uint8_t)any(0, 255), 2, &dia_ws2812b) == DIA_OK) {
        dia_parallel_start(&pins, planes, lengths);
        dia_parallel_poll(&pins);
        dia_parallel_again_us(&pins);
    }
    if (dia_group_init(&group, &a_port, (uint8_t)any(0, 255), 2, &dia_ws2812b, planes,
                       3u * COUNT) != DIA_OK ||
        dia_strip_init_lane(&strip, &group, (uint8_t)any(0, 255), &dia_ws2812b, drawn, memory,
                            COUNT) != DIA_OK)
        return;
    driven(&strip.driver, NULL, 0);
    dia_group_is_waiting(&group, 0);
}

static void in_place(const struct dia_pixel_part *part)
{
    static uint8_t frame[4 * COUNT];
    struct dia_inplace_strip strip;
    ANY(frame);
    if (dia_inplace_strip_init(&strip, &a_port, (uint8_t)any(0, 255), part, frame, COUNT) != DIA_OK)
        return;
    dia_inplace_strip_supply(&strip, (uint16_t)any(0, UINT16_MAX), (uint16_t)any(0, UINT16_MAX));
    dia_inplace_strip_show(&strip);
    dia_inplace_strip_poll(&strip);
    dia_inplace_strip_dark(&strip);
    dia_inplace_strip_wait(&strip);
}

static void sets(void)
{
    static uint8_t rows[DIA_MATRIX_ROWS(1)], bytes[DIA_MATRIX_BYTES(1)];
    struct dia_strip strip;
    struct dia_matrix matrix;
    uint32_t again_us;
    if (dia_strip_init(&strip, &a_port, 1, &dia_ws2812b, drawn, memory, COUNT) != DIA_OK ||
        dia_matrix_init(&matrix, &a_port, &dia_max7219, 0, 2, 1000000, rows, bytes, 1) != DIA_OK)
        return;
    struct dia_set_supply supplies[1] = {{.given_ua = any_number()}};
    struct dia_set_member members[2] = {{.driver = &strip.driver}, {.driver = &matrix.driver}};
    struct dia_set set;
    if (dia_set_init(&set, supplies, 1, members, 2) != DIA_OK)
        return;
    dia_set_show(&set);
    dia_set_poll(&set, &again_us);
    dia_set_asked_ua(&set, 0);
    dia_set_share(&set, 0);
    dia_set_dark(&set);
    dia_set_wait(&set);
    dia_set_show_and_wait(&set);
}

int main(void)
{
    ANY(drawn);
    ANY(memory);
    one_wire(&dia_ws2812b);
    one_wire(&dia_ws2815);
    one_wire(&dia_sk6812_rgbw);
    with_a_clock(&dia_apa102);
    with_a_clock(&dia_sk9822);
    with_a_clock(&dia_ws2801);
    with_a_clock(&dia_lpd8806);
    in_a_group();
    in_place(&dia_ws2812b);
    in_place(&dia_sk6812_rgbw);
    sets();
    return 0;
}
