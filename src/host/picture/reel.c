/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/reel.h>

#include "host_private.h"

#define MOST_BYTES (1u << 30)

enum dia_status dia_reel_init(struct dia_reel *reel, const struct dia_rig *rig, const char *look,
                              uint32_t frames, struct dia_diagnostic *wrong)
{
    memset(reel, 0, sizeof *reel);
    reel->rig = rig;
    reel->look = look;
    reel->room = frames;
    reel->width = DIA_PICTURE_WIDTH;
    for (uint32_t i = 0; i < rig->lane_count; i++)
        reel->view = rig->lanes[i].at.given ? DIA_VIEW_DESK : reel->view;
    for (uint32_t i = 0; i < rig->device_count; i++)
        reel->view = rig->devices[i].at.given ? DIA_VIEW_DESK : reel->view;
    for (uint32_t i = 0; i < rig->lane_count; i++)
        reel->pixels += rig->lanes[i].count;
    for (uint32_t i = 0; i < rig->device_count; i++)
        reel->pixels += dia_reel_elements(&rig->devices[i]);
    if ((uint64_t)frames * reel->pixels > MOST_BYTES / sizeof *reel->drive)
        return dia_host_wrong(wrong,
                              "%" PRIu32 " frames of %" PRIu32
                              " elements are more than can be kept; at most %" PRIu32 " frames",
                              frames, reel->pixels,
                              (uint32_t)(MOST_BYTES / sizeof *reel->drive / reel->pixels));
    reel->drive = calloc((size_t)frames * reel->pixels, sizeof *reel->drive);
    reel->time_us = calloc(frames, sizeof *reel->time_us);
    reel->gives_ua = calloc(frames, sizeof *reel->gives_ua);
    if (reel->drive && reel->time_us && reel->gives_ua)
        return DIA_OK;
    dia_reel_free(reel);
    errno = ENOMEM;
    return dia_host_failed(wrong, rig->name, "frames cannot be kept");
}

void dia_reel_free(struct dia_reel *reel)
{
    free(reel->drive);
    free(reel->time_us);
    free(reel->gives_ua);
    free(reel->glyphs);
    memset(reel, 0, sizeof *reel);
}

uint32_t dia_reel_elements(const struct dia_rig_device *device)
{
    return dia_rig_lies(device) == DIA_LIES_CELLS ? (uint32_t)device->columns * device->rows
                                                  : device->lamps;
}

/* The number of a glyph's dots, as a sign. */
static uint16_t keep_glyph(struct dia_reel *reel, const uint8_t rows[8])
{
    uint32_t k = 0;
    while (k < reel->glyph_count && memcmp(reel->glyphs[k], rows, 8) != 0)
        k++;
    if (k == reel->glyph_count) {
        uint8_t(*larger)[8] =
            k < DIA_REEL_GLYPHS ? realloc(reel->glyphs, (k + 1) * sizeof *larger) : NULL;
        if (!larger)
            return 0x2592; /* a shade */
        reel->glyphs = larger;
        memcpy(reel->glyphs[reel->glyph_count++], rows, 8);
    }
    return (uint16_t)(DIA_REEL_GLYPH + k);
}

static void keep_cells(struct dia_reel *reel, const struct dia_player *player, uint32_t number,
                       uint8_t (*to)[4])
{
    const struct dia_cells_shown *cells = dia_player_cells(player, number);
    for (uint8_t row = 0; row < cells->rows; row++) {
        for (uint8_t column = 0; column < cells->columns; column++, to++) {
            int cursor = cells->cursor_row == row && cells->cursor_column == column;
            uint8_t on = cells->on && cells->contrast == DIA_CONTRAST_GOOD;
            uint8_t code = cells->code[row][column];
            uint16_t sign = code < 16 ? keep_glyph(reel, cells->glyph[code & 7])
                                      : dia_player_cell(player, number, row, column);
            (*to)[0] = code;
            (*to)[2] = (uint8_t)(sign >> 8);
            (*to)[3] = (uint8_t)sign;
            (*to)[1] = (uint8_t)((on ? DIA_CELL_ON : 0) |
                                 (on && cursor && cells->underline ? DIA_CELL_UNDERLINE : 0) |
                                 (on && cursor && cells->block ? DIA_CELL_BLOCK : 0));
            if (cells->contrast == DIA_CONTRAST_DARK ||
                (cells->blocks && row % 2 == 0 && cells->contrast == DIA_CONTRAST_GOOD))
                (*to)[1] = DIA_CELL_SOLID;
        }
    }
}

static void keep_device(struct dia_reel *reel, const struct dia_player *player,
                        const struct dia_rig_device *of, uint32_t number, uint8_t (*to)[4])
{
    if (dia_rig_lies(of) == DIA_LIES_CELLS) {
        keep_cells(reel, player, number, to);
        return;
    }
    for (uint32_t i = 0; i < of->lamps && of->channels == 3; i++) {
        struct dia_rgb seen = dia_player_lamp_seen(player, number, i);
        memcpy(to[i], &seen, sizeof seen);
    }
    for (uint32_t i = 0; i < of->lamps && of->channels == 1; i++) {
        uint16_t level = dia_player_lamp(player, number, i);
        to[i][0] = (uint8_t)(level >> 8);
        to[i][1] = (uint8_t)level;
    }
}

void dia_reel_add(struct dia_reel *reel, const struct dia_player *player, uint64_t time_us)
{
    if (reel->frames == reel->room)
        return;
    uint8_t(*to)[4] = reel->drive + (size_t)reel->frames * reel->pixels;
    for (uint32_t i = 0; i < reel->rig->lane_count; i++) {
        const struct dia_shown *shown = dia_player_shown(player, i);
        uint32_t count = reel->rig->lanes[i].count;
        memcpy(to, shown->lit, (shown->count < count ? shown->count : count) * sizeof *to);
        to += count;
    }
    for (uint32_t i = 0; i < reel->rig->device_count; i++) {
        keep_device(reel, player, &reel->rig->devices[i], i, to);
        to += dia_reel_elements(&reel->rig->devices[i]);
    }
    uint64_t gives = 0;
    reel->supplies = 0;
    for (uint32_t i = 0; i < reel->rig->supply_count; i++) {
        gives += dia_player_gives_ua(player, i);
        reel->supplies += dia_player_alike(player, i);
    }
    reel->gives_ua[reel->frames] = gives > UINT32_MAX ? UINT32_MAX : (uint32_t)gives;
    reel->time_us[reel->frames++] = time_us;
}

const uint8_t (*dia_reel_lane(const struct dia_reel *reel, uint32_t frame, uint32_t lane))[4]
{
    size_t at = (size_t)frame * reel->pixels;
    for (uint32_t i = 0; i < lane; i++)
        at += reel->rig->lanes[i].count;
    return (const uint8_t(*)[4])(reel->drive + at);
}

const uint8_t (*dia_reel_device(const struct dia_reel *reel, uint32_t frame, uint32_t device))[4]
{
    const uint8_t(*at)[4] = dia_reel_lane(reel, frame, reel->rig->lane_count);
    for (uint32_t i = 0; i < device; i++)
        at += dia_reel_elements(&reel->rig->devices[i]);
    return at;
}

static void write_lane(const struct dia_reel *reel, uint32_t frame, uint32_t lane, FILE *file)
{
    const struct dia_rig_lane *of = &reel->rig->lanes[lane];
    const uint8_t(*drive)[4] = dia_reel_lane(reel, frame, lane);
    for (uint32_t i = 0; i < of->count; i++) {
        fprintf(file, "%" PRIu32 ",%" PRIu64 ",%s,%" PRIu32 ",%d,%d,%d,", frame,
                reel->time_us[frame], of->name, i, drive[i][0], drive[i][1], drive[i][2]);
        if (of->part.channels->count == 4)
            fprintf(file, "%d", drive[i][3]);
        fputs(",,\r\n", file); /* RFC 4180 ends lines so */
    }
}

static void write_device(const struct dia_reel *reel, uint32_t frame, uint32_t device, FILE *file)
{
    const struct dia_rig_device *of = &reel->rig->devices[device];
    const uint8_t(*drive)[4] = dia_reel_device(reel, frame, device);
    int cells = dia_rig_lies(of) == DIA_LIES_CELLS;
    for (uint32_t i = 0; i < of->lamps && of->channels == 3; i++)
        fprintf(file, "%" PRIu32 ",%" PRIu64 ",%s,%" PRIu32 ",%d,%d,%d,,,\r\n", frame,
                reel->time_us[frame], of->name, i, drive[i][0], drive[i][1], drive[i][2]);
    if (of->channels == 3)
        return;
    for (uint32_t i = 0; i < dia_reel_elements(of); i++)
        fprintf(file, "%" PRIu32 ",%" PRIu64 ",%s,%" PRIu32 ",,,,,%s%d%s\r\n", frame,
                reel->time_us[frame], of->name, i, cells ? "," : "",
                cells ? drive[i][0] : drive[i][0] * 256 + drive[i][1], cells ? "" : ",");
}

enum dia_status dia_reel_write_csv(const struct dia_reel *reel, const char *path,
                                   struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    fputs("frame,time_us,surface,index,r,g,b,w,level,code\r\n", out.file);
    for (uint32_t frame = 0; frame < reel->frames; frame++) {
        for (uint32_t lane = 0; lane < reel->rig->lane_count; lane++)
            write_lane(reel, frame, lane, out.file);
        for (uint32_t device = 0; device < reel->rig->device_count; device++)
            write_device(reel, frame, device, out.file);
    }
    return dia_host_output_close(&out, wrong);
}

enum dia_scale dia_scale_of(const struct dia_pixel_part *part)
{
    return part->channels == &dia_channels_level   ? DIA_SCALE_LEVEL
           : part->channels == &dia_channels_seven ? DIA_SCALE_SEVEN
                                                   : DIA_SCALE_BYTE;
}
