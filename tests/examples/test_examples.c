/* SPDX-License-Identifier: MIT */
#include "../run.h"

/* Each example by what it prints; the numbers are worked out by hand. */
static const struct {
    const char *name, *prints;
} examples[] = {
    {"rig_picture demo/quay.rig.yaml picture.png", " A from the supply\n"},
    /* 26 cycles of 5623 clocks of 8 ns are 1169.584 us; a half is 13, so a delay of 12 is 0x0c */
    {"rig_pulse_engine", "855 Hz in antiphase: divider 5623.0000\n  0xec01  set pins, 1      [12]\n"
                         "  0xec02  set pins, 2      [12]\n"
                         "  period       1169.591 us wanted, 1169.584 us\n"},
    {"rig_pulse_engine", "20 of 20 pixels show what was sent\n1 Hz: too slow: the divider ends"},
    /* brightest blue of the dim wall: 60 of 255 is 4.5 % of light, at 5 % 0.22 %, in the 5-bit
     * level and 8 bits about 18 of 255 at level 1 of 31 */
    {"clocked_wall", "at level 1 of 31\n"},
    /* in frame 15 column 0 shows wave[15 % 8], and so on: heights 1 3 5 6 5 3 1 0 */
    {"matrix_board", "........................................\n"
                     "...O.......O.......O.......O.......O....\n"
                     "..O.O.....O.O.....O.O.....O.O.....O.O...\n"
                     "........................................\n"
                     ".O...O...O...O...O...O...O...O...O...O..\n"
                     "........................................\n"
                     "O.....O.O.....O.O.....O.O.....O.O.....O.\n"
                     ".......O.......O.......O.......O.......O\n"},
    /* at 4 s it has come 100 dots: the screen's 64, and 36 of the text; "r" of Ferry is at its left
     * end, Skua begins 8 dots on */
    {"scrolling_board", "....OOO.O...................O.....O....OO..OOOO.................\n"
                        "...O....O..................OO....OO...O..O.O.........O..........\n"
                        "...O....O..O.O..O..OO.......O...O.O.O.O..O.OOO........O.....OOO.\n"
                        "....OO..O.O..O..O....O......O..O..O...O..O....O....OOOOO....O..O\n"
                        "......O.OO...O..O..OOO......O..OOOO...O..O....O.......O.....O..O\n"
                        "......O.O.O..O..O.O..O......O.....O.O.O..O.O..O......O......OOO.\n"
                        "...OOO..O..O..OOO..OOO.....OOO....O....OO...OO..............O...\n"
                        "............................................................O...\n"},
    /* 200 Hz, 8 rows: 625 us a row; 15 units of 41 us are 615, of 42 are 630 */
    {"colour_panel", "................\n.......w........\n.......ww.......\n.......www......\n"
                     ".......w........\n...rrrrrrrrrr...\n....rrrrrrrr....\n...bbbbbbbbbb...\n"
                     "a unit of "},
    /* 20 shows 50 ms apart are 20 frames; the bytes are those typed */
    {"one_pixel", "20 frames shown; pixel 3 is 200 80 0, pixel 4 is 0 0 40\n"},
    {"shared_bus", "arrivals: 64 of 128 dots lit\ndepartures: 32 of 128 dots lit\n"},
    /* 17 i of 255 through the curve of sRGB, times 15, rounded */
    {"shift_lamps", "0 0 0 0 1 1 2 3 4 5 6 7 9 11 13 15 of 15\n"},
    /* 10 elements a second on 12 there and 12 back */
    {"folded_railing", "#...........\n#...........  after 50 ms\n"
                       "######......\n######......  after 550 ms\n"
                       "###########.\n###########.  after 1050 ms\n"},
    /* a ring 20 mm from the middle of a wall of 80 mm, halfway to it no more than half lit */
    {"wall_of_panels", "........\n...OO...\n..OOOO..\n.OO..OO.\n"
                       ".OO..OO.\n..OOOO..\n...OO...\n........\n"},
    /* the front at 0.8 m: element 7 full, then a tail that is 1, 1/2 and 0 at the sides of
       elements, means of the squares 0.583 and 0.083, in 256ths 149 and 21.3 (and a little, as it
       is not yet at 0.8 m: 22), codes 201 and 83; 100 of blue below it */
    {"layers", "0064 0064 0064 0064 0064 53b7 c9ff ffff 0064"},
    /* due at 66 and 100 ms while frame 1 takes 110: those are left out, and 133 is 10 ms late */
    {"frame_clock", "frame 4 at 133 ms, 10067 us late, 2 left out\n"},
    /* half of full light is code 188; the mean of red and green in OKLab is 208.2 168.4 0 by its
     * published matrices; a stop has its own colour */
    {"colours", "half way, as light     #bcbc00\nhalf way, to the eye   #d0a800\n"
                "dusk, at its second    #c04020\n"},
    /* (1 - cos) / 2 in tenths: 0 at the ends, 9 from 0.9 on; a third, two thirds; 8 elements of a
     * saw, an element further on every 100 ms */
    {"signals", "sine     000123467899999876432100\n"
                "steps    000000333333666666999999\n"},
    {"signals", "along    012346780123467801234678\n"
                "along    801234678012346780123467\n"},
    /* the disc of 30 mm around 80, 0: rows at 5, 15, 25 mm are 29.6, 26 and 16.6 mm wide to either
     * side; the fish is 40 mm on, then 140, and comes in again after 160 */
    {"drawing", ".....******.....\n.....******.....\n......****......\n................\n"
                "....<.OO........\n.....<OOO.......\n....<.OO........\n"},
    {"drawing", "OO............<.\nOOO............<\nOO............<.\n"},
    /* three lights on 24: one in each 8, the head and three of tail in half of that: light of 0.70,
       0.26 and 0.04, codes 219, 140 and 54 */
    {"all_looks", "3 lights      .-*#    .-*#    .-*#\n"},
    /* begun at 0.6 + 0.3 s, as no second press comes: 5 mm at 1 s, 30 mm at 1.5 s; faster and red
     * from 2.1 s on */
    {"keys_and_layers",
     " 500 ms, green 230                     \n1000 ms, green 230 +                   \n"
     "1500 ms, green 230 ###                 \n"},
    {"keys_and_layers", "3000 ms, green   0 "},
    {"direct_digits", " _   _   _      \n"
                      " _|  _|   |     \n"
                      "|_ . _|   |     \n"},
    {"blinking_lamp", "###.###.\n"},
    {"digits_on_registers", "abdeg. abcdg abc \n"},
    {"numbers_on_digits", "1258\n  -7\n3.141\n0023\n  FA\n----\nFEEd\n"},
    {"panel_keys", "keys 00, lamps ........\n"
                   "keys 01, lamps O.......\n"
                   "keys 09, lamps O..O....\n"
                   "keys 80, lamps .......O\n"},
    {"character_display", "Petrel Quay     |\nsea ~ calm      |\n"},
    /* from 3.30 V five cells fall by 40, 80 ... 200 mV: 3.26 3.22 3.18 3.14 3.10 have 9 new digits
     * in 5 places, each place an address before it */
    {"battery_cells", "\n14 bytes sent\n"},
    {"battery_cells", "Battery             |\n1  3.30+  2  3.18+  |\n"
                      "3  3.06+  4  2.94+  |\n5  2.82x  6  2.70x  |\n"},
    /* 72 pixels of 60 mA and 1 mA idle, an eighth of 128 dots of 20 mA, the light of the display:
     * 4392 + 320 + 20; of 1900 the idle and the displays leave 1488 for 4320 */
    {"shared_supply", "4732 mA asked for, the strip dimmed to 34 %; done\n"},
    /* 4 * 59, 4 * 23 and 4 * 6, of the last pixels */
    {"parallel_lanes", "lane 0 ends in red 236, green 0, blue 0\n"
                       "lane 1 ends in red 0, green 92, blue 0\n"
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
