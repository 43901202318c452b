/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/picture.h>

static void defaults(void *values)
{
    *(struct dia_picture *)values = (struct dia_picture){.rate = 25, .pace = DIA_SHARE_ONE};
}

static void render(const void *values, const struct dia_surface *surface, uint32_t ms,
                   uint32_t first, uint32_t n, struct dia_rgb *out)
{
    (void)values;
    (void)surface;
    (void)ms;
    (void)first;
    (void)n;
    (void)out;
}

#define NUMBER(field, key, help, kind, min, max)                                                   \
    {                                                                                              \
        key, help, kind, min, max, offsetof(struct dia_picture, field), NULL                       \
    }
#define CHOICE(field, key, help, words, count)                                                     \
    {                                                                                              \
        key, help, DIA_PARAM_CHOICE, 0, count - 1, offsetof(struct dia_picture, field), words      \
    }
#define PLACE(field, key, help) NUMBER(field, key, help, DIA_PARAM_LENGTH, -100000000, 100000000)
#define SIZE(field, key, help)  NUMBER(field, key, help, DIA_PARAM_LENGTH, 0, 100000000)
#define SPEED(field, key, help) NUMBER(field, key, help, DIA_PARAM_SPEED, -10000000, 10000000)

static const struct dia_param params[] = {
    {"file", "PNG, APNG, GIF, PNM, YUV4MPEG2; name-[01-99].png; - for stdin", DIA_PARAM_TEXT, 0, 0,
     DIA_PARAM_BESIDE, NULL},
    CHOICE(scale, "scale", "all of it; over all; pulled to fit; where it is placed",
           "fit fill stretch place", 4),
    SIZE(width_um, "width", "of a placed picture; 0 mm: a pixel takes a pitch"),
    PLACE(x_um, "x", "left edge of a placed picture; of others, moved so far"),
    PLACE(y_um, "y", "the same, from the top"),
    CHOICE(turn, "turn", "clockwise, in degrees", "0 90 180 270", 4),
    CHOICE(mirror, "mirror", "left and right, above and below", "none x y both", 4),
    SPEED(speed_x_um_s, "speed-x", "it scrolls to the right, and comes again"),
    SPEED(speed_y_um_s, "speed-y", "it scrolls down, and comes again"),
    SIZE(gap_um, "gap", "from its end to its next beginning where it scrolls"),
    NUMBER(pace, "pace", "of a film: how fast it goes", DIA_PARAM_SHARE, 0, 10 * DIA_SHARE_ONE),
    CHOICE(end, "end", "behind the last frame: again, back, stays, dark", "loop back stay dark", 4),
    NUMBER(rate, "rate", "frames a second of PNM and of numbered files", DIA_PARAM_COUNT, 1, 1000),
    CHOICE(dither, "dither", "on dots that are lit or not", "ordered spread none", 3),
};

const struct dia_look dia_look_picture = {.name = "picture",
                                          .help = "a picture or film from a file or stream",
                                          .draws = 1,
                                          .params = params,
                                          .param_count = sizeof params / sizeof params[0],
                                          .size = sizeof(struct dia_picture),
                                          .defaults = defaults,
                                          .render = render};

_Static_assert(sizeof(struct dia_picture) <= sizeof(union dia_look_values),
               "a layer has room for its values");

int dia_picture_time(const struct dia_picture *picture, uint64_t length_us, uint32_t ms,
                     uint64_t *us)
{
    uint64_t at = (uint64_t)ms * 1000u * (uint32_t)picture->pace / DIA_SHARE_ONE;
    *us = at;
    if (length_us == 0 || at < length_us)
        return 0;
    switch (picture->end) {
    case DIA_PICTURE_LOOP:
        *us = at % length_us;
        return 0;
    case DIA_PICTURE_BACK:
        at %= 2 * length_us;
        *us = at < length_us ? at : 2 * length_us - at - 1;
        return 0;
    case DIA_PICTURE_STAY:
        *us = length_us - 1;
        return 0;
    default:
        return 1;
    }
}
