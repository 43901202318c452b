/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <stdarg.h>

#include <diachrome/look_text.h>
#include <diachrome/show.h>

/*
 * Whole rigs and shows: each byte chooses how a file goes on that is written as people write them,
 * with what is at the edge of a range more often than what is inside. Most of what comes out is
 * accepted; it is played for three frames, and dark at the end.
 */
struct choices {
    const uint8_t *at;
    size_t left;
};

/* 0 .. n - 1; 0 when there are no more bytes. */
static uint32_t pick(struct choices *c, uint32_t n)
{
    if (c->left == 0 || n < 2)
        return 0;
    c->left--;
    return *c->at++ % n;
}

/* Low, high, beside them, or anything between. */
static int64_t number(struct choices *c, int64_t low, int64_t high)
{
    switch (pick(c, 6)) {
    case 0:
        return low;
    case 1:
        return high;
    case 2:
        return low < high ? low + 1 : low;
    case 3:
        return low + pick(c, 64) % (high - low + 1);
    default:
        break;
    }
    uint64_t any = 0;
    for (int i = 0; i < 4; i++)
        any = any << 8 | pick(c, 256);
    return low + (int64_t)(any % (uint64_t)(high - low + 1));
}

#define OF(c, words) (words)[pick(c, sizeof(words) / sizeof((words)[0]))]

static struct {
    char text[8192];
    size_t length;
} written;

__attribute__((format(printf, 1, 2))) static void put(const char *format, ...)
{
    va_list args;
    va_start(args, format);
    int n = vsnprintf(written.text + written.length, sizeof written.text - written.length, format,
                      args);
    va_end(args);
    written.length += (size_t)n;
    if (written.length >= sizeof written.text)
        abort();
}

static uint32_t next_pin;

static uint32_t pin(void)
{
    return next_pin++ % 64;
}

static void write_layout(struct choices *c, uint32_t *count)
{
    static const char *const corners[] = {"top-left", "top-right", "bottom-left", "bottom-right"};
    static const char *const yes[] = {"yes", "no"};
    switch (pick(c, 6)) {
    case 0:
        return;
    case 1:
        put(", line: { pitch: %d mm, start: %d mm, reversed: %s }", (int)number(c, 1, 9999),
            (int)number(c, -9000, 9000), OF(c, yes));
        return;
    case 2:
        put(", ring: { diameter: %d mm, reversed: %s }", (int)number(c, 1, 100000), OF(c, yes));
        return;
    case 3: {
        uint32_t columns = (uint32_t)number(c, 1, 20), rows = (uint32_t)number(c, 1, 12);
        *count = columns * rows;
        put(", grid: { columns: %u, rows: %u, pitch: %d mm, corner: %s, serpentine: %s, "
            "mirrored: %s, turn: %u, runs: %s }",
            columns, rows, (int)number(c, 1, 10000), OF(c, corners), OF(c, yes), OF(c, yes),
            90 * pick(c, 4), pick(c, 2) ? "rows" : "columns");
        return;
    }
    case 4:
        put(", fold: { pitch: %d mm, gap: %d mm }", (int)number(c, 1, 10000),
            (int)number(c, 0, 100000));
        return;
    default: {
        uint32_t side = (uint32_t)number(c, 1, 8), across = (uint32_t)number(c, 1, 4),
                 down = (uint32_t)number(c, 1, 3);
        *count = side * side * across * down;
        put(", panels: { columns: %u, rows: %u, across: %u, down: %u, pitch: %d mm, "
            "serpentine: %s, corner: %s }",
            side, side, across, down, (int)number(c, 1, 10000), OF(c, yes), OF(c, corners));
    }
    }
}

/* Sound ones, hopeless ones, and supplies and wires that are none. */
static void write_feeds(struct choices *c, uint32_t count)
{
    for (uint32_t list = 0, lists = 1 + pick(c, 2); list < lists; list++) {
        put(", %s: [", list ? "grounds" : "feeds");
        for (uint32_t n = 0, all = 1 + pick(c, 4); n < all; n++)
            put("%s{ at: %u, length: %d mm, section: %d.%02u mm2 }", n ? ", " : "", pick(c, count),
                (int)number(c, 0, 1000000), (int)pick(c, 7), 1 + pick(c, 99));
        put("]");
    }
    if (pick(c, 2))
        put(", rail: %d mohm/m", (int)number(c, 1, 100000));
}

static void write_lane(struct choices *c, uint32_t k)
{
    static const char *const one[] = {"WS2811-slow", "WS2811-fast", "WS2812",
                                      "WS2812B",     "WS2812B-V5",  "WS2813",
                                      "WS2815",      "SK6812",      "SK6812-RGBW"};
    static const char *const two[] = {"APA102", "SK9822", "WS2801", "LPD8806"};
    uint32_t clocked = pick(c, 3) == 2, count = (uint32_t)number(c, 1, 300);
    const char *chip = clocked ? OF(c, two) : OF(c, one);
    put("  l%u: { pin: %u, chip: %s", k, pin(), chip);
    if (clocked)
        put(", clock_pin: %u, clock: %d kHz", pin(), (int)number(c, 20, 15000));
    uint32_t line = pick(c, 3) == 0;
    if (!line)
        write_layout(c, &count);
    put(", count: %u", count);
    if (line && count > 70)
        put(", gaps: [%u, %u-%u]", pick(c, 2), 2 + pick(c, 2), 3 + pick(c, 60));
    if (pick(c, 4) == 3)
        put(", curve: %d.%d", 1 + (int)pick(c, 3), (int)pick(c, 10));
    if (pick(c, 4) == 3 && !strstr(chip, "RGBW"))
        put(", white: [%d %%, %d %%, %d %%]", (int)number(c, 0, 100), (int)number(c, 0, 100),
            (int)number(c, 0, 100));
    if (pick(c, 4) == 3 && !clocked)
        put(", group: g%u", pick(c, 2));
    if (pick(c, 4) == 3)
        put(", shifter: 5 V");
    if (pick(c, 8) == 7)
        put(", channel_current: %d uA, idle_current: %d uA", (int)number(c, 100, 60000),
            (int)number(c, 100, 60000));
    if (pick(c, 3) == 2)
        write_feeds(c, count);
    put(" }\n");
}

static void write_text(struct choices *c, uint32_t most)
{
    static const char *const letters[] = {"1", "8.", "A", "-", " ", "d", "0", "b"};
    put(", text: \"");
    for (uint32_t n = pick(c, most + 1); n > 0; n--)
        put("%s", OF(c, letters));
    put("\"");
}

static void write_matrix(struct choices *c, uint32_t k)
{
    uint32_t chips = (uint32_t)number(c, 1, 6), digits = pick(c, 2);
    put("  d%u: { chip: MAX72%s, chips: %u, pins: { din: %u, clk: %u, cs: %u }, clock: %d kHz, "
        "shows: %s, turn: %u, first: %s",
        k, pick(c, 2) ? "19" : "21", chips, pin(), pin(), pin(), (int)number(c, 20, 10000),
        digits ? "digits" : "dots", digits ? 0 : 90 * pick(c, 4), pick(c, 2) ? "left" : "right");
    if (digits && pick(c, 2))
        write_text(c, 8 * chips);
    else if (!digits && chips % 2 == 0 && pick(c, 2))
        put(", rows: 2, serpentine: %s", pick(c, 2) ? "yes" : "no");
    put(" }\n");
}

/* Digits on registers: each segment on an output of its own, or in turns. */
static void write_chain_digits(struct choices *c, uint32_t chips)
{
    static const uint32_t of[] = {7, 14, 16};
    uint32_t segments = OF(c, of), outputs = 8 * chips,
             turns = pick(c, 2) && outputs > segments + 1;
    uint32_t most = turns ? outputs - segments - 1 : outputs / (segments + 1);
    uint32_t digits = (uint32_t)number(c, 1, most < 1 ? 1 : most < 16 ? most : 16);
    put(", digits: %u, segments: %u, common: %s", digits, segments,
        pick(c, 2) ? "anode" : "cathode");
    if (turns) {
        put(", commons: %s, common_outputs: [", pick(c, 2) ? "direct" : "inverted");
        for (uint32_t i = 0; i < digits; i++)
            put("%s%u%c", i ? ", " : "", (segments + 1 + i) / 8 + 1, 'A' + (segments + 1 + i) % 8);
        put("]");
    }
    if (pick(c, 2))
        write_text(c, digits);
}

static void write_names(struct choices *c, uint32_t count)
{
    put(", names: [");
    for (uint32_t i = 0, n = (uint32_t)number(c, 1, count); i < n; i++)
        put("%sn%u", i ? ", " : "", i);
    put("]");
}

static void write_chain(struct choices *c, uint32_t k)
{
    uint32_t chips = (uint32_t)number(c, 1, 8);
    put("  d%u: { chip: 74%s595, chips: %u, pins: { ser: %u, srclk: %u, rclk: %u", k,
        pick(c, 2) ? "HC" : "HCT", chips, pin(), pin(), pin());
    if (pick(c, 2))
        put(", oe: %u", pin());
    put(" }");
    if (pick(c, 2))
        put(", clock: %d kHz", (int)number(c, 100, 24000));
    if (pick(c, 2))
        put(", refresh: %d Hz", (int)number(c, 10, 1000));
    if (pick(c, 3) == 2) {
        write_chain_digits(c, chips);
    } else {
        put(", depth: %u, slices: %s", 1 + pick(c, 8), pick(c, 2) ? "weighted" : "even");
        if (pick(c, 2))
            put(", lamps: %u", 1 + pick(c, 8 * chips));
        else if (pick(c, 2))
            write_names(c, 8 * chips < 32 ? 8 * chips : 32);
    }
    put(" }\n");
}

static void write_lamps(struct choices *c, uint32_t k)
{
    uint32_t lamps = (uint32_t)number(c, 1, 16);
    put("  d%u: { chip: lamps, pins: { ", k);
    for (uint32_t i = 0; i < lamps; i++)
        put("lamp%u: %u%s", i + 1, pin(), i + 1 < lamps ? ", " : " }");
    put(", depth: %u, common: %s, refresh: %d Hz", 1 + pick(c, 8), pick(c, 2) ? "anode" : "cathode",
        (int)number(c, 10, 300));
    if (pick(c, 2))
        write_names(c, lamps);
    put(" }\n");
}

static void write_digits(struct choices *c, uint32_t k)
{
    static const char *const segments[] = {"a", "b", "c", "d", "e", "f", "g"};
    uint32_t digits = (uint32_t)number(c, 1, 8);
    put("  d%u: { chip: digits, digits: %u, pins: { ", k, digits);
    for (int i = 0; i < 7; i++)
        put("%s: %u, ", segments[i], pin());
    if (pick(c, 2))
        put("dp: %u, ", pin());
    for (uint32_t i = 0; i < digits; i++)
        put("digit%u: %u%s", i + 1, pin(), i + 1 < digits ? ", " : " }");
    put(", common: %s, commons: %s, lit: %s, refresh: %d Hz", pick(c, 2) ? "anode" : "cathode",
        pick(c, 2) ? "direct" : "inverted", pick(c, 2) ? "digit-by-digit" : "segment-by-segment",
        (int)number(c, 20, 2000));
    if (pick(c, 2))
        write_text(c, digits);
    put(" }\n");
}

static void write_panel(struct choices *c, uint32_t k)
{
    uint32_t keys = pick(c, 2), digits = (uint32_t)number(c, 1, keys ? 8 : 6);
    if (keys)
        put("  d%u: { chip: TM1638, pins: { stb: %u, clk: %u, dio: %u }", k, pin(), pin(), pin());
    else
        put("  d%u: { chip: TM1637, pins: { clk: %u, dio: %u }", k, pin(), pin());
    put(", digits: %u, first: %s", digits, pick(c, 2) ? "left" : "right");
    if (pick(c, 2))
        write_text(c, digits);
    put(" }\n");
}

static void write_characters(struct choices *c, uint32_t k)
{
    static const char *const sizes[] = {"columns: 8, rows: 1",  "columns: 16, rows: 1, split: yes",
                                        "columns: 16, rows: 2", "columns: 20, rows: 4",
                                        "columns: 40, rows: 2", "columns: 16, rows: 4"};
    put("  d%u: { chip: HD44780, %s", k, OF(c, sizes));
    if (pick(c, 2)) {
        put(", pins: { scl: %u, sda: %u }, address: %u", pin(), pin(), 3 + pick(c, 0x75));
    } else {
        uint32_t eight = pick(c, 2);
        put(", pins: { rs: %u, e: %u", pin(), pin());
        for (int i = eight ? 0 : 4; i < 8; i++)
            put(", d%d: %u", i, pin());
        if (pick(c, 2))
            put(", rw: %u", pin());
        put(" }");
    }
    if (pick(c, 2))
        put(", oscillator: %d kHz", (int)number(c, 40, 190));
    write_text(c, 8);
    put(" }\n");
}

static void write_device(struct choices *c, uint32_t k)
{
    static void (*const kinds[])(struct choices *, uint32_t) = {
        write_matrix, write_chain, write_digits, write_panel, write_characters, write_lamps};
    OF(c, kinds)(c, k);
}

static void write_faults(struct choices *c, uint32_t lanes, uint32_t devices)
{
    static const char *const of_lanes[] = {"order RGB", "count 90",    "reversed",
                                           "dead 1",    "wrong-end",   "weak 1 %",
                                           "noise 5 %", "chip SK6812", "serpentine no"};
    static const char *const of_devices[] = {
        "noise 1 %",  "reversed",     "turned 90",   "mirrored",  "stuck 1A high",
        "deaf 1",     "crossed b f",  "polarity",    "half-pair", "oscillator 40 kHz",
        "four-lines", "address 0x11", "contrast 5 V"};
    if (lanes && pick(c, 3) == 2)
        put("faults: [ \"l%u: %s\" ]\n", pick(c, lanes), OF(c, of_lanes));
    else if (devices && pick(c, 3) == 2)
        put("faults: [ \"d%u: %s\" ]\n", pick(c, devices), OF(c, of_devices));
    else if (pick(c, 8) == 7)
        put("faults: [ \"s: sag 0.3 ohm\" ]\n");
}

static void write_rig(struct choices *c)
{
    static const char *const parts[] = {"RP2040", "ATmega328P", "ESP32", "ATtiny85", "RP2350"};
    uint32_t lanes = pick(c, 4), devices = pick(c, 4) + !lanes, buttons = pick(c, 2);
    written.length = next_pin = 0;
    put("controller: %s\nmaster: %d %%\nframe_rate: %d Hz\n", OF(c, parts), (int)number(c, 0, 100),
        (int)number(c, 1, 1000));
    int current = (int)number(c, 1, 4000000);
    put("supplies: { s: { voltage: %d V, current: %d mA, reserve: %d mA } }\n",
        1 + (int)pick(c, 12), current, (int)number(c, 0, current - 1));
    for (uint32_t k = 0; k < lanes; k++) {
        put("%s", k ? "" : "lanes:\n");
        write_lane(c, k);
    }
    for (uint32_t k = 0; k < devices; k++) {
        put("%s", k ? "" : "devices:\n");
        write_device(c, k);
    }
    if (buttons)
        put("buttons: { bell: { pin: %u, pressed: %s } }\n", pin(), pick(c, 2) ? "low" : "high");
    write_faults(c, lanes, devices);
}

/* A parameter of a look at some value of its range. */
static void write_setting(struct choices *c, const struct dia_param *param)
{
    union dia_look_values values;
    char text[200];
    int32_t value;
    if (param->kind == DIA_PARAM_COLOUR) {
        put("%s=#%06x", param->key, (unsigned)number(c, 0, 0xffffff));
    } else if (param->kind == DIA_PARAM_PALETTE) {
        put("%s=#000000,#%06x,#ff8000", param->key, (unsigned)number(c, 0, 0xffffff));
    } else if (param->kind == DIA_PARAM_TEXT) {
        put("%s=\"%.*s\"", param->key, (int)number(c, 0, 24), "Fähre 12:05 an\\nSteg 3.");
    } else if (param->kind == DIA_PARAM_FACE) {
        put("%s=%s", param->key, pick(c, 2) ? "plain" : "small");
    } else {
        value = (int32_t)number(c, param->min, param->max);
        memcpy((char *)&values + param->offset, &value, sizeof value);
        put("%s=%s", param->key, dia_param_value_text(param, &values, text, sizeof text));
    }
}

static void write_where(struct choices *c, const struct dia_rig *rig)
{
    uint32_t all = rig->lane_count + rig->device_count;
    for (uint32_t k = 1 + pick(c, 2), first = 1; k > 0 && all > 0; k--, first = 0) {
        uint32_t n = pick(c, all);
        put("%s%s",
            first        ? " on "
            : pick(c, 2) ? "+"
                         : ",",
            n < rig->lane_count ? rig->lanes[n].name : rig->devices[n - rig->lane_count].name);
        if (pick(c, 3) == 2)
            put("[%u-%u]", pick(c, 4), 4 + pick(c, 20));
    }
}

static void write_layer(struct choices *c, const struct dia_rig *rig, uint32_t k)
{
    static const char *const axes[] = {"along", "x", "y", "radius", "angle", "side", "index"};
    static const char *const blends[] = {"over", "add", "screen", "multiply", "lighten", "darken"};
    static const char *const times[] = {"0 s", "1 ms", "250 ms", "3 s", "24 h"};
    static const char *const masks[] = {"sine", "saw(length=1mm)", "pulse(duty=0% speed=-10m/s)",
                                        "triangle(along=radius period=20ms low=100%)"};
    uint32_t looks = 0;
    while (dia_looks[looks])
        looks++;
    const struct dia_look *look = dia_looks[pick(c, looks)];
    put("layer n%u: %s", k, look->name);
    for (uint32_t i = 0; i < look->param_count; i++) {
        if (pick(c, 2) == 0)
            continue;
        put(" ");
        write_setting(c, &look->params[i]);
    }
    if (pick(c, 2))
        write_where(c, rig);
    if (pick(c, 2))
        put(" along %s blend %s level %u%%", OF(c, axes), OF(c, blends), pick(c, 101));
    if (pick(c, 2))
        put(" from %s for %s fade-in %s fade-out %s", OF(c, times), OF(c, times), OF(c, times),
            OF(c, times));
    if (pick(c, 3) == 2)
        put(" mask %s", OF(c, masks));
    put("\n");
}

static void write_key(struct choices *c, const struct dia_rig *rig, uint32_t layers)
{
    static const char *const kinds[] = {"down", "up", "short", "double", "long", "repeat"};
    static const char *const verbs[] = {"start",      "stop",           "toggle", "next",
                                        "next none,", "there-and-back", "pace"};
    static const char *const overs[] = {"", " over 1ms", " over 3s", " over 10min"};
    const char *key = rig->button_count && pick(c, 2) ? "bell" : "1";
    put("key %s %s: ", key, OF(c, kinds));
    uint32_t layer = pick(c, layers);
    switch (pick(c, 3)) {
    case 0: {
        const char *verb = OF(c, verbs);
        put("%s%s", verb, verb[strlen(verb) - 1] == ',' ? "" : " ");
        put("n%u", layer);
        if (verb[0] == 'p')
            put(" to %d%%%s", (int)number(c, -1600, 1600), OF(c, overs));
        else if (verb[2] == 'e')
            put("%s", OF(c, overs));
        break;
    }
    default:
        put("set n%u.colour=#%06x%s", layer, (unsigned)number(c, 0, 0xffffff), OF(c, overs));
    }
    put("\npress %d ms %s for %d ms\n", (int)number(c, 0, 86400000), key, (int)number(c, 1, 60000));
}

/* Reads a file that has been written; a refusal says why. */
static enum dia_status read_rig(struct dia_rig *rig)
{
    struct dia_diagnostic wrong = {""};
    enum dia_status status =
        dia_rig_load(rig, file_of((const uint8_t *)written.text, written.length), &wrong);
    said(status, &wrong);
    if (getenv("FUZZ_SHOW"))
        fprintf(stderr, "%s%s\n", written.text, wrong.text);
    return status;
}

static void read_show(struct dia_show *show, const struct dia_rig *rig)
{
    for (char *line = strtok(written.text, "\n"); line; line = strtok(NULL, "\n")) {
        struct dia_diagnostic wrong = {""};
        said(dia_show_line(show, rig, line, &wrong), &wrong);
        if (getenv("FUZZ_SHOW"))
            fprintf(stderr, "%s\n%s%s", line, wrong.text, wrong.text[0] ? "\n" : "");
    }
}

/* Pixels that have too few volts take no data, and stay as they are. */
static int may_stay_lit(const struct dia_rig *rig)
{
    int fed = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++)
        fed |= rig->lanes[i].feed_count != 0;
    return fed || rig->fault_count != 0;
}

static void play(struct choices *c, const struct dia_rig *rig, struct dia_show *show)
{
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(rig, &wrong);
    if (!player)
        abort();
    for (uint32_t slot = 0; slot < 3; slot++) {
        uint32_t ms = (uint32_t)number(c, 0, UINT32_MAX);
        if (dia_show_play(show, player, ms, slot, NULL) != DIA_OK)
            abort();
    }
    if (dia_player_dark(player) != DIA_OK || (!may_stay_lit(rig) && !dia_player_is_dark(player)))
        abort();
    dia_player_free(player);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct dia_rig rig;
    static struct dia_show show;
    struct choices c = {data, size};
    write_rig(&c);
    if (read_rig(&rig) != DIA_OK)
        return 0;
    dia_show_init(&show);
    uint32_t layers = 1 + pick(&c, 3), keys = pick(&c, 3);
    written.length = 0;
    for (uint32_t k = 0; k < layers; k++)
        write_layer(&c, &rig, k);
    for (uint32_t k = 0; k < keys; k++)
        write_key(&c, &rig, layers);
    read_show(&show, &rig);
    play(&c, &rig, &show);
    dia_show_free(&show);
    return 0;
}
