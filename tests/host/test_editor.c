/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/editor.h>

/* What is done to a drawing, in letters: the keys of the editor in a terminal. */
static const struct {
    char key;
    enum dia_edit what;
} keys[] = {
    {'l', DIA_EDIT_LEFT},
    {'r', DIA_EDIT_RIGHT},
    {'u', DIA_EDIT_UP},
    {'d', DIA_EDIT_DOWN},
    {' ', DIA_EDIT_TOGGLE},
    {'f', DIA_EDIT_FILL},
    {'<', DIA_EDIT_SHIFT_LEFT},
    {'>', DIA_EDIT_SHIFT_RIGHT},
    {'^', DIA_EDIT_SHIFT_UP},
    {'v', DIA_EDIT_SHIFT_DOWN},
    {'m', DIA_EDIT_MIRROR},
    {'M', DIA_EDIT_FLIP},
    {'t', DIA_EDIT_TURN},
    {'i', DIA_EDIT_INVERT},
    {'e', DIA_EDIT_CLEAR},
    {']', DIA_EDIT_WIDER},
    {'[', DIA_EDIT_NARROWER},
    {'}', DIA_EDIT_HIGHER},
    {'{', DIA_EDIT_LOWER},
    {'+', DIA_EDIT_ADD_FRAME},
    {'-', DIA_EDIT_DROP_FRAME},
    {'U', DIA_EDIT_UNDO},
    {'R', DIA_EDIT_REDO},
    {'.', DIA_EDIT_NEXT_FRAME},
    {',', DIA_EDIT_PREVIOUS_FRAME},
    {'n', DIA_EDIT_NEXT},
    {'p', DIA_EDIT_PREVIOUS},
    {'c', DIA_EDIT_PEN},
};

static struct dia_editor editor;
static struct dia_diagnostic wrong;

/* What the last of them came to. */
static enum dia_status type(const char *letters)
{
    enum dia_status status = DIA_OK;
    for (; *letters; letters++) {
        size_t k = 0;
        while (keys[k].key != *letters)
            k++;
        wrong.text[0] = 0;
        status = dia_editor_do(&editor, keys[k].what, &wrong);
    }
    return status;
}

/* The frame as rows with '/' between them: '.', '#', and 'r' for the second colour. */
static const char *drawn(void)
{
    static char text[400];
    const struct dia_dots *item = dia_editor_item(&editor);
    char *at = text;
    for (uint32_t row = 0; row < item->rows; row++) {
        for (uint32_t column = 0; column < item->columns; column++)
            *at++ = ".#r"[dia_editor_cell(&editor, editor.frame, row, column)];
        *at++ = '/';
    }
    at[-1] = 0;
    return text;
}

static const char source[] = "# Signs of the pier.\r\n"
                             "key r red\n"
                             "\n"
                             "drawing   flag 150ms   \n"
                             "#rr\n"
                             "#..\n"
                             "\n"
                             "frame\n"
                             "#..\n"
                             "#rr\n"
                             "\n"
                             "# kept as it is\n"
                             "drawing dot\n"
                             "#";

static void open_source(const char *name)
{
    write_file("signs.drawings", source, sizeof source - 1);
    assert_int_equal(dia_editor_open(&editor, "signs.drawings", name, NULL, &wrong), DIA_OK);
}

/* Each step by hand, from the frame before it. */
static void each_way_to_change_a_frame(void **state)
{
    (void)state;
    static const struct {
        const char *letters, *drawn;
    } steps[] = {
        {"", "#rr/#.."},    {"r ", "##r/#.."},       {"c ", "#rr/#.."},     {">", "r#r/.#."},
        {"<", "#rr/#.."},   {"v", "#../#rr"},        {"^", "#rr/#.."},      {"m", "rr#/..#"},
        {"M", "..#/rr#"},   {"t", "r./r./##"},       {"ttt", "..#/rr#"},    {"i", "rr./..."},
        {"]", "rr../...."}, {"}", "rr../..../...."}, {"[{", "rr./..."},     {"dlf", "rrr/rrr"},
        {"f", ".../..."},   {"U", "rrr/rrr"},        {"UU", "rr./.../..."}, {"R", "rr./..."},
        {"R", "rrr/rrr"},   {"e", ".../..."},        {"U", "rrr/rrr"},
    };
    open_source("flag");
    for (size_t k = 0; k < sizeof steps / sizeof steps[0]; k++) {
        type(steps[k].letters);
        if (strcmp(drawn(), steps[k].drawn) != 0)
            fail_msg("after '%s' expected %s, found %s", steps[k].letters, steps[k].drawn, drawn());
    }
    type(".");
    assert_string_equal(drawn(), "#../#rr"); /* turned four times, and never changed else */
    dia_editor_free(&editor);
}

static void a_step_that_cannot_be_says_why(void **state)
{
    (void)state;
    static const struct {
        const char *letters, *says;
    } refused[] = {
        {"U", "there is nothing to undo"},
        {"R", "nothing was undone"},
        {".", "the drawing has one frame"},
        {"-", "a drawing has 1 to 255 frames"},
        {"[", "a drawing is 1 to 255 dots wide and high"},
        {"{", "a drawing is 1 to 255 dots wide and high"},
    };
    open_source("dot");
    for (size_t k = 0; k < sizeof refused / sizeof refused[0]; k++) {
        assert_int_equal(type(refused[k].letters), DIA_BAD_VALUE);
        assert_string_equal(wrong.text, refused[k].says);
        assert_int_equal(dia_editor_unsaved(&editor), 0);
    }
    for (int k = 0; k < 254; k++)
        assert_int_equal(type("]}"), DIA_OK);
    assert_int_equal(type("]"), DIA_BAD_VALUE);
    for (int k = 0; k < 254; k++)
        assert_int_equal(type("+"), DIA_OK);
    assert_int_equal(type("+"), DIA_BAD_VALUE);
    assert_int_equal(dia_editor_item(&editor)->frames, 255);
    assert_int_equal(type("U"), DIA_OK); /* what is kept is the last 32 MB */
    assert_int_equal(dia_editor_item(&editor)->frames, 254);
    dia_editor_free(&editor);
}

/* A glyph keeps the height of its face, and has one frame. */
static void a_glyph_stays_one(void **state)
{
    (void)state;
    static const char face[] =
        "face pier\nrows 3\n\nglyph 1\n#.\n#.\n#.\n\nglyph 2\n###\n.#.\n#..\n";
    write_file("face.drawings", face, sizeof face - 1);
    assert_int_equal(dia_editor_open(&editor, "face.drawings", "1", NULL, &wrong), DIA_OK);
    assert_int_equal(type("t"), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "all glyphs of the face pier are 3 dots high");
    assert_int_equal(type("}"), DIA_BAD_VALUE);
    assert_int_equal(type("+"), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "a glyph has one frame");
    assert_int_equal(type("c"), DIA_BAD_VALUE);
    assert_int_equal(type("]nt"), DIA_OK); /* 2 is as wide as high */
    assert_string_equal(drawn(), "#.#/.##/..#");
    assert_int_equal(dia_editor_unsaved(&editor), 2);
    dia_editor_free(&editor);
    struct dia_editor_size size = {4, 9};
    assert_int_equal(dia_editor_open(&editor, "face.drawings", "U+0033", &size, &wrong), DIA_OK);
    assert_string_equal(drawn(), "..../..../....");
    type(" ");
    assert_int_equal(dia_editor_save(&editor, &wrong), DIA_OK);
    dia_editor_free(&editor);
    char *text = read_file("face.drawings", NULL);
    assert_non_null(strstr(text, "#..\n\nglyph 3\n#...\n....\n....\n"));
    free(text);
}

/* A stroke of the mouse is one step, and steps are kept in a number that ends. */
static void strokes_and_steps(void **state)
{
    (void)state;
    open_source("flag");
    for (uint32_t column = 0; column < 3; column++)
        assert_int_equal(dia_editor_put(&editor, column, 1, 2, 1, &wrong), DIA_OK);
    assert_string_equal(drawn(), "#rr/rrr");
    assert_int_equal(dia_editor_put(&editor, 0, 0, 0, 2, &wrong), DIA_OK);
    assert_int_equal(dia_editor_put(&editor, 3, 0, 0, 2, &wrong), DIA_BAD_VALUE);
    assert_int_equal(dia_editor_put(&editor, 0, 0, 3, 2, &wrong), DIA_BAD_VALUE);
    type("U");
    assert_string_equal(drawn(), "#rr/rrr");
    type("U");
    assert_string_equal(drawn(), "#rr/#..");
    for (int k = 0; k < DIA_EDITOR_STEPS + 5; k++)
        type(" ");
    for (int k = 0; k < DIA_EDITOR_STEPS; k++)
        assert_int_equal(type("U"), DIA_OK);
    assert_int_equal(type("U"), DIA_BAD_VALUE);
    assert_string_equal(drawn(), "#rr/..."); /* five of them are kept for good */
    assert_int_equal(dia_editor_put(&editor, 0, 0, 0, 9, &wrong), DIA_OK);
    assert_int_equal(dia_editor_save(&editor, &wrong), DIA_OK); /* in the middle of a stroke */
    assert_int_equal(dia_editor_put(&editor, 1, 0, 0, 9, &wrong), DIA_OK);
    assert_int_equal(dia_editor_unsaved(&editor), 1);
    type("n");
    assert_int_equal(dia_editor_put(&editor, 0, 0, 0, 9, &wrong), DIA_OK);
    assert_int_equal(dia_editor_unsaved(&editor), 2);
    dia_editor_free(&editor);
}

/* A key that the file says below a drawing moves above it when the drawing gets it; the key before
 * it goes along, as the order of keys is the order of the pen. */
static void saving_moves_keys_above_their_drawings(void **state)
{
    (void)state;
    static const char late[] = "\xef\xbb\xbf"
                               "drawing dot\n#\n\nkey r red\n# blue\nkey b #0000ff";
    write_file("late.drawings", late, sizeof late - 1);
    assert_int_equal(dia_editor_open(&editor, "late.drawings", NULL, NULL, &wrong), DIA_OK);
    assert_int_equal(dia_editor_put(&editor, 0, 0, 3, 0, &wrong), DIA_OK);
    for (int again = 0; again < 2; again++) { /* and a second time it stays as it is */
        assert_int_equal(dia_editor_save(&editor, &wrong), DIA_OK);
        char *text = read_file("late.drawings", NULL);
        assert_string_equal(text, "\xef\xbb\xbf"
                                  "key r #ff0000\nkey b #0000ff\n\ndrawing dot\n"
                                  "b\n\n# blue\n");
        free(text);
        assert_int_equal(dia_editor_put(&editor, 0, 0, 1, 0, &wrong), DIA_OK);
        assert_int_equal(dia_editor_put(&editor, 0, 0, 3, 0, &wrong), DIA_OK);
    }
    dia_editor_free(&editor);
}

/* Only the rows of what was changed are others: comments, spaces, line ends and keys stay. */
static void saving_keeps_what_was_not_changed(void **state)
{
    (void)state;
    open_source("dot");
    type("]n. "); /* the dot wider; then of the flag the second frame */
    assert_int_equal(dia_editor_save(&editor, &wrong), DIA_OK);
    assert_int_equal(dia_editor_unsaved(&editor), 0);
    static const char first[] = "# Signs of the pier.\r\nkey r red\n\ndrawing   flag 150ms   \n"
                                "#rr\n#..\n\nframe\n...\n#rr\n\n# kept as it is\ndrawing dot\n#.\n";
    char *text = read_file("signs.drawings", NULL);
    assert_string_equal(text, first);
    free(text);
    type("+["); /* a third frame, and saved again where the lines are now */
    assert_int_equal(dia_editor_save(&editor, &wrong), DIA_OK);
    text = read_file("signs.drawings", NULL);
    assert_non_null(
        strstr(text, "flag 150ms   \n#r\n#.\n\nframe\n..\n#r\n\nframe\n..\n#r\n\n# kept"));
    free(text);
    write_file("signs.drawings", source, sizeof source - 1);
    type(" ");
    assert_int_equal(dia_editor_save(&editor, &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text,
                        "signs.drawings: was changed by somebody else since it was read");
    assert_int_equal(dia_editor_save_beside(&editor, "beside.drawings", &wrong), DIA_OK);
    assert_int_equal(dia_editor_unsaved(&editor), 1);
    dia_editor_free(&editor);
    struct dia_drawings drawings;
    assert_int_equal(dia_drawings_load(&drawings, "beside.drawings", &wrong), DIA_OK);
    assert_int_equal(drawings.items[0].frames, 3);
    dia_drawings_free(&drawings);
}

static void new_files_and_drawings(void **state)
{
    (void)state;
    struct dia_editor_size size = {3, 2};
    static const struct {
        const char *path, *name, *says;
    } refused[] = {
        {"signs.drawings", "flag", "signs.drawings: 'flag' is there already"},
        {"signs.drawings", NULL, "signs.drawings: say how the new drawing is called"},
        {"signs.drawings", "a-b", "a name has letters, digits and '_'; found 'a-b'"},
        {"signs.drawings", "1st", "a name begins with a letter; found '1st'"},
        {"no/where/signs.png", "a",
         "no/where/signs.png: what is edited is a file that ends with .drawings; make one with "
         "'diachrome glyphs no/where/signs.png --out NAME.drawings'"},
    };
    open_source(NULL);
    dia_editor_free(&editor);
    for (size_t k = 0; k < sizeof refused / sizeof refused[0]; k++) {
        assert_int_equal(dia_editor_open(&editor, refused[k].path, refused[k].name, &size, &wrong),
                         DIA_BAD_VALUE);
        assert_string_equal(wrong.text, refused[k].says);
    }
    assert_int_equal(dia_editor_open(&editor, "signs.drawings", "flog", NULL, &wrong),
                     DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "there is no drawing 'flog'; did you mean 'flag'?");
    remove("new.drawings");
    assert_int_equal(dia_editor_open(&editor, "new.drawings", "buoy", &size, &wrong), DIA_OK);
    assert_int_equal(dia_editor_unsaved(&editor), 1);
    type(" ");
    assert_int_equal(dia_editor_save(&editor, &wrong), DIA_OK);
    dia_editor_free(&editor);
    char *text = read_file("new.drawings", NULL);
    assert_string_equal(text, "drawing buoy\n#..\n...\n");
    free(text);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_way_to_change_a_frame),
        cmocka_unit_test(a_step_that_cannot_be_says_why),
        cmocka_unit_test(a_glyph_stays_one),
        cmocka_unit_test(strokes_and_steps),
        cmocka_unit_test(saving_moves_keys_above_their_drawings),
        cmocka_unit_test(saving_keeps_what_was_not_changed),
        cmocka_unit_test(new_files_and_drawings),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
