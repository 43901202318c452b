/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/drawings.h>
#include <diachrome/text.h>

static struct dia_drawings drawings;
static struct dia_diagnostic wrong;

static enum dia_status parse(const char *text)
{
    wrong.text[0] = 0;
    return dia_drawings_read(&drawings, "t", text, strlen(text), &wrong);
}

static void a_drawing_is_what_is_drawn(void **state)
{
    (void)state;
    assert_int_equal(parse("# the keeper's signs\n"
                           "key r red\nkey ö #00ff80\n\n"
                           "drawing flag 150ms\n#rr\r\n#ö.\t\n#..\n\n\nframe\n#..\n#rr\n#ö.\n\n"
                           "drawing dot\n#"),
                     DIA_OK);
    assert_int_equal(drawings.count, 2);
    assert_string_equal(drawings.items[0].name, "flag");
    const struct dia_dots *flag = &drawings.items[0];
    static const uint8_t cells[] = {1, 2, 2, 1, 3, 0, 1, 0, 0, 1, 0, 0, 1, 2, 2, 1, 3, 0};
    assert_true(flag->columns == 3 && flag->rows == 3 && flag->frames == 2 && flag->each_ms == 150);
    assert_memory_equal(flag->cells, cells, sizeof cells);
    assert_true(drawings.colour_count == 3 && drawings.colours[2].g == 255 &&
                drawings.colours[2].b == 128);
    assert_int_equal(drawings.items[1].line, 16);
    dia_drawings_free(&drawings);
    assert_int_equal(drawings.count, 0);
}

/* Single files with what is said of them: tests/rigs/drawing-mistakes.txt. */
static void each_mistake_of_the_list_is_told(void **state)
{
    (void)state;
    char *list = read_file("rigs/drawing-mistakes.txt", NULL), text[2048], said[2048];
    int told = 0;
    for (const char *rest = strchr(list, '\n') + 1; next_case(&rest, 2, text, said); told++) {
        said[said[0] ? strlen(said) - 1 : 0] = 0;
        enum dia_status status = parse(text);
        if (status != (said[0] ? DIA_BAD_VALUE : DIA_OK) ||
            (said[0] && strcmp(wrong.text, said) != 0))
            fail_msg("%s\nexpected %s\nfound    %s", text, said, wrong.text);
        dia_drawings_free(&drawings);
    }
    assert_true(told > 35);
    free(list);
}

/* What is too large is refused: 256 dots wide, high or frames; 8,193 drawings. */
static void there_are_limits(void **state)
{
    (void)state;
    static char text[400000];
    char *at = text + sprintf(text, "drawing a\n");
    memset(at, '#', 256);
    strcpy(at + 256, "\n");
    assert_int_equal(parse(text), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "t:2:256: a drawing is at most 255 dots wide");
    at[255] = '\n';
    at[256] = 0;
    assert_int_equal(parse(text), DIA_OK);
    dia_drawings_free(&drawings);
    for (int k = 0; k < 256; k++)
        at += sprintf(at, "#\n");
    assert_int_equal(parse(text), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "t:257:1: a drawing is at most 255 dots high");
    at = text + sprintf(text, "drawing a\n#\n");
    for (int k = 0; k < 255; k++)
        at += sprintf(at, "\nframe\n#\n");
    assert_int_equal(parse(text), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "t:767:1: a drawing has at most 255 frames");
    at = text;
    for (int k = 0; k <= DIA_DRAWING_MOST; k++)
        at += sprintf(at, "drawing n%d\n#\n\n", k);
    assert_int_equal(parse(text), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "t: a file has at most 8192 drawings");
}

static void written_and_read_again_it_is_the_same(void **state)
{
    (void)state;
    static const char *const files[] = {"again.drawings", "again.bdf"};
    char *before = read_file("fonts/plain.drawings", NULL);
    for (int k = 0; k < 2; k++) {
        assert_int_equal(dia_drawings_load(&drawings, "fonts/plain.drawings", &wrong), DIA_OK);
        assert_int_equal(dia_drawings_write(&drawings, files[k], &wrong), DIA_OK);
        struct dia_drawings again;
        assert_int_equal(dia_drawings_load(&again, files[k], &wrong), DIA_OK);
        assert_int_equal(again.count, drawings.count);
        assert_int_equal(again.baseline, 7);
        for (uint32_t i = 0; i < again.count; i++) {
            const struct dia_dots *a = &drawings.items[i], *b = &again.items[i];
            assert_true(a->code == b->code && a->rows == b->rows);
            assert_int_equal(b->columns + again.spacing, a->columns + drawings.spacing);
            for (int row = 0; row < 8; row++)
                assert_memory_equal(b->cells + row * b->columns, a->cells + row * a->columns,
                                    a->columns);
        }
        dia_drawings_free(&again);
        dia_drawings_free(&drawings);
    }
    char *after = read_file("again.drawings", NULL);
    assert_string_equal(after, strchr(before, '\n') + 2); /* without the comment at its head */
    free(before);
    free(after);
}

/* By hand from the format's own pages: a box that hangs below the line, one that begins left of it,
 * one without a code point. */
static void a_bdf_is_read_as_its_standard_says(void **state)
{
    (void)state;
    static const char bdf[] =
        "STARTFONT 2.1\nCOMMENT ours\nFONT -made-up-medium-r\nSIZE 6 75 75\n"
        "FONTBOUNDINGBOX 4 5 0 -1\nSTARTPROPERTIES 2\nFONT_ASCENT 3\nFONT_DESCENT 1\n"
        "ENDPROPERTIES\nCHARS 3\n"
        "STARTCHAR j\nENCODING 106\nSWIDTH 500 0\nDWIDTH 4 0\nBBX 2 3 1 -1\nBITMAP\n40\n40\n80\n"
        "ENDCHAR\n"
        "STARTCHAR wide\nENCODING 65\nDWIDTH 10 0\nBBX 9 1 0 0\nBITMAP\nFF80\nENDCHAR\n"
        "STARTCHAR none\nENCODING -1\nDWIDTH 3 0\nBBX 1 1 0 0\nBITMAP\n80\nENDCHAR\nENDFONT\n";
    write_file("made_up.bdf", bdf, sizeof bdf - 1);
    assert_int_equal(dia_drawings_load(&drawings, "made_up.bdf", &wrong), DIA_OK);
    assert_string_equal(drawings.face, "made_up_medium_r");
    assert_true(drawings.count == 2 && drawings.rows == 4 && drawings.baseline == 3);
    static const uint8_t wide[4][10] = {{0}, {0}, {1, 1, 1, 1, 1, 1, 1, 1, 1, 0}, {0}};
    static const uint8_t j[4][4] = {{0}, {0, 0, 1, 0}, {0, 0, 1, 0}, {0, 1, 0, 0}};
    assert_true(drawings.items[0].code == 'A' && drawings.items[0].columns == 10);
    assert_memory_equal(drawings.items[0].cells, wide, sizeof wide);
    assert_true(drawings.items[1].code == 'j' && drawings.items[1].columns == 4);
    assert_memory_equal(drawings.items[1].cells, j, sizeof j);
    dia_drawings_free(&drawings);
    static const struct {
        const char *text, *says;
    } damaged[] = {
        {"hello\n", "d.bdf:1:1: a .bdf begins with 'STARTFONT 2.1' or 2.2; found 'hello'"},
        {"STARTFONT 2.1\nBBX 1 2\n",
         "d.bdf:2:1: BBX needs width, height, left and bottom, 255 at most; found 'BBX 1 2'"},
        {"STARTFONT 2.1\nENCODING x\n",
         "d.bdf:2:1: ENCODING needs the number of a code point; found 'ENCODING x'"},
        {"STARTFONT 2.1\nENCODING 65\nBBX 9 1 0 0\nBITMAP\nFF\n",
         "d.bdf:5:1: a row of the bitmap has two hexadecimal digits for each 8 dots; found 'FF'"},
        {"STARTFONT 2.1\nENCODING 65\nBBX 1 2 0 0\nBITMAP\n80\nENDCHAR\n",
         "d.bdf:6:1: the bitmap has fewer rows than its box is high; found 'ENDCHAR'"},
        {"STARTFONT 2.1\nFONT_ASCENT 40\n", "d.bdf: a face is 1 to 32 dots high; this one is 40"},
        {"STARTFONT 2.1\nFONT_ASCENT 4\n", "d.bdf: there is no glyph with a code point in it"},
    };
    for (size_t k = 0; k < sizeof damaged / sizeof damaged[0]; k++) {
        write_file("d.bdf", damaged[k].text, strlen(damaged[k].text));
        assert_int_equal(dia_drawings_load(&drawings, "d.bdf", &wrong), DIA_BAD_VALUE);
        assert_string_equal(wrong.text, damaged[k].says);
    }
}

/* A drawing with frames goes out as PPM and comes back; what is clear, or black, is dark. */
static void pictures_come_in_and_go_out(void **state)
{
    (void)state;
    static const char text[] = "key r red\n\ndrawing gull 100ms\nr.r\n.#.\n\nframe\n...\nr#r\n";
    write_file("gulls.drawings", text, sizeof text - 1);
    assert_int_equal(run("$D glyphs gulls.drawings gull --out gull.ppm && $D glyphs gull.ppm gull "
                         "--json >a.json && $D glyphs gulls.drawings gull --json >b.json && "
                         "sed 's/a[.]a/r.r/; s/a#a/r#r/' a.json | cmp - b.json"),
                     0);
    says("gull.ppm: 1 drawing\n");
    assert_int_equal(run("$D glyphs gulls.drawings --out gull.pbm && od -An -tx1 gull.pbm"), 0);
    /* P4 3 2: #.# and .#., then ... and ###, each row from the upper bit of a byte on */
    says(" 50 34 0a 33 20 32 0a a0 40 50 34 0a 33 20 32 0a\n 00 e0\n");
    assert_int_equal(dia_drawings_load(&drawings, "gull.pbm", &wrong), DIA_OK);
    assert_int_equal(drawings.count, 1);
    assert_int_equal(drawings.items[0].frames, 2);
    assert_int_equal(drawings.items[0].each_ms, 100); /* ten a second, where nothing is said */
    assert_memory_equal(drawings.items[0].cells, "\1\0\1\0\1\0\0\0\0\1\1\1", 12);
    dia_drawings_free(&drawings);
    assert_int_equal(run("$D glyphs fonts/small.drawings A --out A.pgm && head -c 11 A.pgm"), 0);
    says("P5\n3 5\n255\n");
    assert_int_equal(run("$D glyphs fonts/small.drawings --out A.pgm"), 2);
    says("A.pgm: a picture is of one drawing, and these are 70; say which\n");
    /* a drawing is named as its picture is, by the signs that a name may have */
    static const char *const names[][2] = {
        {"a-b.ppm", "a-b"}, {"q 1 !.ppm", "q-1"}, {"_x.ppm", "_x"},          {"--.ppm", "picture"},
        {"!y!.ppm", "y"},   {"f-[1-2].ppm", "f"}, {"one.two.ppm", "one-two"}};
    run("mkdir -p pictures && cp gull.ppm pictures/f-1.ppm && cp gull.ppm pictures/f-2.ppm");
    for (size_t k = 0; k < sizeof names / sizeof names[0]; k++) {
        if (!strchr(names[k][0], '['))
            assert_int_equal(run("cp gull.ppm 'pictures/%s'", names[k][0]), 0);
        assert_int_equal(
            run("$D glyphs 'pictures/%s' --json | grep -c '\"%s\"'", names[k][0], names[k][1]), 0);
    }
    assert_int_equal(run("printf 'P5 256 1 255\\n%%0256d' 0 >wide.pgm; $D glyphs wide.pgm"), 2);
    says("wide.pgm: a drawing has at most 255 by 255 dots and 255 frames; this has 256 by 1 and "
         "1\n");
    assert_int_equal(run("printf 'P6 16 16 255\\n' >many.ppm; for k in $(seq 0 255); do printf "
                         "'aa\\'$(printf %%03o $k); done >>many.ppm; $D glyphs many.ppm"),
                     2);
    says("many.ppm: a drawing has at most 255 colours; this has more\n");
}

/* The face in memory shows what the compiled one does; one of 16 rows has two bytes a column. */
static void a_face_shows_what_is_drawn(void **state)
{
    (void)state;
    assert_int_equal(dia_drawings_load(&drawings, "fonts/plain.drawings", &wrong), DIA_OK);
    struct dia_face *face = dia_drawings_face(&drawings);
    assert_non_null(face);
    const struct dia_screen screen = {60, 8, 1000};
    struct dia_text text = {.says = "Ferry \342\233\264 12\302\260C", .face = face};
    uint8_t ours[60], compiled[60];
    dia_text_columns(&text, &screen, 0, 0, 60, 0, ours);
    text.face = &dia_face_plain;
    dia_text_columns(&text, &screen, 0, 0, 60, 0, compiled);
    assert_memory_equal(ours, compiled, 60);
    dia_drawings_face_free(face);
    dia_drawings_free(&drawings);
    char tall[400] = "face tall\nrows 16\nspacing 1\nglyph |\n";
    for (int k = 0; k < 16; k++)
        strcat(tall, k % 4 ? "#.\n" : ".#\n");
    assert_int_equal(parse(tall), DIA_OK);
    face = dia_drawings_face(&drawings);
    text = (struct dia_text){.says = "|", .face = face};
    for (uint16_t top = 0; top < 16; top = (uint16_t)(top + 8)) {
        dia_text_columns(&text, &(struct dia_screen){2, 16, 1000}, 0, 0, 2, top, ours);
        assert_true(ours[0] == 0xee && ours[1] == 0x11);
    }
    dia_drawings_face_free(face);
    dia_drawings_free(&drawings);
}

/* Many runs, and one of more bytes than a run has: 200 glyphs of 150 columns, 24 dots high. Glyph n
 * of it is n % 24 rows down, in its last column. */
static void a_face_may_be_large(void **state)
{
    (void)state;
    static char large[2000000], dark[150];
    memset(dark, '.', sizeof dark);
    char *at = large + sprintf(large, "face many\nrows 24\nbaseline 24\nspacing 0\n");
    for (int k = 0; k < 500; k++) {
        int n = k - 300, dots = k < 300 ? k % 5 : 149;
        at += sprintf(at, "\nglyph U+%04X\n", k < 300 ? 0x100 + 2 * k : 0x4e00 + n);
        for (int row = 0; row < 24; row++)
            at += sprintf(at, "%.*s%c\n", dots, dark, row == n % 24 ? '#' : '.');
    }
    if (parse(large) != DIA_OK)
        fail_msg("%s", wrong.text);
    struct dia_face *face = dia_drawings_face(&drawings);
    assert_non_null(face);
    for (uint16_t k = 0; k < 300; k++)
        assert_int_equal(dia_face_width(face, (uint16_t)(0x100 + 2 * k)), 1 + k % 5);
    for (uint16_t k = 0; k < 200; k++) {
        char says[4];
        uint8_t column[1];
        struct dia_text text = {.says = dia_utf8_of((uint16_t)(0x4e00 + k), says), .face = face};
        for (uint16_t top = 0; top < 24; top = (uint16_t)(top + 8)) {
            dia_text_columns(&text, &(struct dia_screen){150, 24, 1000}, 0, 149, 1, top, column);
            assert_int_equal(column[0], k % 24 / 8 == top / 8 ? 1 << k % 8 : 0);
        }
    }
    dia_drawings_face_free(face);
    dia_drawings_free(&drawings);
}

/* What comes out as C compiles without a warning, as C and as a header, and holds what was drawn.
 */
static void tables_in_c_compile_and_hold_the_drawings(void **state)
{
    (void)state;
    static const char signs[] = "key r red\nface tide_face\nrows 2\nspacing 1\nglyph /\n.#\n#.\n\n"
                                "glyph U+0020\n.\n.\n\ndrawing tick\n...#\n#.#.\n.r..\n";
    static const char program[] =
        "#include <stdio.h>\n#include \"signs.h\"\n"
        "int main(void)\n{\n"
        "    printf(\"%u %u %u %02x %02x %u\\n\", tick.columns, tick.rows, tick.cells[9],\n"
        "           tick_cell[0], tick_cell[2], tide_face.glyphs[tide_face.count - "
        "1].columns[1]);\n"
        "    return tide_face.rows != 2;\n}\n";
    write_file("signs.drawings", signs, sizeof signs - 1);
    write_file("program.c", program, sizeof program - 1);
    assert_int_equal(run("$D glyphs signs.drawings --out signs.h && $D glyphs signs.drawings --out "
                         "signs.c"),
                     0);
    assert_int_equal(run("cc -std=c11 -Wall -Wextra -Wpedantic -Werror -Iinclude program.c "
                         "-o program && ./program && cc -std=c11 -Wall "
                         "-Wextra -Wpedantic -Werror -Iinclude -c signs.c -o signs.o"),
                     0);
    /* 4 x 3 dots; the ninth is red, colour 2; rows of five: ...#. is 02, .#... is 08; the
     * second column of / has its upper dot */
    assert_string_equal(output, "4 3 2 02 08 1\n");
}

static void the_command_shows_and_tells(void **state)
{
    (void)state;
    assert_int_equal(run("LC_ALL=C $D glyphs fonts/small.drawings A /"), 0);
    assert_string_equal(output, "A: 3 x 5 dots, U+0041\n\n"
                                "  . ##. \n  ##. ##\n  ######\n  ##. ##\n  ##. ##\n\n"
                                "/: 3 x 5 dots, U+002F\n\n"
                                "  . . ##\n  . . ##\n  . ##. \n  ##. . \n  ##. . \n\n");
    assert_int_equal(run("LC_ALL=C.UTF-8 $D glyphs fonts/small.drawings"), 0);
    says("face dia_face_small: 5 dots high, 70 glyphs, 381 bytes of flash\n");
    says("\n0    1    2 ");
    for (const char *line = output, *end; (end = strchr(line, '\n')) != NULL; line = end + 1) {
        int wide = 0;
        for (const char *at = line; at < end; at++)
            wide += ((unsigned char)*at & 0xc0) != 0x80;
        assert_true(wide <= 80);
    }
    assert_int_equal(run("$D glyphs fonts/small.drawings --json B"), 0);
    says("\"glyph\":\t\"B\"");
    says("[\"##.\", \"#.#\", \"##.\", \"#.#\", \"##.\"]");
    assert_int_equal(run("$D glyphs fonts/small.drawings --signs 10 --out ten.drawings"), 0);
    assert_int_equal(run("grep -c glyph ten.drawings"), 0);
    assert_string_equal(output, "2\n");
    assert_int_equal(run("$D glyphs fonts/plain.drawings --out plain.png && file plain.png"), 0);
    says("PNG image data, 1280 x ");
    static const struct {
        const char *line, *says;
    } bad[] = {
        {"", "no file of drawings; write 'diachrome glyphs FILE', such as fonts/small.drawings"},
        {"no.drawings", "no.drawings: cannot be read: No such file or directory"},
        {"fonts/small.drawings \303\244", "there is no glyph '\303\244'; write a sign"},
        {"ten.drawings --signs 12 --out x.c", "the face dia_face_small has no glyph for 2"},
        {"ten.drawings --out x.txt",
         "drawings are written as .drawings, .c, .h, .bdf or .png, and a single one"},
        {"signs.drawings tock", "there is no drawing 'tock'; did you mean 'tick'?"},
    };
    for (size_t k = 0; k < sizeof bad / sizeof bad[0]; k++) {
        assert_int_equal(run("$D glyphs %s", bad[k].line), 2);
        says(bad[k].says);
    }
    assert_int_equal(run("ls x.*"), 2); /* nothing is left */
}

/* A face and a sprite of a file on a module of 8 x 8, as its model lit it; a sign that the face
 * lacks is told. */
static void what_is_drawn_shows_on_a_rig(void **state)
{
    (void)state;
    static const char mine[] =
        "face mine\nrows 3\nspacing 1\nglyph U+0020\n.\n.\n.\n\nglyph I\n#\n#\n#\n\n"
        "drawing bird 1s\n#.#\n.#.\n\nframe\n...\n###\n";
    static const char board[] =
        "controller: ATmega328P\nsupplies:\n  usb: { current: 1 A }\ndevices:\n"
        "  board: { chip: MAX7219, chips: 1, pins: { din: 10, clk: 11, cs: 12 "
        "}, supply: usb, shows: dots, pitch: 5 mm }\n";
    write_file("mine.drawings", mine, sizeof mine - 1);
    write_file("board.yaml", board, sizeof board - 1);
    assert_int_equal(
        run("LC_ALL=C $D preview board.yaml --drawings mine.drawings --look text --set 'says=I I "
            "\303\244' --set face=mine --layer 'draw sprite bird x=0mm y=20mm edge=hard' --from "
            "1500ms --frames 1"),
        0);
    says("note: the face of \"I I \303\244\" has no '\303\244' (byte 5); it shows as a box\n");
    says("  #   #\n  #   #\n  #   #\n\n\n  ###\n"); /* the box is beyond; the second picture */
    assert_int_equal(
        run("$D preview board.yaml --look text --set says=Ferry --set motion=rests --frames 1"), 0);
    says("it takes 22 columns and has 8; let it scroll\n"); /* F e r r y: 4 4 3 3 4, and 4 between
                                                             */
    assert_int_equal(
        run("$D preview board.yaml --drawings mine.drawings --look text --set face=mien "
            "--frames 1"),
        2);
    says("there is no face 'mien'");
    assert_int_equal(
        run("$D preview board.yaml --drawings mine.drawings --layer 'draw sprite bard' "
            "--frames 1"),
        2);
    says("there is no drawing 'bard'; did you mean 'bird'?");
}

/* What goes out as APNG or GIF comes in again, dot by dot; a GIF knows hundredths of a second. */
static void films_go_out_and_come_in(void **state)
{
    (void)state;
    static const char *const paths[] = {"flag.apng", "flag.gif"};
    static const uint16_t each_ms[] = {155, 160};
    struct dia_drawings back;
    for (int k = 0; k < 2; k++) {
        assert_int_equal(parse("key r red\n\ndrawing flag 155ms\n#r.\n#.r\n\nframe\n.#r\nr.#\n"),
                         DIA_OK);
        assert_int_equal(dia_drawings_write(&drawings, paths[k], &wrong), DIA_OK);
        assert_int_equal(dia_drawings_load(&back, paths[k], &wrong), DIA_OK);
        const struct dia_dots *was = &drawings.items[0], *is = &back.items[0];
        assert_true(is->columns == 3 && is->rows == 2 && is->frames == 2);
        assert_int_equal(is->each_ms, each_ms[k]);
        assert_memory_equal(is->cells, was->cells, 12);
        assert_memory_equal(&back.colours[1], &drawings.colours[1], sizeof back.colours[1]);
        dia_drawings_free(&back);
        dia_drawings_free(&drawings);
    }
    assert_int_equal(parse("drawing a\n#\n\ndrawing b\n#\n"), DIA_OK);
    assert_int_equal(dia_drawings_write(&drawings, "two.gif", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text,
                        "two.gif: a picture is of one drawing, and these are 2; say which");
    dia_drawings_free(&drawings);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_drawing_is_what_is_drawn),
        cmocka_unit_test(each_mistake_of_the_list_is_told),
        cmocka_unit_test(there_are_limits),
        cmocka_unit_test(written_and_read_again_it_is_the_same),
        cmocka_unit_test(a_bdf_is_read_as_its_standard_says),
        cmocka_unit_test(pictures_come_in_and_go_out),
        cmocka_unit_test(a_face_shows_what_is_drawn),
        cmocka_unit_test(a_face_may_be_large),
        cmocka_unit_test(tables_in_c_compile_and_hold_the_drawings),
        cmocka_unit_test(the_command_shows_and_tells),
        cmocka_unit_test(what_is_drawn_shows_on_a_rig),
        cmocka_unit_test(films_go_out_and_come_in),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
