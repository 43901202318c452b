/* SPDX-License-Identifier: MIT */
#include <locale.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <diachrome/nearest.h>

#include "cli.h"

const struct cli_command cli_commands[] = {
    {"check", "RIG", "check a rig against its limits", cli_check_options, cli_check, 1},
    {"feeds", "RIG", "where to feed strips, by which wires", cli_feeds_options, cli_feeds, 0},
    {"parts", "RIG", "resistors, shifters, wires around it", cli_parts_options, cli_parts, 1},
    {"resistor", "", "for an LED: which one, or what flows", cli_resistor_options, cli_resistor, 0},
    {"refresh", "RIG", "refresh and depth there is time for", cli_refresh_options, cli_refresh, 0},
    {"pulses", "", "programs for a pulse engine, other ways", cli_pulses_options, cli_pulses, 0},
    {"report", "RIG --out FILE.html", "one page with all of it, to hand on", cli_report_options,
     cli_report, 0},
    {"looks", "[LOOK]", "list looks and their parameters", cli_looks_options, cli_looks, 0},
    {"render", "RIG --look NAME --out FILE", "what it shows, as a picture or table",
     cli_render_options, cli_render, 1},
    {"trace", "RIG --look NAME --out FILE", "what goes over the wires, as VCD", cli_trace_options,
     cli_trace, 0},
    {"wave", "RIG --look NAME", "the edges on its wires, and their words", cli_wave_options,
     cli_wave, 0},
    {"judge", "CAPTURE.vcd --rig RIG", "what real wires show, and what is wrong", cli_judge_options,
     cli_judge, 0},
    {"preview", "RIG --look NAME", "the rig live in the terminal", cli_preview_options, cli_preview,
     1},
    {"serve", "RIG [--show FILE]", "the rig live, for a page and programs", cli_serve_options,
     cli_serve, 1},
    {"run", "RIG [--show FILE]", "real parts, driven by this computer", cli_run_options, cli_run,
     0},
    {"plot", "RIG --look NAME --element E", "the channels of an element over time",
     cli_plot_options, cli_plot, 1},
    {"glyphs", "FILE", "show drawings of glyphs, make C of them", cli_glyphs_options, cli_glyphs,
     1},
    {"bringup", "RIG", "first lighting: find what is wrong", cli_bringup_options, cli_bringup, 0},
    {0},
};

static void usage(FILE *out)
{
    fputs("usage: diachrome COMMAND [OPTIONS]\n\n"
          "Colour animations for addressable LEDs, played through the wire to simulated\n"
          "hardware that judges what reaches it.\n\n",
          out);
    for (const struct cli_command *command = cli_commands; command->name; command++)
        fprintf(out, "  %-10s%-29s%s\n", command->name, command->arguments, command->help);
    fputs("\n`diachrome COMMAND --help` has the options. Exit status: 0 fine, 1 a limit is\n"
          "broken, 2 bad input, 3 the machine failed.\n",
          out);
}

static int unknown(const char *word)
{
    const char *names[24];
    int n = 0;
    for (const struct cli_command *command = cli_commands; command->name; command++)
        names[n++] = command->name;
    names[n] = NULL;
    const char *near = dia_nearest(word, names);
    if (near)
        fprintf(stderr, "diachrome: unknown command '%s'; did you mean '%s'?\n", word, near);
    else
        fprintf(stderr,
                "diachrome: unknown command '%s'; there are check, feeds, parts, resistor, "
                "refresh, pulses, report, looks, "
                "render, trace, wave, judge, "
                "preview, serve, run, plot, glyphs and bringup\n",
                word);
    return CLI_BAD_INPUT;
}

/* The help of a command ends the program itself: what it could not print is told here. */
static void end_of_help(void)
{
    if (fflush(stdout) != 0)
        _exit(cli_finish(CLI_FINE));
}

int main(int argc, char **argv)
{
    setlocale(LC_CTYPE, "");
    atexit(end_of_help);
    if (argc < 2) {
        usage(stderr);
        return CLI_BAD_INPUT;
    }
    if (strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-?") == 0) {
        usage(stdout);
        return cli_finish(CLI_FINE);
    }
    if (strcmp(argv[1], "--version") == 0) {
        printf("diachrome %s\n", dia_version());
        return cli_finish(CLI_FINE);
    }
    if (strcmp(argv[1], "complete") == 0)
        return cli_complete(argc - 2, (const char **)(argv + 2));
    for (const struct cli_command *command = cli_commands; command->name; command++) {
        if (strcmp(argv[1], command->name) == 0)
            return command->run(command, argc - 1, (const char **)(argv + 1));
    }
    return unknown(argv[1]);
}
