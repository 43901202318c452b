/* SPDX-License-Identifier: MIT */
/* Edges as pictures and text: what the bits say, how long pulses are, and any stretch. */
#include <stdlib.h>
#include <string.h>

#include <diachrome/player.h>
#include <diachrome/waveform.h>

#include "../run.h"

static struct dia_rig rig;
static struct dia_waveform wave;
static struct dia_diagnostic wrong;

static const char rig_text[] =
    "controller: { chip: ATmega328P }\nsupplies: { s: { current: 2 A } }\n"
    "lanes:\n  strip: { pin: 5, chip: WS2812B, count: 30, curve: 1 }\n"
    "  wall: { pin: 6, clock_pin: 7, clock: 2 MHz, chip: APA102, count: 30, curve: 1 }\n"
    "  rgb: { pin: 8, clock_pin: 9, clock: 1 MHz, chip: WS2801, count: 5, curve: 1 }\n"
    "devices: { board: { chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 } } }\n";

/* Two frames of one colour, heard by a waveform of one of the lanes. */
static enum dia_status hear(const char *name, struct dia_waveform_stretch stretch)
{
    union dia_look_values values;
    dia_look_steady.defaults(&values);
    values.steady.colour = (struct dia_rgb){0x12, 0x34, 0x56};
    write_file("wave.rig.yaml", rig_text, sizeof rig_text - 1);
    assert_int_equal(dia_rig_load(&rig, "wave.rig.yaml", &wrong), DIA_OK);
    dia_waveform_free(&wave);
    enum dia_status status = dia_waveform_init(&wave, &rig, name, &stretch, &wrong);
    if (status != DIA_OK)
        return status;
    struct dia_player *player = dia_player_new(&rig, &wrong);
    dia_player_listen(player, dia_waveform_take, &wave);
    for (uint32_t k = 0; k < 2; k++) {
        dia_player_show(player, &dia_look_steady, &values, k * 100, k, NULL);
        dia_waveform_catch_up(&wave);
        dia_player_rest_until(player, dia_player_now_ns(player) + 3000000);
    }
    status = dia_waveform_end(&wave, dia_player_now_ns(player), &wrong);
    dia_player_free(player);
    return status;
}

static const struct dia_waveform_mark *mark_of(enum dia_mark kind, uint32_t number)
{
    for (uint32_t i = 0; i < wave.mark_count; i++) {
        if (wave.marks[i].kind == kind && number-- == 0)
            return &wave.marks[i];
    }
    return NULL;
}

/* 16 MHz: T0H is 6 cycles of 62.5 ns, 375; T1H 13, 812.5; periods of 20 cycles. 0x34 goes out
 * first. */
static void a_pixel_says_its_bytes(void **state)
{
    (void)state;
    assert_int_equal(hear("strip", (struct dia_waveform_stretch){1, 1, 17, 0, 0}), DIA_OK);
    assert_int_equal(wave.frames, 2);
    const struct dia_waveform_mark *pixel = mark_of(DIA_MARK_PIXEL, 0);
    /* what is left of the one before is 2 bits of it: the first whole one is ours */
    while (pixel && pixel->value != 17)
        pixel++;
    assert_non_null(pixel);
    assert_int_equal(pixel->colour.r, 0x12);
    assert_int_equal(pixel->colour.g, 0x34);
    assert_int_equal(pixel->colour.b, 0x56);
    uint32_t bits = 0, byte = 0;
    const uint8_t sent[3] = {0x34, 0x12, 0x56};
    for (uint32_t i = 0; i < wave.mark_count; i++) {
        const struct dia_waveform_mark *m = &wave.marks[i];
        if (m->from_ns < pixel->from_ns || m->to_ns > pixel->to_ns)
            continue;
        if (m->kind == DIA_MARK_BIT) {
            assert_int_equal(m->value, sent[bits / 8] >> (7 - bits % 8) & 1);
            bits++;
        } else if (m->kind == DIA_MARK_BYTE) {
            assert_int_equal(m->value, sent[byte++]);
        }
        assert_int_equal(m->wrong, 0);
    }
    assert_int_equal(bits, 24);
    assert_int_equal(byte, 3);
    /* both frames: 30 pixels of 3 + 2 + 4 ones among 24 bits */
    assert_int_equal(wave.pulses[DIA_T1H].count, 2 * 30 * 9);
    assert_int_equal(wave.pulses[DIA_T0H].count, 2 * 30 * 15);
    assert_int_equal(wave.pulses[DIA_T0H].least, 375);
    assert_int_equal(wave.pulses[DIA_T0H].most, 375);
    assert_in_range(wave.pulses[DIA_T1H].least, 812, 813);
    for (int k = 0; k < 4; k++) {
        uint64_t sum = 0;
        for (int bar = 0; bar < DIA_WAVEFORM_BARS; bar++)
            sum += wave.pulses[k].bars[bar];
        assert_int_equal(sum, wave.pulses[k].count);
        assert_int_equal(wave.pulses[k].outside, 0);
    }
    /* the line is drawn as it was, also before the pixel: edges take turns */
    for (uint32_t i = 1; i < wave.wires[0].count; i++)
        assert_int_equal(wave.wires[0].edges[i].level, !wave.wires[0].edges[i - 1].level);
    assert_true(wave.wires[0].edges[0].t_ns < pixel->from_ns);
}

/* Words of the level, blue, green, red; and bytes without one. */
static void a_clock_says_its_words(void **state)
{
    (void)state;
    assert_int_equal(hear("wall", (struct dia_waveform_stretch){1, 0, 3, 0, 0}), DIA_OK);
    const struct dia_waveform_mark *pixel = mark_of(DIA_MARK_PIXEL, 0);
    assert_non_null(pixel);
    assert_int_equal(pixel->value, 3);
    uint32_t first = mark_of(DIA_MARK_BYTE, 0)->value;
    assert_int_equal(first >> 5, 7); /* 111 and the level */
    /* the drive is bytes times level / 31: within a step of what is wanted */
    assert_in_range((pixel->colour.g * (first & 31) + 15) / 31, 0x33, 0x35);
    assert_int_equal(wave.pulses[0].least, 500);
    assert_int_equal(wave.pulses[0].may_least, 66);
    assert_int_equal(hear("rgb", (struct dia_waveform_stretch){1, 1, 4, 0, 0}), DIA_OK);
    pixel = mark_of(DIA_MARK_PIXEL, 0);
    assert_int_equal(pixel->value, 4);
    assert_int_equal(pixel->colour.r, 0x12);
    assert_int_equal(pixel->colour.b, 0x56);
    assert_int_equal(wave.wire_count, 2);
    assert_string_equal(wave.wires[0].name, "rgb_clock");
}

static void any_time_of_a_device(void **state)
{
    (void)state;
    assert_int_equal(hear("board", (struct dia_waveform_stretch){0, 0, 0, 0, 40000}), DIA_OK);
    assert_int_equal(wave.wire_count, 3);
    assert_int_equal(wave.to_ns - wave.from_ns, 40000);
    for (uint32_t i = 0; i < 3; i++)
        assert_true(wave.wires[i].count > 0);
    assert_int_equal(wave.pulse_kinds, 0);
}

/* All that the words of a device said, one after the other, from its first edge on. */
static const char *words_of(const char *device)
{
    static char said[60000];
    char text[600];
    int n = snprintf(text, sizeof text,
                     "controller: { name: c, clock: 64 MHz, ram: 32 KB, flash: 256 KB, logic_high: "
                     "5 V }\nsupplies: { s: { current: 2 A } }\ndevices: { d: { %s } }\n",
                     device);
    struct dia_waveform_stretch all = {.lasts_ns = 400000000};
    struct dia_steady white = {{255, 255, 255}};
    write_file("words.rig.yaml", text, (size_t)n);
    if (dia_rig_load(&rig, "words.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    dia_waveform_free(&wave);
    assert_int_equal(dia_waveform_init(&wave, &rig, "d", &all, &wrong), DIA_OK);
    struct dia_player *player = dia_player_new(&rig, &wrong);
    for (uint32_t i = 0; i < wave.wire_count; i++)
        dia_waveform_begins(&wave, wave.wires[i].pin, dia_player_level(player, wave.wires[i].pin));
    dia_player_listen(player, dia_waveform_take, &wave);
    dia_player_show(player, &dia_look_steady, &white, 0, 0, NULL);
    dia_player_rest_until(player, dia_player_now_ns(player) + 20000000);
    assert_int_equal(dia_waveform_end(&wave, dia_player_now_ns(player), &wrong), DIA_OK);
    dia_player_free(player);
    said[0] = 0;
    for (uint32_t i = 0; i < wave.mark_count && strlen(said) < sizeof said - 40; i++) {
        if (wave.marks[i].kind == DIA_MARK_WORD)
            snprintf(said + strlen(said), 40, "%s|", wave.marks[i].says);
    }
    remove("words.rig.yaml");
    return said;
}

static void has(const char *said, const char *part)
{
    if (!strstr(said, part))
        fail_msg("'%s' is not in %.800s", part, said);
}

/* Words of each family as its sheet reads them, from the set-up to what is shown. */
static void devices_say_their_words(void **state)
{
    (void)state;
    const char *said = words_of("chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 }");
    has(said, "off|"); /* set up in the dark, then rows, then on */
    has(said, "scan limit 7|");
    has(said, "|row 1 = ff|row 2 = ff|row 3 = ff|");
    has(strstr(said, "row 8 = ff"), "|on|");
    assert_null(strchr(said, '?'));
    /* 3 chips: the byte for the last of them goes first */
    said = words_of("chip: 74HC595, chips: 3, depth: 1, clock: 4 MHz, pins: { ser: 1, srclk: 2, "
                    "rclk: 3 }");
    has(said, "chip 3|chip 2|chip 1|chip 3|chip 2|chip 1|");
    uint32_t full = 0;
    for (uint32_t i = 0; i < wave.mark_count; i++)
        full += wave.marks[i].kind == DIA_MARK_BYTE && wave.marks[i].value == 255;
    assert_true(full >= 3);
    /* 1 is segments b and c, 06; 2 is abdeg, 5b */
    said = words_of("chip: TM1638, digits: 2, text: \"12\", pins: { stb: 1, clk: 2, dio: 3 }");
    has(said, "write on|address 0|= 06|");
    has(said, "|= 5b|");
    has(said, "|on, level 7|");
    has(said, "read keys|");
    said = words_of("chip: TM1637, digits: 2, text: \"12\", pins: { clk: 2, dio: 3 }");
    has(said, "address 0|= 06|= 5b|");
    has(said, "on, level 7|");
    static const char *const wirings[] = {
        "pins: { rs: 1, rw: 2, e: 3, d4: 4, d5: 5, d6: 6, d7: 7 }",
        "pins: { rs: 1, e: 3, d0: 10, d1: 11, d2: 12, d3: 13, d4: 4, d5: 5, d6: 6, d7: 7 }",
        "pins: { scl: 1, sda: 2 }"};
    for (int k = 0; k < 3; k++) {
        char device[200];
        snprintf(device, sizeof device,
                 "chip: HD44780, columns: 8, rows: 2, text: [ \"QUAY 7\", "
                 "\"calm\" ], %s",
                 wirings[k]);
        said = words_of(device);
        has(said, k == 1 ? "8 lines, 2 rows|" : "4 lines, 2 rows|");
        has(said, "|clear|");
        has(said, "entry right|");
        has(said, "|Q|U|A|Y|place 05|7|"); /* the space is there already */
        has(said, "place 40|c|a|l|m|");
        has(said, "on|");
    }
    said = words_of("chip: lamps, pins: { lamp1: 1 }");
    assert_string_equal(said, "");
}

/* Between two moments, by hand: 1 MHz of SPI has a rise a us, and is high for half of it. */
static void what_a_wire_does_between(void **state)
{
    (void)state;
    assert_int_equal(hear("rgb", (struct dia_waveform_stretch){0, 0, 0, 0, 100000}), DIA_OK);
    struct dia_waveform_between b;
    uint64_t first = 0; /* of the clock */
    for (uint32_t i = 0; first == 0; i++)
        first = wave.wires[0].edges[i].level ? wave.wires[0].edges[i].t_ns - wave.first_ns : 0;
    dia_waveform_between(&wave, 0, first, first + 10000, &b);
    assert_int_equal(b.rises, 10); /* that at the very beginning is before it */
    assert_int_equal(b.lasts_ns, 10000);
    assert_in_range(b.high_ns, 4990, 5010);
    assert_true(b.period_ns > 999.9 && b.period_ns < 1000.1);
    dia_waveform_between(&wave, 0, first + 100, first + 300, &b);
    assert_int_equal(b.rises, 0);
    assert_int_equal(b.high_ns, 200);
    dia_waveform_free(&wave);
}

static void what_is_not_there_is_told(void **state)
{
    (void)state;
    assert_int_equal(hear("stripe", (struct dia_waveform_stretch){1, 0, 0, 0, 0}), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "no lane or device 'stripe'; did you mean 'strip'"));
    assert_int_equal(hear("strip", (struct dia_waveform_stretch){1, 0, 30, 0, 0}), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "'strip' has pixels 0 to 29; found 30"));
    assert_int_equal(hear("board", (struct dia_waveform_stretch){1, 0, 3, 0, 0}), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "'board' is a device; say a time of it"));
    assert_int_equal(hear("strip", (struct dia_waveform_stretch){1, 7, 0, 0, 0}), DIA_BAD_VALUE);
    assert_non_null(
        strstr(wrong.text, "there are 2 frames, and pixel 0 of frame 7 is not in them"));
    assert_int_equal(hear("strip", (struct dia_waveform_stretch){0, 0, 0, 900000000, 5}),
                     DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "the stretch begins later"));
    dia_waveform_free(&wave);
}

static void the_command_draws_it(void **state)
{
    (void)state;
    write_file("wave.rig.yaml", rig_text, sizeof rig_text - 1);
    assert_int_equal(run("LC_ALL=C $D wave wave.rig.yaml --look steady --of 'strip[17]' --frame 1"),
                     0);
    says("strip, pixel 17 of frame 1, ");
    says("pixels ");
    says("T0H ");
    says("ns: all inside");
    says(" ns, period 1250 ns, 800 kHz, duty ");
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --out w.svg; head -c 38 w.svg"), 0);
    says("<?xml version=\"1.0\" encoding=\"UTF-8\"?>");
    assert_int_equal(
        run("$D wave wave.rig.yaml --look steady --out w.png; head -c 4 w.png | tail -c 3"), 0);
    says("PNG");
    assert_int_equal(run("$D trace wave.rig.yaml --look steady --out w.vcd; $D wave wave.rig.yaml "
                         "--capture w.vcd --of 'wall[2]'"),
                     0);
    says("wall, pixel 2 of frame 0");
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --of board --span 20us"), 0);
    says("board, 20 us from 0 ns on");
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --of 'strip[x]'"), 2);
    says("--of takes NAME or NAME[17]; found 'strip[x]'");
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --of 'strip[1]' --at 3us"), 2);
    says("say a pixel or --at, not both");
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --out w.gif"), 2);
    says("the name must end in .png or .svg");
    assert_int_equal(run("$D wave wave.rig.yaml"), 2);
    says("no look");
    assert_int_equal(run("$D wave wave.rig.yaml --capture nowhere.vcd"), 2);
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --out /dev/full/w.png"), 3);
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --between '5us 30us'"), 0);
    says("from 5 us to 30 us: 25 us");
    says("strip          20 rises, high for");
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --between '5us 300us'"), 2);
    says("inside of 0.000 us to");
    assert_int_equal(run("$D wave wave.rig.yaml --look steady --between 5us"), 2);
    says("--between takes two times");
    remove("w.svg");
    remove("w.png");
    remove("w.vcd");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_pixel_says_its_bytes),  cmocka_unit_test(a_clock_says_its_words),
        cmocka_unit_test(any_time_of_a_device),    cmocka_unit_test(what_is_not_there_is_told),
        cmocka_unit_test(devices_say_their_words), cmocka_unit_test(what_a_wire_does_between),
        cmocka_unit_test(the_command_draws_it),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
