/* SPDX-License-Identifier: MIT */
#include "../terminal.h"

/* The editor of drawings in a terminal of its own. */

static const char signs[] = "drawing tick\n.#.\n#..\n\ndrawing buoy 100ms\n##.\n...\n";

static struct show begin(const char *name, const char *option, const char *value,
                         const char *another, const char *its_value)
{
    const char *const words[] = {"diachrome", "glyphs", "signs.drawings", name,      "--edit",
                                 option,      value,    another,          its_value, NULL};
    write_file("signs.drawings", signs, sizeof signs - 1);
    struct show show = begin_command(words);
    until(&show, "q leave");
    return show;
}

static void leave(struct show *show, const char *keys)
{
    assert_int_equal(write(show->terminal, keys, strlen(keys)), (ssize_t)strlen(keys));
    is_over(show, 0, 0, "");
}

static void is_now(const char *path, const char *text)
{
    char *found = read_file(path, NULL);
    assert_string_equal(found, text);
    free(found);
}

/* Arrows, shifts, the space and a frame more; saved, and then left. */
static void keys_draw_and_save(void **state)
{
    (void)state;
    struct show show = begin("tick", NULL, NULL, NULL, NULL);
    until(&show, "signs.drawings  tick  3 x 2");
    press(&show, " ", "not saved");
    press(&show, "\033[B\033[C \033[1;2C\033[1;3A", "\033[");
    press(&show, "+", "frame 2 of 2");
    press(&show, "e", "\033[");
    press(&show, "?", "shift+arrow the drawing by a dot");
    press(&show, " ", "q leave");
    press(&show, "s", "signs.drawings is saved");
    leave(&show, "q");
    /* ##./##. goes right: .##/.##, and up: the same */
    is_now("signs.drawings", "drawing tick\n.##\n.##\n\nframe\n...\n...\n\n"
                             "drawing buoy 100ms\n##.\n...\n");
}

/* Each dot takes 6 columns and 3 rows from the third row and column on; places count from 1. */
static void the_mouse_draws(void **state)
{
    (void)state;
    struct show show = begin("buoy", NULL, NULL, NULL, NULL);
    until(&show, "\033[?1002h\033[?1006h");
    press(&show, "\033[<0;3;6M\033[<32;9;6M\033[<32;15;7M\033[<0;15;7m", "not saved");
    press(&show, "\033[<0;79;20M\033[<2;3;3M?", "any key: back"); /* beside it; another button */
    press(&show, " s", "is saved");
    press(&show, "u", "not saved"); /* all of the stroke */
    leave(&show, "qq");
    until(&show, "\033[?1006l\033[?1002l");
    is_now("signs.drawings", "drawing tick\n.#.\n#..\n\ndrawing buoy 100ms\n##.\n###\n");
}

static void leaving_asks_for_what_is_not_saved(void **state)
{
    (void)state;
    remove("signs.unsaved.drawings");
    struct show show = begin("tick", NULL, NULL, NULL, NULL);
    press(&show, "u", "there is nothing to undo");
    press(&show, "i", "not saved");
    press(&show, "q", "a drawing is not saved: s saves, q again leaves without");
    press(&show, "ni", "2 drawings not saved");
    press(&show, "q", "2 drawings are not saved");
    leave(&show, "q");
    is_now("signs.drawings", signs);
    assert_int_equal(access("signs.unsaved.drawings", F_OK), -1);
}

/* However it ends from outside, what was drawn is in a file beside, and is told. */
static void what_was_drawn_outlives_signals(void **state)
{
    (void)state;
    static const int sent[] = {SIGINT, SIGTERM, SIGHUP};
    static const char *const kept[] = {"signs.unsaved.drawings", "signs.unsaved-2.drawings",
                                       "signs.unsaved-3.drawings"};
    char said[80];
    for (size_t k = 0; k < 3; k++)
        remove(kept[k]);
    for (size_t k = 0; k < 3; k++) {
        struct show show = begin("tick", NULL, NULL, NULL, NULL);
        press(&show, " ", "not saved");
        press(&show, "q", "q again leaves without"); /* and nobody did */
        kill(show.child, sent[k]);
        snprintf(said, sizeof said, "what was drawn is in %s", kept[k]);
        is_over(&show, 0, 2, said);
        is_now("signs.drawings", signs);
        is_now(kept[k], "drawing tick\n##.\n#..\n\ndrawing buoy 100ms\n##.\n...\n");
    }
    const char *const words[] = {"diachrome", "glyphs", "signs.drawings", "--edit", NULL};
    struct show show = begin_command(words);
    until(&show, "signs.unsaved-3.drawings has work that was not saved");
    press(&show, " ", "not saved");
    press(&show, "s", "is saved"); /* which leaves that work alone, and it is older now */
    leave(&show, "q");
    assert_int_equal(access(kept[2], F_OK), 0);
    show = begin_command(words);
    until(&show, "q leave");
    assert_null(strstr(output, "work that was not saved"));
    leave(&show, "q");
}

/* The device that it is for is beside it, as its model shows it. */
static void a_device_shows_it_live(void **state)
{
    (void)state;
    struct show show = begin("tick", "--rig", "demo/quay.rig.yaml", "--as", "keeper");
    until(&show, "keeper  HD44780");
    press(&show, "]]]", "a cell of keeper has 5 by 8 dots; this drawing has 6 by 2");
    leave(&show, "qq");
    assert_int_equal(run("$D glyphs signs.drawings buoy --rig demo/quay.rig.yaml --as board"), 0);
    says("buoy on board  MAX7219\n  %%\n");
    assert_int_equal(run("$D glyphs signs.drawings tick --rig demo/quay.rig.yaml --as keeper"), 0);
    says("tick on keeper  HD44780\n  .#...\n  #....\n  .....\n");
}

static void mistakes_on_the_line_are_told(void **state)
{
    (void)state;
    static const struct {
        const char *line, *says;
    } wrong[] = {
        {"signs.drawings --edit", "--edit needs a terminal that can move its cursor"},
        {"signs.drawings --edit tick buoy", "--edit begins with one drawing; 'buoy' is too many"},
        {"signs.drawings --edit --out a.h", "leave out --out, --signs and --json"},
        {"signs.drawings --edit a --new 5x", "--new 5x: is no size; write columns and rows"},
        {"signs.drawings --edit a --new 300x8", "--new 300x8: is no size"},
        {"signs.drawings --edit a --new -5x8", "--new -5x8: is no size"},
        {"signs.drawings a --new 5x8", "--new is for --edit"},
        {"signs.drawings tick --as board", "--as and --rig belong together"},
        {"signs.drawings tick --as bord --rig demo/quay.rig.yaml", "the rig has no 'bord'; it has"},
        {"signs.drawings tick --as tide --rig demo/quay.rig.yaml", "digits show no drawings"},
        {"signs.drawings --as board --rig demo/quay.rig.yaml", "say which drawing, such as 'tick'"},
        {"signs.drawings tack --as board --rig demo/quay.rig.yaml", "did you mean 'tick'?"},
        {"demo/crossing.ppm --edit", "what is edited is a file that ends with .drawings"},
    };
    write_file("signs.drawings", signs, sizeof signs - 1);
    for (size_t k = 0; k < sizeof wrong / sizeof wrong[0]; k++) {
        assert_int_equal(run("$D glyphs %s </dev/null", wrong[k].line), 2);
        says(wrong[k].says);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(keys_draw_and_save),
        cmocka_unit_test(the_mouse_draws),
        cmocka_unit_test(leaving_asks_for_what_is_not_saved),
        cmocka_unit_test(what_was_drawn_outlives_signals),
        cmocka_unit_test(a_device_shows_it_live),
        cmocka_unit_test(mistakes_on_the_line_are_told),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
