/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <gif_lib.h>
#include <png.h>

#define QUAY "demo/quay.rig.yaml"

static uint8_t *moving, *still;
static size_t moving_size, still_size;

static uint32_t word(const uint8_t *at)
{
    return (uint32_t)at[0] << 24 | (uint32_t)at[1] << 16 | (uint32_t)at[2] << 8 | at[3];
}

/* The polynomial of the PNG specification, most significant bit last; a byte at a time. */
static uint32_t crc(const uint8_t *bytes, size_t n)
{
    uint32_t c = 0xffffffffu;
    for (size_t i = 0; i < n; i++) {
        uint32_t low = (c ^ bytes[i]) & 255u;
        for (int k = 0; k < 8; k++)
            low = low >> 1 ^ (low & 1 ? 0xedb88320u : 0);
        c = c >> 8 ^ low;
    }
    return ~c;
}

/* All image data of a type put together; counts the chunks of another type on the way. */
static size_t gather(const uint8_t *png, size_t size, const char *type, size_t skip, uint8_t *out)
{
    size_t n = 0;
    for (size_t at = 8; at < size; at += 12 + word(png + at)) {
        uint32_t length = word(png + at);
        assert_true(at + 12 + length <= size);
        assert_int_equal(word(png + at + 8 + length), crc(png + at + 4, length + 4));
        if (memcmp(png + at + 4, type, 4) == 0) {
            memcpy(out + n, png + at + 8 + skip, length - skip);
            n += length - skip;
        }
    }
    return n;
}

static size_t put_chunk(uint8_t *out, const char *type, const uint8_t *bytes, size_t n)
{
    uint8_t *at = out;
    for (int k = 0; k < 4; k++)
        *at++ = (uint8_t)(n >> (24 - 8 * k));
    memcpy(at, type, 4);
    memcpy(at + 4, bytes, n);
    uint32_t sum = crc(at, n + 4);
    for (int k = 0; k < 4; k++)
        at[4 + n + (size_t)k] = (uint8_t)(sum >> (24 - 8 * k));
    return n + 12;
}

/* The dots of a PNG file, by libpng. */
static uint8_t *dots_of(const uint8_t *png, size_t size, size_t *dots)
{
    png_image image = {.version = PNG_IMAGE_VERSION};
    assert_true(png_image_begin_read_from_memory(&image, png, size));
    image.format = PNG_FORMAT_RGBA;
    *dots = PNG_IMAGE_SIZE(image);
    uint8_t *read = malloc(*dots);
    assert_true(png_image_finish_read(&image, NULL, read, 0, NULL));
    return read;
}

/* Image data of the animation, as a file of their own, show what the still file shows. */
static void same_dots(const uint8_t *data, size_t n, const char *still_path)
{
    uint8_t *png = malloc(n + 100), *at = png + 8;
    memcpy(png, moving, 8);
    at += put_chunk(at, "IHDR", moving + 16, 13);
    at += put_chunk(at, "IDAT", data, n);
    at += put_chunk(at, "IEND", data, 0);
    size_t a, b;
    still = (uint8_t *)read_file(still_path, &still_size);
    uint8_t *is = dots_of(png, (size_t)(at - png), &a), *should = dots_of(still, still_size, &b);
    assert_int_equal(a, b);
    assert_memory_equal(is, should, a);
    free(is);
    free(should);
    free(png);
    free(still);
}

/*
 * Every chunk is whole, numbers run on without a gap, and the first and the last frame show what
 * the still pictures of these moments show.
 */
static void an_animated_png_is_the_still_ones_in_turn(void **state)
{
    (void)state;
    assert_int_equal(run("$D render " QUAY " --look water --frames 4 --rate 10Hz --out m.apng && "
                         "$D render " QUAY " --look water --rate 10Hz --out first.png && "
                         "$D render " QUAY " --look water --from 300ms --rate 10Hz --out last.png"),
                     0);
    says("m.apng: water, 4 frames from 0 s to 300 ms");
    moving = (uint8_t *)read_file("m.apng", &moving_size);
    uint8_t *data = calloc(1, moving_size);
    size_t n = gather(moving, moving_size, "IDAT", 0, data);
    same_dots(data, n, "first.png");
    uint32_t sequence = 0, controls = 0, last_at = 0;
    for (size_t at = 8; at < moving_size; at += 12 + word(moving + at)) {
        int control = memcmp(moving + at + 4, "fcTL", 4) == 0;
        if (control || memcmp(moving + at + 4, "fdAT", 4) == 0)
            assert_int_equal(word(moving + at + 8), sequence++);
        if (control) {
            controls++;
            last_at = (uint32_t)at;
            assert_int_equal(word(moving + at + 8 + 20), 100u << 16 | 1000u); /* 100 of 1000 s */
        }
        if (memcmp(moving + at + 4, "acTL", 4) == 0)
            assert_int_equal(word(moving + at + 8), 4);
    }
    assert_int_equal(controls, 4);
    n = gather(moving + last_at - 8, moving_size - last_at + 8, "fdAT", 4, data);
    same_dots(data, n, "last.png");
    free(data);
    free(moving);
}

/* By hand: the ground is 14 15 19 of 255, in BT.601 16 + (65.7 * 14 + 129 * 15 + 25 * 19) / 256
 * = 29. */
static void streams_for_video_tools_have_all_frames(void **state)
{
    (void)state;
    unsigned width, height;
    assert_int_equal(run("$D render " QUAY
                         " --view parts --look chase --frames 3 --rate 25Hz --out m.ppm && "
                         "$D render " QUAY
                         " --view parts --look chase --frames 3 --rate 25Hz --out -.y4m >m.y4m"),
                     0);
    moving = (uint8_t *)read_file("m.ppm", &moving_size);
    assert_int_equal(sscanf((char *)moving, "P6\n%u %u\n255\n", &width, &height), 2);
    size_t head = (size_t)snprintf(NULL, 0, "P6\n%u %u\n255\n", width, height);
    assert_int_equal(moving_size, 3 * (head + 3 * (size_t)width * height));
    static const uint8_t ground[3] = {14, 15, 19};
    assert_memory_equal(moving + head, ground, 3);
    assert_memory_equal(moving + moving_size / 3, "P6\n", 3);
    still = (uint8_t *)read_file("m.y4m", &still_size);
    char *line_end = strchr((char *)still, '\n');
    assert_non_null(line_end);
    *line_end = 0;
    char expected[80];
    snprintf(expected, sizeof expected, "YUV4MPEG2 W%u H%u F2000:80 Ip A1:1 C444", width, height);
    assert_string_equal((char *)still, expected);
    head = strlen(expected) + 1;
    assert_int_equal(still_size, head + 3 * (6 + 3 * (size_t)width * height));
    assert_memory_equal(still + head, "FRAME\n", 6);
    assert_in_range(still[head + 6], 28, 30);
    free(moving);
    free(still);
}

/* Read by the library that others read it with; 7 frames at 30 Hz are 0.2333 s: 23 hundredths in
 * all, which no frame shows by itself. */
static void a_gif_has_all_frames_and_their_times(void **state)
{
    (void)state;
    assert_int_equal(
        run("$D render " QUAY " --look hue-sweep --frames 7 --rate 30Hz --width 400 --out m.gif"),
        0);
    int error, hundredths = 0;
    GifFileType *gif = DGifOpenFileName("m.gif", &error);
    assert_non_null(gif);
    assert_int_equal(DGifSlurp(gif), GIF_OK);
    assert_int_equal(gif->SWidth, 400);
    assert_int_equal(gif->ImageCount, 7);
    for (int k = 0; k < 7; k++) {
        GraphicsControlBlock control;
        assert_int_equal(DGifSavedExtensionToGCB(gif, k, &control), GIF_OK);
        assert_in_range(control.DelayTime, 3, 4);
        hundredths += control.DelayTime;
    }
    assert_int_equal(hundredths, 23);
    /* frames differ, and each uses many colours: a sweep has 60 hues a side */
    assert_memory_not_equal(gif->SavedImages[0].RasterBits, gif->SavedImages[6].RasterBits, 40000);
    int used[256] = {0}, colours = 0;
    for (int i = 0; i < gif->SWidth * gif->SHeight; i++)
        colours += used[gif->SavedImages[3].RasterBits[i]]++ == 0;
    assert_true(colours > 200);
    DGifCloseFile(gif, &error);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(an_animated_png_is_the_still_ones_in_turn),
        cmocka_unit_test(streams_for_video_tools_have_all_frames),
        cmocka_unit_test(a_gif_has_all_frames_and_their_times),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
