/* SPDX-License-Identifier: MIT */
#include "kernel.h"

#include <grp.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>

#include <diachrome/linux_port.h>
#include <diachrome/show.h>

/* `diachrome run` on a kernel that is none: what its devices were given, the models show. */

#define HEAD                                                                                       \
    "controller: linux\n"                                                                          \
    "supplies:\n  usb: { current: 4 A }\n"
#define STRIP                                                                                      \
    "lanes:\n  rail: { pin: 10, chip: WS2812B, count: 12, spi: /dev/spidev0.0, shifter: "          \
    "74AHCT125 }\n"
static void rig(const char *text)
{
    write_file("real.rig.yaml", text, strlen(text));
    kernel_begin("real.rig.yaml");
}

static void has_said(const char *text)
{
    if (!strstr(kernel.text, text))
        print_error("not said: %s\nsaid: %s\n", text, kernel.text);
    assert_non_null(strstr(kernel.text, text));
}

static void no_errors(void)
{
    const struct dia_findings *findings = dia_player_findings(kernel.player);
    for (uint32_t k = 0; k < findings->count; k++)
        print_error("%s: %s\n", findings->items[k].place, findings->items[k].text);
    assert_int_equal(dia_findings_of(findings, DIA_ERROR), 0);
}

/* What the same show is on the bench, from a simulated controller, at time 0. */
static struct dia_player *as_simulated(void)
{
    static struct dia_show show;
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(&kernel.rig, &wrong);
    dia_show_init(&show);
    if (dia_show_load(&show, &kernel.rig, "real.show", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    assert_int_equal(dia_show_play(&show, player, 0, 0, NULL), DIA_OK);
    dia_show_free(&show);
    return player;
}

static int differs(uint8_t a, uint8_t b)
{
    return abs(a - b) > 3; /* dithering */
}

/* How many pixels, lamps and rows of cells are other than on the bench of another player. Lamps:
 * lit or not. */
static int differing(void)
{
    struct dia_player *other = as_simulated();
    int wrong = 0, lit = 0;
    for (uint32_t i = 0; i < kernel.rig.lane_count; i++) {
        for (uint32_t k = 0; k < kernel.rig.lanes[i].count; k++) {
            struct dia_rgb a = dia_player_seen(kernel.player, i, k),
                           b = dia_player_seen(other, i, k);
            wrong += differs(a.r, b.r) || differs(a.g, b.g) || differs(a.b, b.b);
            lit += b.r || b.g || b.b;
        }
    }
    for (uint32_t i = 0; i < kernel.rig.device_count; i++) {
        const struct dia_rig_device *device = &kernel.rig.devices[i];
        const struct dia_cells_shown *a = dia_player_cells(kernel.player, i),
                                     *b = dia_player_cells(other, i);
        uint32_t least = 65535 / 4 / dia_rig_turns(device);
        for (uint32_t k = 0; k < device->lamps * device->channels; k++) {
            int is = dia_player_lamp(kernel.player, i, k) > least;
            int should = dia_player_lamp(other, i, k) > least;
            wrong += is != should;
            lit += should;
        }
        for (uint32_t row = 0; a && row < a->rows; row++) {
            wrong += memcmp(a->code[row], b->code[row], a->columns) != 0 || !a->on;
            lit++;
        }
    }
    assert_true(lit > 0);
    dia_player_free(other);
    return wrong;
}

static void shows_the_same(const char *name)
{
    int wrong = differing();
    if (wrong)
        fail_msg("%s: %d elements are not as they should be\n%s", name, wrong, kernel.text);
}

/* Between two frames of 50 ms, if there is a rest of 20. A busy machine lets a program wait for as
 * long in the middle of a frame by pins, and the bench would take that for its end: so what has
 * gone out has to be whole frames too. */
static void go_on_to_a_rest(void)
{
    uint64_t edges = kernel.edges + 1;
    for (int k = 0; k < 8 && kernel.edges != edges; k++) {
        edges = kernel.edges;
        kernel_go_on(20);
    }
    for (int k = 0; k < 2000 && !frames_are_whole(); k++)
        kernel_go_on(2);
    assert_true(frames_are_whole());
}

/* What is lit in turns is looked at for a while. */
static void look_for(unsigned ms)
{
    struct dia_bench *bench = dia_player_bench(kernel.player);
    go_on_to_a_rest();
    kernel_settle();
    for (uint32_t i = 0; i < kernel.rig.device_count; i++)
        dia_bench_expose(bench, (int)i, kernel_ns());
    kernel_go_on(ms);
    go_on_to_a_rest();
    kernel_settle();
    for (uint32_t i = 0; i < kernel.rig.device_count; i++)
        dia_bench_see(bench, (int)i, kernel_ns());
}

static void show_is(const char *text)
{
    write_file("real.show", text, strlen(text));
}

/* ---- each family, alone ---------------------------------------------------------------------- */

static const struct thing {
    const char *name, *section, *body, *show;
} things[] = {
    {"WS2812B", "lanes", "chip: WS2812B, count: 9, pin: 10, spi: /dev/spidev0.0",
     "layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on it[2-5]\n"},
    {"SK6812-RGBW", "lanes", "chip: SK6812-RGBW, count: 9, pin: 10, spi: /dev/spidev0.0",
     "layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on it[2-5]\n"},
    {"WS2811-slow", "lanes", "chip: WS2811-slow, count: 9, pin: 10, spi: /dev/spidev0.0",
     "layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on it[2-5]\n"},
    {"APA102", "lanes",
     "chip: APA102, count: 9, pin: 20, clock_pin: 21, clock: 1 MHz, spi: /dev/spidev1.0",
     "layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on it[2-5]\n"},
    {"WS2801", "lanes",
     "chip: WS2801, count: 9, pin: 20, clock_pin: 21, clock: 1 MHz, spi: /dev/spidev1.0",
     "layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on it[2-5]\n"},
    {"LPD8806 by pins", "lanes", "chip: LPD8806, count: 3, pin: 4, clock_pin: 5",
     "layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on it[1]\n"},
    {"MAX7219", "devices",
     "chip: MAX7219, chips: 2, pins: {din: 10, clk: 11, cs: 8}, spi: /dev/spidev0.0, shows: dots",
     "layer a: text says=OK\n"},
    {"MAX7221 by pins", "devices",
     "chip: MAX7221, chips: 1, pins: {din: 4, clk: 5, cs: 7}, shows: digits, text: \"12.5\"",
     "layer a: steady level 0%\n"},
    {"74HC595", "devices",
     "chip: 74HC595, chips: 2, pins: {ser: 10, srclk: 11, rclk: 12, oe: 13}, clock: 4 MHz, "
     "spi: /dev/spidev0.0, depth: 4, refresh: 50 Hz",
     "layer a: steady colour=white on it[3-9]\n"},
    {"digits", "devices",
     "chip: digits, digits: 2, pins: {a: 12, b: 13, c: 14, d: 15, e: 16, f: 17, g: 18, dp: 19, "
     "digit1: 22, digit2: 23}, common: cathode, commons: inverted, refresh: 63 Hz, text: \"2.3\"",
     "layer a: steady level 0%\n"},
    {"lamps", "devices",
     "chip: lamps, pins: {lamp1: 24, lamp2: 25, lamp3: 26}, depth: 4, refresh: 50 Hz",
     "layer a: steady colour=white on it[1]\n"},
    {"TM1638", "devices", "chip: TM1638, pins: {stb: 22, clk: 23, dio: 24}, text: \"1234\"",
     "layer a: steady level 0%\n"},
    {"TM1637", "devices", "chip: TM1637, digits: 4, pins: {clk: 25, dio: 26}, text: \"12.34\"",
     "layer a: steady level 0%\n"},
    {"HD44780", "devices",
     "chip: HD44780, columns: 16, rows: 2, pins: {rs: 30, rw: 31, e: 32, d4: 33, d5: 34, d6: 35, "
     "d7: 36}, text: [\"Petrel Quay\", \"calm\"]",
     "layer a: steady level 0%\n"},
    {"HD44780 by I2C", "devices",
     "chip: HD44780, columns: 8, rows: 2, pins: {scl: 3, sda: 2}, i2c: /dev/i2c-1, address: 0x27, "
     "text: [\"Skua\", \"14:05\"]",
     "layer a: steady level 0%\n"},
};

/* Ticks that come late are told, and are the test's doing: a system call takes some 50 us here,
 * fifty times as long as a real one, and this machine may have other things to do. */
static void has_gone_well(const char *name)
{
    if (kernel.code == 1 && strstr(kernel.text, "ticks: "))
        return;
    if (kernel.code != 0)
        fail_msg("%s: %d\n%s", name, kernel.code, kernel.text);
}

/* To one process: to none, 0, would be to the test itself and all around it. */
static void send_to(pid_t to, int signal)
{
    assert_true(to > 0);
    assert_int_equal(kill(to, signal), 0);
}

static void end_with(int signal)
{
    send_to(kernel.pid, signal);
    kernel_go_on(8000);
    assert_int_equal(kernel.pid, 0);
    kernel_close();
}

static void is_dark(const char *name)
{
    look_for(30);
    if (!dia_player_is_dark(kernel.player))
        fail_msg("%s is not dark after its end\n%s", name, kernel.text);
}

/* Until it shows what it should, for some seconds: this machine may have other things to do. */
static void soon_shows_the_same(const char *name)
{
    for (int k = 0; k < 20; k++) {
        kernel_go_on(150);
        if (!kernel.pid)
            fail_msg("%s: %d\n%s", name, kernel.code, kernel.text);
        look_for(150);
        if (differing() == 0)
            return;
    }
    shows_the_same(name);
}

static void start_and_look(const char *name, const char *line)
{
    kernel_start(line);
    soon_shows_the_same(name);
}

/* The same of one channel of a pixel: 0, 1, 2 for red, green, blue. */
static void soon_is(uint32_t pixel, int channel, int code)
{
    int is = -1;
    for (int k = 0; k < 60 && is != code; k++) {
        kernel_go_on(50);
        go_on_to_a_rest();
        kernel_settle();
        struct dia_rgb seen = dia_player_seen(kernel.player, 0, pixel);
        is = channel == 0 ? seen.r : channel == 1 ? seen.g : seen.b;
    }
    if (is != code)
        fail_msg("pixel %u is %d, not %d\n%s", (unsigned)pixel, is, code, kernel.text);
}

static void soon_says(const char *text)
{
    for (int k = 0; k < 60 && !strstr(kernel.text, text); k++)
        kernel_go_on(50);
    has_said(text);
}

#define RUN "exec \"$D\" run real.rig.yaml --show real.show --rate 20Hz"

/* It shows what it should, and is dark after a signal. */
static void each_family_shows_on_real_parts(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof things / sizeof things[0]; k++) {
        const struct thing *thing = &things[k];
        char text[1000];
        snprintf(text, sizeof text, HEAD "%s:\n  it: {%s}\n", thing->section, thing->body);
        show_is(thing->show);
        rig(text);
        start_and_look(thing->name, RUN);
        end_with(SIGTERM);
        has_gone_well(thing->name);
        is_dark(thing->name);
        no_errors();
        kernel_end();
    }
}

/* ---- together -------------------------------------------------------------------------------- */

/* The gatehouse of the demo: a strip of its own, a matrix and registers on one bus, a display. */
static void gatehouse(void)
{
    kernel_begin("demo/gatehouse.rig.yaml");
}

#define RUN_GATEHOUSE "exec \"$D\" run demo/gatehouse.rig.yaml --show real.show --rate 20Hz"

static const char gatehouse_shows[] = "layer a: steady colour=#ff8000\n"
                                      "layer c: text says=OK on times\n"
                                      "layer d: steady colour=white on signs[2-4]\n"
                                      "key bell down: toggle d\n";

static void all_families_share_a_computer(void **state)
{
    (void)state;
    show_is(gatehouse_shows);
    gatehouse();
    start_and_look("all", RUN_GATEHOUSE);
    end_with(SIGINT);
    has_gone_well("all");
    is_dark("all");
    no_errors();
    kernel_end();
}

/* Whatever ends it, everything goes dark: a signal, or the death of either process. */
static void everything_goes_dark_whatever_ends_it(void **state)
{
    (void)state;
    static const int signals[] = {SIGINT, SIGHUP, SIGQUIT, SIGUSR1, SIGALRM, SIGTERM};
    for (size_t k = 0; k < sizeof signals / sizeof signals[0]; k++) {
        show_is("layer a: steady colour=#ff8000\n");
        rig(HEAD STRIP);
        start_and_look("rail", RUN);
        end_with(signals[k]);
        assert_int_equal(kernel.code, 0);
        is_dark(strsignal(signals[k]));
        kernel_end();
    }
}

/* What it was told to ignore does not end it. */
static void nohup_is_respected(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff8000\n");
    rig(HEAD STRIP);
    start_and_look("rail", "trap '' HUP; " RUN);
    send_to(kernel.pid, SIGHUP);
    kernel_go_on(400);
    assert_true(kernel.pid != 0);
    kernel_settle();
    shows_the_same("rail");
    end_with(SIGTERM);
    assert_int_equal(kernel.code, 0);
    is_dark("rail");
    kernel_end();
}

/* The process that drives the parts. */
static pid_t worker_of(pid_t watcher)
{
    char path[80];
    int pid = 0;
    snprintf(path, sizeof path, "/proc/%d/task/%d/children", (int)watcher, (int)watcher);
    FILE *file = fopen(path, "r");
    assert_non_null(file);
    assert_int_equal(fscanf(file, "%d", &pid), 1);
    fclose(file);
    return pid;
}

static void a_killed_run_leaves_nothing_lit(void **state)
{
    (void)state;
    static const int signals[] = {SIGKILL, SIGSEGV};
    show_is("layer a: steady colour=#ff8000\n");
    for (size_t k = 0; k < 2; k++) { /* the worker: the watcher makes dark, and says so */
        rig(HEAD STRIP);
        start_and_look("rail", RUN);
        send_to(worker_of(kernel.pid), signals[k]);
        kernel_go_on(8000);
        assert_int_equal(kernel.code, 3);
        has_said(k ? "was ended by the signal Segmentation fault; everything is dark"
                   : "was ended by the signal Killed; everything is dark");
        is_dark("rail");
        kernel_end();
    }
    rig(HEAD STRIP); /* the watcher: the worker is told */
    start_and_look("rail", RUN);
    send_to(kernel.pid, SIGKILL);
    kernel_go_on(8000);
    kernel_go_on(500);
    is_dark("rail");
    kernel_end();
}

/* ---- keys and buttons ------------------------------------------------------------------------ */

static void hold_line(uint8_t pin, uint8_t level)
{
    kernel.outside[pin] = level;
    edge(kernel_ns(), pin, 0, 1);
}

static void buttons_and_keys_do_what_the_show_says(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff8000 on rail\nlayer b: steady colour=#00ff00 on rail\n"
            "key bell down: start b\nkey panel.2 down: stop b\n");
    rig(HEAD STRIP "devices:\n  panel: { chip: TM1638, pins: { stb: 22, clk: 23, dio: 24 } }\n"
                   "buttons:\n  bell: { pin: 27 }\n");
    kernel_start(RUN);
    soon_is(0, 1, 128);
    hold_line(27, 0);
    soon_is(0, 1, 255);
    hold_line(27, 1);
    dia_player_hold_keys(kernel.player, 0, 2);
    soon_is(0, 0, 255);
    end_with(SIGTERM);
    has_gone_well("keys");
    kernel_end();
}

/* ---- what goes wrong ------------------------------------------------------------------------- */

static void what_lacks_is_said_with_its_cure(void **state)
{
    (void)state;
    static const struct {
        const char *rig, *says;
        int code;
    } cases[] = {
        {HEAD "lanes:\n  rail: { pin: 10, chip: WS2812B, count: 12 }\n",
         "lane 'rail' names no device of this computer; connect it to the data line of an SPI bus "
         "and write 'spi: /dev/spidev0.0'",
         2},
        {HEAD "lanes:\n  a: { pin: 10, chip: WS2812B, count: 2, group: g }\n"
              "  b: { pin: 11, chip: WS2812B, count: 2, group: g }\n",
         "lane 'a' is in group 'g', and this computer cannot set pins so exactly; take 'group' out",
         2},
        {"controller: RP2040\nsupplies:\n  usb: { current: 1 A }\n"
         "devices:\n  d: { chip: TM1637, digits: 4, pins: {clk: 25, dio: 26}, text: \"1\" }\n",
         "the controller names no pins of this computer; write 'controller: linux'", 2},
        {HEAD "devices:\n  d: { chip: HD44780, columns: 8, rows: 2, pins: {scl: 3, sda: 2}, "
              "address: 0x27, text: [\"a\", \"b\"] }\n",
         "device 'd' names no I2C bus of this computer; write 'i2c: /dev/i2c-1'", 2},
        /* 500 * 3 * 3 + 2 = 4502 bytes; the next 4096 is 8192 */
        {HEAD "lanes:\n  rail: { pin: 10, chip: WS2812B, count: 500, spi: /dev/spidev0.0 }\n",
         "rail: /dev/spidev0.0: a frame is a transfer of 4502 bytes, and the kernel's buffer has "
         "4096: start Linux with spidev.bufsiz=8192",
         3},
        /* 1400 * 3 = 4200 bytes in one piece */
        {HEAD "lanes:\n  rail: { pin: 10, clock_pin: 11, chip: WS2801, count: 1400, "
              "spi: /dev/spidev0.0 }\n",
         "rail: a frame is a transfer of 4200 bytes, and the kernel's buffer has 4096", 3},
        {HEAD "lanes:\n  rail: { pin: 10, chip: WS2812B, count: 5, spi: /dev/spidev7.0 }\n",
         "rail: /dev/spidev7.0 is not there", 3},
    };
    show_is("layer a: steady colour=white\n");
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        rig(cases[k].rig);
        int code = kernel_run(RUN);
        has_said(cases[k].says);
        assert_int_equal(code, cases[k].code);
        kernel_end();
    }
    rig(HEAD "lanes:\n  rail: { pin: 10, chip: WS2812B, count: 5, spi: /dev/spidev7.0 }\n");
    assert_int_equal(kernel_run("exec \"$D\" serve real.rig.yaml --real --listen 127.0.0.1:0"), 3);
    has_said("rail: /dev/spidev7.0 is not there");
    assert_int_equal(kernel_run("exec \"$D\" bringup real.rig.yaml --real"), 3);
    has_said("rail: /dev/spidev7.0 is not there");
    kernel_end();
    rig(HEAD "devices:\n  d: { chip: TM1637, digits: 4, pins: {clk: 25, dio: 26}, text: \"1\" }\n");
    kernel.held_by = "heartbeat";
    assert_int_equal(kernel_run(RUN), 3);
    has_said("line 25 of /dev/gpiochip0 is in use by 'heartbeat'");
    kernel_end();
}

/* What the port says when somebody else asks for a device. */
static const char *why_not(const char *path)
{
    static struct dia_linux computer;
    dia_linux_init(&computer);
    assert_int_equal(seteuid(65534), 0);
    enum dia_status status = dia_linux_spi(&computer, 0, path);
    assert_int_equal(seteuid(0), 0);
    assert_int_equal(status, DIA_PORT_FAILED);
    return computer.why;
}

/* Who may not open a device is told which group may. The node is made here, which takes root. */
static void rights_are_said(void **state)
{
    (void)state;
    static const char path[] = "/dev/diachrome-test";
    const struct group *group = getgrnam("tty");
    remove(path);
    if (geteuid() != 0 || !group || mknod(path, S_IFCHR | 0660, makedev(1, 3)) != 0) {
        print_message("no right to make a device: not tried\n");
        skip();
    }
    assert_int_equal(chown(path, 0, group->gr_gid), 0);
    assert_int_equal(chmod(path, 0660), 0);
    assert_string_equal(why_not(path), "/dev/diachrome-test may not be opened; it belongs to the "
                                       "group 'tty': run 'sudo usermod -aG tty $USER' and log in "
                                       "again");
    assert_int_equal(chmod(path, 0600), 0);
    assert_non_null(strstr(why_not(path), "it belongs to root alone: a udev rule with "));
    remove(path);
    assert_non_null(strstr(why_not(path), "/dev/diachrome-test is not there"));
}

/* A display that does not answer is told, the strip beside it goes on, and the end is 3. */
static void a_part_that_does_not_answer_keeps_nobody(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff8000\n");
    rig(HEAD STRIP
        "devices:\n  keeper: { chip: HD44780, columns: 8, rows: 2, pins: { scl: 3, sda: 2 }, "
        "i2c: /dev/i2c-1, address: 0x27, text: [\"Skua\", \"calm\"] }\n");
    kernel.deaf = 1;
    kernel_start(RUN);
    soon_is(3, 0, 255);
    soon_says("nobody answers");
    end_with(SIGTERM);
    assert_int_equal(kernel.code, 3);
    has_said(
        "keeper: /dev/i2c-1: nobody answers at the address 0x27; check its wires, its supply and "
        "its address");
    assert_null(strstr(kernel.text, "rail: /dev"));
    kernel_end();
}

/* Each seventh transfer and write is refused: it is told, and in the end all shows what it should.
 */
static void refusals_are_told_and_made_good(void **state)
{
    (void)state;
    show_is(gatehouse_shows);
    gatehouse();
    kernel.refuse_every = 7;
    kernel_start(RUN_GATEHOUSE);
    kernel_go_on(1500);
    assert_true(kernel.pid != 0);
    kernel.refuse_every = 0;
    soon_shows_the_same("after refusals"); /* some are sent anew each 8 frames only */
    end_with(SIGTERM);
    assert_int_equal(kernel.code, 3);
    has_said("was refused");
    is_dark("after refusals");
    kernel_end();
}

/* A frame that is the only one is not lost either: it is shown again until it is taken. */
static void the_only_frame_is_not_lost(void **state)
{
    (void)state;
    show_is(gatehouse_shows);
    gatehouse();
    kernel.refuse_first = 6;
    kernel_start("exec \"$D\" run demo/gatehouse.rig.yaml --show real.show --frames 1 --hold");
    kernel_go_on(8000);
    assert_int_equal(kernel.code, 3); /* what was refused is told, */
    has_said("was refused");
    kernel_close();
    kernel_settle();
    for (uint32_t i = 0; i < 60; i++) /* and shows; what is lit in turns is dark by now */
        assert_int_equal(dia_player_seen(kernel.player, 0, i).r, 255);
    assert_memory_equal(dia_player_cells(kernel.player, 2)->code[0], "Petrel Quay     ", 16);
    kernel_end();
}

/* Longer than a buffer, where that does no harm: it goes in pieces. */
static void long_chains_go_in_pieces(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff8000\nlayer b: steady colour=#0040c0 on wall[1490-1499]\n");
    rig(HEAD "lanes:\n  wall: { pin: 20, clock_pin: 21, chip: APA102, count: 1500, clock: 8 MHz, "
             "spi: /dev/spidev1.0 }\n");
    assert_int_equal(kernel_run("\"$D\" run real.rig.yaml --show real.show --frames 2 --rate 5Hz "
                                "--hold"),
                     0);
    shows_the_same("wall");
    no_errors();
    kernel_end();
}

/* A row-scanned panel by system calls: too slow here, which the exit code says; its picture is
 * right all the same, and dark at the end. */
static void what_has_no_time_is_told(void **state)
{
    (void)state;
    show_is("layer a: steady colour=white\n");
    rig(HEAD "devices:\n  it: { chip: rgb-panel, columns: 32, rows: 16, pins: { r1: 42, g1: 43, "
             "b1: 44, r2: 45, g2: 46, b2: 47, a: 48, b: 49, c: 58, clk: 59, lat: 60, oe: 61 }, "
             "depth: 3 }\n");
    kernel_start(RUN);
    kernel_go_on(700);
    end_with(SIGTERM);
    assert_int_equal(kernel.code, 1);
    has_said("more than one tick in a hundred was missed, so lamps flicker");
    is_dark("panel");
    kernel_end();
}

/* What the demo says of itself, and the port alone in a program of one's own. */
static void the_demo_and_the_example_work(void **state)
{
    (void)state;
    gatehouse();
    assert_int_equal(kernel_run("\"$D\" run demo/gatehouse.rig.yaml --show demo/gatehouse.show "
                                "--list"),
                     0);
    has_said("arch: 60 x WS2812B, /dev/spidev0.0 at 2.553 MHz, 3 bits a bit, 542 of 4096 bytes");
    has_said("times: 4 x MAX7219, /dev/spidev1.0 at 1 MHz");
    has_said("keeper: HD44780, /dev/i2c-1, address 0x27");
    has_said("bell: button, line 27 of /dev/gpiochip0");
    assert_int_equal(kernel.spi_calls, 0);
    kernel_start("exec \"$DIACHROME_EXAMPLES/example-linux_strip\"");
    struct dia_rgb seen = {0, 0, 0};
    for (int k = 0; k < 60 && seen.r == 0; k++) { /* amber, somewhere in its breath */
        kernel_go_on(50);
        kernel_settle();
        seen = dia_player_seen(kernel.player, 0, 30);
    }
    assert_true(seen.r > seen.g && seen.g > seen.b);
    kernel_go_on(8000);
    assert_int_equal(kernel.code, 0);
    has_said(" frames shown"); /* 51, and one more where the kernel was slow */
    kernel_close();
    kernel_settle();
    for (uint32_t i = 0; i < 60; i++) {
        seen = dia_player_seen(kernel.player, 0, i);
        assert_int_equal(seen.r | seen.g | seen.b, 0);
    }
    kernel_end();
}

/* ---- serve and bring-up ---------------------------------------------------------------------- */

static void serve_drives_real_parts_and_takes_over_changes(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff8000\n");
    rig(HEAD STRIP "buttons:\n  bell: { pin: 27 }\n");
    static const char line[] = "set a.colour=#0040c0\n";
    kernel_start("exec \"$D\" serve real.rig.yaml --show real.show --real --listen 127.0.0.1:0 "
                 "--rate 20Hz --events");
    soon_shows_the_same("rail");
    assert_int_equal(write(kernel.input, line, sizeof line - 1), sizeof line - 1);
    soon_is(5, 2, 192);
    hold_line(27, 0);
    soon_says("hold bell");
    write_file("real.rig.yaml", HEAD, strlen(HEAD)); /* wrong: the old goes on */
    soon_says("read-again result=wrong");
    soon_is(5, 2, 192);
    const char other[] = HEAD "lanes:\n  rail: { pin: 10, chip: WS2812B, count: 12, order: BGR, "
                              "spi: /dev/spidev0.0, shifter: 74AHCT125 }\n";
    write_file("real.rig.yaml", other, strlen(other));
    soon_says("read-again result=taken");
    soon_is(5, 1, 192); /* 0040c0 still, which goes out as B, G, R, and is taken for G, R, B */
    soon_is(5, 0, 64);
    end_with(SIGTERM);
    assert_int_equal(kernel.code, 0);
    has_said("light=dark");
    is_dark("rail");
    kernel_end();
}

/* While it asks about red, the strip is red. */
static void bring_up_asks_about_what_real_parts_show(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff0000\n");
    rig("master: 50 %\n" HEAD STRIP);
    kernel_start("exec \"$D\" bringup real.rig.yaml --real");
    soon_says("red");
    soon_shows_the_same("all red");
    close(kernel.input); /* no answer */
    kernel_go_on(8000);
    close(kernel.output);
    assert_int_equal(kernel.code, 2);
    is_dark("rail");
    kernel_end();
}

/* ---- one-wire pixels ------------------------------------------------------------------------- */

/* WS2812B: a bit is 3 of SPI. 350 to 475 ns each keep all of its ranges (0: 250..550 high,
 * 700..1000 low; 1: 650..950 high, 300..600 low), and a third of the way is 391.7 ns, 2.553 MHz. A
 * frame of 12 pixels is 12 * 3 * 3 bytes and one before and behind: 110. */
static void one_wire_pixels_go_by_bits_of_spi(void **state)
{
    (void)state;
    show_is("layer a: steady colour=#ff8000\n");
    rig(HEAD STRIP);
    assert_int_equal(kernel_run("\"$D\" run real.rig.yaml --look steady --set colour=#ff8000 "
                                "--for 200ms --rate 25Hz --hold"),
                     0);
    has_said("rail: 12 x WS2812B, /dev/spidev0.0 at 2.553 MHz, 3 bits a bit, 110 of 4096 bytes");
    has_said(" of steady, ");
    assert_int_equal(kernel.spi_hz[0], 2553191);
    assert_int_equal(kernel.spi_bytes[0] % 110, 0); /* five frames, or some less where it is busy */
    assert_in_range(kernel.spi_bytes[0], 110, 5 * 110);
    shows_the_same("rail");
    no_errors();
    kernel_end();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_family_shows_on_real_parts),
        cmocka_unit_test(all_families_share_a_computer),
        cmocka_unit_test(everything_goes_dark_whatever_ends_it),
        cmocka_unit_test(nohup_is_respected),
        cmocka_unit_test(a_killed_run_leaves_nothing_lit),
        cmocka_unit_test(buttons_and_keys_do_what_the_show_says),
        cmocka_unit_test(what_lacks_is_said_with_its_cure),
        cmocka_unit_test(rights_are_said),
        cmocka_unit_test(a_part_that_does_not_answer_keeps_nobody),
        cmocka_unit_test(refusals_are_told_and_made_good),
        cmocka_unit_test(the_only_frame_is_not_lost),
        cmocka_unit_test(long_chains_go_in_pieces),
        cmocka_unit_test(what_has_no_time_is_told),
        cmocka_unit_test(the_demo_and_the_example_work),
        cmocka_unit_test(serve_drives_real_parts_and_takes_over_changes),
        cmocka_unit_test(bring_up_asks_about_what_real_parts_show),
        cmocka_unit_test(one_wire_pixels_go_by_bits_of_spi),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
