/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DEVELOP_H
#define DIACHROME_DEVELOP_H

#include <stdint.h>

#include "colour.h"
#include "config.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * develop: from a frame of sRGB colours to the drive bytes of a part.
 *
 * Per channel: linear light, times white point, master and power limit, then dithered to 8 bits.
 * Drive bytes come out in the order that the part wants on its wire (dia_develop_order); as r g b
 * (w) when nothing is said.
 *
 * How it dithers: what a pixel's byte cannot show is carried to the same channel of the next
 * pixel. Black stays black and full stays full, and the sum over the strip is right in every single
 * frame: it exceeds the exact sum by no more than the starting carry. The limiter counts on that.
 * Parts with a level (APA102) lose what is carried where the next pixel has a higher level.
 *
 *   in space   every frame starts from the same carry: what stands still is lit evenly
 *   in time    each frame starts from another carry, so that every pixel is right on average over
 *              256 frames. That is light which goes up and down by half a step at half the frame
 *              rate, a quarter of a step at a quarter of it, and so on
 *   none       each pixel is rounded down by itself (dia_develop_whole): equal colours are equal
 *              bytes; what is less than a step is dark
 *
 * IEEE 1789-2015 calls a modulation of 0.025 % a hertz low risk below 90 Hz; so dithering in time
 * is, on a drive of 8000 / frame rate or more: 160 of 255 at 50 frames a second, 20 at 400.
 *
 * Cost: 150 cycles a pixel on an ATmega328P with the limiter, 220 where it is dimmed; some
 * nanoseconds on a desktop, a table of 6 KB on its stack. Context: any; threads may work at once on
 * objects of their own.
 */

/* Which channel each byte of a pixel carries: channel[k] is 0 r, 1 g, 2 b, or 3 for white, or for
 * the level of parts that have one. */
struct dia_order {
    uint8_t channel[4];
};

/* The drive step from which on dithering in time is of low risk at so many frames a second; 0 where
 * it never is. For dia_develop.time_from. */
#define DIA_TIME_FROM(rate) ((uint8_t)((rate) > 31u ? (8000u + (rate)-1u) / (rate) : 0u))
#define DIA_TIME_ALWAYS     1u
#define DIA_WHOLE_STEPS     255u /* private: no dithering, see dia_develop_whole */

struct dia_channels;
struct dia_develop {
    const DIA_ROM struct dia_channels *channels;
    const DIA_ROM uint16_t
        *curve;            /* drive of each code, 0..65280, of code 0 always 0; sRGB at first */
    dia_share white[4];    /* white point: share of r g b w that makes the white wanted */
    dia_share master;      /* overall level */
    dia_share gain[4];     /* what the current frame uses; set by _begin and _limit */
    const uint16_t *table; /* private: of dia_develop_prepare, for dia_channels_rgb_table */
    dia_share table_gain;  /* private: the gain it was made for */
    uint8_t time_from;     /* frames whose lit channels all have this drive step or more are
                              dithered in time, others in space; 0: all in space */
    uint8_t phase;         /* starting carry of this frame in 1/256 of a drive step */
    uint8_t place[4];      /* private: in a pixel's bytes, of each channel */
    uint8_t mark;          /* bits set in a level, or in each byte of 7 bits: dia_clocked_mark */
};

/* White point and master at 1, dithering in space, bytes as r g b (w or the level), no mark. */
void dia_develop_init(struct dia_develop *develop, const DIA_ROM struct dia_channels *channels);

/* The order of the bytes from now on. Costs nothing for each pixel, but where bytes take the place
 * of their colours in src/core/small: 41 cycles then on an ATmega328P. */
void dia_develop_order(struct dia_develop *develop, struct dia_order order);

/*
 * A curve for parts, or eyes, that want another: light = (code / 255) ^ gamma. gamma in
 * thousandths, 1000..4000; the table is the caller's and must stay, in memory where constants are
 * (DIA_ROM: on processors that keep those apart, make it beforehand). Every entry is within 2 of
 * 65280 of the true one. DIA_BAD_VALUE, and the table untouched, outside of that range. Takes
 * 64-bit arithmetic.
 */
enum dia_status dia_curve_gamma(uint16_t table[256], uint16_t gamma);

/*
 * Colour bytes exactly as typed, for those who want no curve: light = code / 255. In flash, no RAM.
 *
 *   strip.develop.curve = dia_curve_straight;
 *
 * With the master at full and no limiter at work, the bytes on the wire are the codes themselves.
 */
extern const DIA_ROM uint16_t dia_curve_straight[256];

/*
 * A white point from a measurement: how much light of red, green and blue there is in what the
 * strip shows at full white, on any scale, such as linear sRGB of a colour meter. The channel with
 * the least of it stays at 1, so that full white becomes even. Right to half a 32768th.
 * DIA_BAD_VALUE, and white untouched, when one is 0 or above 2^16.
 */
enum dia_status dia_white_measured(dia_share white[4], const uint32_t seen[3]);

/* Starts frame number slot: successive frames have successive numbers, whatever the first. In time
 * with DIA_TIME_ALWAYS, else in space. */
void dia_develop_begin(struct dia_develop *develop, uint32_t slot);

/*
 * Once its gain is known: dithers that frame in time after all, where time_from is more than 1 and
 * no lit channel of its n pixels has less. Strips do so by themselves, those in one buffer
 * (inplace_strip.h) do not. Looks at the pixels until one is too dim, which is most often soon;
 * some 40 cycles each on an ATmega328P.
 */
void dia_develop_choose(struct dia_develop *develop, uint32_t slot, const struct dia_rgb *pixels,
                        uint16_t n);

/*
 * No dithering from now on, for strips (strip.h): table is the caller's and stays. Rounded down, so
 * that a limiter's budget holds. DIA_UNSUPPORTED, and nothing is changed: kinds of four channels,
 * dia_channels_rgb_table, whose table this would be, and builds with core/small, whose curves lie
 * in flash. A frame whose white point is not even is dithered in space all the same.
 */
enum dia_status dia_develop_whole(struct dia_develop *develop, uint16_t table[256]);

/* A run of the frame begun in that way. */
void dia_develop_run_whole(struct dia_develop *develop, const struct dia_rgb *pixels, uint16_t n,
                           uint8_t *out);

/* Scales the frame begun, as the limiter found (dia_budget_share). */
void dia_develop_limit(struct dia_develop *develop, dia_share share);

/*
 * For small controllers with 512 bytes of RAM to spare: the drives of all codes in this frame into
 * the table, which stays the caller's, once the limit is known and before the first run. With
 * dia_channels_rgb_table in place of dia_channels_rgb a dimmed pixel then costs no more than any
 * other, with the same bytes. DIA_UNSUPPORTED when the white point is not even. Without it, or
 * with a table of another frame's gain, that kind works out each pixel as dia_channels_rgb does.
 */
enum dia_status dia_develop_prepare(struct dia_develop *develop, uint16_t table[256]);

/*
 * The carry between two stretches of one frame. A frame may be developed in one run or in
 * several, with the same bytes.
 */
struct dia_carry {
    uint16_t channel[4]; /* 256 * channels->steps = one drive step; of kinds with a level the last
                            is that of the pixel before, and 256 */
};
void dia_carry_begin(struct dia_carry *carry, const struct dia_develop *develop);

/*
 * n pixels (a longer frame takes several runs) to n * channels->count drive bytes. out may be the
 * memory of the pixels themselves with 3 channels; with 4 the pixels may lie in the last 3/4 of
 * the memory of out.
 */
static inline void dia_develop_run(const struct dia_develop *develop, struct dia_carry *carry,
                                   const struct dia_rgb *pixels, uint16_t n, uint8_t *out);

/* What one pixel draws. Currents are averages over the pixel's own PWM, microamperes. */
struct dia_power {
    uint16_t channel_ua[4]; /* r g b w at full drive; 0 where there is no channel. Dies in series
                               share one current: it stands in r */
    uint16_t idle_ua;       /* with every channel at 0 */
};

/*
 * How the colour of a pixel is divided among the channels of a part. A program links only the
 * kinds its parts need.
 */
struct dia_channels {
    uint8_t count;  /* drive bytes a pixel */
    uint8_t powers; /* of dia_power.channel_ua that count: 1 when the dies are in series */
    uint8_t steps;  /* 1/255 of full light that one drive step is at most: 1, or 2 for 7 bits */
    /* see dia_develop_run */
    void (*run)(const struct dia_develop *develop, struct dia_carry *carry,
                const struct dia_rgb *pixels, uint16_t n, uint8_t *out);
    /* current of n pixels without idle, microamperes, rounded up */
    uint32_t (*draw_ua)(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n);
};

extern const DIA_ROM struct dia_channels
    dia_channels_rgb,       /* three dies, each with a current of its own */
    dia_channels_rgb_table, /* the same bytes by dia_develop_prepare */
    dia_channels_rgbw,      /* white common to r, g and b is taken out of them, in linear light */
    dia_channels_series,    /* three dies in one string: the brightest sets the current */
    dia_channels_level,     /* r g b and a 5-bit level: a dim pixel keeps up to 13 bits */
    dia_channels_seven;     /* three dies, 7 bits: drive bytes 0..127 */

static inline void dia_develop_run(const struct dia_develop *develop, struct dia_carry *carry,
                                   const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    develop->channels->run(develop, carry, pixels, n, out);
}

DIA_END

#endif
