/* SPDX-License-Identifier: MIT */
/*
 * The film of Petrel Quay, demo/crossing.ppm: a ferry goes by in front of the setting sun while the
 * lamp of the light-house turns. Usage: crossing >demo/crossing.ppm
 */
#include <math.h>
#include <stdio.h>

#define COLUMNS 48
#define ROWS    24
#define FRAMES  30
#define SEA     15 /* its topmost row */

struct colour {
    double r, g, b;
};

static struct colour mix(struct colour a, struct colour b, double share)
{
    share = share < 0 ? 0 : share > 1 ? 1 : share;
    return (struct colour){a.r + (b.r - a.r) * share, a.g + (b.g - a.g) * share,
                           a.b + (b.b - a.b) * share};
}

static struct colour sky(double x, double y)
{
    static const struct colour night = {12, 18, 60}, dusk = {220, 90, 40}, sun = {255, 230, 150};
    struct colour seen = mix(night, dusk, y / SEA);
    return mix(seen, sun, 1.4 - hypot(x - 15, y - 13) / 3.5);
}

/* The sky upside down, broken by waves that move. */
static struct colour sea(double x, double y, double turn)
{
    static const struct colour deep = {4, 20, 40};
    double wave = sin(6.2832 * (x / 9 + turn * 2) + y * 1.9) + sin(6.2832 * (x / 5 - turn * 3) - y);
    return mix(deep, sky(x + wave, 2 * SEA - y), 0.35 + wave * 0.14);
}

static int in(double x, double y, double left, double top, double right, double bottom)
{
    return x >= left && x < right && y >= top && y < bottom;
}

static struct colour ferry(double x, double y, struct colour behind)
{
    static const struct colour hull = {160, 24, 20}, house = {240, 244, 255}, lamp = {255, 210, 90};
    if (in(x, y, 0, 0, 14, 3) && x > y * 0.8 && 14 - x > y)
        return hull;
    if (in(x, y, 3, -3, 11, 0))
        return in(y, 0, -2, 0, -1, 1) && (int)(x + 20) % 2 ? lamp : house;
    if (in(x, y, 7, -5, 9, -3))
        return hull;
    return behind;
}

/* A tower on a rock, and the beam of its lamp. */
static struct colour tower(double x, double y, double turn, struct colour behind)
{
    static const struct colour wall = {230, 230, 230}, band = {190, 30, 30}, rock = {20, 18, 22},
                               light = {255, 245, 200};
    if (in(x, y, 40, 4, 43, SEA))
        return y < 5 ? light : (int)((y - 5) / 3) % 2 ? band : wall;
    if (in(x, y, 37, SEA - 1, 47, SEA + 1))
        return rock;
    double wide = fabs(cos(6.2832 * turn)), side = cos(6.2832 * turn) < 0 ? -1 : 1;
    double away = (x - 41.5) * side;
    if (away > 1.5 && fabs(y - 4.5) < 0.6 + away * 0.12)
        return mix(behind, light, wide * wide * (0.8 - away * 0.02));
    return behind;
}

int main(void)
{
    for (int k = 0; k < FRAMES; k++) {
        double turn = (double)k / FRAMES;
        printf("P6\n%d %d\n255\n", COLUMNS, ROWS);
        for (int row = 0; row < ROWS; row++) {
            for (int column = 0; column < COLUMNS; column++) {
                double x = column + 0.5, y = row + 0.5, bob = 0.6 * sin(6.2832 * turn * 3);
                struct colour seen = row < SEA ? sky(x, y) : sea(x, y, turn);
                seen = tower(x, y, turn, seen);
                seen = ferry(x - (turn * (COLUMNS + 16) - 15), y - 13.5 - bob, seen);
                putchar((int)(seen.r + 0.5));
                putchar((int)(seen.g + 0.5));
                putchar((int)(seen.b + 0.5));
            }
        }
    }
    return 0;
}
