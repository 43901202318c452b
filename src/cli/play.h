/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_PLAY_H
#define DIA_CLI_PLAY_H

#include <diachrome/live.h>
#include <diachrome/quantity.h>
#include <diachrome/show.h>

#include "cli.h"

/* As many as a show holds: layers, keys and presses. */
#define PLAY_LINES (DIA_RIG_LAYERS + DIA_SHOW_CUES + DIA_SHOW_PRESSES)

/* What render, trace and preview have in common: a rig, a look with its settings, a run in time. */
struct play {
    const char *name;        /* of the subcommand */
    struct dia_show show;    /* its lowest layer is that of --look */
    char *lines[PLAY_LINES]; /* of --value, --layer, --key and --press, as in a file */
    int line_count;
    int no_memory; /* it ran out while options were read, which has been said */
    const char *settings[32];
    int setting_count;
    const char *faults[DIA_RIG_FAULTS];
    int fault_count;
    char *rig_path; /* a copy */
    char *look_name, *show_path, *along, *from_text, *for_text, *frames_text, *sheet_text,
        *signal_text, *rate_text, *out;
    char *changes_path;
    struct dia_live *live; /* of --changes, in place of the show alone; NULL: there are none */
    struct dia_changes changes;
    uint32_t changed;              /* of them, so far */
    struct dia_diagnostic trouble; /* with one of them */
    int hold;
    uint8_t live_streams;         /* as of the rig */
    int no_look;                  /* 1: none is needed */
    const struct dia_look *usual; /* shown where nothing else is said; NULL: something must be */
    struct cli_wire wires[16];    /* of --wire */
    int wire_count;
    uint32_t from_ms, for_ms, frames, rate_mhz;
    /* signal_text: of a signal and not of a rig, which is not read then */
    int texts;      /* 1: nothing but what the displays say */
    uint32_t sheet; /* not 0: so many frames at even distances over for_ms, instead of all */
    uint32_t shown; /* frames that were, by play_run */
    struct dia_rig rig;
};

/* The common rows of an option table; the play must be called `play` and be static. */
#define PLAY_LOOK                                                                                  \
    {                                                                                              \
        "look", 'l', POPT_ARG_STRING, &play.look_name, 0, "look to show, see diachrome looks",     \
        "NAME"},                                                                                   \
        {"fault",                                                                                  \
         'F',                                                                                      \
         POPT_ARG_STRING,                                                                          \
         NULL,                                                                                     \
         'F',                                                                                      \
         "put a fault on the simulated desk; may be repeated",                                     \
         "\"TARGET: WHAT\""},                                                                      \
        {"layer",                                                                                  \
         'L',                                                                                      \
         POPT_ARG_STRING,                                                                          \
         NULL,                                                                                     \
         'L',                                                                                      \
         "a look over the others; may be repeated",                                                \
         "\"LOOK on NAME ...\""},                                                                  \
        {"drawings", 'd', POPT_ARG_STRING,                                                         \
         NULL,       'D', "faces and sprites of a file; may be repeated",                          \
         "FILE"},                                                                                  \
        {"value",                                                                                  \
         'v',                                                                                      \
         POPT_ARG_STRING,                                                                          \
         NULL,                                                                                     \
         'V',                                                                                      \
         "a value that texts show; may be repeated",                                               \
         "\"NAME SOURCE ...\""},                                                                   \
        {"show", 'S', POPT_ARG_STRING, &play.show_path, 0, "layers, keys and presses of a file",   \
         "FILE"},                                                                                  \
        {"key",                                                                                    \
         'k',                                                                                      \
         POPT_ARG_STRING,                                                                          \
         NULL,                                                                                     \
         'K',                                                                                      \
         "what a key does; may be repeated",                                                       \
         "\"KEY KIND: ACTION\""},                                                                  \
        {"press",                                                                                  \
         'p',                                                                                      \
         POPT_ARG_STRING,                                                                          \
         NULL,                                                                                     \
         'P',                                                                                      \
         "a key is pressed; may be repeated",                                                      \
         "\"TIME KEY for TIME\""},                                                                 \
        {"along",     'a', POPT_ARG_STRING,                                                        \
         &play.along, 0,   "what the look runs along: x, y, radius, angle, ...",                   \
         "AXIS"},                                                                                  \
        {"set",      's', POPT_ARG_STRING,                                                         \
         NULL,       's', "set a parameter of the look; may be repeated",                          \
         "KEY=VALUE"},                                                                             \
    {                                                                                              \
        "rate", 'r', POPT_ARG_STRING, &play.rate_text, 0,                                          \
            "frames a second (default: frame_rate of the rig)", "RATE"                             \
    }
#define PLAY_CHANGES                                                                               \
    {                                                                                              \
        "changes", 'c', POPT_ARG_STRING, &play.changes_path, 0,                                    \
            "changes of a show, as 'diachrome serve --record' wrote them", "FILE"                  \
    }
#define PLAY_TIME                                                                                  \
    {"from", 'f', POPT_ARG_STRING, &play.from_text, 0, "time of the first frame (default: 0 s)",   \
     "TIME"},                                                                                      \
        {"for", 't', POPT_ARG_STRING, &play.for_text, 0, "how long to run", "TIME"},               \
    {                                                                                              \
        "frames", 'n', POPT_ARG_STRING, &play.frames_text, 0, "how many frames", "N"               \
    }
#define PLAY_OUT                                                                                   \
    {                                                                                              \
        "out", 'o', POPT_ARG_STRING, &play.out, 0, "file to write", "FILE"                         \
    }

#define PLAY_HOLD                                                                                  \
    {                                                                                              \
        "hold", 'H', POPT_ARG_NONE, &play.hold, 0,                                                 \
            "keep the last frame at the end, instead of going dark", NULL                          \
    }

/* The end of a show: everything dark, or the last frame as it is. Says nothing when all went well;
 * else the exit code. */
int play_end(struct play *play, struct dia_player *player);

/* Reads options and the rig. CLI_FINE or the exit code, said. */
int play_read(struct play *play, const struct cli_command *command, int argc, const char **argv);

/* Reads the files of a play again, as they are now, into another: that has the same options, and
 * does not own them (free its show alone). CLI_FINE or the exit code, said; then next has nothing.
 */
int play_again(struct play *next, const struct play *was);

/* Gives back what play_read took, whether it went well or not. */
void play_free(struct play *play);

/* Called after each frame; anything but CLI_FINE ends the run. */
typedef int play_frame(void *self, struct dia_player *player, uint64_t time_us);

/* Shows every frame at its time on the bench. CLI_LIMIT, said, when the wire is too slow for the
 * rate or when the bench found a limit broken; other exit codes likewise. */
int play_run(struct play *play, struct dia_player *player, play_frame *each, void *self);

/* What the bench had to complain about goes to stderr; CLI_LIMIT when a limit is broken. */
int play_judged(const struct dia_player *player);

/* An option that is a number or quantity; out stays as it is when text is NULL. */
int play_quantity(const struct play *play, const char *text, enum dia_quantity kind, int64_t min,
                  int64_t max, const char *option, uint32_t *out);

/* Time of frame k of the run. */
uint64_t play_time_us(const struct play *play, uint32_t k);

/* Shows the layers at a time. */
enum dia_status play_show(struct play *play, struct dia_player *player, uint64_t time_us,
                          uint64_t *frame_ns);

/* Says why play_show failed: a file of a picture, or the machine. The exit code. */
int play_failed(const struct play *play, enum dia_status status);

/* "chase", or "chase and 2 more". */
const char *play_name(const struct play *play);

/* "120 frames, 0 s to 2.38 s": what was run. */
void play_summary(const struct play *play, char *text, size_t size);

#endif
