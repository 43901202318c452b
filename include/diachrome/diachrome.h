/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DIACHROME_H
#define DIACHROME_DIACHROME_H

/*
 * Diachrome: colour animations on addressable LEDs, with power, timing and brightness in hand.
 *
 * This header brings everything that runs on a controller: integers only, no heap, no globals,
 * the caller owns all memory. On a desktop see also sim.h and bench.h (the simulated hardware)
 * and rig.h, player.h, reel.h, trace.h, check.h (files).
 */
#include "version.h"       /* which one this is */
#include "config.h"        /* what a build may choose */
#include "status.h"        /* how calls answer */
#include "fixed.h"         /* number formats */
#include "colour.h"        /* sRGB and linear light */
#include "gradient.h"      /* colours between stops, and of temperatures */
#include "frame.h"         /* what every pixel should show */
#include "lamp.h"          /* elements with one level */
#include "surface.h"       /* where every pixel lies */
#include "signal.h"        /* levels along a turn, easing, envelopes */
#include "face.h"          /* letters made of dots */
#include "text.h"          /* texts on dots, digits and cells */
#include "look.h"          /* animations */
#include "noise.h"         /* smooth noise, random numbers */
#include "number.h"        /* numbers and times as texts */
#include "value.h"         /* values in texts */
#include "wave.h"          /* signals along a surface */
#include "draw.h"          /* points, lines, discs, polygons, sprites */
#include "path.h"          /* ways that they move on */
#include "layer.h"         /* looks one over the other */
#include "grid.h"          /* elements in columns and rows */
#include "layout.h"        /* rings, folded lines, grids, panels, points */
#include "pace.h"          /* when the next frame is due */
#include "keys.h"          /* buttons as events */
#include "cue.h"           /* what they do */
#include "develop.h"       /* from colours to drive bytes */
#include "power.h"         /* current, and the limiter */
#include "port.h"          /* what a controller must offer */
#include "driver.h"        /* the contract of everything that drives light */
#include "part.h"          /* the chips and their limits */
#include "onewire.h"       /* encoder for one-wire pixels */
#include "clocked.h"       /* encoder for pixels with a clock line */
#include "parallel.h"      /* encoder for one-wire lanes on neighbouring pins */
#include "strip.h"         /* driver for a line of pixels */
#include "group.h"         /* strips that are sent at once */
#include "set.h"           /* all the drivers of a controller */
#include "inplace_strip.h" /* the same in half the memory */
#include "matrix.h"        /* driver for matrix and digit drivers */
#include "shift.h"         /* driver for shift-register chains */
#include "digits.h"        /* driver for digits straight from pins */
#include "pin_lamps.h"     /* driver for single lamps on pins */
#include "panel.h"         /* driver for panel controllers */
#include "rgb_panel.h"     /* driver for row-scanned colour panels */
#include "characters.h"    /* driver for character displays */
#include "letters.h"       /* texts, glyphs, bars and tall numbers on them */

#endif
