/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A row-scanned colour panel of 32 x 16 on the simulated controller: a boat on the sea. Ticks come
 * from a timer; the program draws and shows. */
#define COLUMNS 32
#define ROWS    16
#define DEPTH   4

static struct dia_rgb_panel panel;
static struct dia_rgb pixels[COLUMNS * ROWS];
static uint8_t memory[DIA_RGB_PANEL_BYTES(COLUMNS, ROWS, DEPTH)];

static uint32_t tick(void *driver)
{
    return dia_driver_tick(driver);
}

/* Each letter is a colour; a dot stays as it is. */
static void draw(const char *const *lines, int rows, int left, int top)
{
    for (int y = 0; y < rows; y++) {
        for (int x = 0; lines[y][x]; x++) {
            struct dia_rgb *to = &pixels[(top + y) * COLUMNS + left + x];
            if (lines[y][x] == 'w')
                *to = (struct dia_rgb){255, 255, 255};
            else if (lines[y][x] == 'r')
                *to = (struct dia_rgb){255, 0, 0};
            else if (lines[y][x] == 'b')
                *to = (struct dia_rgb){0, 0, 255};
        }
    }
}

/* A letter for what a pixel shows: its three lamps. */
static char letter_of(const uint16_t level[3])
{
    static const char letters[] = ".rgybmcw";
    return letters[(level[0] != 0) + 2 * (level[1] != 0) + 4 * (level[2] != 0)];
}

int main(void)
{
    static const char *const boat[] = {"....w.....", "....ww....", "....www...", "....w.....",
                                       "rrrrrrrrrr", ".rrrrrrrr.", "bbbbbbbbbb"};
    static const struct dia_rgb_panel_shape shape = {COLUMNS, ROWS, 1000};
    static struct dia_sim sim;
    const struct dia_rgb_panel_setup setup = {
        .pins = {2, 3, 4, 5, 6, 7, 8, 9, 10, DIA_NO_PIN, DIA_NO_PIN, 11, 12, 13},
        .columns = COLUMNS,
        .rows = ROWS,
        .depth = DEPTH,
        .tick_us = 30, /* what a tick takes on this controller */
        .unit_us = dia_slices_row_unit_us(200000, ROWS / 2, 30, DEPTH), /* at 200 Hz */
        .blank_ns = 1000,
    };
    const struct dia_device_setup on_bench = {
        .name = "wall", .part = "rgb-panel", .pins = (const uint8_t *)&setup.pins};

    struct dia_bench *bench = dia_bench_new();
    dia_sim_init(&sim, 125000000);
    if (!bench || dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK)
        return 1;
    int wall = dia_bench_rgb_panel(bench, &on_bench, &shape);
    if (wall < 0 || dia_rgb_panel_init(&panel, &sim.port, &setup, pixels, memory) != DIA_OK ||
        dia_sim_timer(&sim, tick, &panel.driver, 100) < 0)
        return 1;

    draw(boat, 7, 11, 5);
    if (dia_driver_show_and_wait(&panel.driver) != DIA_OK)
        return 1;
    dia_bench_expose(bench, wall, sim.now_ns);
    dia_sim_advance_us(&sim, 10000); /* two periods, as an eye sees them */
    dia_bench_settle(bench, sim.now_ns);

    const struct dia_lamps_shown *shown = dia_bench_lamps(bench, wall);
    for (uint32_t y = 4; y < 12; y++) {
        for (uint32_t x = 8; x < 24; x++)
            putchar(letter_of(&shown->level[3 * (y * COLUMNS + x)]));
        putchar('\n');
    }
    printf("a unit of %u us, rows lit for %u %% of their turn\n", (unsigned)setup.unit_us,
           (unsigned)(15u * setup.unit_us * 100u / dia_slices_row_us(setup.unit_us, 30, DEPTH)));
    return dia_bench_findings(bench)->count == 0 ? 0 : 1;
}
