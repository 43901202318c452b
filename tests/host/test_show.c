/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <cairo.h>

#include <diachrome/reel.h>
#include <diachrome/show.h>

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static int load_rig(void **state)
{
    (void)state;
    return dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) == DIA_OK ? 0 : -1;
}

static void lines(struct dia_show *show, const char *const *text)
{
    dia_show_init(show);
    for (; *text; text++) {
        if (dia_show_line(show, &rig, *text, &wrong) != DIA_OK)
            fail_msg("%s: %s", *text, wrong.text);
    }
}

static const char *const evening[] = {
    "layer glow: steady colour=#000020",
    "layer run: pulse colour=gold speed=1m/s on handrail,waves blend add fade-in 1s fade-out 2s",
    "layer storm: glimmer on handrail+waves[0-15] mask sine(along=x length=50cm low=20%)",
    "layer dots: chase on board,buoys",
    "key operator.1 short: toggle run",
    "key operator.2 long: set glow.colour=navy over 2s",
    "key operator.2 repeat: raise run.speed by 50cm/s",
    "key operator.3 double: next storm,dots",
    "press 1s operator.1",
    "press 2s 2 for 2800ms",
    "press 3s 3",
    "press 3200ms 3",
    "press 4s operator.1",
    NULL};

/* What is held is what dia_keys makes of it: 700 ms until it is long, then every 200 ms. */
static void presses_become_what_layers_do(void **state)
{
    (void)state;
    static struct dia_show show;
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    int32_t speed;
    lines(&show, evening);
    dia_show_at(&show, 999, now);
    assert_int_equal(now[1].level, 0);
    assert_int_equal(now[2].level, DIA_SHARE_ONE);
    assert_int_equal(now[3].level, 0);
    dia_show_at(&show, 3300, now);
    assert_int_equal(now[1].level, DIA_SHARE_ONE);
    /* key 3 went down at 3.2 s for the second time: the next of the two */
    assert_int_equal(now[2].level, 0);
    assert_int_equal(now[3].level, DIA_SHARE_ONE);
    assert_int_equal(now[3].start_ms, 3200);
    /* long at 2.7 s, and 2 s to go to #000080: at 3.7 s halfway from #000020 */
    dia_show_at(&show, 3700, now);
    assert_int_equal(now[0].values.steady.colour.b, 0x50);
    /* repeats from 2.9 to 4.7 s are 10 of 0.5 m/s, from 1 m/s on */
    dia_show_at(&show, 60000, now);
    memcpy(&speed, &now[1].values.pulse.speed_um_s, sizeof speed);
    assert_int_equal(speed, 6000000);
    assert_int_equal(now[1].level, 0);
    dia_show_free(&show);
}

/* By hand: an element each 50 ms, 72 on each side of the handrail and 24 buoys. The buoys
 * rest while the handrail goes on, and go out with its last 24. Pressed at 1 s and at 20 s. */
static void what_went_there_comes_back(void **state)
{
    (void)state;
    static const char *const there_and_back[] = {
        "layer lamps: reveal every=50ms colour=white on handrail,buoys",
        "key operator.1 down: there-and-back lamps", "press 1s operator.1", "press 20s operator.1",
        NULL};
    static const struct {
        uint32_t ms, pixels, lamps;
    } by_hand[] = {{980, 0, 0},     {1000, 2, 1},     {1549, 22, 11},   {3000, 82, 24},
                   {7000, 144, 24}, {20000, 144, 24}, {20500, 124, 24}, {22600, 40, 20},
                   {23598, 2, 1},   {23599, 0, 0},    {60000, 0, 0}};
    static struct dia_show show;
    uint32_t buoys = 0;
    lines(&show, there_and_back);
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
    while (strcmp(rig.devices[buoys].name, "buoys") != 0)
        buoys++;
    for (uint32_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        uint32_t pixels = 0, lamps = 0;
        assert_int_equal(dia_show_play(&show, player, by_hand[k].ms, 2 * k, NULL), DIA_OK);
        assert_int_equal(dia_show_play(&show, player, by_hand[k].ms, 2 * k + 1, NULL), DIA_OK);
        for (uint32_t i = 0; i < 144; i++)
            pixels += dia_player_seen(player, 0, i).r != 0;
        for (uint32_t i = 0; i < 24; i++)
            lamps += dia_player_lamp(player, buoys, i) != 0;
        if (pixels != by_hand[k].pixels || lamps != by_hand[k].lamps)
            fail_msg("at %u ms %u pixels and %u lamps, not %u and %u", (unsigned)by_hand[k].ms,
                     (unsigned)pixels, (unsigned)lamps, (unsigned)by_hand[k].pixels,
                     (unsigned)by_hand[k].lamps);
    }
    dia_player_free(player);
    dia_show_free(&show);
}

/* One to ground, one to the supply: pins, what is read there, and what the show does. */
static void buttons_are_keys(void **state)
{
    (void)state;
    static struct dia_rig buttoned;
    static struct dia_show show;
    static const char *const texts[] = {
        "layer lamp: steady colour=white", "key bell down: start lamp",   "key door up: stop lamp",
        "press 1s bell for 500ms",         "press 1200ms door for 500ms", NULL};
    static const struct {
        uint32_t ms;
        uint8_t held, bell, door, level;
    } by_hand[] = {{900, 0, 1, 0, 0},
                   {1100, 1, 0, 0, 1},
                   {1300, 3, 0, 1, 1},
                   {1600, 2, 1, 1, 1},
                   {1800, 0, 1, 0, 0}};
    FILE *file = fopen("a.rig.yaml", "w");
    assert_non_null(file);
    fputs("rig: a door\ncontroller: { name: c, clock: 16 MHz, ram: 2 KB, flash: 32 KB, logic_high: "
          "5 V }\nsupplies: { s: { voltage: 5 V, current: 1 A } }\nlanes: { l: { pin: 1, chip: "
          "WS2812B, count: 1, supply: s, line: { pitch: 10 mm } } }\nbuttons: { bell: { pin: 27 }, "
          "door: { pin: 28, pressed: high } }\n",
          file);
    fclose(file);
    if (dia_rig_load(&buttoned, "a.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    struct dia_player *player = dia_player_new(&buttoned, &wrong);
    assert_non_null(player);
    dia_show_init(&show);
    for (int k = 0; texts[k]; k++)
        assert_int_equal(dia_show_line(&show, &buttoned, texts[k], &wrong), DIA_OK);
    for (uint32_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        assert_int_equal(dia_show_play(&show, player, by_hand[k].ms, k, NULL), DIA_OK);
        assert_int_equal(dia_player_buttons(player), by_hand[k].held);
        assert_int_equal(dia_player_level(player, 27), by_hand[k].bell);
        assert_int_equal(dia_player_level(player, 28), by_hand[k].door);
        assert_int_equal(dia_player_seen(player, 0, 0).r != 0, by_hand[k].level);
    }
    uint8_t key;
    assert_int_equal(dia_show_key_read(&buttoned, "2", &key, &wrong), DIA_OK);
    assert_int_equal(key, DIA_SHOW_BUTTONS + 1);
    assert_int_equal(dia_show_key_read(&buttoned, "3", &key, &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "there is no button 3; this rig has 2");
    assert_int_equal(dia_show_key_read(&buttoned, "bel", &key, &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "there is no button 'bel' on this rig; there is bell");
    dia_player_free(player);
    dia_show_free(&show);
}

static void put_file(const char *text)
{
    FILE *file = fopen("a.show", "w");
    assert_non_null(file);
    fputs(text, file);
    fclose(file);
}

/* A fish of 3 by 2, transparent at two corners, by cairo; and one with too many colours. */
static void put_png(const char *path, int columns, int rows, int many)
{
    cairo_surface_t *picture = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, columns, rows);
    uint8_t *data = cairo_image_surface_get_data(picture);
    for (int y = 0; y < rows; y++) {
        for (int x = 0; x < columns; x++) {
            uint32_t pixel = many     ? 0xff000000u + (uint32_t)(y * columns + x)
                             : x == 1 ? 0xffff8000u
                             : y      ? 0xff0000ffu
                                      : 0;
            memcpy(data + y * cairo_image_surface_get_stride(picture) + 4 * x, &pixel, 4);
        }
    }
    cairo_surface_mark_dirty(picture);
    assert_int_equal(cairo_surface_write_to_png(picture, path), CAIRO_STATUS_SUCCESS);
    cairo_surface_destroy(picture);
}

/* On the wall, pixels 16.7 mm apart: at 34 mm, 17 mm its corner is in column 2, row 1. */
static void a_picture_is_drawn_on_the_wall(void **state)
{
    (void)state;
    static struct dia_show show;
    static const char *const line[] = {"layer steady colour=#000040",
                                       "layer draw x=34mm y=17mm sprite fish.png on waves", NULL};
    static const uint32_t by_hand[2][3] = {{0x000040, 0xff8000, 0x000040},
                                           {0x0000ff, 0xff8000, 0x0000ff}};
    put_png("fish.png", 3, 2, 0);
    lines(&show, line);
    rig.master = DIA_SHARE_ONE;
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_int_equal(dia_show_play(&show, player, 0, 0, NULL), DIA_OK);
    const struct dia_rig_lane *waves = &rig.lanes[2];
    assert_string_equal(waves->name, "waves");
    for (uint16_t i = 0; i < 128; i++) {
        struct dia_cell cell = dia_grid_cell(&waves->layout.grid, i);
        struct dia_rgb seen = dia_player_seen(player, 2, i);
        int x = cell.column - 2, y = cell.row - 1;
        uint32_t wanted = x >= 0 && x < 3 && y >= 0 && y < 2 ? by_hand[y][x] : 0x000040;
        assert_int_equal(seen.r > 128, wanted >> 16 > 128);
        assert_int_equal(seen.b > 160, (wanted & 255) > 160);
    }
    dia_player_free(player);
    assert_int_equal(load_rig(NULL), 0); /* its own master again */
    put_png("many.png", 16, 17, 1);
    put_png("wide.png", 33, 1, 0);
    static const struct {
        const char *line, *says;
    } bad[] = {{"layer draw sprite many.png", "at most 255 colours"},
               {"layer draw sprite wide.png", "at most 32 by 32 pixels; this has 33 by 1"},
               {"layer drift on handrail[144]", "write handrail[0-143], a part of that, or one as"},
               {"layer drift on handrail[5-]", "write handrail[0-143]"},
               {"layer drift from 1s from 2s", "'from' is here twice"},
               {"layer draw sprite none.png", "none.png: cannot be read: No such file"},
               {"layer draw sprite a.show", "a.show: is no picture; PNG, APNG, GIF, PNM"},
               {"layer water sprite fish.png", "'sprite' is for the look draw; this is water"}};
    put_file("no picture");
    for (size_t k = 0; k < sizeof bad / sizeof bad[0]; k++) {
        assert_int_equal(dia_show_line(&show, &rig, bad[k].line, &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, bad[k].says))
            fail_msg("%s: said '%s'", bad[k].line, wrong.text);
    }
    uint32_t last = show.layer_count;
    assert_int_equal(dia_show_line(&show, &rig, "layer drift on handrail[7]", &wrong), DIA_OK);
    assert_int_equal(show.layers[last].part[0].first, 7);
    assert_int_equal(show.layers[last].part[0].count, 1);
    dia_show_free(&show);
}

/* A figure on a path shows what it does when it stands where the path is. */
static void what_is_on_a_path_is_where_the_path_is(void **state)
{
    (void)state;
    static const struct dia_point points[] = {{0, 90000}, {80000, 10000}, {220000, 60000}};
    const struct dia_path path = {
        .points = points, .count = 3, .curved = 1, .over_ms = 3000, .ease = &dia_ease_in_out};
    struct dia_player *player = dia_player_new(&rig, &wrong);
    struct dia_show show;
    uint8_t seen[128][4];
    for (uint32_t ms = 0; ms < 6000; ms += 370) {
        struct dia_point at = dia_path_at(&path, ms);
        char line[200];
        for (int way = 0; way < 2; way++) {
            dia_show_init(&show);
            snprintf(line, sizeof line,
                     way ? "layer draw on waves radius=20mm x=%.3fmm y=%.3fmm"
                         : "layer draw on waves radius=20mm path curve(0mm,90mm 80mm,10mm "
                           "220mm,60mm over=3s ease=ease-in-out)",
                     at.x_um / 1000.0, at.y_um / 1000.0);
            assert_int_equal(dia_show_line(&show, &rig, line, &wrong), DIA_OK);
            assert_int_equal(dia_show_play(&show, player, ms, 0, NULL), DIA_OK);
            if (way)
                assert_memory_equal(dia_player_shown(player, 2)->drive, seen, sizeof seen);
            memcpy(seen, dia_player_shown(player, 2)->drive, sizeof seen);
            dia_show_free(&show);
        }
    }
    dia_player_free(player);
}

/* On the handrail, 72 pixels there and back 13.9 mm apart, and on the buoys, 24 of 41 mm: 5 pixels
 * are 69.5 and 205 mm, a tenth of the length 100.1 and 98.4 mm, half of it a second 500.4 and 492
 * mm/s. */
static void lengths_may_be_those_of_where_a_layer_is(void **state)
{
    (void)state;
    static struct dia_show show;
    static const char *const line[] = {
        "layer pulse head=5px tail=10% speed=0.5turns/s on handrail,buoys", NULL};
    struct dia_rig_lying lying;
    union dia_look_values values;
    lines(&show, line);
    dia_rig_lie(&rig, &rig.lanes[0], &lying);
    dia_rig_layer_values(&show.layers[0], &lying.surface, &values);
    assert_int_equal(values.pulse.head_um, 69500);
    assert_int_equal(values.pulse.tail_um, 100080);
    assert_int_equal(values.pulse.speed_um_s, 500400);
    for (uint32_t i = 0; i < rig.device_count; i++) {
        if (strcmp(rig.devices[i].name, "buoys") != 0)
            continue;
        dia_rig_layer_values(&show.layers[0], &rig.devices[i].surface, &values);
        assert_int_equal(values.pulse.head_um, 205000);
        assert_int_equal(values.pulse.tail_um, 98400);
        assert_int_equal(values.pulse.speed_um_s, 492000);
    }
    /* what is beyond the range of a look is held there */
    assert_int_equal(dia_rig_layer_set(&show.layers[0], "speed=1e6px/s", &wrong), DIA_OK);
    dia_rig_layer_values(&show.layers[0], &lying.surface, &values);
    assert_int_equal(values.pulse.speed_um_s, 10000000);
    /* a pulse runs away from the start only */
    assert_int_equal(dia_rig_layer_set(&show.layers[0], "speed=-2e3px/s", &wrong), DIA_BAD_VALUE);
    /* set again in mm, it is that */
    assert_int_equal(dia_rig_layer_set(&show.layers[0], "head=7mm", &wrong), DIA_OK);
    dia_rig_layer_values(&show.layers[0], &lying.surface, &values);
    assert_int_equal(values.pulse.head_um, 7000);
    assert_int_equal(dia_rig_layer_set(&show.layers[0], "head=-5px", &wrong), DIA_BAD_VALUE);
    assert_int_equal(dia_rig_layer_set(&show.layers[0], "head=5pix", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "px and % are of where it is shown"));
    dia_show_free(&show);
}

/* Pixels byte for byte; lamps, which are measured over their turns, within 16 of 65535. */
static void assert_same(const struct dia_reel *a, const struct dia_reel *b)
{
    uint32_t pixels = 0;
    for (uint32_t i = 0; i < rig.lane_count; i++)
        pixels += rig.lanes[i].count;
    assert_memory_equal(a->drive, b->drive, 4 * pixels);
    for (uint32_t i = pixels; i < a->pixels; i++) {
        int one = a->drive[i][0] * 256 + a->drive[i][1],
            two = b->drive[i][0] * 256 + b->drive[i][1];
        assert_true(one - two <= 16 && two - one <= 16);
    }
}

/* Frames of a run of 6 s, each again by itself on a bench of its own, are the same. */
static void any_frame_can_be_sought(void **state)
{
    (void)state;
    static struct dia_show show;
    struct dia_player *run = dia_player_new(&rig, &wrong), *alone;
    struct dia_reel reels[2];
    lines(&show, evening);
    for (uint32_t k = 0; k < 30; k++) {
        uint32_t ms = k * 200;
        assert_int_equal(dia_show_play(&show, run, ms, k, NULL), DIA_OK);
        if (k % 4)
            continue;
        alone = dia_player_new(&rig, &wrong);
        assert_int_equal(dia_show_play(&show, alone, ms, k, NULL), DIA_OK);
        assert_int_equal(dia_reel_init(&reels[0], &rig, "run", 1, &wrong), DIA_OK);
        assert_int_equal(dia_reel_init(&reels[1], &rig, "alone", 1, &wrong), DIA_OK);
        dia_reel_add(&reels[0], run, ms);
        dia_reel_add(&reels[1], alone, ms);
        assert_same(&reels[0], &reels[1]);
        dia_reel_free(&reels[0]);
        dia_reel_free(&reels[1]);
        dia_player_free(alone);
    }
    dia_player_free(run);
    dia_show_free(&show);
}

/* The evening of the demo: the ferry is only there while it comes, the warning only between its two
 * presses. The sea is rougher from the long one at 150.7 s on: 3 s of twice as fast in the mean are
 * 3 s more, then 2 s a second; and calm from the double one at 180.2 s on: 3 s more for that. */
static void the_evening_is_as_it_is_told(void **state)
{
    (void)state;
    static struct dia_show show;
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    static const struct {
        uint32_t ms;
        int warned;
        int32_t sea_ahead_ms;
    } moments[] = {{100000, 0, 0},     {160000, 0, 15600}, {190000, 0, 59000},
                   {240000, 1, 59000}, {249000, 0, 59000}, {299000, 0, 59000}};
    dia_show_init(&show);
    assert_int_equal(dia_show_load(&show, &rig, "demo/evening.show", &wrong), DIA_OK);
    uint32_t warning = 0, sea = 0;
    for (uint32_t k = 0; k < show.layer_count; k++) {
        warning = strcmp(show.names[k], "warning") == 0 ? k : warning;
        sea = strcmp(show.names[k], "sea") == 0 ? k : sea;
    }
    for (size_t k = 0; k < sizeof moments / sizeof moments[0]; k++) {
        dia_show_at(&show, moments[k].ms, now);
        assert_int_equal(now[warning].level, moments[k].warned ? DIA_SHARE_ONE : 0);
        assert_in_range(now[sea].ahead_ms + 20, moments[k].sea_ahead_ms,
                        moments[k].sea_ahead_ms + 40);
    }
    dia_show_free(&show);
}

/* The driver of the panel reads the keys that are pressed at the time of the frame. */
static void keys_are_held_on_the_bench(void **state)
{
    (void)state;
    static struct dia_show show;
    struct dia_player *player = dia_player_new(&rig, &wrong);
    uint32_t panel = 0;
    while (strcmp(rig.devices[panel].name, "operator") != 0)
        panel++;
    lines(&show, evening);
    assert_int_equal(dia_show_play(&show, player, 3050, 0, NULL), DIA_OK);
    assert_int_equal(dia_player_keys(player, panel), 0x06); /* keys 2 and 3 */
    assert_int_equal(dia_show_play(&show, player, 9000, 1, NULL), DIA_OK);
    assert_int_equal(dia_player_keys(player, panel), 0);
    dia_player_free(player);
    dia_show_free(&show);
}

/* The panel 'hut' has no text: its segments are lamps. A rectangle over the left of it lights the
 * two bars on the left of the first digit. The digits of 'clock' say 42. */
static void segments_without_a_text_show_looks(void **state)
{
    (void)state;
    static struct dia_rig all;
    static struct dia_show show;
    char line[200];
    uint32_t hut = 0, clock = 0;
    if (dia_rig_load(&all, "rigs/all.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    for (uint32_t i = 0; i < all.device_count; i++) {
        hut = strcmp(all.devices[i].name, "hut") == 0 ? i : hut;
        clock = strcmp(all.devices[i].name, "clock") == 0 ? i : clock;
    }
    struct dia_player *player = dia_player_new(&all, &wrong);
    assert_non_null(player);
    dia_show_init(&show);
    snprintf(
        line, sizeof line,
        "layer draw figure=rectangle edge=hard colour=white on hut x=-1m y=-1m to-x=%dmm to-y=1m",
        all.devices[hut].pitch_um / 2000);
    assert_int_equal(dia_show_line(&show, &all, line, &wrong), DIA_OK);
    assert_int_equal(dia_show_play(&show, player, 0, 0, NULL), DIA_OK);
    assert_int_equal(dia_show_play(&show, player, 0, 1, NULL), DIA_OK);
    for (uint32_t k = 0; k < all.devices[hut].digits * 8; k++)
        assert_int_equal(dia_player_lamp(player, hut, k) != 0, k == 4 || k == 5);
    /* 4 is b c f g; 2 is a b d e g */
    for (uint32_t k = 0; k < 16; k++)
        assert_int_equal(dia_player_lamp(player, clock, k) != 0, 0x5b66 >> k & 1);
    dia_player_free(player);
    dia_show_free(&show);
}

static const struct {
    const char *line, *says;
} mistakes[] = {
    {"lyer water", "did you mean 'layer'?"},
    {"layer run: water", "there is a layer 'run' already"},
    {"layer water on boye", "did you mean 'buoys'?"},
    {"layer water mask sin", "did you mean 'sine'?"},
    {"layer water mask sine(length=1m", "does not end with its closing bracket"},
    {"layer water mask sine(lenth=1m)", "did you mean 'length'?"},
    {"layer water mask sine(length=200m)", "1 mm to 100000 mm"},
    {"key", "like this: key operator.1 short: toggle NAME"},
    {"key operator.9 short: stop run", "there is no key 'operator.9'; write 'operator.1'"},
    {"key keeper.1 short: stop run", "there is no panel 'keeper' with keys"},
    {"key 1 shrt: stop run", "did you mean 'short'?"},
    {"key 1 short stop run", "lacks its colon"},
    {"key 1 short:", "the key does nothing"},
    {"key 1 short: halt run",
     "there is no 'halt'; there are start, stop, toggle, next, there-and-back, pace, set, raise, "
     "lower"},
    {"key 1 short: pace run 250%", "say how fast: pace run to 250%"},
    {"key 1 short: pace run to 2500%", "'pace' must be -1600 % to 1600 %"},
    {"key 1 short: there-and-back run", "give the time of its way: there-and-back run over 5s"},
    {"key 1 short: there-and-back run over 0s", "'over' must be 1 ms to 3600 s"},
    {"key 1 short: next none", "no layer before this is called 'none'"},
    {"layer none: water", "'none' stands for no layer"},
    {"key 1 short: stop rum", "did you mean 'run'?"},
    {"key 1 short: stop run glow", "several layers have commas between"},
    {"key 1 short: set run=3", "write NAME.KEY=VALUE"},
    {"key 1 short: set run.sped=3m/s", "did you mean 'speed'?"},
    {"key 1 short: set run.speed=3m/s over", "'over' needs a time behind it, such as 3s"},
    {"key 1 short: raise run.speed 1m/s", "say by how much: raise run.speed by VALUE"},
    {"key 1 short: raise run.colour by 1", "'colour' is no number"},
    {"key 1 short: pace run", "say how fast: pace run to 250%"},
    {"key 1 short: pace run at 50%", "say how fast"},
    {"key 1 short: pace rum to 50%", "did you mean 'run'?"},
    {"key 1 short: pace run to fast", "'pace' takes a percentage in %"},
    {"key 1 short: pace run to 50% for 3s", "'for' has no meaning here"},
    {"key 1 short: set rum.speed=3m/s", "did you mean 'run'?"},
    {"key 1 short: set run.speed=3m/s over soon", "found 'soon'"},
    {"key 1 short: set run.speed=300m/s", "1 mm/s to 10000 mm/s; found '300m/s'"},
    {"key 1 short: lower run.speed by fast", "'speed' takes a speed in mm/s"},
    {"key 1 short: toggle", "'toggle' needs a name of a layer behind it"},
    {"key 1 short: start run,", "no layer before this is called ''"},
    {"key 1", "like this: key operator.1 short: toggle NAME"},
    {"layer", "a layer begins with the name of a look"},
    {"layer a.b: water",
     "a name has letters, digits, '-' and '_', at most 31 of them; found 'a.b'"},
    {"layer abcdefghijklmnopqrstuvwxyzabcdef: water", "at most 31 of them; found 'abc"},
    {"layer : water", "found ''"},
    {"layer water on handrail[x]", "'handrail' has elements 0 to 143"},
    {"layer water on handrail[7]x", "'handrail' has elements 0 to 143"},
    {"layer water on handrail[9-3]", "'handrail' has elements 0 to 143"},
    {"layer water on tide", "'tide' shows its text, and no look but 'text'"},
    {"layer water on keeper", "'keeper' shows its text, and no look but 'text', and 'steady', "
                              "which switches it off where it is black"},
    {"layer water along", "'along' needs a value behind it"},
    {"layer water along z", "there is no 'z'; there are along, x, y"},
    {"layer water level 120%", "'level' must be 0 % to 100 %; found '120%'"},
    {"layer water from soon", "'from' takes a time in s, ms, min, h"},
    {"press", "write a press like this"},
    {"press 20 1", "such as 2.5 s; found '20'"},
    {"press 20s", "says no key"},
    {"press 20s 1 for 2h", "found '2h'"},
    {"press 20s 1 twice", "'for TIME' may follow the key"},
};

static void each_mistake_is_told(void **state)
{
    (void)state;
    static struct dia_show show;
    lines(&show, evening);
    uint32_t layers = show.layer_count, cues = show.cue_count, knobs = show.knob_count;
    for (size_t k = 0; k < sizeof mistakes / sizeof mistakes[0]; k++) {
        wrong.text[0] = 0;
        assert_int_equal(dia_show_line(&show, &rig, mistakes[k].line, &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, mistakes[k].says))
            fail_msg("%s: said '%s'", mistakes[k].line, wrong.text);
    }
    assert_int_equal(show.layer_count, layers);
    assert_int_equal(show.cue_count, cues);
    assert_int_equal(show.knob_count, knobs);
    assert_int_equal(show.press_count, 5);
    /* joined to the lamps of the buoys, 41 mm apart, the line keeps the 13.9 mm of the handrail */
    assert_int_equal(dia_show_line(&show, &rig, "layer wipe on handrail[0-9]+buoys", &wrong),
                     DIA_OK);
    const struct dia_rig_layer *joined = &show.layers[show.layer_count - 1];
    assert_int_equal(joined->part[1].pitch_um, 13900);
    assert_int_equal(joined->part[1].offset, 10);
    assert_int_equal(joined->part[1].all, 34);
    /* and one of 34 elements with 100 m between them is longer than 2^31 um */
    int32_t *pitch = &rig.lanes[0].layout.surface.pitch_um, as_it_was = *pitch;
    *pitch = 100000000;
    assert_int_equal(dia_show_line(&show, &rig, "layer wipe on handrail[0-9]+buoys", &wrong),
                     DIA_BAD_VALUE);
    if (!strstr(wrong.text, "34 elements 100000 mm apart are longer than 2147 m; take at most 21"))
        fail_msg("said '%s'", wrong.text);
    assert_int_equal(dia_show_line(&show, &rig, "layer wipe on handrail[0-21]", &wrong),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_show_line(&show, &rig, "layer wipe on handrail[0-20]", &wrong), DIA_OK);
    *pitch = as_it_was;
    dia_show_free(&show);
}

static void times_may_be_hours_or_for_ever(void **state)
{
    (void)state;
    static const char *const day[] = {"layer day: drift change=1h for 24h fade-in 0.5h mask "
                                      "sine(period=1h)",
                                      "layer on: steady for ever", "press 23h 1 for 60s", NULL};
    static struct dia_show show;
    lines(&show, day);
    assert_int_equal(show.layers[0].length_ms, 86400000);
    assert_int_equal(show.layers[0].fade_in_ms, 1800000);
    assert_int_equal(show.layers[0].values.drift.change_ms, 3600000);
    assert_int_equal(show.layers[1].length_ms, 0);
    assert_int_equal(show.presses[0].ms, 82800000);
    assert_int_equal(dia_show_line(&show, &rig, "layer water for 25h", &wrong), DIA_BAD_VALUE);
    dia_show_free(&show);
}

static void a_number_and_its_unit_may_have_a_space_between(void **state)
{
    (void)state;
    static const char *const spaced[] = {
        "layer run: pulse speed=20 cm/s head=5 px for 2.5 s level 50 %  from\t250\tms",
        "layer far: text says=5 m on tide", "press 250 ms 1 for 3 s", NULL};
    static struct dia_show show;
    lines(&show, spaced);
    assert_int_equal(show.layers[0].values.pulse.speed_um_s, 200000);
    assert_int_equal(show.layers[0].relative[0].amount, 5000);
    assert_int_equal(show.layers[0].length_ms, 2500);
    assert_int_equal(show.layers[0].start_ms, 250);
    assert_string_equal(show.layers[1].says, "5 m");
    assert_int_equal(show.presses[0].ms, 250);
    assert_int_equal(dia_show_line(&show, &rig, "layer water for 3 m", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "such as 2.5 s; found '3 m'"));
    assert_int_equal(dia_show_line(&show, &rig, "layer water level 5 px", &wrong), DIA_BAD_VALUE);
    dia_show_free(&show);
}

static void a_file_has_comments_and_lines_that_go_on(void **state)
{
    (void)state;
    static struct dia_show show;
    dia_show_init(&show);
    put_file("\xef\xbb\xbf# all of it\nlayer a: steady colour=#102030 # its colour\n\n"
             "layer b: pulse on handrail\n  blend add   # goes on\n  level 50%\n"
             "key 1 down: start b");
    assert_int_equal(dia_show_load(&show, &rig, "a.show", &wrong), DIA_OK);
    assert_int_equal(show.layer_count, 2);
    assert_int_equal(show.layers[0].values.steady.colour.g, 0x20);
    assert_int_equal(show.layers[1].blend, DIA_BLEND_ADD);
    assert_int_equal(show.layers[1].level, DIA_SHARE_ONE / 2);
    assert_int_equal(show.cue_count, 1);
    dia_show_free(&show);
    dia_show_init(&show);
    put_file("layer a: steady\nlayer b: pulse\n blend ad\nlayer c: steady\n");
    assert_int_equal(dia_show_load(&show, &rig, "a.show", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "a.show:2: 'blend': there is no 'ad'; did you mean 'add'?");
    dia_show_free(&show);
    dia_show_init(&show);
    put_file("# nothing\n");
    assert_int_equal(dia_show_load(&show, &rig, "a.show", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "at least one line 'layer ...'"));
    assert_int_equal(dia_show_load(&show, &rig, "no.show", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "no.show: cannot be read: No such file or directory");
}

/* Single lines with what is said of them: tests/rigs/show-mistakes.txt. */
static void each_mistake_of_the_list_is_told(void **state)
{
    (void)state;
    static const char *const before[] = {"layer a: chase", "layer b: draw", "layer w: wipe",
                                         "layer r: chase speed=5px/s", NULL};
    static struct dia_show show;
    char *list = read_file("rigs/show-mistakes.txt", NULL), line[2048], said[2048];
    int told = 0;
    for (const char *rest = list; next_case(&rest, 2, line, said);) {
        lines(&show, before);
        line[strlen(line) - 1] = 0;
        said[said[0] ? strlen(said) - 1 : 0] = 0;
        wrong.text[0] = 0;
        enum dia_status status = dia_show_line(&show, &rig, line, &wrong);
        if (status != (said[0] ? DIA_BAD_VALUE : DIA_OK) ||
            (said[0] && strcmp(wrong.text, said) != 0))
            fail_msg("%s\nexpected %s\nfound    %s", line, said, wrong.text);
        told += said[0] != 0;
        dia_show_free(&show);
    }
    assert_true(told > 70);
    free(list);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(presses_become_what_layers_do),
        cmocka_unit_test(what_went_there_comes_back),
        cmocka_unit_test(buttons_are_keys),
        cmocka_unit_test(any_frame_can_be_sought),
        cmocka_unit_test(a_picture_is_drawn_on_the_wall),
        cmocka_unit_test(what_is_on_a_path_is_where_the_path_is),
        cmocka_unit_test(lengths_may_be_those_of_where_a_layer_is),
        cmocka_unit_test(the_evening_is_as_it_is_told),
        cmocka_unit_test(keys_are_held_on_the_bench),
        cmocka_unit_test(segments_without_a_text_show_looks),
        cmocka_unit_test(each_mistake_is_told),
        cmocka_unit_test(each_mistake_of_the_list_is_told),
        cmocka_unit_test(times_may_be_hours_or_for_ever),
        cmocka_unit_test(a_number_and_its_unit_may_have_a_space_between),
        cmocka_unit_test(a_file_has_comments_and_lines_that_go_on),
    };
    return cmocka_run_group_tests(tests, load_rig, NULL);
}
