/* SPDX-License-Identifier: MIT */
#include <fcntl.h>
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <simavr/avr_ioport.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>

#include <diachrome/look.h>
#include <diachrome/schedule.h>

/*
 * What each look costs on an ATmega328P, in cycles, counted by the simulator over frames of 20 and
 * of 32 pixels (tests/cross/looks_avr.c): so much for a frame, and so much for each pixel of it.
 * Usage: look-cycles FOLDER-OF-THE-PROGRAMS
 * Ends with 1 when a look misses its goal, inside the budget or dimmed by the limiter, without the
 * table's RAM, or differs from what check reckons with.
 */
#define FEW    20
#define MANY   32
#define FRAMES 4

/* Cycles a pixel, from look to bytes. */
static uint32_t goal_of(const char *look)
{
    if (strcmp(look, "hue-sweep") == 0)
        return 250;
    return strcmp(look, "flame") == 0 || strcmp(look, "water") == 0 ? 1200 : 1500;
}

static uint64_t rises_at, highs[4096];
static uint32_t high_count;

static void hear(struct avr_irq_t *irq, uint32_t value, void *param)
{
    const avr_t *avr = param;
    (void)irq;
    if (value)
        rises_at = avr->cycle;
    else if (rises_at && high_count < 4096)
        highs[high_count++] = avr->cycle - rises_at;
}

/* The simulator tells what it loads on stdout; that is not for the table. */
static int read_quietly(const char *path, elf_firmware_t *firmware)
{
    int kept = dup(1), nowhere = open("/dev/null", O_WRONLY);
    fflush(stdout);
    dup2(nowhere, 1);
    int failed = elf_read_firmware(path, firmware);
    fflush(stdout);
    dup2(kept, 1);
    close(nowhere);
    close(kept);
    return failed;
}

/* Runs a program to its end; -1 when there is none, or it does not end. */
static int run(const char *path)
{
    elf_firmware_t firmware;
    memset(&firmware, 0, sizeof firmware);
    FILE *there = fopen(path, "rb");
    if (!there)
        return -1;
    fclose(there);
    avr_t *avr = avr_make_mcu_by_name("atmega328p");
    if (!avr || read_quietly(path, &firmware) != 0)
        return -1;
    avr_init(avr);
    firmware.frequency = 16000000;
    avr_load_firmware(avr, &firmware);
    rises_at = 0;
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_IOPORT_GETIRQ('D'), 6), hear, avr);
    int state = cpu_Running;
    for (uint64_t i = 0; i < 400000000u && state != cpu_Done && state != cpu_Crashed; i++)
        state = avr_run(avr);
    avr_terminate(avr);
    return state == cpu_Done ? 0 : -1;
}

struct cost {
    uint32_t frame, pixel;
};

/* The mean of its frames: of the look alone (which 0), of all that a frame takes (1), and of that
 * where it is dimmed (2), and that by a table (3). */
#define MARKS 4
static struct cost cost(uint32_t look, uint32_t which)
{
    uint64_t few = 0, many = 0;
    for (uint32_t k = 0; k < FRAMES; k++) {
        const uint64_t *at = &highs[(look * FRAMES + k) * 2 * MARKS + which];
        few += at[0];
        many += at[MARKS];
    }
    uint64_t more = many > few ? many - few : 0; /* a figure may be dearer where it is cut off */
    struct cost cost = {0,
                        (uint32_t)((more + FRAMES * (MANY - FEW) - 1) / (FRAMES * (MANY - FEW)))};
    uint64_t pixels = (uint64_t)cost.pixel * FEW;
    cost.frame = few / FRAMES > pixels ? (uint32_t)(few / FRAMES - pixels) : 0;
    return cost;
}

/* A text over 64 columns, as text_avr.c has it: the mean and the most of a frame. 1: it costs more
 * than its goal. */
#define TEXT_FRAMES 16
#define TEXT_GOAL   20000

static int time_text(const char *folder)
{
    char path[4096];
    uint64_t sum[2] = {0, 0}, most[2] = {0, 0};
    snprintf(path, sizeof path, "%s/text.elf", folder);
    high_count = 0;
    if (run(path) != 0 || high_count != 2 * TEXT_FRAMES)
        return 1;
    for (uint32_t k = 0; k < high_count; k++) {
        sum[k % 2] += highs[k];
        most[k % 2] = highs[k] > most[k % 2] ? highs[k] : most[k % 2];
    }
    printf("a text over 64 columns  %8" PRIu64 " in the mean, %" PRIu64 " at most; goal %d: %s\n",
           sum[0] / TEXT_FRAMES, most[0], TEXT_GOAL, most[0] <= TEXT_GOAL ? "met" : "MISSED");
    printf("  onto 8 modules        %8" PRIu64 "\n", sum[1] / TEXT_FRAMES);
    return most[0] > TEXT_GOAL;
}

/* What check reckons with, against what was counted just now. */
static int differs(const char *name, uint32_t frame, uint32_t pixel)
{
    for (const struct dia_look_cycles *look = dia_look_cycles; look->look; look++) {
        if (strcmp(look->look, name) != 0)
            continue;
        if (frame * 20 <= look->frame * 21 && look->frame * 20 <= frame * 21 &&
            pixel * 20 <= look->pixel * 21 && look->pixel * 20 <= pixel * 21)
            return 0;
    }
    printf("  %20s differs by more than 5 %% from src/plan/schedule.c\n", name);
    return 1;
}

int main(int argc, char **argv)
{
    char path[4096];
    uint32_t looks = 0;
    int missed = 0, differ = 0;
    if (argc != 2)
        return 2;
    while (dia_looks[looks])
        looks++;
    for (int part = 1; high_count < looks * FRAMES * 2 * MARKS; part++) {
        snprintf(path, sizeof path, "%s/looks_%d.elf", argv[1], part);
        if (run(path) != 0) {
            fprintf(stderr, "look-cycles: %s does not run to its end\n", path);
            return 3;
        }
    }
    puts("cycles on an ATmega328P    look alone   with limiter, develop   dimmed   by a table");
    puts("                         frame   pixel         frame   pixel    pixel        pixel");
    for (uint32_t k = 0; k < looks; k++) {
        struct cost look = cost(k, 0), all = cost(k, 1), dimmed = cost(k, 2), by_table = cost(k, 3);
        printf("  %-20s%8" PRIu32 "%8" PRIu32 "%14" PRIu32 "%8" PRIu32 "%9" PRIu32 "%13" PRIu32
               "\n",
               dia_looks[k]->name, look.frame, look.pixel, all.frame, all.pixel, dimmed.pixel,
               by_table.pixel);
        uint32_t dearer = dimmed.pixel > all.pixel ? dimmed.pixel : all.pixel;
        differ |= differs(dia_looks[k]->name, all.frame, dearer);
        if (dearer > goal_of(dia_looks[k]->name)) {
            printf("  %20s goal: %" PRIu32 " or less: MISSED\n", "", goal_of(dia_looks[k]->name));
            missed = 1;
        }
    }
    printf("goals, dimmed or not: hue-sweep 250, flame and water 1200, others 1500: %s\n",
           missed ? "MISSED" : "met");
    return missed | differ | time_text(argv[1]);
}
