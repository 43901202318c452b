/* SPDX-License-Identifier: MIT */
#include "../run.h"

/*
 * The trace as any logic-analyser software would take it: a reader of VCD files and a decoder of
 * one-wire pulses written here, from the standards and the sheet, find the colours of the table.
 */
#define FRAMES 3
#define PIXELS 120

struct wave {
    char name[64], code[8];
    long long at[200000];
    char level[200000];
    int changes;
    long long end;
};
static struct wave wave;

/* IEEE 1364, 18.2: declarations up to $enddefinitions, then #time and value changes. */
static void read_vcd(char *text)
{
    long long now = 0;
    char *definitions = strstr(text, "$enddefinitions $end");
    assert_non_null(definitions);
    assert_non_null(strstr(text, "$timescale 1 ns $end"));
    char *var = strstr(text, "$var ");
    assert_true(var < definitions);
    assert_int_equal(sscanf(var, "$var wire 1 %7s %63s $end", wave.code, wave.name), 2);
    for (char *word = strtok(definitions + strlen("$enddefinitions $end"), " \n"); word;
         word = strtok(NULL, " \n")) {
        if (word[0] == '#') {
            assert_true(atoll(word + 1) >= now);
            now = atoll(word + 1);
        } else if (word[0] != '$') {
            assert_true(word[0] == '0' || word[0] == '1');
            assert_string_equal(word + 1, wave.code);
            wave.at[wave.changes] = now;
            wave.level[wave.changes++] = word[0];
        }
    }
    wave.end = now;
}

static void the_trace_holds_the_colours_of_the_table(void **state)
{
    (void)state;
    assert_int_equal(
        run("$D trace rigs/handrail.rig.yaml --look drift --frames %d --hold --out test.vcd && "
            "$D render rigs/handrail.rig.yaml --look drift --frames %d --out test.csv",
            FRAMES, FRAMES),
        0);
    char *vcd = read_file("test.vcd", NULL), *table = read_file("test.csv", NULL);
    read_vcd(vcd);
    assert_string_equal(wave.name, "handrail");

    /* idle low before the first pulse and, longer than 50 us, after the last */
    assert_int_equal(wave.level[0], '0');
    assert_true(wave.at[1] > 50000);
    assert_int_equal(wave.level[wave.changes - 1], '0');
    assert_true(wave.end - wave.at[wave.changes - 1] > 50000);

    /* a high longer than 600 ns (half way from 400 to 800) is a 1; a low of 50 us ends a frame */
    int edge = 1;
    char *line = strtok(table, "\r\n");
    for (int frame = 0; frame < FRAMES; frame++) {
        for (int pixel = 0; pixel < PIXELS; pixel++) {
            unsigned grb = 0;
            for (int bit = 0; bit < 24; bit++, edge += 2) {
                long long low = wave.at[edge] - wave.at[edge - 1];
                assert_int_equal(wave.level[edge], '1');
                assert_true(pixel == 0 && bit == 0 ? low > 50000 : low < 2000);
                grb = grb << 1 | (wave.at[edge + 1] - wave.at[edge] > 600);
            }
            unsigned r, g, b;
            line = strtok(NULL, "\r\n");
            assert_int_equal(sscanf(line, "%*d,%*d,handrail,%*d,%u,%u,%u,", &r, &g, &b), 3);
            assert_int_equal(grb, g << 16 | r << 8 | b);
        }
    }
    assert_int_equal(edge, wave.changes);
    free(vcd);
    free(table);
    remove("test.vcd");
    remove("test.csv");
}

/* Unless it is to hold, a trace ends with a frame of zeros: 120 pixels of 24 short highs. */
static void the_trace_ends_dark(void **state)
{
    (void)state;
    assert_int_equal(run("$D trace rigs/handrail.rig.yaml --look steady --out test.vcd"), 0);
    char *vcd = read_file("test.vcd", NULL);
    memset(&wave, 0, sizeof wave);
    read_vcd(vcd);
    assert_int_equal(wave.changes, 1 + 2 * 2 * 24 * PIXELS);
    for (int edge = wave.changes - 2 * 24 * PIXELS; edge < wave.changes; edge += 2)
        assert_true(wave.at[edge + 1] - wave.at[edge] < 600);
    free(vcd);
    remove("test.vcd");
}

/* Code of a wire by its name in the declarations. */
static char code_of(const char *vcd, const char *name)
{
    char text[64];
    snprintf(text, sizeof text, " %s $end", name);
    const char *at = strstr(vcd, text);
    assert_non_null(at);
    return at[-1];
}

/*
 * SPI in mode 0 with a select, as the chips' sheets name their pins: words of 16 bits, the first
 * ones 0c00 (shut down) for two chips. I2C (UM10204): a start, and the address 0x27 with a 0 for
 * writing, acknowledged.
 */
static void devices_decode_from_the_trace(void **state)
{
    (void)state;
    assert_int_equal(run("$D trace rigs/all.rig.yaml --look steady --out all.vcd"), 0);
    char *vcd = read_file("all.vcd", NULL);
    const char names[6] = {code_of(vcd, "dots_DIN"),  code_of(vcd, "dots_CLK"),
                           code_of(vcd, "dots_CS"),   code_of(vcd, "notes_SCL"),
                           code_of(vcd, "notes_SDA"), code_of(vcd, "row_RCLK")};
    int level[128] = {0}, frames = 0, bits = 0, i2c_bits = -1, addresses = 0, latches = 0;
    uint32_t word = 0, byte = 0;
    /* the trace begins with what each line is: a select and both wires of I2C are high */
    for (int k = 2; k < 5; k++) {
        char first[] = {'\n', '1', names[k], '\n', 0}, *values = strstr(vcd, "$dumpvars");
        assert_true(strstr(values, first) && strstr(values, first) < strstr(values, "$end"));
    }
    char *save = NULL, *at = strstr(vcd, "#0");
    for (char *line = strtok_r(at, "\n", &save); line; line = strtok_r(NULL, "\n", &save)) {
        if ((line[0] != '0' && line[0] != '1') || !line[1])
            continue;
        int now = line[0] - '0', code = line[1];
        if (level[code] == now)
            continue;
        level[code] = now;
        if (code == names[1] && now && !level[(int)names[2]]) {
            word = word << 1 | (uint32_t)level[(int)names[0]];
            bits++;
        }
        if (code == names[2] && now && bits) { /* select rises */
            assert_int_equal(bits, 32);
            if (frames++ == 0)
                assert_int_equal(word, 0x0c000c00);
            assert_int_equal(level[(int)names[1]], 0); /* the clock rests low */
        }
        if (code == names[2])
            bits = 0;
        if (code == names[4] && level[(int)names[3]]) /* a start, or a stop */
            i2c_bits = now ? -1 : 0;
        if (code == names[3] && now && i2c_bits >= 0) {
            if (i2c_bits < 8)
                byte = byte << 1 | (uint32_t)level[(int)names[4]];
            if (++i2c_bits == 9) {
                assert_int_equal(level[(int)names[4]], 0);
                assert_int_equal(byte & 255, 0x27 << 1);
                addresses++;
                i2c_bits = -1;
            }
        }
        latches += code == names[5] && now;
    }
    assert_true(frames >= 14); /* set-up and rows */
    /* 9 of the start-up; "a", then a place and "line", a place and "and", a place and "another";
     * display off at the end */
    assert_int_equal(addresses, 9 + 1 + 5 + 4 + 8 + 1);
    assert_true(latches > 10);
    free(vcd);
    remove("all.vcd");
}

/* Two lanes send at the same time: one wire each, and all changes in the order of time. */
static void lanes_are_told_apart_and_in_order(void **state)
{
    (void)state;
    static const char two[] =
        "rig: two\ncontroller: {name: c, clock: 64 MHz, ram: 9 KB, flash: 1 MB, "
        "logic_high: 5 V}\nsupplies: {s: {voltage: 5 V, current: 9 A}}\nlanes:\n"
        "  left: {pin: 1, chip: WS2812B, count: 5, supply: s, line: {pitch: 1 cm}}\n"
        "  right: {pin: 2, chip: SK6812, count: 9, supply: s, line: {pitch: 1 cm}}\n";
    write_file("two.rig.yaml", two, strlen(two));
    assert_int_equal(run("$D trace two.rig.yaml --look steady --hold --out two.vcd"), 0);
    char *vcd = read_file("two.vcd", NULL), code;
    long long now = -1;
    int changes[2] = {0, 0};
    assert_non_null(strstr(vcd, "$var wire 1 ! left $end"));
    assert_non_null(strstr(vcd, "$var wire 1 \" right $end"));
    for (char *line = strtok(strstr(vcd, "$dumpvars"), "\n"); line; line = strtok(NULL, "\n")) {
        if (line[0] == '#') {
            assert_true(atoll(line + 1) > now);
            now = atoll(line + 1);
        } else if (sscanf(line, "%*1[01]%c", &code) == 1) {
            changes[code == '"']++;
        }
    }
    assert_int_equal(changes[0], 1 + 5 * 24 * 2);
    assert_int_equal(changes[1], 1 + 9 * 24 * 2);
    free(vcd);
    remove("two.vcd");
    remove("two.rig.yaml");
}

/* SPI mode 0, most significant bit first, of a lane with a clock line: APA102 words in the trace
 * are the rows of the table. */
static void clock_and_data_decode_as_spi(void **state)
{
    (void)state;
    static const char wall[] =
        "rig: wall\nmaster: 3 %\ncontroller: {name: c, clock: 64 MHz, ram: 9 KB, flash: 1 MB, "
        "logic_high: 5 V}\nsupplies: {s: {voltage: 5 V, current: 9 A}}\nlanes:\n"
        "  wall: {pin: 1, clock_pin: 2, clock: 3 MHz, chip: APA102, count: 20, supply: s, "
        "line: {pitch: 1 cm}}\n";
    write_file("wall.rig.yaml", wall, strlen(wall));
    assert_int_equal(run("$D trace wall.rig.yaml --look drift --hold --out wall.vcd && "
                         "$D render wall.rig.yaml --look drift --out wall.csv"),
                     0);
    char *vcd = read_file("wall.vcd", NULL), *table = read_file("wall.csv", NULL);
    assert_non_null(strstr(vcd, "$var wire 1 ! wall_clock $end"));
    assert_non_null(strstr(vcd, "$var wire 1 \" wall_data $end"));
    unsigned char heard[200] = {0};
    int bits = 0, data = 0;
    for (char *line = strtok(strstr(vcd, "$end\n#") + 5, "\n"); line; line = strtok(NULL, "\n")) {
        if (line[1] == '"' && line[2] == 0)
            data = line[0] == '1';
        if (strcmp(line, "1!") == 0) {
            assert_true(bits < 200 * 8);
            heard[bits / 8] = (unsigned char)(heard[bits / 8] << 1 | data);
            bits++;
        }
    }
    /* 4 zero bytes, 20 words, and 10 clocks in 2 zero bytes */
    assert_int_equal(bits, (4 + 80 + 2) * 8);
    char *row = strtok(table, "\r\n");
    for (int i = 0; i < 20; i++) {
        unsigned r, g, b, level;
        row = strtok(NULL, "\r\n");
        assert_int_equal(sscanf(row, "0,0,wall,%*d,%u,%u,%u,%u", &r, &g, &b, &level), 4);
        assert_int_equal(level, 1); /* 3 % is less than a 31st: the finest level */
        const unsigned char *word = heard + 4 + 4 * i;
        assert_int_equal(word[0], 0xe0 | level);
        assert_int_equal(word[1], b);
        assert_int_equal(word[2], g);
        assert_int_equal(word[3], r);
    }
    free(vcd);
    free(table);
    remove("wall.vcd");
    remove("wall.csv");
    remove("wall.rig.yaml");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(the_trace_holds_the_colours_of_the_table),
        cmocka_unit_test(the_trace_ends_dark),
        cmocka_unit_test(devices_decode_from_the_trace),
        cmocka_unit_test(lanes_are_told_apart_and_in_order),
        cmocka_unit_test(clock_and_data_decode_as_spi),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
