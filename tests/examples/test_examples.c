/* SPDX-License-Identifier: MIT */
#include "../run.h"

/* Each example by what it prints; the numbers are worked out by hand. */
static const struct {
    const char *name, *prints;
} examples[] = {
    /* brightest blue of the dim wall: 60 of 255 is 4.5 % of light, at 5 % 0.22 %, in the 5-bit
     * level and 8 bits about 18 of 255 at level 1 of 31 */
    {"clocked_wall", "at level 1 of 31\n"},
    /* in frame 15 column 0 shows wave[15 % 8], and so on: heights 1 3 5 6 5 3 1 0 */
    {"matrix_board", "................................\n"
                     "...O.......O.......O.......O....\n"
                     "..O.O.....O.O.....O.O.....O.O...\n"
                     "................................\n"
                     ".O...O...O...O...O...O...O...O..\n"
                     "................................\n"
                     "O.....O.O.....O.O.....O.O.....O.\n"
                     ".......O.......O.......O.......O\n"},
    /* 17 i of 255 through the curve of sRGB, times 15, rounded */
    {"shift_lamps", "0 0 0 0 1 1 2 3 4 5 6 7 9 11 13 15 of 15\n"},
    /* 10 elements a second on 12 there and 12 back */
    {"folded_railing", "#...........\n#...........  after 50 ms\n"
                       "######......\n######......  after 550 ms\n"
                       "###########.\n###########.  after 1050 ms\n"},
    /* a ring 20 mm from the middle of a wall of 80 mm, halfway to it no more than half lit */
    {"wall_of_panels", "........\n...OO...\n..OOOO..\n.OO..OO.\n"
                       ".OO..OO.\n..OOOO..\n...OO...\n........\n"},
    /* the front at 0.8 m: element 7 and 6 full, then a third less each; 100 of blue below it */
    {"layers", "0064 0064 0064 0064 56ba aaff ffff feff 0064"},
    /* due at 66 and 100 ms while frame 1 takes 110: those are left out, and 133 is 10 ms late */
    {"frame_clock", "frame 4 at 133 ms, 10067 us late, 2 left out\n"},
    {"direct_digits", " _   _   _      \n"
                      " _|  _|   |     \n"
                      "|_ . _|   |     \n"},
    {"panel_keys", "keys 00, lamps ........\n"
                   "keys 01, lamps O.......\n"
                   "keys 09, lamps O..O....\n"
                   "keys 80, lamps .......O\n"},
    {"character_display", "Petrel Quay     |\nsea ~ calm      |\n"},
    /* 4 * 59, 4 * 23 and 4 * 6; 60 pixels take 1.8 ms, and 50 us to latch */
    {"parallel_lanes", "lane 0 ends in red 0, green 236, blue 0\n"
                       "lane 1 ends in red 92, green 0, blue 0\n"
                       "lane 2 ends in red 0, green 0, blue 24\n"
                       "all in 1.9 ms\n"},
};

static void each_example_prints_what_it_should(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof examples / sizeof examples[0]; i++) {
        assert_int_equal(run("%s/example-%s", getenv("DIACHROME_EXAMPLES"), examples[i].name), 0);
        says(examples[i].prints);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_example_prints_what_it_should),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
