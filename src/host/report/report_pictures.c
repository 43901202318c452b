/* SPDX-License-Identifier: MIT */
#define _POSIX_C_SOURCE 200809L /* open_memstream */
#include <stdlib.h>
#include <string.h>

#include "apng.h"
#include "picture.h"
#include "report_private.h"
#include "waveform_private.h"

#define PICTURE_PIXELS 1120
#define MOVING_PIXELS  640
#define SET_UP_NS      6000000u

static cairo_status_t put(void *self, const unsigned char *bytes, unsigned n)
{
    dia_base64_put(self, bytes, n);
    return CAIRO_STATUS_SUCCESS;
}

/* <img>, from a picture. */
static int image(FILE *file, cairo_surface_t *surface, const char *what)
{
    struct base64 to = {.file = file};
    fprintf(file, "<img alt=\"%s\" width=\"%d\" height=\"%d\" src=\"data:image/png;base64,", what,
            cairo_image_surface_get_width(surface), cairo_image_surface_get_height(surface));
    cairo_status_t status = cairo_surface_write_to_png_stream(surface, put, &to);
    dia_base64_end(&to);
    fputs("\">\n", file);
    return status == CAIRO_STATUS_SUCCESS ? 0 : -1;
}

static int one_picture(FILE *file, const struct dia_reel *reel, const char *what)
{
    cairo_surface_t *surface = dia_picture_of_desk(reel, PICTURE_PIXELS, 0);
    int failed = surface ? image(file, surface, what) : -1;
    cairo_surface_destroy(surface);
    return failed;
}

/* All frames one after the other, in one file. */
static int moving(FILE *file, const struct dia_reel *reel)
{
    struct apng apng = {.frames = reel->frames};
    struct base64 to = {.file = file};
    char *bytes = NULL;
    size_t size = 0;
    FILE *memory = open_memstream(&bytes, &size);
    struct dia_painter *painter = dia_painter_new(reel->rig, MOVING_PIXELS, 0);
    int failed = !memory || !painter ? -1 : 0;
    for (uint32_t k = 0; k < reel->frames && !failed; k++) {
        struct dia_reel one = dia_picture_one(reel, k);
        uint64_t next_us = reel->time_us[k + 1 < reel->frames ? k + 1 : k], ms = 100;
        cairo_surface_t *surface = dia_painter_paint(painter, &one);
        if (next_us > reel->time_us[k])
            ms = (next_us - reel->time_us[k]) / 1000u;
        if (surface) {
            apng.file = memory;
            apng.width = (uint32_t)cairo_image_surface_get_width(surface);
            apng.height = (uint32_t)cairo_image_surface_get_height(surface);
        }
        failed = !surface || dia_apng_frame(&apng, surface, (uint32_t)ms) != 0 ? -1 : 0;
    }
    dia_painter_free(painter);
    if (memory && fclose(memory) != 0)
        failed = -1;
    if (!failed) {
        fprintf(
            file,
            "<img class=\"moving\" alt=\"the first seconds, moving\" width=\"%u\" height=\"%u\" "
            "src=\"data:image/png;base64,",
            (unsigned)apng.width, (unsigned)apng.height);
        dia_base64_put(&to, (const uint8_t *)bytes, size);
        dia_base64_end(&to);
        fputs("\">\n", file);
    }
    free(bytes);
    return failed;
}

int dia_report_pictures(FILE *file, const struct dia_report *report)
{
    struct dia_reel dark;
    struct dia_diagnostic wrong;
    struct dia_reel lit = dia_picture_one(&report->reel, 0);
    if (dia_reel_init(&dark, report->rig, "nothing", 1, &wrong) != DIA_OK)
        return -1;
    dark.frames = 1;
    fputs("<figure>", file);
    int failed = one_picture(file, &lit, "the rig, lit");
    fputs("<figcaption>Lit, at its first moment, as the bench decoded it.</figcaption></figure>\n"
          "<figure>",
          file);
    failed |= one_picture(file, &dark, "the rig without light");
    fputs("<figcaption>Without light.</figcaption></figure>\n", file);
    if (report->reel.frames > 1) {
        fputs("<figure>", file);
        failed |= moving(file, &report->reel);
        fputs("<figcaption>Its first seconds, moving.</figcaption></figure>\n", file);
    }
    dia_reel_free(&dark);
    return failed;
}

/* ---- waveforms ------------------------------------------------------------------------------- */

static cairo_status_t put_picture(void *self, const unsigned char *bytes, unsigned n)
{
    dia_base64_put(self, bytes, n);
    return CAIRO_STATUS_SUCCESS;
}

/* The first pixel of a lane, or a stretch of a device, in a frame of white. */
static int waveform(FILE *file, const struct dia_rig *rig, const char *name, int is_lane,
                    uint64_t at_ns, uint64_t lasts_ns)
{
    struct dia_waveform wave;
    struct dia_diagnostic wrong;
    struct dia_waveform_stretch stretch = {
        .by_element = (uint8_t)is_lane, .at_ns = at_ns, .lasts_ns = lasts_ns};
    const struct dia_steady white = {{200, 120, 40}};
    struct dia_player *player = dia_player_new(rig, &wrong);
    struct base64 to = {.file = file};
    if (!player)
        return -1;
    enum dia_status status = dia_waveform_init(&wave, rig, name, &stretch, &wrong);
    for (uint32_t i = 0; i < wave.wire_count && status == DIA_OK; i++)
        dia_waveform_begins(&wave, wave.wires[i].pin, dia_player_level(player, wave.wires[i].pin));
    if (status == DIA_OK) {
        dia_player_listen(player, dia_waveform_take, &wave);
        status = dia_player_show(player, &dia_look_steady, &white, 0, 0, NULL);
        dia_waveform_catch_up(&wave);
        dia_player_rest_until(player, dia_player_now_ns(player) + 1000000);
    }
    int heard =
        status == DIA_OK && dia_waveform_end(&wave, dia_player_now_ns(player), &wrong) == DIA_OK;
    if (heard) {
        fprintf(file,
                "<figure><img class=\"wave\" alt=\"waveform of %s\" src=\"data:image/svg+xml;"
                "base64,",
                name);
        status = dia_waveform_svg(&wave, put_picture, &to) == 0 ? DIA_OK : DIA_PORT_FAILED;
        dia_base64_end(&to);
        fputs("\"></figure>\n", file);
    }
    dia_waveform_free(&wave);
    dia_player_free(player);
    return status == DIA_PORT_FAILED ? -1 : 0;
}

/* One of each part: what others of the same kind have looks alike. */
int dia_report_waveforms(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    int failed = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        int seen = 0;
        for (uint32_t k = 0; k < i; k++)
            seen |= strcmp(rig->lanes[k].part.name, rig->lanes[i].part.name) == 0;
        if (!seen)
            failed |= waveform(file, rig, rig->lanes[i].name, 1, 0, 0);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_check_device *c = &report->check->devices[i];
        int seen = 0;
        for (uint32_t k = 0; k < i; k++)
            seen |= rig->devices[k].family == rig->devices[i].family;
        /* a period of what is lit in turns, else some bytes */
        uint64_t ns = c->tick_mhz && c->refresh_mhz ? 1000000000000u / c->refresh_mhz : 100000;
        /* a character display is set up first: a cell takes some 50 us after that */
        int cells = dia_rig_lies(&rig->devices[i]) == DIA_LIES_CELLS;
        if (!seen)
            failed |= waveform(file, rig, rig->devices[i].name, 0, cells ? SET_UP_NS : 0,
                               cells ? 4 * ns : ns);
    }
    return failed;
}
