/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PLOT_H
#define DIACHROME_PLOT_H

#include <stdint.h>
#include <stdio.h>

#include "colour.h"
#include "diagnostic.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Plots over time: of a signal, or of the channels of one element. As a picture or as text.
 *
 * Cost: one value a column of the picture; milliseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_PLOT_CURVES 3
struct dia_plot {
    const char *title, *about; /* what it is of; what the scale is, such as "code, 0 to 255" */
    uint32_t most;             /* at the top of the scale; the bottom is 0 */
    uint32_t count;            /* of moments, at even distances */
    uint64_t from_us, step_us;
    uint8_t curves;
    struct {
        const char *name;
        struct dia_rgb colour;
        const uint16_t *values; /* count of them, 0..most */
    } curve[DIA_PLOT_CURVES];
};

/* 1: from one moment to the next a curve changes by more than a quarter of its range, on average,
 * which are fewer than eight moments a wave: what is between them may be anything. Both plots say
 * so. */
int dia_plot_is_coarse(const struct dia_plot *plot);
#define DIA_PLOT_COARSE                                                                            \
    "it changes too fast for these moments to show how: take a higher rate, or less time"

/* A picture (PNG), DIA_PICTURE_WIDTH wide. Where there are more moments than columns: all that a
 * curve goes through in each, and its mean. */
enum dia_status dia_plot_write_png(const struct dia_plot *plot, const char *path,
                                   struct dia_diagnostic *wrong);

/* Text, columns (40..400) wide, each curve below the other; with in_colour with colours for a
 * terminal, and with in_utf8 besides with blocks, else in ASCII. */
void dia_plot_write_text(const struct dia_plot *plot, FILE *file, int columns, int in_colour,
                         int in_utf8);

DIA_END

#endif
