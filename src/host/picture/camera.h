/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_CAMERA_H
#define DIA_HOST_CAMERA_H

#include <diachrome/reel.h>

/*
 * What a camera takes of a lamp that is switched on and off: row after row begins a little later,
 * and is open for the shutter's time. Each pixel with a PWM of its own runs by its own clock: 5 %
 * to both sides, and from another place in its period (choices, from the number of the pixel).
 * What is lit by slices is taken as one stretch of each period, as long as all of its slices.
 */
struct camera_lamp {
    double hz, phase;  /* 0 Hz: always on; of a period */
    double duty[4];    /* of r g b w */
    uint16_t light[4]; /* mean, linear */
    double from_s, shutter_s, row_s;
};

void dia_camera_of_pixel(struct camera_lamp *lamp, const struct dia_reel *reel, uint32_t lane,
                         uint32_t pixel, int height);
void dia_camera_of_lamp(struct camera_lamp *lamp, const struct dia_reel *reel, uint32_t device,
                        uint32_t number, struct dia_rgb seen, int height);

/* Its colour in a row of the picture, for dia_shine_light_rows; self is the struct. */
struct dia_rgb dia_camera_row(const void *self, int y);

#endif
