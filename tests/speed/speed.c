/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

#include "look_speed.h"

/*
 * How fast, as ratios of times measured in one run: each is the best of several rounds, and the
 * things compared take turns, so that a machine that changes its speed changes both.
 */
#define ROUNDS  15
#define MOST    1000000u
#define STRETCH 8192u /* pixels rendered and developed while they are in the nearest cache */

static struct dia_rgb *pixels;
static uint8_t *bytes;

double now(void)
{
    struct timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return (double)t.tv_sec + (double)t.tv_nsec / 1e9;
}

static void sweep(uint32_t count, uint32_t ms)
{
    struct dia_surface line;
    struct dia_hue_sweep look;
    struct dia_develop develop;
    struct dia_carry carry;
    dia_surface_line(&line, count, 0, 2000);
    dia_hue_sweep_defaults(&look);
    dia_develop_init(&develop, &dia_channels_rgb);
    dia_develop_order(&develop, dia_ws2812b.order); /* to the bytes that go out */
    dia_develop_begin(&develop, ms);
    dia_carry_begin(&carry, &develop);
    for (uint32_t first = 0; first < count; first += STRETCH) {
        uint16_t n = (uint16_t)(count - first < STRETCH ? count - first : STRETCH);
        dia_hue_sweep_render(&look, &line, ms, first, n, pixels + first);
        dia_develop_run(&develop, &carry, pixels + first, n, bytes + 3 * (size_t)first);
    }
}

static void copy(uint32_t count, uint32_t ms)
{
    pixels[ms % count].r = (uint8_t)ms;
    memcpy(bytes, pixels, 3 * (size_t)count);
}

/* Eight lanes into planes, and the same bit by bit. `count` pixels in all lanes together. */
static void planes(uint32_t count, uint32_t ms)
{
    const uint8_t *lanes[8];
    uint32_t lengths[8];
    for (uint32_t k = 0; k < 8; k++) {
        lengths[k] = 3 * (count / 8);
        lanes[k] = (const uint8_t *)pixels + k * lengths[k];
    }
    pixels[ms % count].r = (uint8_t)ms;
    dia_planes_make(bytes, 8, lanes, lengths);
}

static void planes_bit_by_bit(uint32_t count, uint32_t ms)
{
    const uint8_t *all = (const uint8_t *)pixels;
    uint32_t length = 3 * (count / 8);
    pixels[ms % count].r = (uint8_t)ms;
    for (uint32_t i = 0; i < length; i++) {
        for (uint32_t bit = 0; bit < 8; bit++) {
            uint8_t plane = 0;
            for (uint32_t k = 0; k < 8; k++)
                plane = (uint8_t)(plane | (all[k * length + i] >> (7 - bit) & 1) << k);
            bytes[8 * i + bit] = plane;
        }
    }
}

typedef void work(uint32_t count, uint32_t ms);

/* Seconds for so many pixels, repeated until at least 4 million of them are done. */
static double once(work *what, uint32_t count)
{
    uint32_t times = count < 4000000u ? 4000000u / count : 1;
    double start = now();
    for (uint32_t k = 0; k < times; k++)
        what(count, k * 20);
    return (now() - start) / times;
}

static void best(work *what, uint32_t count, double *seconds)
{
    double t = once(what, count);
    if (t < *seconds)
        *seconds = t;
}

/* Look, limiter, develop, encoder, bursts and the bench's decoding: how many seconds of a strip of
 * 1000 pixels at 30 frames a second are played in one. */
static double times_real_time(void)
{
    static struct dia_sim sim;
    static struct dia_rgb drawing[1000];
    static uint8_t memory[DIA_STRIP_BYTES(3, 1000)];
    struct dia_chain_setup setup = {.name = "s", .part = "WS2812B", .pin = 1, .count = 1000};
    struct dia_bench *bench = dia_bench_new();
    struct dia_strip strip;
    struct dia_surface line;
    struct dia_hue_sweep look;
    dia_bench_chain(bench, &setup);
    dia_sim_init(&sim, 16000000);
    dia_sim_listen(&sim, dia_bench_take, bench);
    dia_sim_bursts(&sim, dia_bench_take_burst);
    dia_surface_line(&line, 1000, 0, 16667);
    dia_hue_sweep_defaults(&look);
    dia_strip_init(&strip, &sim.port, 1, &dia_ws2812b, drawing, memory, 1000);
    dia_strip_supply(&strip, 10000, 100);
    double start = now();
    for (uint32_t frame = 0; frame < 90; frame++) {
        dia_hue_sweep_render(&look, &line, frame * 33, 0, 1000, drawing);
        dia_driver_show_and_wait(&strip.driver);
    }
    dia_bench_settle(bench, sim.now_ns);
    double seconds = now() - start;
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    if (shown->frames != 90 || dia_bench_findings(bench)->count != 0)
        seconds = INFINITY; /* what is wrong is not fast */
    dia_bench_free(bench);
    return 90 / 30.0 / seconds;
}

/* Milliseconds a frame of 2,000 pixels with 6 feeds, from random colours to the volts of each, some
 * of them starving. INFINITY where it does not settle. */
static double network(void)
{
    static float amps[2000][4];
    struct dia_rails_feed feeds[6];
    struct dia_pixel_need need;
    double volts[6], shortest = INFINITY;
    uint32_t seed = 7;
    dia_bench_need("WS2812B", 5000, &need);
    for (uint32_t i = 0; i < 6; i++) {
        feeds[i] = (struct dia_rails_feed){i * 399, 0.03, 0.03};
        volts[i] = 5.0;
    }
    for (uint32_t k = 0; k < 2000; k++) {
        for (int c = 0; c < 3; c++) {
            seed = seed * 1664525u + 1013904223u;
            amps[k][c] = (float)(seed >> 24) * 0.02f / 255;
        }
    }
    struct dia_rails_setup setup = {2000, 0.002, 0.002, feeds, 6, need.rails};
    struct dia_rails *rails = dia_rails_new(&setup);
    for (int k = 0; k < 20 && rails; k++) {
        double start = now();
        enum dia_status status =
            dia_rails_solve(rails, volts, (const float(*)[4])amps, need.quiet_amp);
        shortest = status == DIA_OK ? fmin(shortest, now() - start) : INFINITY;
    }
    dia_rails_free(rails);
    return shortest * 1e3;
}

/* Seconds of a command, at its best of five; INFINITY when it does not end with 0. */
static double command(const char *line)
{
    double best_of = INFINITY;
    for (int k = 0; k < 5; k++) {
        double start = now();
        if (system(line) != 0)
            return INFINITY;
        best_of = fmin(best_of, now() - start);
    }
    return best_of;
}

void print(const char *what, double value, const char *goal, int met)
{
    printf("%-58s%8.2f  %s%s\n", what, value, goal, goal[0] == 0 ? "" : met ? ": met" : ": MISSED");
}

/* Usage: bench-speed [COMMAND], which is timed too */
int main(int argc, char **argv)
{
    static const uint32_t counts[] = {1000, 10000, 100000, 1000000};
    double ours[4] = {1e9, 1e9, 1e9, 1e9}, copied = 1e9, chain = 0;
    double mirrored = 1e9, by_bit = 1e9;
    pixels = calloc(MOST, sizeof *pixels);
    bytes = calloc(MOST, 3);
    if (!pixels || !bytes)
        return 3;
    for (int round = 0; round < ROUNDS; round++) {
        for (int i = 0; i < 4; i++)
            best(sweep, counts[i], &ours[i]);
        best(copy, 100000, &copied);
        best(planes, 8000, &mirrored);
        best(planes_bit_by_bit, 8000, &by_bit);
        double t = times_real_time();
        chain = t > chain ? t : chain;
    }
    double least = 1e9, most = 0;
    for (int i = 0; i < 4; i++) {
        double each = ours[i] / counts[i];
        least = each < least ? each : least;
        most = each > most ? each : most;
    }
    int live = chain >= 50, quick = 1;
    if (argc > 1) {
        double seconds = command(argv[1]);
        quick = seconds <= 0.2;
        print("check of the demo: seconds", seconds, "goal 0.20 or less", quick);
    }
    double solved = network();
    print("volts of 2,000 pixels with 6 feeds: ms a frame", solved, "goal 2.00 or less",
          solved <= 2);
    int flat = most / least <= 1.2;
    print("whole chain, 1,000 pixels at 30 Hz: times real time", chain, "goal 50 or more", live);
    print("a pixel of 1,000 to 1,000,000: dearest by cheapest", most / least, "goal 1.20 or less",
          flat);
    print("hue sweep developed: times copying the same bytes", ours[2] / copied, "", 1);
    print("8 lanes of 1,000 pixels to bit planes: times bit by bit", by_bit / mirrored, "", 1);
    free(pixels);
    free(bytes);
    int fast = look_speeds(), films = 1;
#ifdef WITH_HOST
    films = film_speeds("demo/quay.rig.yaml");
#endif
    if (fast < 0 || films < 0)
        return 3;
    return fast && films && live && flat && quick && solved <= 2 ? 0 : 1;
}
