/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/picture.h>

/* PNG checks itself by sums, which a fuzzer does not guess: each chunk gets the sum it ought to
 * have. */
static uint32_t crc_of(const uint8_t *bytes, size_t n)
{
    uint32_t crc = 0xffffffffu;
    for (; n; n--) {
        crc ^= *bytes++;
        for (int bit = 0; bit < 8; bit++)
            crc = crc & 1 ? crc >> 1 ^ 0xedb88320u : crc >> 1;
    }
    return ~crc;
}

static void mend_sums(uint8_t *png, size_t size)
{
    for (size_t at = 8; at + 12 <= size;) {
        size_t n = (size_t)png[at] << 24 | (size_t)png[at + 1] << 16 | (size_t)png[at + 2] << 8 |
                   png[at + 3];
        if (n > size - at - 12)
            return;
        uint32_t crc = crc_of(png + at + 4, n + 4);
        for (int k = 0; k < 4; k++)
            png[at + 8 + n + (size_t)k] = (uint8_t)(crc >> (24 - 8 * k));
        at += n + 12;
    }
}

static void sampled(const struct dia_film_frame *frame, uint32_t ms)
{
    struct dia_picture picture;
    struct dia_picture_lie lie;
    struct dia_rgb out[4] = {{0}};
    static const struct dia_point points[4] = {{0, 0}, {7000, 0}, {0, 7000}, {30000, -5000}};
    static const struct dia_rectangle ground = {-3500, -3500, 14000, 21000};
    dia_look_picture.defaults(&picture);
    for (int k = 0; k < 16; k++) {
        picture.scale = k % 4;
        picture.turn = k / 4;
        picture.mirror = (int32_t)ms % 4;
        picture.speed_x_um_s = k % 3 - 1;
        picture.gap_um = (int32_t)ms;
        dia_picture_lay(&lie, &picture, frame, &ground, 7000, ms);
        dia_picture_points(&lie, points, 4, 7000, out, NULL);
    }
}

/* A file of any format: what is read shows at any time, forwards and back. */
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_film *film;
    struct dia_film_frame frame;
    uint8_t *copy = malloc(size + 1);
    memcpy(copy, data, size);
    if (size > 8 && copy[0] == 0x89)
        mend_sums(copy, size);
    enum dia_status status = dia_film_open(&film, file_of(copy, size), 10000, &wrong);
    free(copy);
    said(status, &wrong);
    for (uint32_t k = 0; status == DIA_OK && k < 6; k++) {
        static const uint32_t ms[] = {0, 90, 5000, 200, 0, 1000000};
        wrong.text[0] = 0;
        enum dia_status at = dia_film_at(film, ms[k] * 1000ull, &frame, &wrong);
        said(at, &wrong);
        if (at == DIA_OK && frame.columns * frame.rows < 100000)
            sampled(&frame, ms[k]);
    }
    dia_film_close(film);
    return 0;
}
