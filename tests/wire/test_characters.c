/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

enum { RS = 20, RW, E, D0, SCL = 40, SDA };

static struct dia_characters display;
static uint8_t cells[80], memory[80];

enum { WITH_RW = 1, SLOW = 2, HALF_PAIR = 4 };

static int connect(uint8_t bus, uint8_t columns, uint8_t rows, uint8_t split, int how)
{
    struct dia_characters_setup setup = {.part = &dia_hd44780,
                                         .bus = bus,
                                         .rs_pin = RS,
                                         .rw_pin = how & WITH_RW ? RW : DIA_NO_PIN,
                                         .e_pin = E,
                                         .address = 0x27,
                                         .columns = columns,
                                         .rows = rows,
                                         .split = split};
    struct dia_glass glass = {.columns = columns,
                              .rows = rows,
                              .split = split,
                              .address = 0x27,
                              .half = (how & HALF_PAIR) != 0,
                              .oscillator_khz = how & SLOW ? 190 : 350};
    uint8_t pins[DIA_CHARACTERS_PINS];
    memset(pins, DIA_NO_PIN, sizeof pins);
    desk_set_up(48000000);
    if (bus == DIA_BUS_EXPANDER) {
        pins[DIA_CHARACTERS_SCL] = SCL;
        pins[DIA_CHARACTERS_SDA] = SDA;
        assert_int_equal(dia_sim_i2c_pins(&sim, 0, SCL, SDA), DIA_OK);
    } else {
        uint8_t lines = bus == DIA_BUS_8_LINES ? 8 : 4;
        pins[DIA_CHARACTERS_RS] = RS;
        pins[DIA_CHARACTERS_RW] = setup.rw_pin;
        pins[DIA_CHARACTERS_E] = E;
        for (uint8_t k = 0; k < lines; k++) {
            setup.data_pin[k] = (uint8_t)(D0 + k);
            pins[DIA_CHARACTERS_D0 + 8 - lines + k] = (uint8_t)(D0 + k);
        }
    }
    const struct dia_device_setup on_bench = {.name = "keeper", .part = "HD44780", .pins = pins};
    int device = dia_bench_characters(bench, &on_bench, &glass);
    assert_true(device >= 0);
    assert_int_equal(dia_characters_init(&display, &sim.port, &setup, cells, memory), DIA_OK);
    if (bus != DIA_BUS_EXPANDER)
        assert_false(sim.level[E] || sim.level[RS]); /* a fall of E is a command */
    return device;
}

/* Shows, and comes again when the driver says so, until all is sent. */
static const struct dia_cells_shown *show(int device)
{
    uint32_t us;
    enum dia_status status;
    assert_int_equal(dia_driver_show(&display.driver), DIA_OK);
    while ((status = dia_driver_poll(&display.driver, &us)) == DIA_BUSY)
        dia_sim_advance_us(&sim, us);
    assert_int_equal(status, DIA_OK);
    desk_settle();
    return dia_bench_cells(bench, device);
}

static const struct {
    uint8_t columns, rows, split;
} sizes[] = {{8, 1, 0},  {16, 1, 0}, {16, 1, 1}, {8, 2, 0},  {16, 2, 0}, {20, 2, 0},
             {24, 2, 0}, {40, 2, 0}, {16, 4, 0}, {20, 4, 0}, {40, 1, 0}};

static void random_texts_show_on_every_bus_and_size(void **state)
{
    (void)state;
    uint32_t seed = 12;
    for (size_t k = 0; k < sizeof sizes / sizeof sizes[0]; k++) {
        for (int how = 0; how < 8; how++) {
            for (uint8_t bus = 0; bus < 3; bus++) {
                int device = connect(bus, sizes[k].columns, sizes[k].rows, sizes[k].split, how);
                char text[4][40];
                memset(text, ' ', sizeof text);
                for (int n = 0; n < 6; n++) {
                    uint8_t row = (uint8_t)random_below(&seed, sizes[k].rows);
                    uint8_t column = (uint8_t)random_below(&seed, sizes[k].columns);
                    uint8_t length = (uint8_t)random_below(&seed, sizes[k].columns - column + 1u);
                    for (uint8_t i = 0; i < length; i++)
                        text[row][column + i] = (char)random_below(&seed, 256);
                    assert_int_equal(
                        dia_characters_text(&display, column, row, &text[row][column], length),
                        DIA_OK);
                    show(device);
                }
                const struct dia_cells_shown *shown = show(device);
                assert_true(shown->on);
                for (uint8_t row = 0; row < sizes[k].rows; row++)
                    assert_memory_equal(shown->code[row], text[row], sizes[k].columns);
                desk_finds(NULL);
                desk_clear();
            }
        }
    }
}

static void glyphs_cursor_and_text_at_a_pen(void **state)
{
    (void)state;
    static const uint8_t wave[8] = {0, 2, 5, 8, 16, 31, 0, 21}, bar[8] = {31, 31};
    for (uint8_t bus = 0; bus < 3; bus++) {
        int device = connect(bus, 16, 2, 0, WITH_RW);
        dia_characters_text(&display, 3, 1, "tide", 4);
        assert_int_equal(dia_characters_glyph(&display, 5, wave), DIA_OK);
        assert_int_equal(dia_characters_place(&display, 7, 1), DIA_OK);
        dia_characters_put(&display, 5);
        assert_int_equal(dia_characters_cursor(&display, 8, 1, DIA_CURSOR_UNDERLINE), DIA_OK);
        const struct dia_cells_shown *shown = show(device);
        assert_memory_equal(shown->glyph[5], wave, 8);
        assert_memory_equal(shown->code[1], "   tide\005 ", 9);
        assert_int_equal(shown->cursor_column, 8);
        assert_int_equal(shown->cursor_row, 1);
        assert_true(shown->underline && !shown->block);

        dia_driver_master(&display.driver, 0); /* off, and the text is kept */
        assert_false(show(device)->on);
        dia_driver_master(&display.driver, DIA_SHARE_ONE);
        dia_characters_cursor(&display, 8, 1, DIA_CURSOR_BLOCK);
        assert_memory_equal(show(device)->code[1], "   tide\005 ", 9);
        assert_true(shown->on && shown->block && !shown->underline);

        dia_characters_place(&display, 15, 0); /* the pen goes on in the next row */
        dia_characters_put(&display, 'a');
        dia_characters_put(&display, 'b');
        dia_characters_glyph(&display, 8, bar); /* code 8 is glyph 0 */
        assert_memory_equal(show(device)->code[1], "b  tide\005 ", 9);
        assert_int_equal(shown->code[0][15], 'a');
        assert_memory_equal(shown->glyph[0], bar, 8);
        assert_memory_equal(shown->glyph[5], wave, 8);

        dia_driver_clear(&display.driver);
        assert_memory_equal(show(device)->code[1], "          ", 10);
        dia_characters_text(&display, 0, 0, "dark", 4);
        show(device);
        assert_int_equal(dia_driver_dark(&display.driver), DIA_OK);
        desk_settle();
        assert_false(shown->on);
        assert_memory_equal(shown->code[0], "dark ", 5);
        assert_true(show(device)->on);
        desk_finds(NULL);
        desk_clear();
    }
}

/* One changed cell costs its place and itself: two pulses of E on eight lines. */
static void only_what_changes_is_sent(void **state)
{
    (void)state;
    int device = connect(DIA_BUS_8_LINES, 20, 4, 0, 0);
    dia_characters_text(&display, 0, 2, "twenty characters it", 20);
    show(device);
    uint32_t before = edges_heard[E];
    show(device);
    assert_int_equal(edges_heard[E], before);
    dia_characters_text(&display, 7, 2, "C", 1);
    assert_memory_equal(show(device)->code[2], "twenty Characters it", 20);
    assert_int_equal(edges_heard[E], before + 2);
    dia_driver_refresh(&display.driver);
    assert_memory_equal(show(device)->code[2], "twenty Characters it", 20);
    assert_int_equal(dia_characters_text(&display, 12, 0, "too long!", 9), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_text(&display, 20, 0, "x", 1), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_place(&display, 0, 4), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_glyph(&display, 16, NULL), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_cursor(&display, 0, 0, 4), DIA_BAD_VALUE);
    desk_finds(NULL);
    desk_clear();
}

/* A poll that comes too late only shows late; a display that is not there is told, once a show. */
static void lateness_and_absence(void **state)
{
    (void)state;
    int device = connect(DIA_BUS_8_LINES, 16, 2, 0, 0);
    dia_characters_text(&display, 0, 0, "late", 4);
    assert_int_equal(dia_driver_show(&display.driver), DIA_OK);
    while (dia_driver_poll(&display.driver, NULL) == DIA_BUSY)
        dia_sim_advance_us(&sim, 50000);
    desk_settle();
    assert_memory_equal(dia_bench_cells(bench, device)->code[0], "late ", 5);
    desk_finds(NULL);
    desk_clear();

    device = connect(DIA_BUS_EXPANDER, 16, 2, 0, 0);
    dia_characters_text(&display, 0, 0, "here", 4);
    display.setup.address = 0x3f;
    for (int k = 0; k < 3; k++) {
        assert_int_equal(dia_driver_show_and_wait(&display.driver), DIA_PORT_FAILED);
        assert_int_equal(dia_driver_poll(&display.driver, NULL), DIA_OK);
    }
    display.setup.address = 0x27; /* plugged in: nothing is lost */
    assert_memory_equal(show(device)->code[0], "here ", 5);
    desk_clear();

    /* the busy flag of a display that is not there never goes: D7 is pulled up */
    connect(DIA_BUS_4_LINES, 16, 2, 0, WITH_RW);
    desk_clear();
    desk_set_up(48000000);
    display.driver.port = &sim.port;
    assert_int_equal(dia_driver_show_and_wait(&display.driver), DIA_PORT_FAILED);
    desk_clear();
}

/* Two bytes in the bare timing of the bus, each time at its limit and just beyond. */
static const struct {
    uint32_t set_up, high, low, data, hold, busy_us;
    const char *code;
} timings[] = {
    {40, 230, 270, 80, 10, 37, NULL},           {39, 230, 270, 80, 10, 37, "set-up-short"},
    {40, 229, 271, 80, 10, 37, "pulse-short"},  {40, 230, 269, 80, 10, 37, "cycle-short"},
    {40, 230, 270, 79, 10, 37, "set-up-short"}, {40, 230, 270, 80, 9, 37, "hold-short"},
    {40, 230, 270, 80, 10, 36, "busy"},
};

static void the_model_minds_every_time_of_the_sheet(void **state)
{
    (void)state;
    static const struct dia_glass glass = {.columns = 16, .rows = 2};
    for (size_t k = 0; k < sizeof timings / sizeof timings[0]; k++) {
        uint8_t pins[DIA_CHARACTERS_PINS] = {RS,     RW,         E,         D0,     D0 + 1,
                                             D0 + 2, D0 + 3,     D0 + 4,    D0 + 5, D0 + 6,
                                             D0 + 7, DIA_NO_PIN, DIA_NO_PIN};
        const struct dia_device_setup setup = {.name = "keeper", .part = "HD44780", .pins = pins};
        desk_set_up(0);
        assert_true(dia_bench_characters(bench, &setup, &glass) >= 0);
        by_hand_ns = 15000000;
        after(0, D0 + 5, 1); /* 0x20: four lines, so that pairs come close together */
        after(1000, E, 1);
        after(1000, E, 0);
        after(timings[k].busy_us * 1000 + timings[k].high - 2 * timings[k].high, RS, 1);
        after(timings[k].set_up, E, 1);
        after(timings[k].high - timings[k].data, D0 + 4, 1);
        after(timings[k].data, E, 0);
        after(timings[k].hold, D0 + 6, 1);
        after(timings[k].low - timings[k].hold, E, 1);
        after(timings[k].high, E, 0);
        desk_finds(timings[k].code);
        desk_clear();
    }
    desk_set_up(0);
    uint8_t pins[DIA_CHARACTERS_PINS] = {RS,     RW,         E,         D0,     D0 + 1,
                                         D0 + 2, D0 + 3,     D0 + 4,    D0 + 5, D0 + 6,
                                         D0 + 7, DIA_NO_PIN, DIA_NO_PIN};
    const struct dia_device_setup setup = {.name = "keeper", .part = "HD44780", .pins = pins};
    assert_true(dia_bench_characters(bench, &setup, &glass) >= 0);
    by_hand_ns = 14999000;
    after(0, E, 1);
    after(999, E, 0);
    desk_finds("power-up");
    desk_clear();
}

/* ---- the model by hand, by the instruction table of the sheet -----------------------------------
 */

static int by_hand(const struct dia_glass *glass)
{
    uint8_t pins[DIA_CHARACTERS_PINS] = {RS,     RW,         E,         D0,     D0 + 1,
                                         D0 + 2, D0 + 3,     D0 + 4,    D0 + 5, D0 + 6,
                                         D0 + 7, DIA_NO_PIN, DIA_NO_PIN};
    const struct dia_device_setup setup = {.name = "keeper", .part = "HD44780", .pins = pins};
    desk_set_up(0);
    int device = dia_bench_characters(bench, &setup, glass);
    assert_true(device >= 0);
    by_hand_ns = 15000000;
    return device;
}

/* A byte by eight lines, in the bare time of the bus. */
static void write_byte(uint8_t rs, uint8_t byte)
{
    after(1000, RS, rs);
    for (uint8_t k = 0; k < 8; k++)
        after(0, (uint8_t)(D0 + k), byte >> k & 1);
    after(100, E, 1);
    after(400, E, 0);
}

static void tell(uint8_t instruction)
{
    write_byte(0, instruction);
    by_hand_ns += instruction <= 3 ? 1520000 : 37000;
}

static void put_text(const char *text)
{
    for (; *text; text++) {
        write_byte(1, (uint8_t)*text);
        by_hand_ns += 41000;
    }
}

/* The upper row begins with this, and the cursor is there. */
static void begins_with(int device, const char *text, uint8_t column, uint8_t row)
{
    dia_bench_settle(bench, by_hand_ns);
    const struct dia_cells_shown *shown = dia_bench_cells(bench, device);
    assert_memory_equal(shown->code[0], text, strlen(text));
    assert_int_equal(shown->cursor_column, column);
    assert_int_equal(shown->cursor_row, row);
}

static uint64_t answered_ns;
static uint8_t answer;

static void when_answered(void *self, uint64_t t_ns, uint8_t pin, uint8_t level)
{
    (void)self;
    if (pin != D0 + 7)
        return;
    answered_ns = t_ns;
    answer = level;
}

/* The busy flag is on D7 160 ns after E has risen, the longest data delay of the sheet at 5 V, and
 * 5 ns after its fall, its least data hold time. */
static void the_busy_flag_comes_with_its_delay(void **state)
{
    (void)state;
    static const struct dia_glass glass = {.columns = 8, .rows = 2};
    by_hand(&glass);
    dia_bench_answers(bench, when_answered, NULL);
    write_byte(0, 0x38);
    after(1000, RW, 1);
    after(100, E, 1);
    assert_true(answered_ns == by_hand_ns + 160 && answer == 1);
    after(400, E, 0);
    assert_true(answered_ns == by_hand_ns + 5 && answer == 2); /* let go */
    desk_clear();
}

static void every_instruction_does_what_the_table_says(void **state)
{
    (void)state;
    static const struct dia_glass glass = {.columns = 8, .rows = 2};
    int device = by_hand(&glass);
    const struct dia_cells_shown *shown = dia_bench_cells(bench, device);
    tell(0x38); /* eight bits, two lines */
    tell(0x0c);
    tell(0x01);
    tell(0x06);
    put_text("ABCDEFGHI");
    begins_with(device, "ABCDEFGH", 255, 255);
    tell(0x18); /* the text to the left; the ring has 40 places */
    begins_with(device, "BCDEFGHI", 255, 255);
    tell(0x18);
    begins_with(device, "CDEFGHI ", 7, 0);
    tell(0x1c);
    tell(0x1c);
    tell(0x1c);
    begins_with(device, " ABCDEFG", 255, 255);
    tell(0x02); /* home, and the text back */
    begins_with(device, "ABCDEFGH", 0, 0);
    tell(0x14); /* the cursor right, left, and round: behind 00 comes 67, the last of line 2 */
    begins_with(device, "AB", 1, 0);
    tell(0x10);
    tell(0x10);
    begins_with(device, "AB", 255, 255);
    tell(0x14);
    begins_with(device, "AB", 0, 0);
    tell(0x80 | 0x27); /* the last of line 1: then line 2, then line 1 again */
    put_text("xy");
    begins_with(device, "AB", 1, 1);
    assert_int_equal(shown->code[1][0], 'y');
    tell(0x10);
    tell(0x10); /* back from 40 to 27 */
    tell(0x1c); /* and there is the x, left of the A */
    begins_with(device, "xAB", 0, 0);
    tell(0x80 | 0x67);
    put_text("zQ");
    tell(0x02);
    begins_with(device, "QB", 0, 0);
    tell(0x04); /* backwards */
    tell(0x80 | 3);
    put_text("vu");
    begins_with(device, "QBuv", 1, 0);
    tell(0x07); /* forwards, and the text moves against it */
    tell(0x80 | 8);
    put_text("78");
    begins_with(device, "uvEFGH78", 255, 255);
    tell(0x05); /* and backwards */
    put_text("r");
    begins_with(device, "BuvEFGH7", 255, 255);
    tell(0x02);
    /* glyphs: 64 rows of dots in a ring, of which five bits count */
    tell(0x06);
    tell(0x40 | 63);
    write_byte(1, 0xff);
    by_hand_ns += 41000;
    write_byte(1, 0x0a);
    by_hand_ns += 41000;
    begins_with(device, "QBuv", 255, 255); /* no cursor meanwhile */
    assert_int_equal(shown->glyph[7][7], 31);
    assert_int_equal(shown->glyph[0][0], 10);
    tell(0x04);
    tell(0x40);
    write_byte(1, 1);
    by_hand_ns += 41000;
    write_byte(1, 2);
    by_hand_ns += 41000;
    dia_bench_settle(bench, by_hand_ns);
    assert_int_equal(shown->glyph[0][0], 1);
    assert_int_equal(shown->glyph[7][7], 2);
    tell(0x02);
    /* what shows: nothing, the text, a line below, a block */
    for (uint8_t bits = 0; bits < 8; bits++) {
        tell(0x08 | bits);
        dia_bench_settle(bench, by_hand_ns);
        assert_int_equal(shown->on, bits >> 2);
        assert_int_equal(shown->underline, bits >> 1 & 1);
        assert_int_equal(shown->block, bits & 1);
    }
    tell(0x01); /* clear goes forwards again */
    put_text("no");
    begins_with(device, "no      ", 2, 0);
    desk_finds(NULL);
    tell(0x80 | 0x28); /* there are 40 */
    desk_finds("command");
    assert_string_equal(dia_bench_findings(bench)->items[0].text, "28 is no place in the text");
    desk_clear();
    /* one line of 80 */
    static const struct dia_glass one = {.columns = 8, .rows = 1};
    device = by_hand(&one);
    tell(0x30);
    tell(0x0c);
    tell(0x80 | 79);
    put_text("pq");
    begins_with(device, "q  ", 1, 0);
    tell(0x10);
    tell(0x10);
    tell(0x1c);
    begins_with(device, "pq ", 0, 0);
    desk_finds(NULL);
    tell(0x80 | 80);
    desk_finds("command");
    desk_clear();
}

static const struct dia_port_ops *right;
static uint32_t held_up;

/* Reads a line; whenever that says that the display is busy, something else has the processor. */
static enum dia_status reads_and_is_held_up(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    enum dia_status status = right->pin_read(port, pin, level);
    if (*level) {
        dia_sim_advance_us(&sim, 5000);
        held_up++;
    }
    return status;
}

/* A program that is held up between its look at the busy flag and its look at the time takes no
 * display for lost. */
static void who_is_held_up_looks_once_more(void **state)
{
    (void)state;
    int device = connect(DIA_BUS_8_LINES, 16, 2, 0, WITH_RW | SLOW);
    right = sim.port.ops;
    struct dia_port_ops slowly = *right;
    slowly.pin_read = reads_and_is_held_up;
    sim.port.ops = &slowly;
    dia_characters_text(&display, 0, 1, "calm", 4);
    assert_memory_equal(show(device)->code[1], "calm ", 5);
    assert_true(held_up > 2);
    desk_finds(NULL);
    desk_clear();
}

/* What is read: not busy, and the address behind the last letter (4a: "quay" in column 6 of row 1,
 * which begins at 40); by four lines in halves, the high one first. */
static void the_address_is_read(void **state)
{
    (void)state;
    for (int lines = 4; lines <= 8; lines += 4) {
        int device = connect(lines == 4 ? DIA_BUS_4_LINES : DIA_BUS_8_LINES, 16, 2, 0, WITH_RW);
        show(device);
        dia_characters_text(&display, 6, 1, "quay", 4);
        show(device);
        dia_sim_advance_us(&sim, 100);
        const struct dia_port_ops *ops = sim.port.ops;
        uint8_t read = 0;
        for (int k = 0; k < lines; k++)
            ops->pin_release(&sim.port, (uint8_t)(D0 + k));
        ops->pin_write(&sim.port, RS, 0);
        ops->pin_write(&sim.port, RW, 1);
        for (int part = 0; part < 8 / lines; part++) {
            dia_sim_advance_us(&sim, 2);
            ops->pin_write(&sim.port, E, 1);
            dia_sim_advance_us(&sim, 2);
            for (int k = lines - 1; k >= 0; k--) {
                uint8_t level;
                assert_int_equal(ops->pin_read(&sim.port, (uint8_t)(D0 + k), &level), DIA_OK);
                read = (uint8_t)(read << 1 | level);
            }
            ops->pin_write(&sim.port, E, 0);
        }
        assert_int_equal(read, 0x4a);
        desk_finds(NULL);
        desk_clear();
    }
}

/* With four lines only the upper four count, whatever is on the others: 4 and 2 are a B. */
static void the_lower_lines_do_not_count_with_four(void **state)
{
    (void)state;
    static const struct dia_glass glass = {.columns = 8, .rows = 2};
    int device = by_hand(&glass);
    tell(0x38);
    tell(0x0c);
    tell(0x01);
    tell(0x2f);
    write_byte(1, 0x4f);
    write_byte(1, 0x2f);
    by_hand_ns += 41000;
    begins_with(device, "B ", 1, 0);
    desk_finds(NULL);
    desk_clear();
}

/* What ran before had the text move with each character; the set-up ends that. */
static void a_display_that_moved_its_text_is_set_up(void **state)
{
    (void)state;
    int device = connect(DIA_BUS_8_LINES, 16, 2, 0, 0);
    by_hand_ns = 15000000;
    tell(0x38);
    tell(0x07);
    write_byte(0, 0); /* which is nothing, and leaves all lines low */
    dia_sim_advance_us(&sim, 20000);
    dia_characters_text(&display, 0, 0, "Petrel Quay", 11);
    assert_memory_equal(show(device)->code[0], "Petrel Quay     ", 16);
    desk_clear();
}

/* An instruction takes 37 us, a character 41, clear and home 1.52 ms; what comes sooner is lost. */
static void a_busy_chip_takes_nothing(void **state)
{
    (void)state;
    static const struct dia_glass glass = {.columns = 8, .rows = 2};
    static const struct {
        uint8_t rs, byte;
        uint32_t ns;
    } cases[] = {{0, 0x06, 37000},   {1, 'a', 41000},  {0, 0x01, 1520000},
                 {0, 0x02, 1520000}, {0, 0x80, 37000}, {0, 0x40, 37000}};
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        for (size_t e = 0; e < 4; e++) {
            static const uint32_t earlies[] = {0, 1, 1000, 1001};
            uint32_t early = earlies[e]; /* ns; told in us, rounded up */
            int device = by_hand(&glass);
            tell(0x38);
            write_byte(cases[k].rs, cases[k].byte);
            uint64_t until = by_hand_ns + cases[k].ns - early;
            by_hand_ns = until - 1500; /* write_byte takes 1.5 us */
            write_byte(1, 'Z');
            desk_finds(early ? "busy" : NULL);
            if (early)
                assert_string_equal(
                    dia_bench_findings(bench)->items[0].text,
                    early <= 1000 ? "5a came 1 us too early, and was lost; the chip was busy"
                                  : "5a came 2 us too early, and was lost; the chip was busy");
            dia_bench_settle(bench, by_hand_ns);
            assert_int_equal(dia_bench_cells(bench, device)->frames, early ? 2 : 3);
            desk_clear();
        }
    }
}

/* The expander's clock: low 4.7 us and high 4 us at least (UM10204, standard mode). */
static void the_expander_minds_its_clock(void **state)
{
    (void)state;
    static const struct dia_glass glass = {.columns = 16, .rows = 2, .address = 0x27};
    static const struct {
        uint32_t low, high;
        const char *code;
    } clocks[] = {{4700, 4000, NULL}, {4699, 4000, "pulse-short"}, {4700, 3999, "pulse-short"}};
    for (int k = 0; k < 3; k++) {
        uint8_t pins[DIA_CHARACTERS_PINS];
        memset(pins, DIA_NO_PIN, sizeof pins);
        pins[DIA_CHARACTERS_SCL] = SCL;
        pins[DIA_CHARACTERS_SDA] = SDA;
        const struct dia_device_setup setup = {.name = "keeper", .part = "HD44780", .pins = pins};
        desk_set_up(0);
        assert_true(dia_bench_characters(bench, &setup, &glass) >= 0);
        by_hand_ns = 20000000;
        after(0, SDA, 1);
        after(5000, SCL, 1);
        after(5000, SDA, 0); /* start */
        after(5000, SCL, 0);
        for (int bit = 0; bit < 9; bit++) {
            after(clocks[k].low, SCL, 1);
            after(clocks[k].high, SCL, 0);
        }
        desk_finds(clocks[k].code);
        desk_clear();
    }
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    static const uint8_t wrong[][3] = {{7, 1, 0},  {41, 1, 0}, {16, 0, 0}, {16, 3, 0},
                                       {16, 5, 0}, {40, 4, 0}, {16, 2, 1}, {15, 1, 1}};
    struct dia_characters other;
    desk_set_up(0);
    for (size_t k = 0; k < sizeof wrong / sizeof wrong[0]; k++) {
        struct dia_characters_setup setup = {.part = &dia_hd44780,
                                             .columns = wrong[k][0],
                                             .rows = wrong[k][1],
                                             .split = wrong[k][2]};
        assert_int_equal(dia_characters_init(&other, &sim.port, &setup, cells, memory),
                         DIA_BAD_VALUE);
    }
    struct dia_characters_setup setup = {.part = &dia_hd44780, .columns = 16, .rows = 2};
    setup.e_pin = 64;
    assert_int_equal(dia_characters_init(&other, &sim.port, &setup, cells, memory), DIA_BAD_VALUE);
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(random_texts_show_on_every_bus_and_size),
        cmocka_unit_test(glyphs_cursor_and_text_at_a_pen),
        cmocka_unit_test(only_what_changes_is_sent),
        cmocka_unit_test(lateness_and_absence),
        cmocka_unit_test(the_model_minds_every_time_of_the_sheet),
        cmocka_unit_test(the_busy_flag_comes_with_its_delay),
        cmocka_unit_test(every_instruction_does_what_the_table_says),
        cmocka_unit_test(who_is_held_up_looks_once_more),
        cmocka_unit_test(the_address_is_read),
        cmocka_unit_test(the_lower_lines_do_not_count_with_four),
        cmocka_unit_test(a_display_that_moved_its_text_is_set_up),
        cmocka_unit_test(a_busy_chip_takes_nothing),
        cmocka_unit_test(the_expander_minds_its_clock),
        cmocka_unit_test(what_cannot_be_is_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
