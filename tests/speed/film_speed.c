/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <diachrome/picture.h>
#include <diachrome/reel.h>
#include <diachrome/show.h>

#include "look_speed.h"

#define ROUNDS 5

/* Millions of pixels of a frame of 1920 by 1080 that are read in a second, for 100 by 8 elements
 * side by side. */
static double sampled(void)
{
    static struct dia_point points[800];
    static struct dia_rgb out[800];
    static const struct dia_rectangle ground = {-5000, -5000, 1000000, 80000};
    uint32_t n = 1920 * 1080, *pixels = malloc(n * sizeof *pixels);
    struct dia_film_frame frame = {1920, 1080, pixels, 1};
    struct dia_picture picture;
    struct dia_picture_lie lie;
    double best = INFINITY;
    if (!pixels)
        return -1;
    for (uint32_t i = 0; i < n; i++)
        pixels[i] = i * 2654435761u | 0xff000000u;
    for (int i = 0; i < 800; i++)
        points[i] = (struct dia_point){i % 100 * 10000, i / 100 * 10000};
    dia_look_picture.defaults(&picture);
    picture.scale = DIA_PICTURE_STRETCH;
    dia_picture_lay(&lie, &picture, &frame, &ground, 10000, 0);
    for (int round = 0; round < ROUNDS; round++) {
        double start = now();
        dia_picture_points(&lie, points, 800, 10000, out, NULL);
        best = fmin(best, now() - start);
    }
    free(pixels);
    return n / best / 1e6;
}

static FILE *file_at(char *path)
{
    int fd = mkstemp(path);
    return fd < 0 ? NULL : fdopen(fd, "wb");
}

/* A film of 640 by 360 in YUV4MPEG2, 4:2:0, and a rig of eight lanes of 100 on top of each other.
 */
static int make_files(char *film, char *rig, int frames)
{
    FILE *file = file_at(film);
    static uint8_t planes[640 * 360 * 3 / 2];
    if (!file)
        return -1;
    fputs("YUV4MPEG2 W640 H360 F25:1 Ip A1:1 C420jpeg\n", file);
    for (int k = 0; k < frames; k++) {
        for (size_t i = 0; i < sizeof planes; i++)
            planes[i] = (uint8_t)(i * 2654435761u >> 24 ^ (unsigned)k);
        fputs("FRAME\n", file);
        fwrite(planes, 1, sizeof planes, file);
    }
    if (fclose(file) != 0 || !(file = file_at(rig)))
        return -1;
    fputs("controller: { clock: 48 MHz, ram: 64 KB, flash: 64 KB, logic_high: 5 V }\n"
          "supplies:\n  s: { current: 60 A }\nlanes:\n",
          file);
    for (int k = 0; k < 8; k++)
        fprintf(file,
                "  row%d: { pin: %d, chip: WS2812B, count: 100, supply: s, line: { pitch: 10 mm }, "
                "at: { x: 0 mm, y: %d mm } }\n",
                k, k + 2, k * 10);
    return fclose(file);
}

/* Seconds of that film that are played on the bench in one: decoded, sampled, sent, judged. */
static double played(void)
{
    static struct dia_rig rig;
    static struct dia_show show;
    char film[] = "/tmp/diachrome-film-XXXXXX", rig_path[] = "/tmp/diachrome-rig-XXXXXX", line[200];
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = NULL;
    double best = INFINITY;
    dia_show_init(&show);
    int failed = make_files(film, rig_path, 50);
    snprintf(line, sizeof line, "layer picture file=%s scale=stretch on desk", film);
    failed = failed || dia_rig_load(&rig, rig_path, &wrong) != DIA_OK ||
             dia_show_line(&show, &rig, line, &wrong) != DIA_OK ||
             !(player = dia_player_new(&rig, &wrong));
    for (int round = 0; round < ROUNDS && !failed; round++) {
        double start = now();
        for (uint32_t k = 0; k < 50 && !failed; k++)
            failed = dia_show_play(&show, player, k * 40, k, NULL) != DIA_OK;
        best = fmin(best, now() - start);
    }
    if (wrong.text[0])
        fprintf(stderr, "%s\n", wrong.text);
    dia_player_free(player);
    dia_show_free(&show);
    unlink(film);
    unlink(rig_path);
    return failed ? -1 : 50 / 25.0 / best;
}

/* Frames of the desk a second, 1280 wide, with its glow, as raw pictures. */
static double drawn(const char *rig_path)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = NULL;
    struct dia_hue_sweep sweep;
    struct dia_reel reel = {0};
    double best = INFINITY;
    dia_hue_sweep_defaults(&sweep);
    int failed = dia_rig_load(&rig, rig_path, &wrong) != DIA_OK ||
                 !(player = dia_player_new(&rig, &wrong)) ||
                 dia_reel_init(&reel, &rig, "hue-sweep", 60, &wrong) != DIA_OK;
    for (uint32_t k = 0; k < 60 && !failed; k++) {
        failed = dia_player_show(player, &dia_look_hue_sweep, &sweep, k * 33, k, NULL) != DIA_OK;
        dia_reel_add(&reel, player, k * 33333ull);
    }
    for (int round = 0; round < ROUNDS && !failed; round++) {
        double start = now();
        failed = dia_reel_write_moving(&reel, DIA_MOVING_PPM, "/dev/null", &wrong) != DIA_OK;
        best = fmin(best, now() - start);
    }
    if (wrong.text[0])
        fprintf(stderr, "%s\n", wrong.text);
    dia_reel_free(&reel);
    dia_player_free(player);
    return failed ? -1 : 60 / best;
}

int film_speeds(const char *rig_path)
{
    double pixels = sampled(), film = played(), frames = drawn(rig_path);
    if (pixels < 0 || film < 0 || frames < 0)
        return -1;
    print("sampling a picture: million source pixels a second", pixels, "goal 100 or more",
          pixels >= 100);
    print("film of 640 x 360 onto 8 lanes of 100: times real time", film, "goal 10 or more",
          film >= 10);
    print("the desk of the demo, 1280 wide: frames a second", frames, "goal 60 or more",
          frames >= 60);
    return pixels >= 100 && film >= 10 && frames >= 60;
}
