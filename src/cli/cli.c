/* SPDX-License-Identifier: MIT */
#include <langinfo.h>
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

#include <diachrome/nearest.h>

#include "cli.h"

static char *heard; /* where what is wrong goes, instead of to stderr */
static size_t heard_size;

void cli_hear(char *text, size_t size)
{
    heard = text;
    heard_size = size;
    if (text)
        text[0] = 0;
}

int cli_fail(int code, const char *name, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    if (heard) {
        if (code != CLI_FINE && !heard[0])
            vsnprintf(heard, heard_size, format, args);
        va_end(args);
        return code;
    }
    fprintf(stderr, "diachrome %s: ", name);
    vfprintf(stderr, format, args);
    fputc('\n', stderr);
    va_end(args);
    return code;
}

int cli_fail_with(enum dia_status status, const struct dia_diagnostic *wrong)
{
    if (heard && !heard[0])
        snprintf(heard, heard_size, "%s", wrong->text);
    else if (!heard)
        fprintf(stderr, "%s\n", wrong->text);
    return status == DIA_PORT_FAILED ? CLI_MACHINE : CLI_BAD_INPUT;
}

/* popt says what is wrong with an option it knows; one it does not know is ours to help with. */
static int bad_option(const struct cli_options *options, const struct poptOption *table, int error)
{
    const char *given = poptBadOption(options->context, POPT_BADOPTION_NOALIAS);
    if (error != POPT_ERROR_BADOPT)
        return cli_fail(-1, options->name, "%s: %s", given, poptStrerror(error));
    const char *known[24];
    int n = 0;
    for (; table->longName || table->arg; table++) {
        if (table->longName && n < 22)
            known[n++] = table->longName;
    }
    known[n++] = "help";
    known[n] = NULL;
    char word[48];
    snprintf(word, sizeof word, "%.40s", given + strspn(given, "-"));
    word[strcspn(word, "=")] = 0;
    const char *near = dia_nearest(word, known);
    if (near)
        return cli_fail(-1, options->name, "unknown option '%s'; did you mean '--%s'?", given,
                        near);
    return cli_fail(-1, options->name, "unknown option '%s'; try 'diachrome %s --help'", given,
                    options->name);
}

static int takes_whole; /* of the command that is run */

int cli_options_read(struct cli_options *options, const struct cli_command *command, int argc,
                     const char **argv, int (*each)(void *self, int val, const char *arg),
                     void *self)
{
    const struct poptOption *table = command->options;
    char title[64], usage[128];
    snprintf(title, sizeof title, "diachrome %s", command->name);
    argv[0] = strdup(title); /* popt's help names the program by it; kept until the end */
    options->name = command->name;
    takes_whole = command->takes_whole;
    options->rig_path = NULL;
    options->context = poptGetContext(title, argc, argv, table, 0);
    snprintf(usage, sizeof usage, "%s [OPTIONS]", command->arguments);
    poptSetOtherOptionHelp(options->context, usage);
    int val;
    while ((val = poptGetNextOpt(options->context)) > 0) {
        char *arg = poptGetOptArg(options->context);
        int bad = each ? each(self, val, arg) : 0;
        free(arg);
        if (bad)
            return -1;
    }
    return val < -1 ? bad_option(options, table, val) : 0;
}

const char *cli_options_argument(struct cli_options *options)
{
    return poptGetArg(options->context);
}

void cli_options_free(struct cli_options *options)
{
    poptFreeContext(options->context);
}

int cli_load_rig(struct cli_options *options, struct dia_rig *rig)
{
    struct dia_diagnostic wrong = {""};
    const char *path = cli_options_argument(options);
    if (!path)
        return cli_fail(CLI_BAD_INPUT, options->name,
                        "no rig file; write 'diachrome %s RIG', such as demo/quay.rig.yaml",
                        options->name);
    const char *more = cli_options_argument(options);
    if (more)
        return cli_fail(CLI_BAD_INPUT, options->name, "one rig file at a time; '%s' is too many",
                        more);
    options->rig_path = path;
    enum dia_status status = cli_read_rig(rig, path, &wrong);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

char *cli_node;

enum dia_status cli_read_rig(struct dia_rig *rig, const char *path, struct dia_diagnostic *wrong)
{
    const char *first = NULL;
    enum dia_status status = dia_rig_load_node(rig, path, cli_node, wrong);
    uint32_t count = status == DIA_OK ? dia_rig_nodes(rig, &first, 1) : 0;
    if (count == 0 || cli_node || takes_whole)
        return status;
    snprintf(wrong->text, sizeof wrong->text,
             "%s: the rig is driven by %u node%s; say which with --node, such as --node %s", path,
             (unsigned)count, count == 1 ? "" : "s", first);
    return DIA_BAD_VALUE;
}

int cli_quantity(const char *name, const char *option, const char *text, enum dia_quantity kind,
                 int64_t min, int64_t max, uint32_t *out)
{
    struct dia_diagnostic wrong = {""};
    int64_t value;
    if (!text)
        return CLI_FINE;
    if (dia_quantity_read(text, kind, min, max, option, &value, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, name, "%s", wrong.text);
    *out = (uint32_t)value;
    return CLI_FINE;
}

int cli_wire_read(struct cli_wire *wire, const char *name, const char *arg)
{
    const char *equals = strchr(arg, '=');
    size_t n = equals ? (size_t)(equals - arg) : 0;
    if (n == 0 || n >= sizeof wire->of_capture || !equals[1] ||
        strlen(equals + 1) >= sizeof wire->of_rig)
        return cli_fail(CLI_BAD_INPUT, name,
                        "--wire takes a wire of the capture and one of the rig, such as "
                        "D0=handrail; found '%.60s'",
                        arg);
    memcpy(wire->of_capture, arg, n);
    wire->of_capture[n] = 0;
    strcpy(wire->of_rig, equals + 1);
    return CLI_FINE;
}

int cli_in_colour(void)
{
    const char *no = getenv("NO_COLOR"), *terminal = getenv("TERM");
    int dumb = !terminal || strcmp(terminal, "dumb") == 0;
    return isatty(STDOUT_FILENO) && !dumb && !(no && no[0]);
}

int cli_in_utf8(void)
{
    return strcmp(nl_langinfo(CODESET), "UTF-8") == 0;
}

static double seconds_now(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + (double)now.tv_nsec / 1e9;
}

static double begun, said; /* s: when this work began, and what was said last */

/* Ten times a second at most. */
static void say(uint32_t done, uint32_t all, const char *unit)
{
    double now = seconds_now();
    if (begun == 0)
        begun = now;
    if (done == all)
        fprintf(stderr, "\r%32s\r", "");
    else if (now - said >= 0.1 && now - begun >= 0.3 && unit)
        fprintf(stderr, "\r%3d %%, %.0f %s a second  ", (int)((uint64_t)done * 100 / all),
                done / (now - begun), unit);
    else if (now - said >= 0.1)
        fprintf(stderr, "\r%3d %%", (int)((uint64_t)done * 100 / all));
    else
        return;
    said = now;
    begun = done == all ? 0 : begun;
    fflush(stderr);
}

void cli_progress(uint32_t done, uint32_t all)
{
    if (isatty(STDERR_FILENO) && all != 0)
        say(done, all, NULL);
}

void cli_progress_of_frames(uint32_t done, uint32_t all)
{
    if (isatty(STDERR_FILENO) && all != 0)
        say(done, all, "frames");
}

int cli_finish(int code)
{
    if (fflush(stdout) != 0 || ferror(stdout)) {
        perror("diachrome: standard output");
        return CLI_MACHINE;
    }
    return code;
}

uint32_t cli_seconds_of_day(uint32_t from_ms)
{
    time_t today = time(NULL);
    struct tm local;
    if (!localtime_r(&today, &local))
        return 0;
    uint32_t s = (uint32_t)(local.tm_hour * 3600 + local.tm_min * 60 + local.tm_sec);
    return (s + 86400 - from_ms / 1000 % 86400) % 86400;
}
