/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

#include <cairo-svg.h>
#include <cairo.h>

#include <diachrome/waveform.h>

#include "host_private.h"
#include "waveform_private.h"
#include "waveform_words.h"

#define WIDTH  1280
#define MARGIN 40
#define LEFT   190 /* where the time axis begins */
#define WIDE   (WIDTH - LEFT - MARGIN)
#define HIGH   46 /* of a wire from its low to its high */
#define ROW    72
#define MARKS  22

static void text(cairo_t *cr, double x, double y, double size, double level, const char *words)
{
    cairo_select_font_face(cr, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, size);
    cairo_set_source_rgb(cr, level, level, level);
    cairo_move_to(cr, x, y);
    cairo_show_text(cr, words);
    cairo_new_path(cr);
}

static double width_of(cairo_t *cr, double size, const char *words)
{
    cairo_text_extents_t extents;
    cairo_select_font_face(cr, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, size);
    cairo_text_extents(cr, words, &extents);
    return extents.x_advance;
}

static void text_in(cairo_t *cr, double left, double right, double y, double size, double level,
                    const char *words)
{
    double wide = width_of(cr, size, words);
    if (wide + 4 <= right - left)
        text(cr, (left + right - wide) / 2, y, size, level, words);
}

static double x_of(const struct dia_waveform *wave, double t_ns)
{
    double at = (t_ns - (double)wave->from_ns) / (double)(wave->to_ns - wave->from_ns);
    return LEFT + WIDE * (at < 0 ? 0 : at > 1 ? 1 : at);
}

/* 1, 2 or 5 times a power of ten ns: six to fourteen lines. */
static double tick(double ns)
{
    double step = pow(10, floor(log10(ns / 6)));
    return ns / step > 28 ? 5 * step : ns / step > 14 ? 2 * step : step;
}

static void grid(cairo_t *cr, const struct dia_waveform *wave, double top, double bottom)
{
    double lasts = (double)(wave->to_ns - wave->from_ns), step = tick(lasts);
    for (double t = 0; t <= lasts; t += step) {
        char words[40];
        double x = LEFT + WIDE * t / lasts;
        cairo_set_line_width(cr, 1);
        cairo_set_source_rgb(cr, 0.15, 0.155, 0.17);
        cairo_move_to(cr, x, top);
        cairo_line_to(cr, x, bottom);
        cairo_stroke(cr);
        dia_waveform_time(words, t);
        if (x + 3 + width_of(cr, 11, words) < WIDTH)
            text(cr, x + 3, bottom + 14, 11, 0.55, words);
    }
}

/* ---- bits, bytes and pixels --------------------------------------------------------------------
 */

static const char *mark_words(const struct dia_waveform_mark *m, char words[40])
{
    if (m->kind == DIA_MARK_WORD)
        snprintf(words, 40, "%s", m->says);
    else if (m->kind == DIA_MARK_PIXEL)
        snprintf(words, 40, "pixel %u #%02x%02x%02x", (unsigned)m->value, m->colour.r, m->colour.g,
                 m->colour.b);
    else
        snprintf(words, 40, m->kind == DIA_MARK_BYTE ? "%02x" : "%u", (unsigned)m->value);
    return words;
}

/* Where the word behind this one begins. */
static double next_word(const struct dia_waveform *wave, uint32_t i)
{
    for (i++; i < wave->mark_count; i++) {
        if (wave->marks[i].kind == DIA_MARK_WORD)
            return x_of(wave, (double)wave->marks[i].from_ns);
    }
    return LEFT + WIDE;
}

static double marks(cairo_t *cr, const struct dia_waveform *wave, double y)
{
    static const char *const names[] = {"bits", "bytes", "pixels", "words"};
    int whole = wave->own->lane ? DIA_MARK_PIXEL : DIA_MARK_WORD;
    for (int kind = whole; kind >= DIA_MARK_BIT && wave->mark_count; kind--) {
        if (whole == DIA_MARK_WORD && kind == DIA_MARK_PIXEL)
            continue;
        text(cr, MARGIN, y + 15, 12, 0.6, names[kind]);
        for (uint32_t i = 0; i < wave->mark_count; i++) {
            const struct dia_waveform_mark *m = &wave->marks[i];
            char words[40];
            double left = x_of(wave, (double)m->from_ns), right = x_of(wave, (double)m->to_ns);
            if (m->kind != kind || right - left < 2)
                continue;
            double shade = 0.16;
            cairo_rectangle(cr, left + 0.5, y + 0.5, right - left - 1, MARKS - 4);
            if (kind == DIA_MARK_PIXEL)
                cairo_set_source_rgb(cr, m->colour.r / 255.0 * 0.5 + 0.08,
                                     m->colour.g / 255.0 * 0.5 + 0.08,
                                     m->colour.b / 255.0 * 0.5 + 0.08);
            else
                cairo_set_source_rgb(cr, shade, shade, shade + 0.02);
            cairo_fill_preserve(cr);
            if (m->wrong)
                cairo_set_source_rgb(cr, 1, 0.3, 0.25);
            else
                cairo_set_source_rgb(cr, 0.32, 0.33, 0.36);
            cairo_set_line_width(cr, m->wrong ? 2 : 1);
            cairo_stroke(cr);
            mark_words(m, words);
            if (width_of(cr, 11, words) + 4 <= right - left || kind != DIA_MARK_WORD)
                text_in(cr, left, right, y + 14, 11, 0.92, words);
            else if (right + 4 + width_of(cr, 11, words) < next_word(wave, i))
                text(cr, right + 4, y + 14, 11, 0.92, words); /* beside it */
        }
        y += MARKS;
    }
    return y;
}

/* ---- wires ----------------------------------------------------------------------------------- */

static void band(cairo_t *cr, const struct dia_waveform *wave, double from_ns, double to_ns,
                 double y)
{
    double left = x_of(wave, from_ns), right = x_of(wave, to_ns);
    if (to_ns <= (double)wave->from_ns || from_ns >= (double)wave->to_ns || right - left < 0.5)
        return;
    cairo_rectangle(cr, left, y - 4, right - left, HIGH + 8);
    cairo_set_source_rgba(cr, 0.25, 0.75, 0.45, 0.22);
    cairo_fill(cr);
}

/* Where the sheet lets a one-wire pulse end: behind each rise its fall, behind that the next rise.
 */
static void bands(cairo_t *cr, const struct dia_waveform *wave,
                  const struct dia_waveform_wire *wire, double y)
{
    if (wave->pulse_kinds != 4)
        return;
    for (uint32_t i = 0; i + 1 < wire->count; i++) {
        const struct dia_waveform_edge *rise = &wire->edges[i], *fall = &wire->edges[i + 1];
        if (!rise->level || fall->level)
            continue;
        double high = (double)(fall->t_ns - rise->t_ns);
        int one = high > ((double)wave->pulses[0].may_most + (double)wave->pulses[2].may_least) / 2;
        const struct dia_waveform_pulses *h = &wave->pulses[one ? 2 : 0];
        const struct dia_waveform_pulses *l = &wave->pulses[one ? 3 : 1];
        band(cr, wave, (double)rise->t_ns + h->may_least, (double)rise->t_ns + h->may_most, y);
        if (i + 2 < wire->count)
            band(cr, wave, (double)fall->t_ns + l->may_least, (double)fall->t_ns + l->may_most, y);
    }
}

static void wire(cairo_t *cr, const struct dia_waveform *wave, const struct dia_waveform_wire *w,
                 double y)
{
    uint8_t level = w->before;
    double low = y + HIGH, at = LEFT;
    bands(cr, wave, w, y);
    text(cr, MARGIN, y + HIGH / 2.0 + 5, 13, 0.85, w->name);
    cairo_set_source_rgb(cr, 0.95, 0.82, 0.45);
    cairo_set_line_width(cr, 1.6);
    cairo_move_to(cr, at, level ? y : low);
    for (uint32_t i = 0; i < w->count; i++) {
        at = x_of(wave, (double)w->edges[i].t_ns);
        cairo_line_to(cr, at, level ? y : low);
        level = w->edges[i].level;
        cairo_line_to(cr, at, level ? y : low);
    }
    cairo_line_to(cr, LEFT + WIDE, level ? y : low);
    cairo_stroke(cr);
    cairo_set_source_rgb(cr, 1, 0.3, 0.25);
    cairo_set_line_width(cr, 3);
    for (uint32_t i = 0; i < w->count; i++) {
        at = x_of(wave, (double)w->edges[i].t_ns);
        cairo_move_to(cr, at, y - 2);
        cairo_line_to(cr, at, low + 2);
        if (w->edges[i].wrong)
            cairo_stroke(cr);
        cairo_new_path(cr);
    }
}

/* ---- statistics ------------------------------------------------------------------------------ */

static void bars(cairo_t *cr, const struct dia_waveform_pulses *p, double x, double y)
{
    uint32_t most = 1;
    for (int k = 0; k < DIA_WAVEFORM_BARS; k++)
        most = p->bars[k] > most ? p->bars[k] : most;
    double from = p->bar_from, each = 8.0 / p->bar_ns;
    double may_from = ((double)p->may_least - from) * each;
    double may_to =
        p->may_most == UINT32_MAX ? 8.0 * DIA_WAVEFORM_BARS : ((double)p->may_most - from) * each;
    cairo_rectangle(cr, x + fmax(may_from, 0), y - 16,
                    fmin(may_to, 8.0 * DIA_WAVEFORM_BARS) - fmax(may_from, 0), 20);
    cairo_set_source_rgba(cr, 0.25, 0.75, 0.45, 0.22);
    cairo_fill(cr);
    for (int k = 0; k < DIA_WAVEFORM_BARS; k++) {
        /* one pulse of thousands is to be seen too */
        double high = p->bars[k] ? 3 + 17 * (double)p->bars[k] / most : 0;
        double middle = from + (k + 0.5) * p->bar_ns;
        int outside = middle < p->may_least || middle > p->may_most;
        cairo_rectangle(cr, x + 8 * k + 1, y + 4 - high, 6, high);
        if (outside)
            cairo_set_source_rgb(cr, 1, 0.3, 0.25);
        else
            cairo_set_source_rgb(cr, 0.95, 0.82, 0.45);
        cairo_fill(cr);
    }
}

static double statistics(cairo_t *cr, const struct dia_waveform *wave, double y)
{
    char words[160];
    if (wave->pulse_kinds == 0)
        return y;
    text(cr, MARGIN, y, 13, 0.85, "all that was heard");
    for (uint32_t k = 0; k < wave->pulse_kinds; k++) {
        const struct dia_waveform_pulses *p = &wave->pulses[k];
        y += 26;
        text(cr, MARGIN, y, 12, 0.85, p->name);
        if (p->count == 0) {
            text(cr, LEFT, y, 12, 0.6, "none");
            continue;
        }
        dia_waveform_statistics(p, words, sizeof words);
        text(cr, LEFT, y, 12, 0.75, words);
        if (p->may_least)
            bars(cr, p, WIDTH - MARGIN - 8 * DIA_WAVEFORM_BARS, y);
    }
    return y + 26;
}

/* ---- the picture ----------------------------------------------------------------------------- */

static double height_of(const struct dia_waveform *wave)
{
    return 96.0 + (wave->mark_count ? 3 * MARKS + 8 : 0) + wave->wire_count * (double)ROW + 70 +
           26.0 * (wave->pulse_kinds ? wave->pulse_kinds + 1u : 0) + 20;
}

static void draw(cairo_t *cr, const struct dia_waveform *wave)
{
    char words[200];
    double y = 96;
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    text(cr, MARGIN, 40, 18, 0.92, wave->title);
    char begins[40];
    dia_waveform_time(
        begins, wave->from_ns > wave->first_ns ? (double)(wave->from_ns - wave->first_ns) : 0);
    snprintf(words, sizeof words, "%.64s, %s after the first edge%s", wave->rig->name, begins,
             wave->pulse_kinds == 4
                 ? "; green: where the sheet lets a pulse end, red: outside of it"
                 : "");
    text(cr, MARGIN, 62, 13, 0.6, words);
    double marks_end = y + (wave->mark_count ? 3 * MARKS + 8 : 0);
    double bottom = marks_end + wave->wire_count * ROW;
    grid(cr, wave, y - 6, bottom);
    marks(cr, wave, y);
    for (uint32_t i = 0; i < wave->wire_count; i++)
        wire(cr, wave, &wave->wires[i], marks_end + 12 + i * ROW);
    if (dia_waveform_first(wave, words, sizeof words))
        text(cr, MARGIN, bottom + 40, 13, 0.75, words);
    statistics(cr, wave, bottom + 70);
}

static cairo_status_t write_bytes(void *self, const unsigned char *bytes, unsigned n)
{
    struct host_output *out = self;
    return fwrite(bytes, 1, n, out->file) == n ? CAIRO_STATUS_SUCCESS : CAIRO_STATUS_WRITE_ERROR;
}

int dia_waveform_svg(const struct dia_waveform *wave, cairo_write_func_t put, void *self)
{
    cairo_surface_t *surface =
        cairo_svg_surface_create_for_stream(put, self, WIDTH, (int)height_of(wave));
    cairo_t *cr = cairo_create(surface);
    draw(cr, wave);
    cairo_status_t failed = cairo_status(cr);
    cairo_destroy(cr);
    cairo_surface_finish(surface);
    failed = failed == CAIRO_STATUS_SUCCESS ? cairo_surface_status(surface) : failed;
    cairo_surface_destroy(surface);
    return failed == CAIRO_STATUS_SUCCESS ? 0 : -1;
}

enum dia_status dia_waveform_write_picture(const struct dia_waveform *wave, const char *path,
                                           struct dia_diagnostic *wrong)
{
    struct host_output out;
    const char *end = strrchr(path, '.');
    int svg = end && strcmp(end, ".svg") == 0;
    int height = (int)height_of(wave);
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    cairo_surface_t *surface =
        svg ? cairo_svg_surface_create_for_stream(write_bytes, &out, WIDTH, height)
            : cairo_image_surface_create(CAIRO_FORMAT_RGB24, WIDTH, height);
    cairo_t *cr = cairo_create(surface);
    draw(cr, wave);
    cairo_status_t failed = cairo_status(cr);
    cairo_destroy(cr);
    if (svg)
        cairo_surface_finish(surface);
    else if (failed == CAIRO_STATUS_SUCCESS)
        failed = cairo_surface_write_to_png_stream(surface, write_bytes, &out);
    if (failed == CAIRO_STATUS_SUCCESS)
        failed = cairo_surface_status(surface);
    cairo_surface_destroy(surface);
    if (failed == CAIRO_STATUS_SUCCESS)
        return dia_host_output_close(&out, wrong);
    int why = failed == CAIRO_STATUS_WRITE_ERROR ? errno : ENOMEM;
    dia_host_output_discard(&out);
    errno = why;
    return dia_host_failed(wrong, path, "cannot be written");
}
