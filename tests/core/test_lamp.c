/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <string.h>

#include <diachrome/lamp.h>

/* Luminance of IEC 61966-2-1 by hand: 0.7152 of light is code 220, 0.2126 is 127, 0.0722 is 76. */
static void a_colour_is_a_lamp_by_its_luminance(void **state)
{
    (void)state;
    assert_int_equal(dia_lamp_of((struct dia_rgb){0, 255, 0}), 220);
    assert_int_equal(dia_lamp_of((struct dia_rgb){255, 0, 0}), 127);
    assert_int_equal(dia_lamp_of((struct dia_rgb){0, 0, 255}), 76);
    for (int code = 0; code < 256; code++)
        assert_in_range(dia_lamp_of((struct dia_rgb){(uint8_t)code, (uint8_t)code, (uint8_t)code}),
                        code, code);
}

/* Steps of every depth are light times master, rounded; with 1 bit code 128 is the first that is
 * on. */
static void levels_become_steps(void **state)
{
    (void)state;
    for (uint8_t depth = 2; depth <= 8; depth++) {
        for (int percent = 0; percent <= 100; percent += 25) {
            for (int code = 0; code < 256; code++) {
                uint8_t level = (uint8_t)code, step;
                dia_share master = dia_share_percent((uint8_t)percent);
                dia_lamps_develop(&level, 1, master, depth, &step);
                double exact = dia_light_of(level) / 65535.0 * percent / 100 * ((1 << depth) - 1);
                assert_true(step > exact - 0.51 && step < exact + 0.51);
            }
        }
    }
    uint8_t levels[4] = {0, 127, 128, 255}, steps[4];
    dia_lamps_develop(levels, 4, DIA_SHARE_ONE, 1, steps);
    assert_memory_equal(steps, ((uint8_t[]){0, 0, 1, 1}), 4);
}

/* The letters of segments as bits, in the order of lamp.h; the point is "p". */
static uint32_t bits(const char *segments, const char *order)
{
    uint32_t mask = 0;
    for (char word[4]; sscanf(segments, "%3s", word) == 1;) {
        char with[8];
        snprintf(with, sizeof with, " %s ", word);
        uint32_t k = 0;
        for (const char *at = order; at < strstr(order, with); at++)
            k += *at == ' ';
        mask |= 1u << k;
        segments += strspn(segments, " ");
        segments += strlen(word);
    }
    return mask;
}

/* Shapes drawn on paper, on 14 segments and on 16; all of ASCII but the space has one. */
static void letters_on_14_and_16_segments(void **state)
{
    (void)state;
    static const char order_14[] = " a b c d e f g1 g2 h j k l m n p ",
                      order_16[] = " a1 a2 b c d1 d2 e f g1 g2 h j k l m n p ";
    static const struct {
        char is;
        const char *on_14, *on_16;
    } drawn[] = {{'0', "a b c d e f k l", "a1 a2 b c d1 d2 e f k l"},
                 {'1', "b c k", "b c k"},
                 {'8', "a b c d e f g1 g2", "a1 a2 b c d1 d2 e f g1 g2"},
                 {'A', "a b c e f g1 g2", "a1 a2 b c e f g1 g2"},
                 {'K', "e f g1 k n", "e f g1 k n"},
                 {'T', "a j m", "a1 a2 j m"},
                 {'W', "b c e f l n", "b c e f l n"},
                 {'X', "h k l n", "h k l n"},
                 {'Z', "a d k l", "a1 a2 d1 d2 k l"},
                 {'o', "c d e g1 g2", "c d1 d2 e g1 g2"},
                 {'*', "g1 g2 h j k l m n", "g1 g2 h j k l m n"},
                 {'.', "p", "p"},
                 {' ', "", ""}};
    for (size_t k = 0; k < sizeof drawn / sizeof drawn[0]; k++) {
        assert_int_equal(dia_segments14_of(drawn[k].is), bits(drawn[k].on_14, order_14));
        assert_int_equal(dia_segments16_of(drawn[k].is), bits(drawn[k].on_16, order_16));
    }
    /* all of them: a sign, and what it lights; G is g2. Read as shapes, one by one. */
    static const char all[] =
        "!bc \"bf #bcdgGjm $acdfgGjm %cfkl &adeghjn 'j (kn )hl *gGhjklmn "
        "+gGjm ,l -gG .p /kl 0abcdefkl 1bck 2abdegG 3abcdG 4bcfgG "
        "5acdfgG 6acdefgG 7abc 8abcdefgG 9abcdfgG :p ;jl <gkn =dgG >Ghl "
        "?abGm @abdefGj AabcefgG BabcdGjm Cadef Dabcdjm Eadefg Faefg GacdefG HbcefgG "
        "Iadjm Jbcde Kefgkn Ldef Mbcefhk Nbcefhn Oabcdef PabefgG Qabcdefn RabefgGn "
        "SacdGh Tajm Ubcdef Vefkl Wbcefln Xhkln Yhkm Zadkl [adef \\hn "
        "]abcd ^ln _d `h adegm bdefgn cdegG dbcdGl edegl faefg "
        "gacdefG hefgm im jbcde kefgkn lef mcegGm negm ocdegG paefgj "
        "qabcdefn reg sacdGh tdefg ucde vel wceln xhkln yhkm zdgl "
        "{adegh |jm }bcdGk ~gG";
    static const char segments[] = "abcdefgGhjklmnp";
    int signs = 0;
    for (const char *at = all; *at; at += *at == ' ', signs++) {
        char sign = *at++;
        uint32_t lit = 0;
        for (; *at && *at != ' '; at++)
            lit |= 1u << (strchr(segments, *at) - segments);
        assert_int_equal(dia_segments14_of(sign), lit);
    }
    assert_int_equal(signs, '~' - ' ');
    for (int code = -128; code < 128; code++)
        assert_int_equal(dia_segments14_of((char)code) != 0, code > ' ' && code < 127);
    uint32_t digits[3];
    assert_int_equal(dia_segments14_text("7.5:K!", digits, 3), 1);
    assert_int_equal(digits[0], dia_segments14_of('7') | 1u << 14);
    assert_int_equal(digits[1], dia_segments14_of('5') | 1u << 14);
    assert_int_equal(digits[2], dia_segments14_of('K'));
    assert_int_equal(dia_segments16_text("A.", digits, 3), 0);
    assert_int_equal(digits[0], dia_segments16_of('A') | 1u << 16);
    assert_int_equal(digits[1] | digits[2], 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_colour_is_a_lamp_by_its_luminance),
        cmocka_unit_test(levels_become_steps),
        cmocka_unit_test(letters_on_14_and_16_segments),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
