/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/lamp.h>
#include <diachrome/layout.h>
#include <diachrome/look.h>
#include <diachrome/text.h>

/*
 * A face of three rows for pictures that can be read here: i is #, o is a ring, L is
 *   #.
 *   #.
 *   ##       and a space is one dark column.
 */
static const DIA_ROM uint8_t space[] = {0}, letter_l[] = {7, 4}, letter_i[] = {7},
                             letter_o[] = {7, 5, 7};
static const DIA_ROM uint16_t one[] = {0, 1}, two[] = {0, 2}, three[] = {0, 3};
static const DIA_ROM struct dia_glyphs glyphs[] = {{' ', 1, one, space},
                                                   {'L', 1, two, letter_l},
                                                   {'i', 1, one, letter_i},
                                                   {'o', 1, three, letter_o}};
static const DIA_ROM struct dia_face face = {
    .rows = 3, .baseline = 3, .spacing = 1, .leading = 1, .count = 4, .glyphs = glyphs};

/* A second is a dot. */
#define DOTS(n) ((n)*1000)

#define SIDE 80
static char seen[SIDE * (SIDE + 1) + 1];

/* The screen as lines of # and . */
static const char *picture(const struct dia_text *text, uint16_t columns, uint16_t rows,
                           uint32_t ms)
{
    const struct dia_screen screen = {columns, rows, 1000};
    uint8_t dots[SIDE];
    char *at = seen;
    for (uint16_t row = 0; row < rows; row++) {
        dia_text_columns(text, &screen, ms, 0, columns, row & 0xfff8u, dots);
        for (uint16_t k = 0; k < columns; k++)
            *at++ = dots[k] >> (row & 7) & 1 ? '#' : '.';
        *at++ = '\n';
    }
    *at = 0;
    return seen;
}

static void letters_stand_beside_each_other(void **state)
{
    (void)state;
    struct dia_text text = {.says = "Lio", .face = &face};
    assert_string_equal(picture(&text, 10, 4, 0), "#..#.###..\n"
                                                  "#..#.#.#..\n"
                                                  "##.#.###..\n"
                                                  "..........\n");
    text.form.spacing = 1;
    assert_string_equal(picture(&text, 10, 3, 0), "#...#..###\n"
                                                  "#...#..#.#\n"
                                                  "##..#..###\n");
    text.form.spacing = 0;
    text.form.size = 2;
    text.says = "L";
    assert_string_equal(picture(&text, 5, 6, 0), "##...\n"
                                                 "##...\n"
                                                 "##...\n"
                                                 "##...\n"
                                                 "####.\n"
                                                 "####.\n");
}

/* Nine rows are two bytes a column: here the first row and the last, then the last alone. */
static void tall_letters_have_two_bytes_a_column(void **state)
{
    (void)state;
    static const DIA_ROM uint8_t columns[] = {1, 1, 0, 1};
    static const DIA_ROM struct dia_glyphs tall_glyphs[] = {{'t', 1, two, columns}};
    static const DIA_ROM struct dia_face tall = {
        .rows = 9, .baseline = 9, .spacing = 1, .leading = 1, .count = 1, .glyphs = tall_glyphs};
    struct dia_text text = {.says = "tt", .face = &tall};
    assert_string_equal(picture(&text, 5, 9, 0), "#..#.\n.....\n.....\n.....\n.....\n.....\n"
                                                 ".....\n.....\n##.##\n");
}

static void lines_are_aligned_wrapped_and_placed(void **state)
{
    (void)state;
    struct dia_text text = {.says = "L i\ni", .face = &face};
    text.form.align = DIA_TEXT_AT_RIGHT;
    text.form.place = DIA_TEXT_AT_BOTTOM;
    assert_string_equal(picture(&text, 7, 8, 0), ".......\n"
                                                 ".#....#\n"
                                                 ".#....#\n"
                                                 ".##...#\n"
                                                 ".......\n"
                                                 "......#\n"
                                                 "......#\n"
                                                 "......#\n");
    /* "L i" is 6 wide: on 5 it goes on below, at the space */
    text.says = "L i";
    text.form.wrap = 1;
    text.form.align = DIA_TEXT_CENTRED;
    text.form.place = DIA_TEXT_AT_TOP;
    assert_string_equal(picture(&text, 5, 7, 0), ".#...\n"
                                                 ".#...\n"
                                                 ".##..\n"
                                                 ".....\n"
                                                 "..#..\n"
                                                 "..#..\n"
                                                 "..#..\n");
    /* a word that is too long is cut where it must be */
    text.says = "iiii";
    text.form.align = DIA_TEXT_AT_LEFT;
    assert_string_equal(picture(&text, 5, 7, 0), "#.#.#\n"
                                                 "#.#.#\n"
                                                 "#.#.#\n"
                                                 ".....\n"
                                                 "#....\n"
                                                 "#....\n"
                                                 "#....\n");
}

static void a_text_comes_in_at_one_end_and_goes_out_at_the_other(void **state)
{
    (void)state;
    struct dia_text text = {.says = "L", .face = &face};
    text.form.motion = DIA_TEXT_LEFT;
    text.form.speed_um_s = DOTS(1);
    /* 4 columns and a letter of 2: a period is 6 dots, 6 s */
    assert_string_equal(picture(&text, 4, 3, 0), "....\n....\n....\n");
    assert_string_equal(picture(&text, 4, 3, 1100), "...#\n...#\n...#\n");
    assert_string_equal(picture(&text, 4, 3, 4100), "#...\n#...\n##..\n");
    assert_string_equal(picture(&text, 4, 3, 5100), "....\n....\n#...\n");
    assert_string_equal(picture(&text, 4, 3, 7100), "...#\n...#\n...#\n");
    text.form.motion = DIA_TEXT_RIGHT;
    assert_string_equal(picture(&text, 4, 3, 1100), "....\n....\n#...\n");
    assert_string_equal(picture(&text, 4, 3, 5100), "...#\n...#\n...#\n");
    /* a gap of 1: another comes after 3 dots */
    text.form.motion = DIA_TEXT_LEFT;
    text.form.gap = 1;
    assert_string_equal(picture(&text, 4, 3, 1100), "#..#\n#..#\n##.#\n");
    text.form.gap = 0;
    text.form.motion = DIA_TEXT_UP;
    assert_string_equal(picture(&text, 2, 3, 1100), "..\n..\n#.\n");
    assert_string_equal(picture(&text, 2, 3, 3100), "#.\n#.\n##\n");
    text.form.motion = DIA_TEXT_DOWN;
    assert_string_equal(picture(&text, 2, 3, 1100), "##\n..\n..\n");
}

static void what_is_too_long_sways_and_what_is_not_rests(void **state)
{
    (void)state;
    struct dia_text text = {.says = "oL", .face = &face}; /* 6 wide: on 4 it has 2 dots to go */
    text.form.motion = DIA_TEXT_SWAYS;
    text.form.speed_um_s = DOTS(1);
    text.form.hold_ms = 1000;
    /* a rest, 2 s there, a rest, 2 s back */
    static const struct {
        uint32_t ms;
        const char *shows;
    } at[] = {{500, "###.\n#.#.\n###.\n"},  {1900, "###.\n#.#.\n###.\n"},
              {2100, "##.#\n.#.#\n##.#\n"}, {3100, "#.#.\n#.#.\n#.##\n"},
              {3900, "#.#.\n#.#.\n#.##\n"}, {5100, "##.#\n.#.#\n##.#\n"},
              {6500, "###.\n#.#.\n###.\n"}};
    for (size_t k = 0; k < sizeof at / sizeof at[0]; k++)
        assert_string_equal(picture(&text, 4, 3, at[k].ms), at[k].shows);
    text.says = "L";
    assert_string_equal(picture(&text, 4, 3, 2100), "#...\n#...\n##..\n");
}

static void pages_letters_and_blinking_take_turns(void **state)
{
    (void)state;
    struct dia_text text = {.says = "L\ni\nL", .face = &face};
    text.form.motion = DIA_TEXT_PAGES;
    text.form.hold_ms = 1000;
    assert_string_equal(picture(&text, 2, 3, 500), "#.\n#.\n##\n");
    assert_string_equal(picture(&text, 2, 3, 1500), "#.\n#.\n#.\n");
    assert_string_equal(picture(&text, 2, 3, 3500), "#.\n#.\n##\n");
    /* two lines a page: L and i, then L alone */
    assert_string_equal(picture(&text, 2, 7, 1500), "#.\n#.\n##\n..\n..\n..\n..\n");
    text.says = "Li";
    text.form.motion = DIA_TEXT_LETTERS;
    text.form.every_ms = 1000;
    assert_string_equal(picture(&text, 4, 1, 500), "#...\n");
    assert_string_equal(picture(&text, 4, 1, 1500), "#..#\n");
    assert_string_equal(picture(&text, 4, 1, 2500), "#..#\n");
    assert_string_equal(picture(&text, 4, 1, 3500), "#...\n");
    text.form.every_ms = 1;
    assert_string_equal(picture(&text, 4, 1, 0), "#...\n");
    assert_string_equal(picture(&text, 4, 1, 1), "#..#\n");
    text.form.every_ms = 0; /* all of them */
    assert_string_equal(picture(&text, 4, 1, 0), "#..#\n");
    text.says = "L";
    text.form.every_ms = 1000;
    assert_string_equal(picture(&text, 4, 1, 0), "#...\n");
    text.says = "Li";
    text.form.motion = DIA_TEXT_RESTS;
    text.form.blink_ms = 1000;
    assert_string_equal(picture(&text, 4, 1, 400), "#..#\n");
    assert_string_equal(picture(&text, 4, 1, 600), "....\n");
}

static void outlines_and_what_is_inverted(void **state)
{
    (void)state;
    struct dia_text text = {.says = " i", .face = &face};
    text.form.outline = 1;
    text.form.place = DIA_TEXT_IN_MIDDLE;
    assert_string_equal(picture(&text, 5, 5, 0), ".###.\n"
                                                 ".#.#.\n"
                                                 ".#.#.\n"
                                                 ".#.#.\n"
                                                 ".###.\n");
    text.form.outline = 0;
    text.form.inverted = 1;
    assert_string_equal(picture(&text, 4, 3, 0), "##.#\n##.#\n##.#\n");
}

/* A sign that the face lacks is a box; so is what is no UTF-8. */
static void what_a_face_lacks_is_a_box(void **state)
{
    (void)state;
    struct dia_text text = {.face = &dia_face_small};
    static const char *const wrong[] = {"\303\244", "\377", "\300\257", "\355\240\200",
                                        "\360\237\230\200"};
    for (size_t k = 0; k < sizeof wrong / sizeof wrong[0]; k++) {
        text.says = wrong[k];
        assert_string_equal(picture(&text, 4, 5, 0), "###.\n#.#.\n#.#.\n#.#.\n###.\n");
    }
    /* a sign that is cut off at its second byte is one box, and the next letter is there */
    const char *at = "\342\202i";
    assert_int_equal(dia_utf8_next(&at), 0xfffd);
    assert_int_equal(dia_utf8_next(&at), 'i');
    at = "\360\237\230\200\200"; /* a byte too many is one more */
    assert_int_equal(dia_utf8_next(&at), 0xfffd);
    assert_int_equal(dia_utf8_next(&at), 0xfffd);
    assert_int_equal(*at, 0);
    for (uint32_t code = 1; code < 0x10000; code += code == 0xd7ff ? 0x801 : 1) {
        char sign[4];
        at = dia_utf8_of((uint16_t)code, sign);
        assert_int_equal(dia_utf8_next(&at), code);
        assert_int_equal(*at, 0);
    }
    at = "\342\202\254";
    assert_int_equal(dia_utf8_next(&at), 0x20ac);
    assert_int_equal(*at, 0);
    assert_true(dia_face_has(&dia_face_small, 'q') && !dia_face_has(&dia_face_small, 0x20ac));
    assert_true(dia_face_has(&dia_face_plain, 0x20ac) && dia_face_has(&dia_face_plain, 0x17e));
}

/* Any columns, any rows, in any order: the same as all at once; and the wrap of time does not show.
 */
static void any_part_of_a_screen_is_the_same(void **state)
{
    (void)state;
    struct dia_text text = {.says = "Öl & Ferry\n14:05 \342\206\222", .face = &dia_face_plain};
    const struct dia_screen screen = {70, 19, 1000};
    uint8_t all[70], part[70];
    text.form.speed_um_s = DOTS(7);
    text.form.hold_ms = 300;
    text.form.every_ms = 50;
    text.form.gap = 3;
    for (int32_t motion = DIA_TEXT_RESTS; motion <= DIA_TEXT_LETTERS; motion++) {
        for (uint32_t k = 0; k < 400; k++) {
            uint32_t ms = k * 1237u - 5000u; /* over the wrap */
            uint16_t top = (uint16_t)(k * 5 % 20), first = (uint16_t)(k * 31 % 70);
            uint16_t n = (uint16_t)(70 - first);
            text.form.motion = motion;
            text.form.size = 1 + (int32_t)(k % 3);
            text.form.outline = k % 2;
            text.form.align = (int32_t)(k % 3);
            text.form.wrap = k % 5 == 0;
            dia_text_columns(&text, &screen, ms, 0, 70, top, all);
            dia_text_columns(&text, &screen, ms, first, n, top, part);
            assert_memory_equal(part, all + first, n);
            if (top >= 8) { /* the same rows, from eight further up */
                dia_text_columns(&text, &screen, ms, 0, 70, (uint16_t)(top - 7), part);
                for (int i = 0; i < 70; i++)
                    assert_int_equal(part[i] >> 7, all[i] & 1);
            }
        }
    }
}

/* Never more than a dot from one millisecond to the next, at the wrap of time too: 2^32 ms are a
 * whole number of periods. */
static void a_text_never_jumps(void **state)
{
    (void)state;
    struct dia_text text = {.says = "i", .face = &face};
    text.form.motion = DIA_TEXT_LEFT;
    text.form.speed_um_s = DOTS(10);
    int32_t before = (int32_t)strcspn(picture(&text, 60, 1, 0u - 20010u), "#\n");
    for (uint32_t ms = 0u - 20000u; ms != 20000u; ms += 10) {
        int32_t now = (int32_t)strcspn(picture(&text, 60, 1, ms), "#\n"); /* 60: it is out */
        assert_true(now == before || now == before - 1 || (before == 0 && now == 60));
        before = now;
    }
}

static void cells_and_digits_show_it_as_letters(void **state)
{
    (void)state;
    struct dia_text text = {.says = "3.14 \303\266"};
    const struct dia_screen screen = {6, 2, 1000};
    uint16_t codes[6];
    uint8_t segments[6];
    dia_text_cells(&text, &screen, 0, 0, codes);
    static const uint16_t cells[] = {'3', '.', '1', '4', ' ', 0xf6};
    assert_memory_equal(codes, cells, sizeof cells);
    dia_text_cells(&text, &screen, 0, 1, codes);
    for (int k = 0; k < 6; k++)
        assert_int_equal(codes[k], ' ');
    dia_text_digits(&text, &screen, 0, 0, codes);
    static const uint16_t digits[] = {'3' | DIA_CELL_POINT, '1', '4', ' ', 0xf6, ' '};
    assert_memory_equal(codes, digits, sizeof digits);
    dia_text_segments(&text, &screen, 0, 0, segments);
    assert_int_equal(segments[0], dia_segments_of('3') | 128);
    assert_int_equal(segments[1], dia_segments_of('1'));
    assert_int_equal(segments[4], 0);
    /* longer than what is worked out at a time: the last digit is there, and nothing behind it */
    const struct dia_screen wide = {DIA_RUN + 7, 1, 1000};
    uint8_t many[DIA_RUN + 8];
    many[DIA_RUN + 7] = 99;
    struct dia_text at_the_end = {.says = "8.", .form.align = DIA_TEXT_AT_RIGHT};
    dia_text_segments(&at_the_end, &wide, 0, 0, many);
    assert_int_equal(many[DIA_RUN + 6], dia_segments_of('8') | 128);
    assert_int_equal(many[DIA_RUN + 7], 99);
    for (uint32_t k = 0; k < DIA_RUN + 6; k++)
        assert_int_equal(many[k], 0);
    /* a leading point has a digit of its own, and so has the second of two */
    text.says = ".5..";
    dia_text_digits(&text, &screen, 0, 0, codes);
    static const uint16_t points[] = {'.', '5' | DIA_CELL_POINT, '.', ' ', ' ', ' '};
    assert_memory_equal(codes, points, sizeof points);
    /* it scrolls by whole cells */
    text.says = "ab";
    text.form.motion = DIA_TEXT_LEFT;
    text.form.speed_um_s = DOTS(1);
    dia_text_cells(&text, &screen, 3100, 0, codes);
    static const uint16_t moved[] = {' ', ' ', ' ', 'a', 'b', ' '};
    assert_memory_equal(codes, moved, sizeof moved);
    text.form.motion = DIA_TEXT_UP;
    text.says = "ab\ncd";
    dia_text_cells(&text, &screen, 1100, 1, codes);
    assert_true(codes[0] == 'a' && codes[1] == 'b');
    dia_text_cells(&text, &screen, 3100, 0, codes);
    assert_true(codes[0] == 'c' && codes[1] == 'd');
}

/* The look shows the same dots on a grid, however it is wired, in its colours; what is below stays.
 */
static void the_look_shows_the_same_on_any_grid(void **state)
{
    (void)state;
    static struct dia_rgb pixels[40 * 9];
    struct dia_lettering look;
    struct dia_grid grid;
    struct dia_surface wall;
    dia_lettering_defaults(&look);
    look.text = (struct dia_text){.says = "Lo i", .face = &face};
    look.text.form.motion = DIA_TEXT_LEFT;
    look.text.form.speed_um_s = 16000;
    look.palette.colours[0] = (struct dia_rgb){10, 20, 30};
    for (uint8_t corner = 0; corner < 4; corner++) {
        for (uint8_t wiring = 0; wiring < 4; wiring++) {
            assert_int_equal(dia_grid_init(&grid, 40, 9), DIA_OK);
            grid.wiring = (struct dia_wiring){corner, wiring & 1, wiring >> 1};
            assert_int_equal(dia_surface_grid(&wall, &grid, 1000), DIA_OK);
            memset(pixels, 99, sizeof pixels);
            dia_lettering_render(&look, &wall, 45500, 0, wall.count, pixels);
            const char *dots = picture(&look.text, 40, 9, 45500);
            assert_non_null(strchr(dots, '#'));
            for (uint16_t row = 0; row < 9; row++) {
                for (uint16_t column = 0; column < 40; column++) {
                    struct dia_rgb p = pixels[dia_grid_element(&grid, column, row)];
                    int lit = dots[row * 41 + column] == '#';
                    assert_int_equal(p.r, lit ? 10 : 99);
                    assert_int_equal(p.b, lit ? 30 : 99);
                }
            }
        }
    }
    /* two colours across: red at the left end, blue at the right; then down */
    look.text.form.motion = DIA_TEXT_RESTS;
    look.text.form.inverted = 1;
    look.text.says = "";
    look.palette = (struct dia_palette){.count = 2, .colours = {{255, 0, 0}, {0, 0, 255}}};
    assert_int_equal(dia_grid_init(&grid, 40, 9), DIA_OK);
    assert_int_equal(dia_surface_grid(&wall, &grid, 1000), DIA_OK);
    for (look.gradient = 0; look.gradient < 2; look.gradient++) {
        dia_lettering_render(&look, &wall, 0, 0, wall.count, pixels);
        struct dia_rgb other = pixels[look.gradient ? 8 * 40 : 39];
        assert_true(pixels[0].r == 255 && pixels[0].b == 0);
        assert_true(other.r == 0 && other.b == 255);
        assert_memory_equal(&pixels[look.gradient ? 39 : 8 * 40], &pixels[0], 3);
    }
}

/* Points that lie as a wall of 130 columns does, in any order: from one to the next it is up to all
 * of them, and 64 are worked on at a time. */
static void the_order_of_points_is_all_the_same(void **state)
{
    (void)state;
    enum { COLUMNS = 130, ROWS = 8, ALL = COLUMNS * ROWS };
    static struct dia_point points[ALL];
    static struct dia_rgb expected[ALL], pixels[ALL];
    static uint16_t element[ALL];
    struct dia_lettering look;
    struct dia_grid grid;
    struct dia_places places;
    struct dia_surface wall, cloud;
    uint32_t seed = 11, lit = 0;
    dia_lettering_defaults(&look);
    look.text = (struct dia_text){.says = "Lo i Lo Li oL iLo", .face = &face};
    look.text.form.size = 2;
    assert_int_equal(dia_grid_init(&grid, COLUMNS, ROWS), DIA_OK);
    assert_int_equal(dia_surface_grid(&wall, &grid, 1000), DIA_OK);
    dia_lettering_render(&look, &wall, 0, 0, ALL, expected);
    for (uint16_t i = 0; i < ALL; i++)
        element[i] = i;
    for (int order = 0; order < 40; order++) {
        for (uint32_t i = ALL - 1; i != 0; i--) {
            uint32_t other = random_below(&seed, i + 1);
            uint16_t spare = element[i];
            element[i] = element[other];
            element[other] = spare;
        }
        for (uint32_t i = 0; i < ALL; i++)
            points[i] = dia_surface_point(&wall, element[i]);
        assert_int_equal(dia_surface_places(&cloud, &places, points, ALL, 1000), DIA_OK);
        memset(pixels, 0, sizeof pixels);
        dia_lettering_render(&look, &cloud, 0, 0, ALL, pixels);
        for (uint32_t i = 0; i < ALL; i++) {
            assert_memory_equal(&pixels[i], &expected[element[i]], sizeof *pixels);
            lit += pixels[i].r != 0;
        }
    }
    assert_true(lit > 40 * 50);
}

/* Round a ring of 60 pixels "i i" lights two of them, an angle of 3 dots apart. */
static void round_a_ring_it_goes_along_the_angle(void **state)
{
    (void)state;
    struct dia_rgb pixels[60];
    const struct dia_ring ring = {.diameter_um = 200000};
    struct dia_surface round;
    struct dia_lettering look;
    assert_int_equal(dia_surface_ring(&round, &ring, 60), DIA_OK);
    round.axis = DIA_ANGLE;
    dia_lettering_defaults(&look);
    look.text = (struct dia_text){.says = "i i", .face = &face};
    memset(pixels, 0, sizeof pixels);
    dia_lettering_render(&look, &round, 0, 0, 60, pixels);
    for (int k = 0; k < 60; k++)
        assert_int_equal(pixels[k].g, k == 0 || k == 4 ? 255 : 0);
}

/* Without a text, without a face, and below the screen it is dark, whatever was in the memory; what
 * is inverted is lit then, on the rows that there are. */
static void what_says_nothing_is_dark(void **state)
{
    (void)state;
    static const struct dia_text none = {.says = NULL, .face = &face},
                                 faceless = {.says = "Lio", .face = NULL},
                                 inverted = {.face = &face, .form = {.inverted = 1}};
    static const struct dia_screen screen = {4, 3, 1000};
    uint16_t codes[4] = {7, 7, 7, 7};
    uint8_t dots[4] = {7, 7, 7, 7};
    assert_string_equal(picture(&none, 4, 2, 0), "....\n....\n");
    assert_string_equal(picture(&faceless, 4, 2, 0), "....\n....\n");
    assert_string_equal(picture(&inverted, 4, 2, 0), "####\n####\n");
    dia_text_columns(&inverted, &screen, 0, 0, 4, 8, dots); /* rows 8 to 15 of 3 */
    dia_text_cells(&none, &screen, 0, 0, codes);
    for (int k = 0; k < 4; k++)
        assert_true(dots[k] == 0 && codes[k] == ' ');
    assert_int_equal(dia_text_extent_of(&none, &screen).columns, 0);
    const struct dia_text i = {.says = "i i", .face = &face};
    assert_int_equal(dia_text_extent_of(&i, &screen).columns, 5); /* dots at 0 and 4, as above */
    assert_int_equal(dia_text_extent_of(&i, &screen).rows, 3);
    dia_text_columns(&inverted, &screen, 0, 0, 4, 0, dots);
    for (int k = 0; k < 4; k++)
        assert_int_equal(dots[k], 7);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(letters_stand_beside_each_other),
        cmocka_unit_test(tall_letters_have_two_bytes_a_column),
        cmocka_unit_test(lines_are_aligned_wrapped_and_placed),
        cmocka_unit_test(a_text_comes_in_at_one_end_and_goes_out_at_the_other),
        cmocka_unit_test(what_is_too_long_sways_and_what_is_not_rests),
        cmocka_unit_test(pages_letters_and_blinking_take_turns),
        cmocka_unit_test(outlines_and_what_is_inverted),
        cmocka_unit_test(what_a_face_lacks_is_a_box),
        cmocka_unit_test(what_says_nothing_is_dark),
        cmocka_unit_test(any_part_of_a_screen_is_the_same),
        cmocka_unit_test(a_text_never_jumps),
        cmocka_unit_test(cells_and_digits_show_it_as_letters),
        cmocka_unit_test(the_look_shows_the_same_on_any_grid),
        cmocka_unit_test(the_order_of_points_is_all_the_same),
        cmocka_unit_test(round_a_ring_it_goes_along_the_angle),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
