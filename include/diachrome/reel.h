/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_REEL_H
#define DIACHROME_REEL_H

#include "linkage.h"
#include "player.h"

DIA_BEGIN

/*
 * A reel: what the bench showed, frame after frame, kept for pictures and tables.
 *
 * Cost: 4 bytes of memory a pixel and frame, until it is freed.
 * Context: one thread at a time for an object; not from an interrupt.
 */
enum dia_view {
    DIA_VIEW_PARTS, /* each lane and device as large as is good to see */
    DIA_VIEW_DESK   /* all to scale where they are, with their glow */
};

#define DIA_PICTURE_WIDTH 1280u

struct dia_reel {
    const struct dia_rig *rig;
    const char *look;      /* its name */
    uint8_t (*drive)[4];   /* frames * pixels of them; in each frame lane after lane, then device
                              after device. Pixels: r g b w as lit. Lamps: level, upper byte first.
                              Cells:   code, and DIA_CELL_ bits */
    uint64_t *time_us;     /* of each frame */
    uint32_t *gives_ua;    /* what all supplies together gave in each frame */
    uint32_t supplies;     /* how many these are: of nodes each has its own */
    uint32_t frames, room; /* kept, and there is room for */
    uint8_t view;          /* of pictures of a frame, enum dia_view: of the desk where the rig says
                              where anything is; may be changed */
    uint32_t width; /* of pictures of the desk, in pixels; DIA_PICTURE_WIDTH, may be changed */
    /* of a camera that takes pictures of the desk, us: how long a row is open, and how long after
     * the first row the last begins. 0: an eye sees them. May be changed */
    uint32_t shutter_us, readout_us;
    void (*progress)(uint32_t done, uint32_t all); /* of frames drawn; NULL: nobody asks */
    uint32_t pixels; /* lamps and cells of all lanes and devices together */
    uint8_t (
        *glyphs)[8]; /* dots of glyphs that cells showed: rows from the top, bit 4 at the left */
    uint32_t glyph_count;
};

/* What a cell shows, in the upper and the lower byte behind its code and bits: a sign of Unicode,
 * or from here on a glyph of the reel. */
#define DIA_REEL_GLYPH  0xe000u
#define DIA_REEL_GLYPHS 4096u /* different ones, at most; more show as a shade */

enum {
    DIA_CELL_ON = 1,        /* the display is on */
    DIA_CELL_UNDERLINE = 2, /* the cursor is here */
    DIA_CELL_BLOCK = 4,     /* as a block */
    DIA_CELL_SOLID = 8      /* all dots dark: never set up, or too much contrast */
};

/* Room for so many frames. DIA_BAD_VALUE when they would take more than 1 GB; DIA_PORT_FAILED
 * when memory ran out. */
enum dia_status dia_reel_init(struct dia_reel *reel, const struct dia_rig *rig, const char *look,
                              uint32_t frames, struct dia_diagnostic *wrong);
void dia_reel_free(struct dia_reel *reel);

/* Keeps what the player shows now, as the frame of that time. */
void dia_reel_add(struct dia_reel *reel, const struct dia_player *player, uint64_t time_us);

/* The drive of pixel 0 of a lane in a frame; the others of the lane follow it. */
const uint8_t (*dia_reel_lane(const struct dia_reel *reel, uint32_t frame, uint32_t lane))[4];

/* The same for a device: lamps in the order of the rig, or cells row after row. */
const uint8_t (*dia_reel_device(const struct dia_reel *reel, uint32_t frame, uint32_t device))[4];
uint32_t dia_reel_elements(const struct dia_rig_device *device);

/*
 * The reel as a table (CSV, RFC 4180): frame,time_us,surface,index,r,g,b,w,level,code. Of pixels
 * the drive values 0..255 as the bench decoded them (0..127 of 7-bit parts); w is white, or the
 * level of parts that have one, or empty. Of lamps the level, linear, 65535 is full. Of cells the
 * character code. What an element does not have is empty.
 */
enum dia_status dia_reel_write_csv(const struct dia_reel *reel, const char *path,
                                   struct dia_diagnostic *wrong);

/*
 * The reel as a picture (PNG). One frame: each lane and device as it lies, with its glow. Several:
 * time downwards against place, of lanes and of lamps in a line. At most 4000 frames.
 */
enum dia_status dia_reel_write_png(const struct dia_reel *reel, const char *path,
                                   struct dia_diagnostic *wrong);

/* All frames on one picture (PNG), each a small one of the desk with its time: at most 400. */
enum dia_status dia_reel_write_sheet(const struct dia_reel *reel, const char *path,
                                     struct dia_diagnostic *wrong);

/*
 * The reel as a moving picture, each frame as dia_reel_write_png draws a single one: an animated
 * PNG, a YUV4MPEG2 stream (4:4:4, BT.601), PPM pictures one after the other, for any video tool, or
 * a GIF, which has 256 colours a frame and times in hundredths of a second. A path of NULL writes
 * to stdout, but for a GIF.
 */
enum dia_moving { DIA_MOVING_APNG, DIA_MOVING_Y4M, DIA_MOVING_PPM, DIA_MOVING_GIF };
enum dia_status dia_reel_write_moving(const struct dia_reel *reel, enum dia_moving format,
                                      const char *path, struct dia_diagnostic *wrong);

/* What full is in the drives of a part. */
enum dia_scale dia_scale_of(const struct dia_pixel_part *part);

DIA_END

#endif
