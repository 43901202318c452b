/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdint.h>
#include <stdio.h>
#include <string.h>

/*
 * Makes src/core/look/hue_circle.c: the hues of the sweep, even to the eye.
 *
 * The way round the hue circle is the edge of what sRGB can show, with its corners rounded; it is
 * divided into steps of one length in OKLab. Codes of 8 bits are too coarse for such steps: so each
 * hue is the one among the codes near it that makes the distances to its neighbours 4, 5, 8, 10 and
 * 20 hues away the most even. On 300 pixels neighbours are 4 hues apart, on 240 5, and so on.
 *
 * OKLab: B. Ottosson, "A perceptual color space for image processing", 2020. sRGB: IEC 61966-2-1.
 */
#define HUES   1200
#define WAY    24000 /* points on the edge */
#define ROUND  1000  /* points on either side that a corner is rounded over */
#define AROUND 5     /* codes on either side of the exact one that are tried */
#define ROUNDS 12

struct point {
    double c[3];
};

static struct point way[WAY + 1], exact[HUES], lab[HUES], lab_exact[HUES];
static double arc[WAY + 1];
static int codes[HUES][3];

static double light(double code)
{
    code /= 255;
    return code <= 0.04045 ? code / 12.92 : pow((code + 0.055) / 1.055, 2.4);
}

static struct point oklab(struct point codes_of)
{
    double r = light(codes_of.c[0]), g = light(codes_of.c[1]), b = light(codes_of.c[2]);
    double l = cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
    double m = cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
    double s = cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
    return (struct point){{0.2104542553 * l + 0.7936177850 * m - 0.0040720468 * s,
                           1.9779984951 * l - 2.4285922050 * m + 0.4505937099 * s,
                           0.0259040371 * l + 0.7827717662 * m - 0.8086757660 * s}};
}

static double distance(struct point a, struct point b)
{
    return sqrt(pow(a.c[0] - b.c[0], 2) + pow(a.c[1] - b.c[1], 2) + pow(a.c[2] - b.c[2], 2));
}

/* Point k of the edge: red, yellow, green, cyan, blue, magenta, and the straight lines between. */
static struct point edge(int k)
{
    static const int corners[7][3] = {{255, 0, 0}, {255, 255, 0}, {0, 255, 0}, {0, 255, 255},
                                      {0, 0, 255}, {255, 0, 255}, {255, 0, 0}};
    struct point p;
    k = (k + WAY) % WAY;
    int side = k / (WAY / 6);
    double part = (double)(k % (WAY / 6)) / (WAY / 6);
    for (int c = 0; c < 3; c++)
        p.c[c] = corners[side][c] + part * (corners[side + 1][c] - corners[side][c]);
    return p;
}

static void go_round(void)
{
    for (int k = 0; k <= WAY; k++) {
        for (int near = -ROUND; near < ROUND; near++) {
            struct point p = edge(k + near);
            for (int c = 0; c < 3; c++)
                way[k].c[c] += p.c[c] / (2 * ROUND);
        }
        arc[k] = k ? arc[k - 1] + distance(oklab(way[k]), oklab(way[k - 1])) : 0;
    }
    for (int i = 0, k = 0; i < HUES; i++) {
        double at = arc[WAY] * i / HUES;
        while (arc[k + 1] < at)
            k++;
        double part = (at - arc[k]) / (arc[k + 1] - arc[k]);
        for (int c = 0; c < 3; c++)
            exact[i].c[c] = way[k].c[c] + part * (way[k + 1].c[c] - way[k].c[c]);
        lab_exact[i] = oklab(exact[i]);
    }
}

/* How uneven hue i would be as `p`: a penalty that grows fast with the worst. */
static double unevenness(int i, struct point p)
{
    static const struct {
        int apart, weight;
    } kinds[] = {{4, 10}, {5, 3}, {8, 3}, {10, 3}, {20, 3}};
    double off = distance(p, lab_exact[i]) / (arc[WAY] / 300), sum = 0.005 * off * off;
    for (int k = 0; k < 5; k++) {
        double goal = arc[WAY] * kinds[k].apart / HUES;
        double ahead = distance(p, lab[(i + kinds[k].apart) % HUES]);
        double behind = distance(p, lab[(i + HUES - kinds[k].apart) % HUES]);
        sum += kinds[k].weight * (pow(ahead / goal - 1, 4) + pow(behind / goal - 1, 4));
    }
    return sum;
}

static int improve(int i)
{
    int best[3], old[3];
    double least = 1e9;
    struct point p;
    memcpy(old, codes[i], sizeof old);
    memcpy(best, old, sizeof best);
    for (int k = 0; k < (2 * AROUND + 1) * (2 * AROUND + 1) * (2 * AROUND + 1); k++) {
        int n = k, inside = 1, tried[3];
        for (int c = 0; c < 3; c++, n /= 2 * AROUND + 1) {
            tried[c] = (int)lround(exact[i].c[c]) + n % (2 * AROUND + 1) - AROUND;
            inside &= tried[c] >= 0 && tried[c] <= 255;
            p.c[c] = tried[c];
        }
        double now = inside ? unevenness(i, oklab(p)) : 1e9;
        if (now < least) {
            least = now;
            memcpy(best, tried, sizeof best);
            lab[i] = oklab(p);
        }
    }
    memcpy(codes[i], best, sizeof best);
    return memcmp(best, old, sizeof best) != 0;
}

int main(void)
{
    go_round();
    for (int i = 0; i < HUES; i++) {
        struct point p;
        for (int c = 0; c < 3; c++)
            p.c[c] = codes[i][c] = (int)lround(exact[i].c[c]);
        lab[i] = oklab(p);
    }
    for (int round = 0; round < ROUNDS; round++) {
        int changed = 0;
        for (int i = 0; i < HUES; i++) /* 487 and 1200 have no factor in common: all, scattered */
            changed += improve(i * 487 % HUES);
        fprintf(stderr, "round %d: %d hues changed\n", round + 1, changed);
    }
    puts("/* SPDX-License-Identifier: MIT */\n/* clang-format off */\n/* Made by "
         "tools/hue_circle.c. */\n#include \"hue_circle.h\"\n\n"
         "const DIA_ROM struct dia_rgb hue_circle[HUES + 1] = {");
    for (int i = 0; i < HUES; i++)
        printf("%s{%3d,%3d,%3d},%s", i % 6 ? " " : "    ", codes[i][0], codes[i][1], codes[i][2],
               i % 6 == 5 ? "\n" : "");
    puts("};");
    return 0;
}
