/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FILM_H
#define DIACHROME_FILM_H

#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Films: pictures from files and streams, of one frame or many. docs/pictures.md has the formats.
 *
 *   struct dia_film *film = NULL;
 *   struct dia_film_frame frame;
 *   dia_film_open(&film, "waves.gif", 25000, &wrong);
 *   dia_film_at(film, 1500000, &frame, &wrong);         what it shows after 1.5 s
 *   dia_film_close(film);
 *
 * Memory: two or three frames, 4 bytes a pixel each, and 8 bytes for each frame of the file,
 * however long it is: frames are decoded when their time comes.
 * Cost: opening reads through the file once and decodes the first frame. A frame that follows the
 * one before is decoded; one that is earlier is found by beginning again, where frames build on
 * each other (APNG, GIF).
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_FILM_PIXELS (1u << 25) /* of a frame, at most */
#define DIA_FILM_FRAMES 1000000u   /* of a film, at most */

struct dia_film;

/* sRGB codes of a pixel, and 0 clear to 255 opaque. */
#define DIA_FILM_PIXEL(r, g, b, a)                                                                 \
    ((uint32_t)(r) | (uint32_t)(g) << 8 | (uint32_t)(b) << 16 | (uint32_t)(a) << 24)

struct dia_film_frame {
    uint32_t columns, rows;
    const uint32_t *pixels; /* row after row, see DIA_FILM_PIXEL; the film's, until it is asked for
                               another */
    uint8_t opaque;         /* 1: no pixel lets anything through */
};

/*
 * PNG, APNG, GIF, PNM (P1 to P6), YUV4MPEG2, known by what they begin with. "name-[001-240].png" is
 * that many files, one a frame; "-" is standard input, which brings YUV4MPEG2 or PNM and is read as
 * its frames are asked for. PNM and files with numbers have rate_mhz thousandths of a frame a
 * second, 1 or more. DIA_BAD_VALUE and a diagnostic: it cannot be read, or is damaged.
 * DIA_PORT_FAILED: memory ran out. *film is NULL then.
 */
enum dia_status dia_film_open(struct dia_film **film, const char *path, uint32_t rate_mhz,
                              struct dia_diagnostic *wrong);
void dia_film_close(struct dia_film *film);

/*
 * The same for what plays live. "-", a named pipe and "unix:PATH", a socket that is made there, are
 * streams that a thread of their own reads: what shows is the newest whole frame, whatever the
 * time, nothing before the first one, and the last one when a stream has ended, until another
 * begins. Nobody waits for who sends. Beside YUV4MPEG2 and PNM they bring raw frames: a line "RGB
 * COLUMNS ROWS", then three bytes a pixel. What is wrong with one dia_film_trouble says, until a
 * frame is right again. All films of one path have the same stream.
 */
enum dia_status dia_film_open_live(struct dia_film **film, const char *path, uint32_t rate_mhz,
                                   struct dia_diagnostic *wrong);

/* Frames, and how long all of them last. Of a stream both are 0: nobody knows. */
uint32_t dia_film_frames(const struct dia_film *film);
uint64_t dia_film_length_us(const struct dia_film *film);

/*
 * The frame that shows at a time; behind the end it is the last one. A stream cannot go back: for
 * an earlier time it is the one that came last. DIA_BAD_VALUE and a diagnostic: the file is damaged
 * there.
 */
enum dia_status dia_film_at(struct dia_film *film, uint64_t us, struct dia_film_frame *frame,
                            struct dia_diagnostic *wrong);

/* What was wrong when dia_film_at failed last, or with a live stream; "": nothing. */
const char *dia_film_trouble(const struct dia_film *film);

DIA_END

#endif
