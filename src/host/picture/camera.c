/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/flicker.h>

#include "camera.h"
#include "family.h"

static void begin(struct camera_lamp *lamp, const struct dia_reel *reel, int height)
{
    memset(lamp, 0, sizeof *lamp);
    lamp->from_s = (double)reel->time_us[0] / 1e6;
    lamp->shutter_s = reel->shutter_us / 1e6;
    lamp->row_s = reel->readout_us / 1e6 / (height > 1 ? height - 1 : 1);
}

/* Of a number, 0 to 1, and another for each: any two odd factors that mix well would do. */
static double scattered(uint32_t number)
{
    number = (number ^ number >> 16) * 0x7feb352du;
    number = (number ^ number >> 15) * 0x846ca68bu;
    return (double)(number ^ number >> 16) / 4294967296.0;
}

void dia_camera_of_pixel(struct camera_lamp *lamp, const struct dia_reel *reel, uint32_t lane,
                         uint32_t pixel, int height)
{
    const struct dia_rig_lane *from = &reel->rig->lanes[lane];
    const struct dia_flicker_part *part = dia_flicker_part(from->part.name);
    const uint8_t *drive = dia_reel_lane(reel, 0, lane)[pixel];
    begin(lamp, reel, height);
    dia_drive_light(drive, dia_scale_of(&from->part), lamp->light);
    for (int c = 0; c < 4; c++)
        lamp->duty[c] = lamp->light[c] / 65535.0;
    if (!part)
        return;
    uint32_t number = lane << 16 | pixel;
    lamp->hz = part->pwm_mhz / 1e3;
    if (part->level_mhz) { /* the slower one is what a camera sees */
        lamp->hz = part->level_mhz / 1e3;
        for (int c = 0; c < 4; c++)
            lamp->duty[c] = (drive[3] & 31) / 31.0;
    }
    lamp->hz *= 0.95 + 0.1 * scattered(2 * number);
    lamp->phase = scattered(2 * number + 1);
}

void dia_camera_of_lamp(struct camera_lamp *lamp, const struct dia_reel *reel, uint32_t device,
                        uint32_t number, struct dia_rgb seen, int height)
{
    const struct dia_rig_device *from = &reel->rig->devices[device];
    const uint8_t *drive = dia_reel_device(reel, 0, device)[number];
    struct family_lit lit = {0, 1, 0};
    begin(lamp, reel, height);
    if (from->family->lit)
        from->family->lit(from, number, &lit);
    lamp->hz = lit.mhz / 1e3;
    lamp->phase = (double)lit.turn / lit.turns;
    lamp->light[0] = dia_light_of(seen.r);
    lamp->light[1] = dia_light_of(seen.g);
    lamp->light[2] = dia_light_of(seen.b);
    for (int c = 0; c < 3; c++) /* what is seen is as if it were lit in all turns */
        lamp->duty[c] = from->channels == 3 ? lamp->light[c] / 65535.0 / lit.turns
                                            : (drive[0] << 8 | drive[1]) / 65535.0;
}

static double taken(const struct camera_lamp *lamp, int channel, double from_s)
{
    double duty = lamp->duty[channel];
    if (lamp->hz <= 0 || duty <= 0 || duty >= 1)
        return lamp->light[channel];
    return lamp->light[channel] *
           dia_camera_share(lamp->hz, duty, lamp->phase, from_s, lamp->shutter_s);
}

struct dia_rgb dia_camera_row(const void *self, int y)
{
    const struct camera_lamp *lamp = self;
    double from_s = lamp->from_s + y * lamp->row_s, white = taken(lamp, 3, from_s);
    uint8_t code[3];
    for (int c = 0; c < 3; c++) {
        double light = taken(lamp, c, from_s) + white;
        code[c] = dia_code_of((dia_light)(light < 65535 ? light : 65535));
    }
    return (struct dia_rgb){code[0], code[1], code[2]};
}
