/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/player.h>
#include <diachrome/points_file.h>

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static void load_shapes(void)
{
    if (dia_rig_load(&rig, "rigs/shapes.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
}

static const struct dia_rig_lane *lane_called(const char *name)
{
    for (uint32_t i = 0; i < rig.lane_count; i++) {
        if (strcmp(rig.lanes[i].name, name) == 0)
            return &rig.lanes[i];
    }
    fail_msg("no lane '%s'", name);
    return NULL;
}

static struct dia_point place_of(const char *lane, uint32_t i)
{
    struct dia_rig_lying lying;
    dia_rig_lie(&rig, lane_called(lane), &lying);
    return dia_surface_point(&lying.surface, i);
}

static void is_at(struct dia_point point, double x_mm, double y_mm)
{
    assert_in_range(point.x_um - (int32_t)(x_mm * 1000) + 1000, 990, 1010);
    assert_in_range(point.y_um - (int32_t)(y_mm * 1000) + 1000, 990, 1010);
}

/* By hand, from the file and a sketch of it. */
static void pixels_lie_where_the_file_says(void **state)
{
    (void)state;
    load_shapes();
    is_at(place_of("rail", 29), 29 * 16.7, 0); /* the far end, and back beside it */
    is_at(place_of("rail", 30), 29 * 16.7, 33);
    is_at(place_of("rail", 59), 0, 33);
    is_at(place_of("wall", 0), 0, 0); /* each panel begins at another corner of the wall */
    is_at(place_of("wall", 64), 150, 0);
    is_at(place_of("wall", 65), 150, 10);
    is_at(place_of("wall", 128), 150, 150);
    is_at(place_of("wall", 192), 0, 150);
    is_at(place_of("wall", 200), 10, 80); /* serpentine: the second run of a panel that runs up */
    is_at(place_of("net", 0), 100, 100);
    /* 8 by 4, mirrored, so pixel 0 is at the top right; a quarter clockwise: at the bottom right */
    is_at(place_of("board", 0), 30, 70);
    is_at(place_of("board", 1), 30, 60);
    is_at(place_of("board", 8), 20, 70);
}

/* Through the wire: those without a place stay dark, and both sides of the rail show the same. */
static void looks_show_as_the_pixels_lie(void **state)
{
    (void)state;
    struct dia_steady white = {{255, 255, 255}};
    struct dia_chase chase;
    load_shapes();
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
    assert_int_equal(dia_player_show(player, &dia_look_steady, &white, 0, 0, NULL), DIA_OK);
    const struct dia_shown *sign = dia_player_shown(player, 3);
    for (uint32_t i = 0; i < 24; i++)
        assert_int_equal(sign->drive[i][0] == 0, i == 0 || i == 11 || i == 12);
    dia_chase_defaults(&chase);
    for (uint32_t ms = 100; ms < 1000; ms += 130) {
        assert_int_equal(dia_player_show(player, &dia_look_chase, &chase, ms, ms, NULL), DIA_OK);
        const struct dia_shown *rail = dia_player_shown(player, 0);
        for (uint32_t i = 0; i < 30; i++) /* to a step of dithering */
            assert_true(abs(rail->drive[i][0] - rail->drive[59 - i][0]) <= 1);
    }
    assert_int_equal(dia_player_findings(player)->count, 0);
    dia_player_free(player);
}

static void write_text(const char *path, const char *text, size_t size)
{
    FILE *file = fopen(path, "wb");
    assert_non_null(file);
    assert_int_equal(fwrite(text, 1, size, file), size);
    assert_int_equal(fclose(file), 0);
}

static void points_are_read_or_said_what_is_wrong(void **state)
{
    (void)state;
    static const struct {
        const char *text, *said;
    } files[] = {
        {"index,x,y\n0,1.5,-2\n2,0,0\n1,5,6\n", NULL},
        {"index,x,y,z\r\n2,0,0,9\r\n1,5,6,9\r\n0,1.5,-2,9\r\n", NULL},
        {"", "p.csv:1: points begin with a line 'index,x,y'; found nothing"},
        {"x,y\n", "p.csv:1: points begin with a line 'index,x,y' or 'index,x,y,z'; found 'x,y'"},
        {"index,x,y\n0,1\n", "p.csv:2: a point is index,x,y in mm, as in '0,12.5,40'; found '0,1'"},
        {"index,x,y\n0,1,2,3\n", "found '0,1,2,3'"},
        {"index,x,y\n0,1,nan\n", "p.csv:2: a point is"},
        {"index,x,y\n3,1,2\n", "p.csv:2: index must be a whole number of 0 to 2; found 3"},
        {"index,x,y\n0.5,1,2\n", "found 0.5"},
        {"index,x,y\n0,1,2\n0,1,2\n", "p.csv:3: index 0 is there already; each is there once"},
        {"index,x,y\n0,1,2\n2,1,2\n", "p.csv:3: index 1 is not there; there must be 0 to 2"},
        {"index,x,y\n0,1,600000\n", "p.csv:2: a place is within 500 m"},
    };
    struct dia_point points[3];
    for (size_t k = 0; k < sizeof files / sizeof files[0]; k++) {
        write_text("p.csv", files[k].text, strlen(files[k].text));
        enum dia_status status = dia_points_read("p.csv", points, 3, &wrong);
        assert_int_equal(status, files[k].said ? DIA_BAD_VALUE : DIA_OK);
        if (files[k].said)
            assert_non_null(strstr(wrong.text, files[k].said));
        else
            is_at(points[0], 1.5, -2);
    }
    assert_int_equal(dia_points_read("nowhere.csv", points, 3, &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "nowhere.csv: cannot be read: No such file"));
}

/* The file of this test with one thing changed. */
static const struct {
    const char *from, *to, *said;
} mistakes[] = {
    {"gap: 33 mm", "there: 20",
     "of 60 pixels 'there' takes 20, so 40 would come back; it is 30 to 60"},
    {"gap: 33 mm", "gap: -1 mm", "'gap' must be 0 mm to 100000 mm"},
    {"2 1 turned 90", "2 1 turned 45",
     "perhaps with 'turned 90', 180 or 270; found '2 1 turned 45'"},
    {"2 1 turned 90", "3 1", "a panel is 'COLUMN ROW' of 1 1 to 2 2"},
    {"2 1 turned 90", "1 1", "a panel is already at 1 1"},
    {"2 1 turned 90, ", "", "'order' lists 3 of the 4 panels; list each once"},
    {"across: 2", "across: 3", "6 panels of 8 by 8 are 384 pixels, but lane 'wall' has 256"},
    {"net.csv", "nit.csv", "nit.csv: cannot be read"},
    {"count: 31", "count: 30", "net.csv:32: index must be a whole number of 0 to 29; found 30"},
    {"[0, 11-12]", "[0, 11-24]", "a gap is among the pixels 0 to 23; found '11-24'"},
    {"[0, 11-12]", "[5, 4]", "gaps are in rising order, each once; found '4'"},
    {"[0, 11-12]", "[0-x]", "a gap is one pixel, or a range such as '12-14'; found '0-x'"},
    {"[0, 11-12]", "[0-23]", "no pixel is left that has a place"},
    {"turn: 90, m", "turn: 45, m", "'turn' is one of: 0, 90, 180, 270; found '45'"},
};

static char *whole_file(const char *path, size_t *size)
{
    FILE *file = fopen(path, "rb");
    char *text = calloc(1, 8192);
    assert_non_null(file);
    assert_non_null(text);
    *size = fread(text, 1, 8191, file);
    fclose(file);
    return text;
}

static void mistakes_in_a_layout_are_told(void **state)
{
    (void)state;
    size_t size;
    char *good = whole_file("rigs/shapes.rig.yaml", &size);
    char *points = whole_file("rigs/net.csv", &size);
    write_text("net.csv", points, size);
    for (size_t k = 0; k < sizeof mistakes / sizeof mistakes[0]; k++) {
        char text[8192];
        const char *at = strstr(good, mistakes[k].from);
        assert_non_null(at);
        snprintf(text, sizeof text, "%.*s%s%s", (int)(at - good), good, mistakes[k].to,
                 at + strlen(mistakes[k].from));
        write_text("bad.rig.yaml", text, strlen(text));
        assert_int_equal(dia_rig_load(&rig, "bad.rig.yaml", &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, mistakes[k].said))
            fail_msg("expected %s\nfound    %s", mistakes[k].said, wrong.text);
    }
    free(good);
    free(points);
}

/* Thousands of files with bytes changed at random: said what is wrong, or read; never a crash. */
static void damaged_points_never_crash(void **state)
{
    (void)state;
    size_t size;
    uint32_t seed = 9;
    char *good = whole_file("rigs/net.csv", &size);
    struct dia_point points[31];
    for (int k = 0; k < 3000; k++) {
        char text[8192];
        memcpy(text, good, size);
        for (uint32_t n = 1 + random_below(&seed, 4); n; n--)
            text[random_below(&seed, (uint32_t)size)] = (char)random_below(&seed, 256);
        write_text("damaged.csv", text, random_below(&seed, (uint32_t)size + 1));
        wrong.text[0] = 0;
        if (dia_points_read("damaged.csv", points, 31, &wrong) != DIA_OK)
            assert_non_null(strstr(wrong.text, "damaged.csv:"));
    }
    free(good);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(pixels_lie_where_the_file_says),
        cmocka_unit_test(looks_show_as_the_pixels_lie),
        cmocka_unit_test(points_are_read_or_said_what_is_wrong),
        cmocka_unit_test(mistakes_in_a_layout_are_told),
        cmocka_unit_test(damaged_points_never_crash),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
