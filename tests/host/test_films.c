/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <gif_lib.h>
#include <png.h>
#include <zlib.h>

#include <diachrome/film.h>

/* Films that are made here, by the libraries' own writers or byte by byte, and read again. */
static struct dia_diagnostic wrong;
static struct dia_film_frame frame;

static struct dia_film *opened(const char *path)
{
    struct dia_film *film;
    if (dia_film_open(&film, path, 25000, &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    return film;
}

/* Pixels of the frame at a time, as #rrggbb or #rrggbbaa with spaces between, row after row. */
static void shows(struct dia_film *film, uint64_t us, const char *expected)
{
    char text[2000] = "";
    uint8_t opaque = 1;
    if (dia_film_at(film, us, &frame, &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    for (uint32_t i = 0; i < frame.columns * frame.rows; i++) {
        uint32_t p = frame.pixels[i], n = (uint32_t)strlen(text);
        n += (uint32_t)snprintf(text + n, sizeof text - n, "%s#%02x%02x%02x", i ? " " : "", p & 255,
                                p >> 8 & 255, p >> 16 & 255);
        if (p >> 24 != 255)
            snprintf(text + n, sizeof text - n, "%02x", p >> 24);
        opaque &= p >> 24 == 255;
    }
    assert_string_equal(text, expected);
    assert_int_equal(frame.opaque, opaque);
}

static void is_refused(const char *path, const char *why)
{
    struct dia_film *film;
    assert_int_equal(dia_film_open(&film, path, 25000, &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, why);
    assert_null(film);
}

static void each_kind_of_pnm_is_read(void **state)
{
    (void)state;
#define BYTES(text) text, sizeof text - 1
    static const struct {
        const char *bytes;
        size_t n;
        const char *shows;
    } files[] = {
        {BYTES("P1 # dots\n3 2\n1 0 1\n011"), "#000000 #ffffff #000000 #ffffff #000000 #000000"},
        {BYTES("P2\n2 1\n15\n0 15\n"), "#000000 #ffffff"},
        {BYTES("P3 1 2 1023 # 10 bits\n1023 512 0  0 1 1023"), "#ff8000 #0000ff"},
        {BYTES("P4\n10 1\n\x55\x40"),
         "#ffffff #000000 #ffffff #000000 #ffffff #000000 #ffffff #000000 #ffffff #000000"},
        {BYTES("P5 2 1 200\n\0\xc8"), "#000000 #ffffff"},
        {BYTES("P6 1 1 65535\n\xff\xff\x80\x80\0\0"), "#ff8000"},
    };
    for (size_t k = 0; k < sizeof files / sizeof files[0]; k++) {
        write_file("a.pnm", files[k].bytes, files[k].n);
        struct dia_film *film = opened("a.pnm");
        shows(film, 0, files[k].shows);
        assert_int_equal(dia_film_frames(film), 1);
        dia_film_close(film);
        for (size_t n = 0; n < files[k].n;
             n++) { /* cut off anywhere: told, but for plain numbers */
            struct dia_film *cut;
            write_file("cut.pnm", files[k].bytes, n);
            enum dia_status status = dia_film_open(&cut, "cut.pnm", 25000, &wrong);
            assert_true(status == DIA_BAD_VALUE || n + 1 == files[k].n || files[k].bytes[1] <= '3');
            dia_film_close(cut);
        }
    }
    static const struct {
        const char *bytes, *why;
    } bad[] = {
        {"P7 1 1", "b.pnm: is no picture; PNG, APNG, GIF, PNM and YUV4MPEG2 are"},
        {"P5 x", "b.pnm: the width must be a number"},
        {"P5 0 3 255\n", "b.pnm: a picture has at least 1 by 1 pixels"},
        {"P5 100000 100000 255\n",
         "b.pnm: 100000 by 100000 pixels are too many; at most 33554432, such as 8192 by 4096"},
        {"P5 2 2 255\nabc", "b.pnm: frame 1: ends too early"},
        {"P5 1 1 70000\nab", "b.pnm: the largest value must be a number up to 65535"},
        {"P5 1 1 9\na", "b.pnm: frame 1: a value is 97; at most 9 is said"},
        {"P5 1 1 255\naP5 1 2 255\nbb",
         "b.pnm: frame 2: it is 1 by 2 pixels; all must be 1 by 1, as the first one is"},
        {"P1 2 1 12", "b.pnm: frame 1: its dots must be 0 or 1"},
    };
    for (size_t k = 0; k < sizeof bad / sizeof bad[0]; k++) {
        write_file("b.pnm", bad[k].bytes, strlen(bad[k].bytes));
        is_refused("b.pnm", bad[k].why);
    }
    is_refused("none.png", "none.png: cannot be read: No such file or directory");
    is_refused("rigs", "rigs: is a folder; a picture is a file");
}

/* Raw PNM pictures in a row, and files with numbers: each a frame, at the rate that is asked for.
 */
static void pictures_in_a_row_are_a_film(void **state)
{
    (void)state;
    static const char row[] = "P5 1 1 255\n\x10P5 1 1 255\n\x20\nP5 1 1 255\n\x30";
    write_file("row.pgm", row, sizeof row - 1);
    write_file("f08.pgm", BYTES("P5 1 1 255\n\x40"));
    write_file("f09.pgm", BYTES("P5 1 1 255\n\x50"));
    write_file("f10.pgm", BYTES("P5 1 1 255\n\x60"));
    struct dia_film *film = opened("row.pgm");
    assert_int_equal(dia_film_frames(film), 3);
    assert_int_equal(dia_film_length_us(film), 120000);
    shows(film, 80000, "#303030");
    shows(film, 39999, "#101010");
    shows(film, 40000, "#202020");
    shows(film, 99000000, "#303030");
    dia_film_close(film);
    film = opened("f[08-10].pgm");
    shows(film, 79999, "#505050");
    shows(film, 80000, "#606060");
    shows(film, 0, "#404040");
    dia_film_close(film);
    is_refused("f[8-10].pgm", "f8.pgm: cannot be read: No such file or directory");
    remove("f11.pgm"); /* of a run before */
    is_refused("f[08-11].pgm", "f11.pgm: cannot be read: No such file or directory");
    is_refused("f[x].pgm", "f[x].pgm: numbers of files are written as in wave-[001-240].png");
    is_refused("f[09-08].pgm",
               "f[09-08].pgm: numbers of files are written as in wave-[001-240].png");
    write_file("f11.pgm", BYTES("P5 2 1 255\n\x60\x60"));
    film = opened("f[10-11].pgm");
    assert_int_equal(dia_film_at(film, 40000, &frame, &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "f11.pgm: it is 2 by 1 pixels; all must be 1 by 1, as the "
                                    "first one is");
    assert_string_equal(dia_film_trouble(film), wrong.text);
    dia_film_close(film);
}

/*
 * Codes by hand from ITU-R BT.601. Of 16 to 235: Y 235 is white, 16 black; red is Y 81, U 90, V
 * 240: 1.164 * 65 + 1.596 * 112 = 254.4, 75.7 - 0.392 * -38 - 0.813 * 112 = -0.5, 75.7 + 2.017 *
 * -38 = -0.9. Of 0 to 255: Y 76, U 85, V 255 gives 76 + 1.402 * 127 = 254.1, 76 + 0.344 * 43 -
 * 0.714 * 127 = 0.1, 76 - 1.772 * 43 = -0.2.
 */
static void video_is_read(void **state)
{
    (void)state;
    static const struct {
        const char *bytes;
        size_t n;
        const char *shows;
    } files[] = {
        {BYTES("YUV4MPEG2 W3 H1 F10:1 Ip A1:1 C444\nFRAME\n\xeb\x10\x51\x80\x80\x5a\x80\x80\xf0"),
         "#ffffff #000000 #fe0000"},
        {BYTES("YUV4MPEG2 W1 H1 F10:1 C444 XCOLORRANGE=FULL\nFRAME\n\x4c\x55\xff"), "#fe0000"},
        {BYTES("YUV4MPEG2 W2 H1 F10:1 Cmono\nFRAME Ip\n\xeb\x7e"), "#ffffff #808080"},
        /* odd sizes: colours cover what there is; nothing said is 4:2:0 */
        {BYTES("YUV4MPEG2 H3 W3 F10:1\nFRAME\n\x51\x51\xeb\x51\x51\x10\x10\x10\xeb"
               "\x5a\x80\x80\x80\xf0\x80\x80\x80"),
         "#fe0000 #fe0000 #ffffff #fe0000 #fe0000 #000000 #000000 #000000 #ffffff"},
        {BYTES("YUV4MPEG2 W2 H1 F10:1 C422\nFRAME\n\x51\x51\x5a\xf0"), "#fe0000 #fe0000"},
    };
    for (size_t k = 0; k < sizeof files / sizeof files[0]; k++) {
        write_file("a.y4m", files[k].bytes, files[k].n);
        struct dia_film *film = opened("a.y4m");
        shows(film, 0, files[k].shows);
        assert_int_equal(dia_film_length_us(film), 100000);
        dia_film_close(film);
        for (size_t n = 0; n < files[k].n; n++) {
            struct dia_film *cut;
            write_file("cut.y4m", files[k].bytes, n);
            assert_int_equal(dia_film_open(&cut, "cut.y4m", 25000, &wrong), DIA_BAD_VALUE);
        }
    }
    static const struct {
        const char *bytes, *why;
    } bad[] = {
        {"YUV4MPEG2 W2 H2 F25:1 C410\n",
         "b.y4m: colours C410 are not read; C420, C422, C444 and Cmono are"},
        {"YUV4MPEG2 W2 H2 F25 Cmono\n", "b.y4m: its rate must be as F25:1; found 'F25'"},
        {"YUV4MPEG2 W2 H2 F999999999:1 Cmono\n", "b.y4m: a rate of F999999999:1 is not read"},
        {"YUV4MPEG2 W2 H2 F0:1\n", "b.y4m: its rate must be as F25:1; found 'F0:1'"},
        {"YUV4MPEG2 W2 H2 F25:0\n", "b.y4m: its rate must be as F25:1; found 'F25:0'"},
        {"YUV4MPEG2 W2 H2 F25:1x\n", "b.y4m: its rate must be as F25:1; found 'F25:1x'"},
        {"YUV4MPEG2 W2 H2 F1:999999999\n", "b.y4m: a rate of F1:999999999 is not read"},
        {"YUV4MPEG2x W2 H2\n", "b.y4m: does not begin with YUV4MPEG2"},
        {"YUV4MPEG2 F25:1\n", "b.y4m: a picture has at least 1 by 1 pixels"},
        {"YUV4MPEG2 W99999999999 H2\n", "b.y4m: 99999999999 by 2 pixels are too many; at most "
                                        "33554432, such as 8192 by 4096"},
        {"YUV4MPEG2 W1 H1 F1:1 Cmono\n", "b.y4m: there is no frame in it"},
        {"YUV4MPEG2 W1 H1 F1:1 Cmono\nFRAME\naFRAMf\n",
         "b.y4m: frame 2: does not begin with FRAME"},
        {"YUV4MPEG2 W1 H1 F1:1 Cmono\nFRAME\naFRAME\n", "b.y4m: frame 2: ends too early"},
    };
    for (size_t k = 0; k < sizeof bad / sizeof bad[0]; k++) {
        write_file("b.y4m", bad[k].bytes, strlen(bad[k].bytes));
        is_refused("b.y4m", bad[k].why);
    }
    char line[1100] = "YUV4MPEG2 W1 H1 F1:1 Cmono ";
    memset(line + strlen(line), 'X', sizeof line - strlen(line));
    write_file("b.y4m", line, sizeof line);
    is_refused("b.y4m", "b.y4m: its line is too long");
    static const char *const kinds[] = {"420jpeg", "420mpeg2", "420paldv", "420"};
    for (int k = 0; k < 4; k++) { /* where colours lie between is all the same for single lamps */
        int n = snprintf(line, sizeof line,
                         "YUV4MPEG2 W2 H2 F2000000:200000 C%s XYSCSS=420\nFRAME\n", kinds[k]);
        memcpy(line + n, "\xeb\x10\xeb\x10\x80\x80", 6);
        write_file("a.y4m", line, (size_t)n + 6);
        struct dia_film *film = opened("a.y4m");
        shows(film, 0, "#ffffff #000000 #ffffff #000000");
        assert_int_equal(dia_film_length_us(film), 100000);
        dia_film_close(film);
    }
}

/* ---- PNG and APNG ---------------------------------------------------------------------------- */

static uint8_t bytes[65536];
static size_t length;

static void put_number(uint32_t value)
{
    for (int shift = 24; shift >= 0; shift -= 8)
        bytes[length++] = (uint8_t)(value >> shift);
}

static void chunk(const char *type, const void *data, size_t n)
{
    put_number((uint32_t)n);
    size_t from = length;
    memcpy(bytes + length, type, 4);
    length += 4;
    if (n)
        memcpy(bytes + length, data, n);
    length += n;
    put_number((uint32_t)crc32(0, bytes + from, (uInt)(length - from)));
}

static uint32_t sequence;

/* A frame that shows for so many thousandths of a second at x, y. */
static void control(uint32_t columns, uint32_t rows, uint32_t x, uint32_t y, uint16_t ms,
                    uint8_t dispose, uint8_t blend)
{
    uint8_t data[26];
    uint32_t numbers[5] = {sequence++, columns, rows, x, y};
    for (int k = 0; k < 5; k++)
        for (int b = 0; b < 4; b++)
            data[4 * k + b] = (uint8_t)(numbers[k] >> (24 - 8 * b));
    data[20] = (uint8_t)(ms >> 8);
    data[21] = (uint8_t)ms;
    data[22] = 1000 >> 8;
    data[23] = 1000 & 255;
    data[24] = dispose;
    data[25] = blend;
    chunk("fcTL", data, sizeof data);
}

/* Rows of RGBA, given as colours row after row; in an IDAT, or in fdATs of at most 7 bytes each. */
static void pixels(int first, uint32_t columns, uint32_t rows, const uint32_t *rgba)
{
    uint8_t raw[1024], packed[2048], data[16];
    uLongf size = sizeof packed;
    size_t n = 0;
    for (uint32_t y = 0; y < rows; y++) {
        raw[n++] = 0;
        for (uint32_t x = 0; x < columns; x++)
            for (int shift = 24; shift >= 0; shift -= 8)
                raw[n++] = (uint8_t)(rgba[y * columns + x] >> shift);
    }
    assert_int_equal(compress(packed, &size, raw, (uLong)n), Z_OK);
    if (first) {
        chunk("IDAT", packed, size);
        return;
    }
    for (size_t at = 0; at < size; at += 7) {
        size_t some = size - at < 7 ? size - at : 7;
        for (int b = 0; b < 4; b++)
            data[b] = (uint8_t)(sequence >> (24 - 8 * b));
        sequence++;
        memcpy(data + 4, packed + at, some);
        chunk("fdAT", data, some + 4);
    }
}

static void png_begin(uint32_t columns, uint32_t rows, uint8_t frames)
{
    uint8_t head[13] = {0, 0, 0, (uint8_t)columns, 0, 0, 0, (uint8_t)rows, 8, 6, 0, 0, 0};
    const uint8_t animation[8] = {0, 0, 0, frames};
    memcpy(bytes, "\x89PNG\r\n\x1a\n", 8);
    length = 8;
    sequence = 0;
    chunk("IHDR", head, sizeof head);
    if (frames)
        chunk("acTL", animation, sizeof animation);
    chunk("tEXt", "Title\0a gull", 12);
}

static void png_end(const char *path)
{
    chunk("IEND", NULL, 0);
    write_file(path, (const char *)bytes, length);
}

/* Every way to leave a frame and to put the next over it, worked out by hand. */
static void animated_png_is_read(void **state)
{
    (void)state;
    static const uint32_t red[] = {0xff0000ff, 0xff0000ff, 0xff0000ff},
                          green[] = {0x00ff0080, 0x00000000}, blue[] = {0x0000ffff};
    png_begin(3, 1, 5);
    control(3, 1, 0, 0, 100, 0, 0); /* red, stays */
    pixels(1, 3, 1, red);
    control(2, 1, 1, 0, 50, 2, 1); /* half green and nothing over the right two; then as before */
    pixels(0, 2, 1, green);
    control(1, 1, 2, 0, 50, 1, 0); /* blue on the right, then clear there */
    pixels(0, 1, 1, blue);
    control(2, 1, 0, 0, 50, 0, 0); /* half green and clear take the place of what was there */
    pixels(0, 2, 1, green);
    control(1, 1, 2, 0, 0, 0, 1); /* no time said: a tenth of a second */
    pixels(0, 1, 1, blue);
    png_end("a.apng");
    static const struct {
        uint64_t us;
        const char *shows;
    } at[] = {{0, "#ff0000 #ff0000 #ff0000"},
              {99999, "#ff0000 #ff0000 #ff0000"},
              {100000, "#ff0000 #7f8000 #ff0000"},
              {150000, "#ff0000 #ff0000 #0000ff"},
              {200000, "#00ff0080 #00000000 #00000000"},
              {250000, "#00ff0080 #00000000 #0000ff"},
              {999999, "#00ff0080 #00000000 #0000ff"}};
    struct dia_film *film = opened("a.apng");
    assert_int_equal(dia_film_frames(film), 5);
    assert_int_equal(dia_film_length_us(film), 350000);
    for (size_t k = 0; k < 7; k++)
        shows(film, at[k].us, at[k].shows);
    for (size_t k = 7; k-- > 0;) /* any frame by itself, backwards too */
        shows(film, at[k].us, at[k].shows);
    dia_film_close(film);
    for (size_t n = 0; n < length; n++) { /* a byte that is wrong, or the end too early */
        struct dia_film *damaged;
        write_file("cut.apng", (const char *)bytes, n);
        assert_int_equal(dia_film_open(&damaged, "cut.apng", 25000, &wrong), DIA_BAD_VALUE);
        bytes[n] ^= 0x10;
        write_file("cut.apng", (const char *)bytes, length);
        enum dia_status status = dia_film_open(&damaged, "cut.apng", 25000, &wrong);
        bytes[n] ^= 0x10;
        assert_int_equal(status, DIA_BAD_VALUE);
    }
    /* the picture for others is no frame here: it comes before any fcTL */
    png_begin(1, 1, 1);
    pixels(1, 1, 1, red);
    control(1, 1, 0, 0, 40, 0, 0);
    pixels(0, 1, 1, blue);
    png_end("b.apng");
    film = opened("b.apng");
    shows(film, 0, "#0000ff");
    assert_int_equal(dia_film_frames(film), 1);
    dia_film_close(film);
    png_begin(2, 2, 1);
    control(2, 1, 1, 0, 40, 0, 0);
    pixels(1, 2, 1, red);
    png_end("c.apng");
    is_refused("c.apng", "c.apng: frame 1: is damaged: it does not lie in the picture");
    png_begin(2, 2, 0);
    pixels(1, 1, 1, red); /* fewer rows than the header says, with sums that are right */
    png_end("d.png");
    is_refused("d.png", "d.png: the picture is damaged");
}

/* Depths and kinds as libpng writes them: grey of 1 and 16 bits, a palette, interlaced. */
static void stills_of_every_kind_are_read(void **state)
{
    (void)state;
    static const struct {
        int depth, kind, interlaced;
        const char *row, *shows;
    } kinds[] = {{1, PNG_COLOR_TYPE_GRAY, 0, "\x80", "#ffffff #000000"},
                 {16, PNG_COLOR_TYPE_GRAY, 1, "\xff\xff\x80\x80", "#ffffff #808080"},
                 {2, PNG_COLOR_TYPE_PALETTE, 1, "\x60", "#00ff00 #0000ff80"},
                 {8, PNG_COLOR_TYPE_RGB, 1, "\1\2\3\4\5\6", "#010203 #040506"},
                 {8, PNG_COLOR_TYPE_GRAY_ALPHA, 0, "\x40\xff\x50\x80", "#404040 #50505080"}};
    for (size_t k = 0; k < sizeof kinds / sizeof kinds[0]; k++) {
        FILE *file = fopen("kind.png", "wb");
        png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, NULL, NULL, NULL);
        png_infop info = png_create_info_struct(png);
        png_color palette[3] = {{255, 0, 0}, {0, 255, 0}, {0, 0, 255}};
        png_byte clear[3] = {255, 255, 128};
        png_init_io(png, file);
        png_set_IHDR(png, info, 2, 1, kinds[k].depth, kinds[k].kind, kinds[k].interlaced, 0, 0);
        if (kinds[k].kind == PNG_COLOR_TYPE_PALETTE) {
            png_set_PLTE(png, info, palette, 3);
            png_set_tRNS(png, info, clear, 3, NULL);
        }
        png_write_info(png, info);
        int passes = png_set_interlace_handling(png);
        while (passes--)
            png_write_row(png, (png_const_bytep)kinds[k].row);
        png_write_end(png, info);
        png_destroy_write_struct(&png, &info);
        assert_int_equal(fclose(file), 0);
        struct dia_film *film = opened("kind.png");
        shows(film, 12345, kinds[k].shows);
        dia_film_close(film);
    }
}

/* ---- GIF ------------------------------------------------------------------------------------- */

static void gif_frame(GifFileType *gif, int x, int columns, int dispose, int delay, int clear,
                      const char *row)
{
    GraphicsControlBlock control = {dispose, false, delay, clear};
    GifByteType data[4];
    assert_int_equal(EGifGCBToExtension(&control, data), 4);
    assert_int_equal(EGifPutExtension(gif, GRAPHICS_EXT_FUNC_CODE, 4, data), GIF_OK);
    assert_int_equal(EGifPutImageDesc(gif, x, 0, columns, 1, false, NULL), GIF_OK);
    for (int k = 0; k < columns; k++)
        assert_int_equal(EGifPutPixel(gif, (GifPixelType)(row[k] - '0')), GIF_OK);
}

static void gif_is_read(void **state)
{
    (void)state;
    static const GifColorType colours[4] = {{0, 0, 0}, {255, 0, 0}, {0, 255, 0}, {0, 0, 255}};
    int error;
    GifFileType *gif = EGifOpenFileName("a.gif", false, &error);
    ColorMapObject *map = GifMakeMapObject(4, colours);
    EGifPutScreenDesc(gif, 3, 1, 2, 0, map);
    gif_frame(gif, 0, 3, DISPOSE_DO_NOT, 10, NO_TRANSPARENT_COLOR, "111");
    gif_frame(gif, 1, 2, DISPOSE_PREVIOUS, 5, 0, "20");
    gif_frame(gif, 2, 1, DISPOSE_BACKGROUND, 5, 0, "3");
    gif_frame(gif, 0, 2, DISPOSE_DO_NOT, 0, 0, "02");
    assert_int_equal(EGifCloseFile(gif, &error), GIF_OK);
    GifFreeMapObject(map);
    struct dia_film *film = opened("a.gif");
    assert_int_equal(dia_film_frames(film), 4);
    assert_int_equal(dia_film_length_us(film), 300000);
    static const char *const at[] = {"#ff0000 #ff0000 #ff0000", "#ff0000 #00ff00 #ff0000",
                                     "#ff0000 #ff0000 #0000ff", "#ff0000 #00ff00 #00000000"};
    static const uint64_t us[] = {99999, 100000, 150000, 200000};
    for (size_t k = 0; k < 4; k++)
        shows(film, us[k], at[k]);
    for (size_t k = 4; k-- > 0;)
        shows(film, us[k], at[k]);
    dia_film_close(film);
    size_t size;
    char *whole = read_file("a.gif", &size);
    for (size_t n = 0; n < size; n++) { /* cut off: told when it is opened */
        struct dia_film *cut;
        write_file("cut.gif", whole, n);
        assert_int_equal(dia_film_open(&cut, "cut.gif", 25000, &wrong), DIA_BAD_VALUE);
    }
    free(whole);
}

/* Whatever a byte of a GIF is changed to, it is read or told; no frame is left unsaid. */
static void damage_to_a_gif_does_no_harm(void **state)
{
    (void)state;
    size_t size;
    char *whole = read_file("a.gif", &size);
    for (size_t n = 0; n < size; n++) {
        for (int bit = 0; bit < 8; bit++) {
            struct dia_film *film;
            whole[n] ^= (char)(1 << bit);
            write_file("bits.gif", whole, size);
            whole[n] ^= (char)(1 << bit);
            if (dia_film_open(&film, "bits.gif", 25000, &wrong) != DIA_OK)
                continue;
            for (uint64_t us = 0; us < 400000; us += 50000) {
                enum dia_status status = dia_film_at(film, us, &frame, &wrong);
                assert_true(status == DIA_OK || dia_film_trouble(film)[0] != 0);
            }
            dia_film_close(film);
        }
    }
    free(whole);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_kind_of_pnm_is_read),
        cmocka_unit_test(pictures_in_a_row_are_a_film),
        cmocka_unit_test(video_is_read),
        cmocka_unit_test(animated_png_is_read),
        cmocka_unit_test(stills_of_every_kind_are_read),
        cmocka_unit_test(gif_is_read),
        cmocka_unit_test(damage_to_a_gif_does_no_harm),
    };
    return cmocka_run_group_tests_name("films", tests, NULL, NULL);
}
