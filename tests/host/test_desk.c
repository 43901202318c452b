/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cairo.h>

#include <diachrome/fault.h>
#include <diachrome/reel.h>
#include <diachrome/scene.h>
#include <diachrome/show.h>

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static int load_rig(void **state)
{
    (void)state;
    return dia_rig_load(&rig, "rigs/desk.rig.yaml", &wrong) == DIA_OK ? 0 : -1;
}

/* A reel of frames that are all dark, for tests to light what they like. */
static struct dia_reel dark(uint32_t frames)
{
    struct dia_reel reel;
    assert_int_equal(dia_reel_init(&reel, &rig, "by hand", frames, &wrong), DIA_OK);
    reel.frames = frames;
    return reel;
}

static void light_pixel(struct dia_reel *reel, uint32_t element, uint8_t r, uint8_t g, uint8_t b)
{
    uint8_t *drive = reel->drive[element];
    drive[0] = r;
    drive[1] = g;
    drive[2] = b;
}

static cairo_surface_t *drawn(const struct dia_reel *reel)
{
    if (dia_reel_write_png(reel, "desk.png", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    cairo_surface_t *png = cairo_image_surface_create_from_png("desk.png");
    assert_int_equal(cairo_surface_status(png), CAIRO_STATUS_SUCCESS);
    return png;
}

static uint32_t at(cairo_surface_t *png, double x, double y)
{
    uint32_t pixel;
    const uint8_t *data = cairo_image_surface_get_data(png);
    int stride = cairo_image_surface_get_stride(png);
    memcpy(&pixel, data + (int)y * stride + 4 * (int)x, 4);
    return pixel & 0xffffff;
}

static int code(uint32_t pixel, int channel)
{
    return (int)(pixel >> (16 - 8 * channel) & 255);
}

/*
 * The desk reaches from -200 mm to 1000 mm on 1200 of 1280 pixels: a pixel a millimetre, from 40
 * pixels on. Its top, y 0, is 106 pixels down.
 */
static void things_are_where_they_say(void **state)
{
    (void)state;
    struct dia_reel reel = dark(1);
    assert_int_equal(reel.view, DIA_VIEW_DESK);
    light_pixel(&reel, 3, 255, 0, 0);  /* of across: its middle at 350 mm, 50 mm */
    light_pixel(&reel, 10, 0, 255, 0); /* the first of down: at -175 mm, 125 mm */
    light_pixel(&reel, 19, 0, 0, 255); /* the last of down: at -175 mm, 575 mm */
    reel.drive[20][0] = 255;           /* the first lamp: 30 mm below 600, on the left: -190 mm */
    cairo_surface_t *png = drawn(&reel);
    assert_int_equal(cairo_image_surface_get_width(png), 1280);
    static const struct {
        double x, y;
        int channel;
    } lights[] = {{350, 50, 0}, {-175, 125, 1}, {-175, 575, 2}, {-190, 644, 0}};
    for (size_t k = 0; k < sizeof lights / sizeof lights[0]; k++) {
        uint32_t pixel = at(png, 240 + lights[k].x, 106 + lights[k].y);
        assert_int_equal(code(pixel, lights[k].channel), 255);
        for (int c = 0; c < 3; c++)
            assert_true(c == lights[k].channel || code(pixel, c) < 255);
    }
    /* what is dark is dark: the next pixel of across, and the middle of down */
    assert_in_range(code(at(png, 240 + 650, 106 + 50), 1), 0, 20);
    cairo_surface_destroy(png);
    dia_reel_free(&reel);
}

/* Light falls on the desk around a lamp, less with distance, in its own colour, and adds up. */
static void light_spreads_and_adds_up(void **state)
{
    (void)state;
    struct dia_reel reel = dark(1);
    cairo_surface_t *png = drawn(&reel);
    int ground = code(at(png, 240 + 350, 106 + 180), 0);
    cairo_surface_destroy(png);
    light_pixel(&reel, 3, 255, 0, 0);
    png = drawn(&reel);
    int before = 256, near_by = 0;
    for (int mm = 60; mm <= 140; mm += 20) {
        uint32_t pixel = at(png, 240 + 350, 106 + 50 + mm);
        assert_true(code(pixel, 0) < before && code(pixel, 0) > code(pixel, 2) - 10);
        before = code(pixel, 0);
        near_by = mm == 100 ? before : near_by;
    }
    assert_true(near_by > ground + 10);
    cairo_surface_destroy(png);
    light_pixel(&reel, 2, 255, 0, 0);
    light_pixel(&reel, 4, 255, 0, 0);
    png = drawn(&reel);
    assert_true(code(at(png, 240 + 350, 106 + 150), 0) > near_by + 3);
    cairo_surface_destroy(png);
    dia_reel_free(&reel);
}

/* Five frames are three columns; the third has its light, the others do not. */
static void a_sheet_has_each_frame_in_its_place(void **state)
{
    (void)state;
    struct dia_reel reel = dark(5);
    reel.width = 1320; /* 3 columns of (1320 - 80 - 24) / 3 = 405 */
    light_pixel(&reel, 2 * reel.pixels + 3, 255, 0, 0);
    assert_int_equal(dia_reel_write_sheet(&reel, "sheet.png", &wrong), DIA_OK);
    cairo_surface_t *png = cairo_image_surface_create_from_png("sheet.png");
    assert_int_equal(cairo_image_surface_get_width(png), 1320);
    /* 379.7 pixels of 405 are 1200 mm, from 12.66 on: 350 mm are 174.0 + 12.66, 50 mm 15.8 */
    for (int k = 0; k < 3; k++) {
        uint32_t pixel = at(png, 40 + k * 417 + 186.7, 86 + 12.66 + 15.8);
        assert_true(k == 2 ? code(pixel, 0) > 200 : code(pixel, 0) < 30);
    }
    cairo_surface_destroy(png);
    reel.width = 320;
    assert_int_equal(dia_reel_write_sheet(&reel, "sheet.png", &wrong), DIA_OK);
    dia_reel_free(&reel);
    reel = dark(100);
    reel.width = 320;
    assert_int_equal(dia_reel_write_sheet(&reel, "none.png", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text,
                        "100 frames do not fit on a sheet 320 wide; show fewer, or make it wider");
    assert_null(fopen("none.png", "r"));
    dia_reel_free(&reel);
}

/* A display shows its text, nothing, or dark dots everywhere, as its contrast pin has it; and one
 * that nobody could set up shows dark dots in every other row. */
static const uint8_t solid[8] = {31, 31, 31, 31, 31, 31, 31, 31}, nothing[8],
                     letter_p[8] = {30, 17, 17, 30, 16, 16, 16, 0};

/* What the scene has of the last device, a display. */
static void see_keeper(const struct dia_rig *quay, const struct dia_player *player, uint8_t *to)
{
    struct dia_scene *scene = dia_scene_new(quay);
    uint8_t *bytes = calloc(scene->bytes, 1);
    dia_scene_see(scene, player, bytes);
    for (uint32_t t = 0; t < scene->thing_count; t++) {
        const struct dia_scene_thing *thing = &scene->things[t];
        if (thing->is_device && thing->number == quay->device_count - 1)
            memcpy(to, bytes + thing->at, 40 * DIA_SCENE_CELL_BYTES);
    }
    free(bytes);
    dia_scene_free(scene);
}

static void a_display_is_drawn_as_it_is_set(void **state)
{
    static uint8_t bytes[40 * DIA_SCENE_CELL_BYTES];
    (void)state;
    static const struct {
        const char *fault;
        int flags[2]; /* of a cell of the first row and of the second */
    } faults[] = {{NULL, {DIA_CELL_ON, DIA_CELL_ON}},
                  {"keeper: contrast 1.6 V", {0, 0}},
                  {"keeper: contrast 0.1 V", {DIA_CELL_SOLID, DIA_CELL_SOLID}}};
    static struct dia_desk desk;
    static struct dia_rig quay;
    assert_int_equal(dia_rig_load(&quay, "demo/quay.rig.yaml", &wrong), DIA_OK);
    for (size_t k = 0; k < sizeof faults / sizeof faults[0]; k++) {
        struct dia_reel reel;
        struct dia_steady steady = {{0, 0, 0}};
        dia_desk_init(&desk, &quay);
        if (faults[k].fault)
            assert_int_equal(dia_desk_fault(&desk, faults[k].fault, &wrong), DIA_OK);
        struct dia_player *player = dia_player_on(&quay, &desk, &wrong);
        assert_non_null(player);
        dia_player_show(player, &dia_look_steady, &steady, 0, 0, NULL);
        assert_int_equal(dia_reel_init(&reel, &quay, "steady", 1, &wrong), DIA_OK);
        dia_reel_add(&reel, player, 0);
        uint32_t keeper = quay.device_count - 1;
        const uint8_t(*cells)[4] = dia_reel_device(&reel, 0, keeper);
        assert_int_equal(cells[0][0], 'P');
        assert_int_equal(cells[0][1], faults[k].flags[0]);
        assert_int_equal(cells[20][1], faults[k].flags[1]);
        dia_reel_free(&reel);
        see_keeper(&quay, player, bytes);
        assert_int_equal(bytes[0], faults[k].flags[0] != 0); /* 1: lit, or dark all over */
        assert_memory_equal(bytes + 1,
                            faults[k].flags[0] == DIA_CELL_SOLID ? solid
                            : faults[k].flags[0]                 ? letter_p
                                                                 : nothing,
                            8);
        dia_player_free(player);
    }
    /* before anybody has set it up */
    struct dia_reel reel;
    struct dia_player *player = dia_player_new(&quay, &wrong);
    assert_int_equal(dia_reel_init(&reel, &quay, "nothing", 1, &wrong), DIA_OK);
    dia_player_rest_until(player, dia_player_now_ns(player) + 1000000);
    dia_reel_add(&reel, player, 0);
    assert_int_equal(dia_reel_device(&reel, 0, quay.device_count - 1)[0][1], DIA_CELL_SOLID);
    assert_int_equal(dia_reel_device(&reel, 0, quay.device_count - 1)[20][1] & DIA_CELL_SOLID, 0);
    dia_reel_free(&reel);
    see_keeper(&quay, player, bytes);
    assert_memory_equal(bytes + 1, solid, 8);
    assert_memory_equal(bytes + 1 + 20 * DIA_SCENE_CELL_BYTES, nothing, 8);
    dia_player_free(player);
}

/* A thing of 8 by 16 dots with its corner at 10 mm, 20 mm, turned by quarters: dot 9, column 1 of
 * row 1, is 1.5 pitches from the corner which was its upper left one. */
static void a_turned_thing_lies_turned(void **state)
{
    (void)state;
    static const char tower[] =
        "controller: ATmega328P\nsupplies: { usb: { current: 2 A } }\n"
        "devices:\n"
        "  tower: { chip: MAX7219, chips: 2, rows: 2,\n"
        "           pitch: 4 mm, pins: { din: 1, clk: 2, cs: 3 },\n"
        "           at: { x: 10 mm, y: 20 mm, turn: %d } }\n"
        "  post: { chip: MAX7219, shows: digits, pins: { din: 4, clk: 5, cs: 6 },\n"
        "          at: { x: 200 mm, y: 20 mm, turn: %d } }\n";
    static const struct {
        double x, y, width, height; /* mm from the corner; of the box */
    } turned[] = {{6, 6, 32, 64}, {58, 6, 64, 32}, {26, 58, 32, 64}, {6, 26, 64, 32}};
    static struct dia_rig of;
    double box_w = 0, box_h = 0;
    for (int turn = 0; turn < 4; turn++) {
        FILE *file = fopen("tower.rig.yaml", "w");
        fprintf(file, tower, turn * 90, turn * 90);
        fclose(file);
        if (dia_rig_load(&of, "tower.rig.yaml", &wrong) != DIA_OK)
            fail_msg("%s", wrong.text);
        struct dia_scene *scene = dia_scene_new(&of);
        const struct dia_scene_thing *thing = &scene->things[0];
        const struct dia_scene_element *dot = &scene->elements[thing->first + 9];
        double left = thing->x + (thing->width - turned[turn].width) / 2,
               top =
                   thing->y + (thing->height - turned[turn].height) / 2; /* the board stands out */
        assert_true(fabs(dot->x - left - turned[turn].x) < 0.01);
        assert_true(fabs(dot->y - top - turned[turn].y) < 0.01);
        assert_int_equal(dot->turn, turn);
        /* segments turn with their digits, inside of the box */
        thing = &scene->things[1];
        if (turn == 0)
            box_w = thing->width, box_h = thing->height;
        assert_true(fabs(thing->width - (turn % 2 ? box_h : box_w)) < 0.01);
        for (uint32_t k = 0; k < thing->count; k++) {
            const struct dia_scene_element *bar = &scene->elements[thing->first + k];
            assert_true(bar->x > thing->x && bar->x < thing->x + thing->width);
            assert_true(bar->y > thing->y && bar->y < thing->y + thing->height);
        }
        dia_scene_free(scene);
    }
}

/* A picture on the desk shows on things where they lie, turned or not: what is at the
 * right is at the beginning of a lane that is turned by half; one that is turned by a quarter is
 * all alike; matrices likewise, dot for dot. */
static void a_picture_on_the_desk_shows_on_things_as_they_lie(void **state)
{
    (void)state;
    static const char text[] =
        "controller: RP2350\nsupplies: { usb: { current: 5 A } }\nlanes:\n"
        "  l0: { %s, pin: 1, at: { x: 0 mm, y: 0 mm } }\n"
        "  l1: { %s, pin: 2, at: { x: 0 mm, y: 0 mm, turn: 90 } }\n"
        "  l2: { %s, pin: 3, at: { x: 0 mm, y: 0 mm, turn: 180 } }\n"
        "  l3: { %s, pin: 4, at: { x: 0 mm, y: 0 mm, turn: 270 } }\ndevices:\n"
        "  d0: { %s, pins: { din: 5, clk: 6, cs: 7 }, at: { x: 0 mm, y: 0 mm } }\n"
        "  d1: { %s, pins: { din: 8, clk: 9, cs: 10 },\n"
        "        at: { x: 0 mm, y: 0 mm, turn: 90 } }\n"
        "  d2: { %s, pins: { din: 11, clk: 12, cs: 13 },\n"
        "        at: { x: 0 mm, y: 0 mm, turn: 180 } }\n"
        "  d3: { %s, pins: { din: 14, clk: 15, cs: 16 },\n"
        "        at: { x: 0 mm, y: 0 mm, turn: 270 } }\n";
    static const char lane[] = "chip: WS2812B, count: 8, line: { pitch: 10 mm }",
                      board[] = "chip: MAX7219, pitch: 10 mm";
    static struct dia_rig of;
    static struct dia_show show;
    FILE *file = fopen("turned.rig.yaml", "w");
    fprintf(file, text, lane, lane, lane, lane, board, board, board, board);
    fclose(file);
    if (dia_rig_load(&of, "turned.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    for (int axis = 0; axis < 2; axis++) {
        struct dia_player *player = dia_player_new(&of, &wrong);
        file = fopen("slope.pgm", "wb"); /* three dark, five light, along the axis */
        fputs("P5 8 8 255\n", file);
        for (int dot = 0; dot < 64; dot++)
            fputc((axis ? dot / 8 : dot % 8) < 3 ? 0 : 255, file);
        fclose(file);
        dia_show_init(&show);
        if (dia_show_line(&show, &of, "layer picture file=slope.pgm on desk", &wrong) != DIA_OK)
            fail_msg("%s", wrong.text);
        assert_int_equal(dia_show_play(&show, player, 0, 0, NULL), DIA_OK);
        int lit = 0;
        for (uint32_t k = 0; k < 8; k++) {
            for (uint32_t turn = 0; turn < 4; turn++) {
                /* where pixel k of a lane lies along the axis: at k or 7 - k, or all at the first
                 */
                int is_across = (int)(turn % 2) != axis;
                uint32_t place = is_across ? 0 : turn == 0 || turn == 1 ? k : 7 - k;
                struct dia_rgb seen = dia_player_seen(player, turn, k),
                               like = dia_player_seen(player, (uint32_t)axis, place);
                assert_memory_equal(&seen, &like, sizeof seen);
                lit += seen.r || seen.g || seen.b;
                for (uint32_t row = 0; row < 8; row++) { /* dot in row and column k */
                    uint32_t x[] = {k, 7 - row, 7 - k, row}, y[] = {row, k, 7 - row, 7 - k};
                    uint32_t there = axis ? y[turn] * 8 : x[turn];
                    if (dia_player_lamp(player, turn, row * 8 + k) !=
                        dia_player_lamp(player, 0, there))
                        fail_msg("axis %d, turn %u: row %u, column %u", axis, turn, row, k);
                }
            }
        }
        assert_true(lit > 4 && lit < 28); /* some are, and not all */
        dia_show_free(&show);
        dia_player_free(player);
    }
}

/* A camera whose shutter is open for long takes what an eye sees, of every kind of light: as many
 * periods of its PWM, or of its turns, are in it. */
static void a_slow_camera_takes_what_an_eye_sees(void **state)
{
    (void)state;
    static const char *const things[] = {
        "lanes: { a: { pin: 1, chip: WS2812B, count: 9, at: { x: 0 mm, y: 0 mm } } }",
        "lanes: { a: { pin: 1, chip: SK6812-RGBW, count: 9, at: { x: 0 mm, y: 0 mm } } }",
        "lanes: { a: { pin: 1, clock_pin: 2, chip: APA102, count: 9, at: { x: 0 mm, y: 0 mm } } }",
        "lanes: { a: { pin: 1, clock_pin: 2, chip: LPD8806, count: 9, at: { x: 0 mm, y: 0 mm } } }",
        "lanes: { a: { pin: 1, clock_pin: 2, chip: WS2801, count: 9, at: { x: 0 mm, y: 0 mm } } }",
        "devices: { a: { chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 }, at: { x: 0 mm, y: 0 mm } "
        "} }",
        "devices: { a: { chip: 74HC595, pins: { ser: 1, srclk: 2, rclk: 3 }, depth: 4,\n"
        "                at: { x: 0 mm, y: 0 mm } } }",
        "devices: { a: { chip: lamps, pins: { lamp1: 1, lamp2: 2 }, at: { x: 0 mm, y: 0 mm } } }"};
    static struct dia_rig of;
    for (size_t k = 0; k < sizeof things / sizeof things[0]; k++) {
        const struct dia_steady colour = {{200, 90, 255}};
        struct dia_reel reel;
        FILE *file = fopen("one.rig.yaml", "w");
        fprintf(file, "controller: ESP32\nsupplies: { usb: { current: 2 A } }\n%s\n", things[k]);
        fclose(file);
        if (dia_rig_load(&of, "one.rig.yaml", &wrong) != DIA_OK)
            fail_msg("%s", wrong.text);
        struct dia_player *player = dia_player_new(&of, &wrong);
        assert_int_equal(dia_player_show(player, &dia_look_steady, &colour, 0, 0, NULL), DIA_OK);
        assert_int_equal(dia_reel_init(&reel, &of, "steady", 1, &wrong), DIA_OK);
        dia_reel_add(&reel, player, 0);
        cairo_surface_t *eye = drawn(&reel);
        reel.shutter_us = 2000000;
        cairo_surface_t *camera = drawn(&reel);
        int width = cairo_image_surface_get_width(eye), apart = 0, brightest = 0;
        assert_int_equal(cairo_image_surface_get_width(camera), width);
        for (int y = 72; y < cairo_image_surface_get_height(eye); y++) { /* below the headlines */
            for (int x = 0; x < width; x++) {
                for (int c = 0; c < 3; c++) {
                    int a = code(at(eye, x, y), c), b = code(at(camera, x, y), c);
                    apart = abs(a - b) > apart ? abs(a - b) : apart;
                    brightest = a > brightest ? a : brightest;
                }
            }
        }
        if (apart > 3 || brightest < 90)
            fail_msg("%s: %d apart, %d at most", things[k], apart, brightest);
        cairo_surface_destroy(eye);
        cairo_surface_destroy(camera);
        dia_reel_free(&reel);
        dia_player_free(player);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(things_are_where_they_say),
        cmocka_unit_test(light_spreads_and_adds_up),
        cmocka_unit_test(a_display_is_drawn_as_it_is_set),
        cmocka_unit_test(a_sheet_has_each_frame_in_its_place),
        cmocka_unit_test(a_turned_thing_lies_turned),
        cmocka_unit_test(a_slow_camera_takes_what_an_eye_sees),
        cmocka_unit_test(a_picture_on_the_desk_shows_on_things_as_they_lie),
    };
    return cmocka_run_group_tests(tests, load_rig, NULL);
}
