/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <png.h>

#include <diachrome/show.h>

/*
 * Pictures on rigs that are written here, read from what the models on the bench show. With
 * `curve: 1` a pixel shows the codes as they are.
 */
static struct dia_rig rig;
static struct dia_show show;
static struct dia_player *player;
static struct dia_diagnostic wrong;

static const char head[] =
    "rig: Test\nmaster: 100 %\nframe_rate: 25 Hz\ncontroller: { clock: 48 MHz, "
    "ram: 64 KB, flash: 64 KB, logic_high: 5 V }\nsupplies:\n  main: { "
    "voltage: 5 V, current: 60 A }\n";

static void begin(const char *things)
{
    char text[8000];
    int n = snprintf(text, sizeof text, "%s%s", head, things);
    write_file("t.rig.yaml", text, (size_t)n);
    dia_player_free(player);
    dia_show_free(&show);
    dia_show_init(&show);
    if (dia_rig_load(&rig, "t.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
}

#define LANE(name, pin, count, shape)                                                              \
    "  " name ": { pin: " #pin ", chip: WS2812B, order: RGB, curve: 1, count: " #count             \
    ", supply: main, " shape " }\n"

static void layer(const char *line)
{
    char text[600];
    snprintf(text, sizeof text, "layer %s", line);
    if (dia_show_line(&show, &rig, text, &wrong) != DIA_OK)
        fail_msg("%s: %s", line, wrong.text);
}

static void refused(const char *line, const char *why)
{
    char text[600];
    snprintf(text, sizeof text, "layer %s", line);
    assert_int_equal(dia_show_line(&show, &rig, text, &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, why);
}

static void at(uint32_t ms)
{
    assert_int_equal(dia_show_play(&show, player, ms, 0, NULL), DIA_OK);
}

/* Pixels of a lane at a time: r, g, b, w for white, k for black, else as #rrggbb. */
static const char *lane_pixels(uint32_t lane, uint32_t ms)
{
    static char text[1000];
    static const struct {
        uint32_t code;
        char letter;
    } known[] = {{0xff0000, 'r'}, {0x00ff00, 'g'}, {0x0000ff, 'b'}, {0xffffff, 'w'}, {0, 'k'}};
    size_t n = 0;
    at(ms);
    for (uint32_t i = 0; i < rig.lanes[lane].count; i++) {
        const uint8_t *d = dia_player_shown(player, lane)->drive[i];
        uint32_t code = (uint32_t)(d[0] << 16 | d[1] << 8 | d[2]);
        char letter = 0;
        for (size_t k = 0; k < sizeof known / sizeof known[0]; k++)
            letter = known[k].code == code ? known[k].letter : letter;
        n += (size_t)snprintf(text + n, sizeof text - n, letter ? "%c" : "#%06x",
                              letter ? (unsigned)letter : code);
    }
    return text;
}

static const char *pixels(uint32_t ms)
{
    return lane_pixels(0, ms);
}

/* A picture of letters as pixels() writes them, one row behind the other. */
static void picture(const char *path, int columns, int rows, const char *letters)
{
    FILE *file = fopen(path, "w");
    assert_non_null(file);
    fprintf(file, "P3 %d %d 255\n", columns, rows);
    for (; *letters; letters++)
        fputs(*letters == 'r'   ? "255 0 0\n"
              : *letters == 'g' ? "0 255 0\n"
              : *letters == 'b' ? "0 0 255\n"
              : *letters == 'w' ? "255 255 255\n"
                                : "0 0 0\n",
              file);
    assert_int_equal(fclose(file), 0);
}

static void one(const char *line, uint32_t ms, const char *expected)
{
    dia_show_free(&show);
    dia_show_init(&show);
    layer(line);
    assert_string_equal(pixels(ms), expected);
}

/* 4 by 2 pixels on a grid of 8 by 2, and on one of 2 by 4. */
static void a_picture_is_scaled_turned_and_mirrored(void **state)
{
    (void)state;
    picture("four.ppm", 4, 2, "rgbwkkkk");
    begin("lanes:\n" LANE("wall", 2, 16, "grid: { columns: 8, rows: 2, pitch: 10 mm }"));
    one("picture file=four.ppm", 0, "kkrgbwkkkkkkkkkk");
    one("picture file=four.ppm scale=stretch", 0, "rrggbbwwkkkkkkkk");
    one("picture file=four.ppm scale=fill", 0, "rrggbbwwkkkkkkkk"); /* its middle half */
    one("picture file=four.ppm scale=place", 0, "rgbwkkkkkkkkkkkk");
    one("picture file=four.ppm scale=place x=30mm y=1px", 0, "kkkkkkkkkkkrgbwk");
    one("picture file=four.ppm scale=place width=80mm", 0, "rrggbbwwrrggbbww");
    one("picture file=four.ppm scale=place x=-20mm", 0, "bwkkkkkkkkkkkkkk");
    one("picture file=four.ppm scale=place mirror=x", 0, "wbgrkkkkkkkkkkkk");
    one("picture file=four.ppm scale=place mirror=both", 0, "kkkkkkkkwbgrkkkk");
    one("picture file=four.ppm turn=180", 0, "kkkkkkkkkkwbgrkk");
    one("picture file=four.ppm x=-10mm", 0, "krgbwkkkkkkkkkkk");
    begin("lanes:\n" LANE("wall", 2, 8, "grid: { columns: 2, rows: 4, pitch: 10 mm }"));
    one("picture file=four.ppm turn=90", 0, "krkgkbkw");
    one("picture file=four.ppm turn=270", 0, "wkbkgkrk");
    one("picture file=four.ppm turn=90 mirror=x", 0, "kwkbkgkr"); /* mirrored, then turned */
}

/* What an element covers counts by its light: half black and half white is code 188 (0.5 of full is
 * 187.5 by IEC 61966-2-1), a quarter white 137 (136.96). */
static void light_is_averaged(void **state)
{
    (void)state;
    picture("two.ppm", 2, 1, "kw");
    picture("square.ppm", 2, 2, "kkkw");
    picture("three.ppm", 3, 1, "kwk");
    begin("lanes:\n" LANE("dot", 2, 1, "line: { pitch: 10 mm }"));
    one("picture file=two.ppm scale=stretch", 0, "#bcbcbc");
    one("picture file=square.ppm scale=stretch", 0, "#898989");
    one("picture file=two.ppm scale=place width=4m x=-1.995m", 0, "#bcbcbc"); /* a seam */
    begin("lanes:\n" LANE("pair", 2, 2, "line: { pitch: 10 mm }"));
    /* each sees one black pixel and half of the white one: a third is 156 (155.6) */
    one("picture file=three.ppm scale=stretch", 0, "#9c9c9c#9c9c9c");
    /* 65,535 elements, each a hundredth of a pixel or so */
    begin("lanes:\n" LANE("long", 2, 65535,
                          "channel_current: 0.1 mA, idle_current: 0.1 mA, line: { pitch: 1 mm }"));
    dia_show_init(&show);
    layer("picture file=two.ppm scale=stretch");
    at(0);
    for (uint32_t i = 0; i < 65535; i++)
        assert_int_equal(dia_player_shown(player, 0)->drive[i][1], i < 32767    ? 0
                                                                   : i == 32767 ? 188
                                                                                : 255);
}

/* What is clear shows what is below, and half of white over half of red mixes light. */
static void what_is_clear_shows_what_is_below(void **state)
{
    (void)state;
    static const png_byte row[6] = {255, 255, 255, 128, 255, 0}; /* white, half of it, nothing */
    png_image image = {
        .version = PNG_IMAGE_VERSION, .width = 3, .height = 1, .format = PNG_FORMAT_GA};
    assert_true(png_image_write_to_file(&image, "veil.png", 0, row, 0, NULL));
    begin("lanes:\n" LANE("three", 2, 3, "line: { pitch: 10 mm }"));
    dia_show_init(&show);
    layer("steady colour=red");
    layer("picture file=veil.png");
    /* 128 of 255 of white light, and none of green below: 188 */
    assert_string_equal(pixels(0), "w#ffbcbcr");
}

/* At 1 px/s it comes again from the other side, with or without a gap. */
static void a_picture_scrolls_and_comes_again(void **state)
{
    (void)state;
    picture("row.ppm", 4, 1, "rgbw");
    begin("lanes:\n" LANE("row", 2, 4, "line: { pitch: 10 mm }"));
    dia_show_init(&show);
    layer("picture file=row.ppm scale=place speed-x=1px/s");
    assert_string_equal(pixels(0), "rgbw");
    assert_string_equal(pixels(1000), "wrgb");
    assert_string_equal(pixels(3000), "gbwr");
    assert_string_equal(pixels(4000000), "rgbw");
    assert_string_equal(pixels(500), "#ffbcbc#bcbc00#00bcbc#bcbcff"); /* halves of neighbours */
    one("picture file=row.ppm scale=place speed-x=-1px/s gap=2px", 2000, "bwkk");
    one("picture file=row.ppm scale=place speed-x=-1px/s gap=2px", 5000, "krgb");
    /* far smaller than an element: each sees all of it */
    one("picture file=row.ppm scale=place width=1mm speed-x=1mm/s speed-y=1mm/s", 1234,
        "#bcbcbc#bcbcbc#bcbcbc#bcbcbc");
}

static void a_film_has_its_own_time(void **state)
{
    (void)state;
    static const char film[] = "P6 1 1 255\n\xff\0\0P6 1 1 255\n\0\xff\0P6 1 1 255\n\0\0\xff";
    static const struct {
        const char *line, *shows; /* each 100 ms from 0 on */
    } runs[] = {{"rate=10", "rgbrgb"},           {"rate=10 end=back", "rgbbgr"},
                {"rate=10 end=stay", "rgbbbb"},  {"rate=10 end=dark", "rgbkkk"},
                {"rate=10 pace=200%", "rbgrbg"}, {"rate=5", "rrggbb"},
                {"rate=10 pace=0%", "rrrrrr"}};
    write_file("film.ppm", film, sizeof film - 1);
    begin("lanes:\n" LANE("dot", 2, 1, "line: { pitch: 10 mm }"));
    for (size_t k = 0; k < sizeof runs / sizeof runs[0]; k++) {
        char line[100], seen[7] = "";
        snprintf(line, sizeof line, "picture file=film.ppm %s", runs[k].line);
        dia_show_free(&show);
        dia_show_init(&show);
        layer(line);
        for (uint32_t t = 6; t-- > 0;) /* backwards: any frame by itself */
            seen[t] = pixels(t * 100)[0];
        assert_string_equal(seen, runs[k].shows);
    }
    one("picture file=film.ppm rate=10 from 1s", 1100, "g"); /* from its own start on */
}

/*
 * Eight lanes on the desk, some of them turned and one the other way round, show what one grid of
 * the same places does, for every frame of noise that moves.
 */
static void lanes_on_the_desk_are_one_wall(void **state)
{
    (void)state;
    static uint8_t expected[4][800][4];
    char noise[4][9000];
    uint32_t seed = 5;
    FILE *file = fopen("noise.ppm", "wb");
    for (int k = 0; k < 4; k++) {
        fputs("P6 60 48 255\n", file);
        for (int i = 0; i < 60 * 48 * 3; i++)
            noise[k][i] = (char)random_below(&seed, 256);
        fwrite(noise[k], 1, 60 * 48 * 3, file);
    }
    assert_int_equal(fclose(file), 0);
    begin("lanes:\n" LANE("wall", 2, 800, "grid: { columns: 100, rows: 8, pitch: 10 mm }"));
    dia_show_init(&show);
    layer("picture file=noise.ppm scale=fill");
    for (uint32_t k = 0; k < 4; k++) {
        at(k * 40);
        memcpy(expected[k], dia_player_shown(player, 0)->drive, sizeof expected[k]);
    }
    begin("lanes:\n" LANE("a", 2, 100, "line: { pitch: 10 mm }, at: { x: 5 mm, y: 20 mm }") LANE(
        "b", 3, 100, "line: { pitch: 10 mm }, at: { x: 5 mm, y: 30 mm, turn: 180 }")
              LANE("c", 4, 100, "line: { pitch: 10 mm, reversed: yes }, at: { x: 5 mm, y: 40 mm }")
                  LANE("d", 5, 100, "line: { pitch: 10 mm }, at: { x: 5 mm, y: 50 mm }")
                      LANE("e", 6, 400,
                           "grid: { columns: 4, rows: 100, pitch: 10 mm }, "
                           "at: { x: 5 mm, y: 60 mm, turn: 270 }"));
    for (int way = 0; way < 2; way++) {
        dia_show_free(&show);
        dia_show_init(&show);
        layer(way ? "picture file=noise.ppm scale=fill on desk"
                  : "picture file=noise.ppm scale=fill on a+c+b+d+e");
        for (uint32_t k = 4; k-- > 0;) {
            at(k * 40);
            for (uint32_t lane = 0; lane < 5; lane++) {
                for (uint32_t i = 0; i < rig.lanes[lane].count; i++) {
                    /* e: 4 columns and 100 rows, turned: its rows go from left to right, its last
                     * column is the topmost row */
                    uint32_t row = lane < 4 ? lane : 7 - i % 4, column = lane < 4 ? i : i / 4;
                    column = lane == 1 || lane == 2 ? 99 - i : column;
                    assert_memory_equal(dia_player_shown(player, lane)->drive[i],
                                        expected[k][row * 100 + column], 3);
                }
            }
        }
    }
    begin("lanes:\n" LANE("a", 2, 10, "line: { pitch: 10 mm }, at: { x: 5 mm, y: 20 mm }")
              LANE("b", 3, 10, "line: { pitch: 10 mm }"));
    refused("picture file=noise.ppm on a+b",
            "the rig does not say where 'b' is on the desk, which a picture over several needs; "
            "give it such as 'at: { x: 0 mm, y: 20 mm }'");
}

/* Of 64 dots as many are lit as the light says, and a still stays as it is. */
static void dots_are_dithered(void **state)
{
    (void)state;
    begin("devices:\n  board: { chip: MAX7219, chips: 1, pins: { din: 47, clk: 48, cs: 49 }, "
          "clock: 1 MHz, shows: dots, supply: main, segment_current: 20 mA, pitch: 5 mm }\n");
    static const struct {
        uint8_t code;
        int ordered, spread, none;
    } greys[] = {
        {0, 0, 0, 0}, {71, 4, 4, 0}, {137, 16, 16, 0}, {188, 32, 32, 64}, {255, 64, 64, 64}};
    static const char *const ways[] = {"ordered", "spread", "none"};
    for (size_t k = 0; k < sizeof greys / sizeof greys[0]; k++) {
        char text[60];
        snprintf(text, sizeof text, "P2 1 1 255 %d\n", greys[k].code);
        write_file("grey.pgm", text, strlen(text));
        for (int way = 0; way < 3; way++) {
            uint8_t before[64] = {0};
            int wanted = way == 0 ? greys[k].ordered : way == 1 ? greys[k].spread : greys[k].none;
            dia_show_free(&show);
            dia_show_init(&show);
            snprintf(text, sizeof text, "picture file=grey.pgm scale=stretch dither=%s", ways[way]);
            layer(text);
            for (uint32_t ms = 0; ms < 200; ms += 40) {
                int lit = 0;
                at(ms);
                for (uint32_t i = 0; i < 64; i++) {
                    uint8_t is_lit = dia_player_lamp(player, 0, i) > 0;
                    assert_true(ms == 0 || is_lit == before[i]);
                    before[i] = is_lit;
                    lit += is_lit;
                }
                if (lit != wanted)
                    fail_msg("grey %d, %s: %d lit, not %d", greys[k].code, ways[way], lit, wanted);
            }
        }
    }
}

/* Two walls in one layer: each shows all of the picture, wherever the other hangs. */
static void each_wall_of_a_layer_shows_all_of_it(void **state)
{
    (void)state;
    static const char *const expected[] = {"rgbw", "kwrb", "rgbw", "kwrb"};
    picture("wall.ppm", 4, 2, "rgbwkwrb");
    begin("lanes:\n" LANE("a", 2, 4, "line: { pitch: 10 mm }, at: { x: 5 mm, y: 20 mm }")
              LANE("b", 3, 4, "line: { pitch: 10 mm }, at: { x: 5 mm, y: 30 mm }")
                  LANE("c", 4, 4, "line: { pitch: 10 mm }, at: { x: 305 mm, y: 120 mm }")
                      LANE("d", 5, 4, "line: { pitch: 10 mm }, at: { x: 305 mm, y: 130 mm }"));
    dia_show_free(&show);
    dia_show_init(&show);
    layer("picture file=wall.ppm scale=stretch on a+b,c+d");
    for (uint32_t lane = 0; lane < 4; lane++)
        assert_string_equal(lane_pixels(lane, 0), expected[lane]);
}

/* A film from a pipe shows what it does from a file; what is damaged leaves nothing behind. */
static void films_come_by_pipes(void **state)
{
    (void)state;
    static const char *const rows = "lanes:\n" LANE("dot", 2, 2, "line: { pitch: 10 mm }");
    begin(rows);
    assert_int_equal(run("for k in 1 2 3 4 5 6; do printf 'P6 2 1 255\\n%%s' $k$k$k${k}00; done "
                         ">s.ppm; rm -f *.csv"),
                     0);
    assert_int_equal(run("$D render t.rig.yaml --layer 'picture file=s.ppm end=stay' --frames 9 "
                         "--out file.csv && cat s.ppm | $D render t.rig.yaml "
                         "--layer 'picture file=-' --frames 9 --out pipe.csv && "
                         "cmp file.csv pipe.csv"),
                     0);
    assert_int_equal(
        run("cat s.ppm | $D render t.rig.yaml --look picture --set file=- "
            "--from 120ms --frames 2 --out late.csv && "
            "grep -q ',dot,0,52,52,52,' late.csv && grep -q ',dot,0,53,53,53,' late.csv && "
            "! grep -q ',51,' late.csv"),
        0); /* the 4th frame and the 5th: the digits 4 and 5, as bytes */
    assert_int_equal(run("head -c 60 s.ppm | $D render t.rig.yaml --layer 'picture file=-' "
                         "--frames 9 --out cut.csv"),
                     2);
    says("standard input: frame 4: ends too early\n");
    assert_int_equal(run("echo no | $D render t.rig.yaml --layer 'picture file=-' --out a.png"), 2);
    says("standard input: brings no pictures; YUV4MPEG2, PNM and raw frames (a line 'RGB 60 8' "
         "first) can be piped in\n");
    assert_int_equal(run("$D render t.rig.yaml --layer 'picture file=-' --layer 'picture file=-' "
                         "--out a.png <s.ppm"),
                     2);
    says("standard input brings one film, or values; give the other film from a file\n");
    assert_int_equal(run("$D render t.rig.yaml --layer picture --out a.png"), 2);
    says("--layer \"picture\": a picture needs a file: picture file=waves.png\n");
    assert_int_equal(run("$D render t.rig.yaml --look picture --out a.png"), 2);
    says("a picture needs a file: picture file=waves.png\n");
    assert_int_equal(run("test ! -e cut.csv && test ! -e a.png"), 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_picture_is_scaled_turned_and_mirrored),
        cmocka_unit_test(light_is_averaged),
        cmocka_unit_test(what_is_clear_shows_what_is_below),
        cmocka_unit_test(a_picture_scrolls_and_comes_again),
        cmocka_unit_test(a_film_has_its_own_time),
        cmocka_unit_test(lanes_on_the_desk_are_one_wall),
        cmocka_unit_test(dots_are_dithered),
        cmocka_unit_test(each_wall_of_a_layer_shows_all_of_it),
        cmocka_unit_test(films_come_by_pipes),
    };
    return cmocka_run_group_tests_name("pictures", tests, NULL, NULL);
}
