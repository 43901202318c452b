/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <string.h>

#include <gif_lib.h>

#include "apng.h"
#include "glyphs_private.h"
#include "host_private.h"

/* A drawing with its frames, dot by dot, as APNG or GIF: dark dots are clear. */

static const uint8_t *frame_of(const struct dia_dots *item, uint32_t frame)
{
    return item->cells + (size_t)frame * item->columns * item->rows;
}

/* ---- APNG ------------------------------------------------------------------------------------ */

static void paint(const struct dia_drawings *drawings, const struct dia_dots *item, uint32_t frame,
                  cairo_surface_t *surface)
{
    const uint8_t *cell = frame_of(item, frame);
    unsigned char *row = cairo_image_surface_get_data(surface);
    int stride = cairo_image_surface_get_stride(surface);
    cairo_surface_flush(surface);
    for (uint32_t y = 0; y < item->rows; y++, row += stride) {
        for (uint32_t x = 0; x < item->columns; x++, cell++) {
            const struct dia_rgb *c = &drawings->colours[*cell ? *cell - 1 : 0];
            uint32_t pixel = (uint32_t)c->r << 16 | (uint32_t)c->g << 8 | c->b | 0xff000000u;
            pixel = *cell ? pixel : 0;
            memcpy(row + 4 * x, &pixel, sizeof pixel);
        }
    }
    cairo_surface_mark_dirty(surface);
}

static int write_apng(const struct dia_drawings *drawings, const struct dia_dots *item, FILE *file)
{
    struct apng apng = {file, item->columns, item->rows, item->frames, 0, 0};
    cairo_surface_t *surface =
        cairo_image_surface_create(CAIRO_FORMAT_ARGB32, item->columns, item->rows);
    int failed = cairo_surface_status(surface) != CAIRO_STATUS_SUCCESS;
    for (uint32_t k = 0; k < item->frames && !failed; k++) {
        paint(drawings, item, k, surface);
        failed = dia_apng_frame(&apng, surface, item->each_ms) != 0;
    }
    cairo_surface_destroy(surface);
    return failed;
}

/* ---- GIF ------------------------------------------------------------------------------------- */

static int put(GifFileType *file, const GifByteType *bytes, int n)
{
    return (int)fwrite(bytes, 1, (size_t)n, file->UserData);
}

/* Its colours as numbers of cells have them; 0 is clear. */
static ColorMapObject *colours_of(const struct dia_drawings *drawings)
{
    GifColorType colours[256];
    memset(colours, 0, sizeof colours);
    for (uint32_t k = 0; k < drawings->colour_count; k++)
        colours[k + 1] =
            (GifColorType){drawings->colours[k].r, drawings->colours[k].g, drawings->colours[k].b};
    return GifMakeMapObject(256, colours);
}

static int begin_gif(GifFileType *gif, const struct dia_drawings *drawings,
                     const struct dia_dots *item)
{
    static const GifByteType for_ever[3] = {1, 0, 0};
    ColorMapObject *colours = colours_of(drawings);
    EGifSetGifVersion(gif, true);
    int failed =
        !colours || EGifPutScreenDesc(gif, item->columns, item->rows, 8, 0, colours) != GIF_OK ||
        EGifPutExtensionLeader(gif, APPLICATION_EXT_FUNC_CODE) != GIF_OK ||
        EGifPutExtensionBlock(gif, 11, "NETSCAPE2.0") != GIF_OK ||
        EGifPutExtensionBlock(gif, 3, for_ever) != GIF_OK || EGifPutExtensionTrailer(gif) != GIF_OK;
    GifFreeMapObject(colours);
    return failed;
}

static int write_gif(const struct dia_drawings *drawings, const struct dia_dots *item, FILE *file)
{
    int error, hundredths = (item->each_ms + 5) / 10;
    GraphicsControlBlock control = {DISPOSE_BACKGROUND, false, hundredths ? hundredths : 1, 0};
    GifByteType block[4], row[DIA_DRAWING_SIDE];
    GifFileType *gif = EGifOpen(file, put, &error);
    if (!gif)
        return 1;
    int failed = begin_gif(gif, drawings, item);
    for (uint32_t k = 0; k < item->frames && !failed; k++) {
        size_t size = EGifGCBToExtension(&control, block);
        failed = EGifPutExtension(gif, GRAPHICS_EXT_FUNC_CODE, (int)size, block) != GIF_OK ||
                 EGifPutImageDesc(gif, 0, 0, item->columns, item->rows, false, NULL) != GIF_OK;
        for (uint32_t y = 0; y < item->rows && !failed; y++) {
            memcpy(row, frame_of(item, k) + y * item->columns, item->columns);
            failed = EGifPutLine(gif, row, item->columns) != GIF_OK;
        }
    }
    return EGifCloseFile(gif, &error) != GIF_OK || failed;
}

enum dia_status dia_drawings_moving_write(const struct dia_drawings *drawings, const char *path,
                                          struct dia_diagnostic *wrong)
{
    struct host_output out;
    if (drawings->count != 1)
        return dia_host_wrong(wrong, "%s: a picture is of one drawing, and these are %u; say which",
                              path, (unsigned)drawings->count);
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    const struct dia_dots *item = &drawings->items[0];
    int failed = dia_host_ends(path, ".gif") ? write_gif(drawings, item, out.file)
                                             : write_apng(drawings, item, out.file);
    if (!failed)
        return dia_host_output_close(&out, wrong);
    if (dia_host_is_out(out.file))
        errno = ENOMEM; /* all else that can fail is memory */
    status = dia_host_failed(wrong, path, "cannot be written");
    dia_host_output_discard(&out);
    return status;
}
