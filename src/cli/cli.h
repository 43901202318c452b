/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_H
#define DIA_CLI_H

#include <stdint.h>
#include <stdio.h>

#include <popt.h>

#include <diachrome/look_text.h>
#include <diachrome/quantity.h>
#include <diachrome/rig.h>

/* How the command ends. */
enum {
    CLI_FINE = 0,
    CLI_LIMIT = 1, /* a limit is broken */
    CLI_BAD_INPUT = 2,
    CLI_MACHINE = 3 /* the machine failed: no memory, disk full */
};

/* An option that is a number or quantity; out stays as it is when text is NULL. CLI_FINE, or said.
 */
int cli_quantity(const char *name, const char *option, const char *text, enum dia_quantity kind,
                 int64_t min, int64_t max, uint32_t *out);

/* What --wire takes: a wire of a capture and the one of the rig that it is. CLI_FINE, or said. */
struct cli_wire {
    char of_capture[80], of_rig[64];
};
int cli_wire_read(struct cli_wire *wire, const char *name, const char *arg);

/* One subcommand. */
struct cli_command {
    const char *name, *arguments, *help;
    const struct poptOption *options;
    int (*run)(const struct cli_command *self, int argc, const char **argv);
    int takes_whole; /* 1: of a rig with nodes all of it, unless --node says which part */
};
extern const struct cli_command cli_commands[]; /* ends with no name */

int cli_check(const struct cli_command *self, int argc, const char **argv);
int cli_looks(const struct cli_command *self, int argc, const char **argv);
int cli_render(const struct cli_command *self, int argc, const char **argv);
int cli_trace(const struct cli_command *self, int argc, const char **argv);
int cli_plot(const struct cli_command *self, int argc, const char **argv);
int cli_bringup(const struct cli_command *self, int argc, const char **argv);
int cli_glyphs(const struct cli_command *self, int argc, const char **argv);
int cli_feeds(const struct cli_command *self, int argc, const char **argv);
int cli_parts(const struct cli_command *self, int argc, const char **argv);
int cli_resistor(const struct cli_command *self, int argc, const char **argv);
int cli_refresh(const struct cli_command *self, int argc, const char **argv);
int cli_report(const struct cli_command *self, int argc, const char **argv);
int cli_pulses(const struct cli_command *self, int argc, const char **argv);
int cli_judge(const struct cli_command *self, int argc, const char **argv);
int cli_wave(const struct cli_command *self, int argc, const char **argv);
int cli_serve(const struct cli_command *self, int argc, const char **argv);
int cli_run(const struct cli_command *self, int argc, const char **argv);
int cli_preview(const struct cli_command *self, int argc, const char **argv);

extern const struct poptOption cli_check_options[], cli_looks_options[], cli_render_options[],
    cli_trace_options[], cli_plot_options[], cli_bringup_options[], cli_preview_options[],
    cli_glyphs_options[], cli_feeds_options[], cli_parts_options[], cli_resistor_options[],
    cli_refresh_options[], cli_pulses_options[], cli_report_options[], cli_judge_options[],
    cli_wave_options[], cli_serve_options[], cli_run_options[];

/* What a word of the line may be, for the shell to ask: see complete.c. */
int cli_complete(int argc, const char **argv);

/* Prints "diachrome NAME: text" on stderr, and returns code. */
int cli_fail(int code, const char *name, const char *format, ...)
    __attribute__((format(printf, 3, 4)));

/* CLI_BAD_INPUT, or CLI_MACHINE where the machine failed, with the diagnostic as it is. */
int cli_fail_with(enum dia_status status, const struct dia_diagnostic *wrong);

/* From now on the first thing that is wrong goes into text, and nothing to stderr: while a terminal
 * shows something else. NULL: to stderr again. */
void cli_hear(char *text, size_t size);

/*
 * Reads the options of a subcommand (argv[0] its name). Returns the
 * value of the last option handed back (0: none, all done), or -1 after having said what is
 * wrong. --help ends the program. `each` is called with the val of each option that has one.
 */
struct cli_options {
    poptContext context;
    const char *name;
    const char *rig_path; /* of cli_load_rig; the context's */
};
int cli_options_read(struct cli_options *options, const struct cli_command *command, int argc,
                     const char **argv, int (*each)(void *self, int val, const char *arg),
                     void *self);
/* The next argument that is no option, or NULL. */
const char *cli_options_argument(struct cli_options *options);
void cli_options_free(struct cli_options *options);

/* The option of commands that take a rig: which node's part of it. */
extern char *cli_node;
#define CLI_NODE                                                                                   \
    {                                                                                              \
        "node", '\0', POPT_ARG_STRING, &cli_node, 0, "the part of a rig that this node drives",    \
            "NAME"                                                                                 \
    }

/* A rig of a file, or the part of that node; bad input where the command takes no whole rig with
 * nodes and is given one. */
enum dia_status cli_read_rig(struct dia_rig *rig, const char *path, struct dia_diagnostic *wrong);

/* The one rig file of the arguments, loaded. CLI_FINE or the exit code, said. */
int cli_load_rig(struct cli_options *options, struct dia_rig *rig);

/* Puts faults of the command line behind those of the rig. CLI_FINE, or said what is wrong. */
int cli_add_faults(const char *name, struct dia_rig *rig, const char *const *faults, int count);

/* Whether to colour what goes to stdout: a terminal, and NO_COLOR not set. */
int cli_in_colour(void);

/* 1 where the locale says that text is UTF-8; else it is kept to ASCII. */
int cli_in_utf8(void);

/* Progress on stderr, if that is a terminal; done == all wipes it. */
void cli_progress(uint32_t done, uint32_t all);

/* The same, with how many frames a second are done. */
void cli_progress_of_frames(uint32_t done, uint32_t all);

/* What time of day it was at time 0 of a show that is at from_ms now; seconds since midnight. */
uint32_t cli_seconds_of_day(uint32_t from_ms);

/* stdout is flushed and whole, else CLI_MACHINE is said and returned. */
int cli_finish(int code);

#endif
