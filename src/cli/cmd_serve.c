/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <poll.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

#include <cjson/cJSON.h>

#include <diachrome/flashing.h>
#include <diachrome/serve.h>

#include "cli.h"
#include "guard.h"
#include "watch.h"

/* A rig that plays and answers on the network. */

static struct {
    char *show, *listen, *presets, *pairings, *record, *rate, *broker, *files, *e131, *send;
    const char *names[DIA_SERVE_NAMES];
    char *flashes;
    uint32_t name_count;
    int save, hold, events, real_parts;
} given;

const struct poptOption cli_serve_options[] = {
    {"show", 'S', POPT_ARG_STRING, &given.show, 0, "layers, keys and values of a file", "FILE"},
    {"listen", 'l', POPT_ARG_STRING, &given.listen, 0,
     "where it answers (default: 127.0.0.1:8480, this machine alone); 0.0.0.0: all networks",
     "ADDRESS[:PORT]"},
    {"name", 'N', POPT_ARG_STRING, NULL, 'N',
     "a name by which others call this machine; may be repeated", "NAME"},
    {"presets", 'P', POPT_ARG_STRING, &given.presets, 0,
     "folder of presets (default: kept until the end)", "FOLDER"},
    {"pairings", 0, POPT_ARG_STRING, &given.pairings, 0,
     "file of who has paired (default: they hold until the end)", "FILE"},
    {"mqtt", 'M', POPT_ARG_STRING, &given.broker, 0, "a broker to tell and to hear", "HOST[:PORT]"},
    {"files", 0, POPT_ARG_STRING, &given.files, 0,
     "'send' the rig's file, and those that rig and show name, to the broker, or 'take' them in "
     "place of those that are here (default: they stay)",
     "send|take"},
    {"e131", 'E', POPT_ARG_STRING, &given.e131, 0,
     "hear a lighting network (ANSI E1.31) on an address of this machine; 0.0.0.0: all", "ADDRESS"},
    {"send", 'T', POPT_ARG_STRING, &given.send, 0,
     "send what lanes show by E1.31; 'multicast' or the address of a receiver", "ADDRESS"},
    {"events", 'e', POPT_ARG_NONE, &given.events, 0, "each change as a line of JSON on stdout",
     NULL},
    {"save", 's', POPT_ARG_NONE, &given.save, 0, "the page may write the file of --show", NULL},
    {"record", 'R', POPT_ARG_STRING, &given.record, 0,
     "write all changes with their times, for --changes", "FILE"},
    {"rate", 'r', POPT_ARG_STRING, &given.rate, 0,
     "frames a second (default: frame_rate of the rig)", "RATE"},
    {"real", 'A', POPT_ARG_NONE, &given.real_parts, 0,
     "drive real parts too, on the pins of this computer", NULL},
    {"flashes", 'F', POPT_ARG_STRING, &given.flashes, 0,
     "how often a lane or device may flash in a second, 1 to 10 (default: any)", "N"},
    {"hold", 'H', POPT_ARG_NONE, &given.hold, 0,
     "keep the last frame at the end, instead of going dark", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

/* ---- lines on standard input, where it is no terminal; and changes on standard output -------- */

static struct {
    char bytes[8192];
    size_t length;
    int is_over, skips; /* skips: the rest of a line that is too long */
} in;

static void read_more(void)
{
    struct pollfd wait = {STDIN_FILENO, POLLIN, 0};
    if (in.is_over || in.length == sizeof in.bytes || poll(&wait, 1, 0) <= 0)
        return;
    ssize_t n = read(STDIN_FILENO, in.bytes + in.length, sizeof in.bytes - in.length);
    in.is_over = n == 0 || (n < 0 && errno != EINTR && errno != EAGAIN);
    in.length += n > 0 ? (size_t)n : 0;
}

static int next_line(char *line, size_t size)
{
    read_more();
    char *end = memchr(in.bytes, '\n', in.length);
    size_t length = end ? (size_t)(end - in.bytes) : in.length, used = length + (end != NULL);
    int is_whole = end || (in.is_over && length > 0);
    if (!is_whole && in.length < sizeof in.bytes)
        return 0;
    int fits = is_whole && length < size && !in.skips;
    if (fits) {
        memcpy(line, in.bytes, length);
        line[length] = 0;
        line[strcspn(line, "\r")] = 0;
    } else if (!in.skips) {
        fprintf(stderr, "diachrome serve: standard input: a line is at most %zu characters long\n",
                size - 1);
    }
    in.skips = !is_whole;
    memmove(in.bytes, in.bytes + used, in.length - used);
    in.length -= used;
    return fits ? 1 : next_line(line, size);
}

static void made(uint64_t ms, const char *change)
{
    cJSON *json = cJSON_CreateObject();
    cJSON_AddNumberToObject(json, "ms", (double)ms);
    cJSON_AddStringToObject(json, "change", change);
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    if (text) {
        puts(text);
        fflush(stdout);
    }
    cJSON_free(text);
}

static volatile int ended;

static void end(int signal)
{
    (void)signal;
    ended = 1;
}

static int take_name(void *self, int val, const char *arg)
{
    (void)self;
    (void)val;
    if (given.name_count == DIA_SERVE_NAMES)
        return cli_fail(CLI_BAD_INPUT, "serve", "more than %d times --name", DIA_SERVE_NAMES);
    given.names[given.name_count] = strdup(arg);
    return given.names[given.name_count++] ? CLI_FINE
                                           : cli_fail(CLI_MACHINE, "serve", "out of memory");
}

/* What the rig's file says under `live`, where no option says otherwise. */
static void take_live(struct dia_rig *rig)
{
    struct dia_rig_live *live = &rig->live;
    if (!given.listen && live->listen[0])
        given.listen = live->listen;
    if (!given.presets && live->presets[0])
        given.presets = live->presets;
    if (!given.pairings && live->pairings[0])
        given.pairings = live->pairings;
    if (given.name_count == 0 && live->name[0])
        given.names[given.name_count++] = live->name;
    if (given.show && strcmp(live->save, "yes") == 0)
        given.save = 1;
    if (given.send)
        snprintf(live->send.to, sizeof live->send.to, "%s", given.send);
    if (!given.e131 && live->e131[0])
        given.e131 = live->e131;
    if (given.broker)
        snprintf(live->mqtt.broker, sizeof live->mqtt.broker, "%s", given.broker);
}

/* "ADDRESS", "ADDRESS:PORT", ":PORT", "[ADDRESS]:PORT". */
static int read_listen(struct dia_serve_options *options, char address[64])
{
    const char *text = given.listen ? given.listen : "";
    const char *end_of = text[0] == '[' ? strchr(text, ']') : NULL;
    const char *colon = strrchr(end_of ? end_of : text, ':');
    size_t length = end_of  ? (size_t)(end_of - text - 1)
                    : colon ? (size_t)(colon - text)
                            : strlen(text);
    uint32_t port = DIA_SERVE_PORT;
    if (length >= 64)
        return cli_fail(CLI_BAD_INPUT, "serve", "--listen %.40s...: the address is too long", text);
    if (colon) {
        int code = cli_quantity("serve", "--listen", colon + 1, DIA_NUMBER, 0, 65535, &port);
        if (code != CLI_FINE)
            return code;
    }
    snprintf(address, 64, "%.*s", (int)length, text + (end_of != NULL));
    options->address = address[0] ? address : NULL;
    options->port = (uint16_t)port;
    return CLI_FINE;
}

/* A line a thing that happens, on stderr, with the time of day. */
static void say(const char *line)
{
    char at[32] = "";
    struct tm local;
    time_t now = time(NULL);
    if (localtime_r(&now, &local))
        strftime(at, sizeof at, "%Y-%m-%dT%H:%M:%S%z", &local);
    fprintf(stderr, "time=%s event=%s\n", at, line);
}

/* The rig and the show, each with the files that it names. */
static struct watch rig_files, show_files;
static char *rig_path;

static unsigned changed(void)
{
    unsigned what = 0;
    if (watch_changed(&rig_files))
        what |= DIA_SERVE_RIG;
    if (watch_changed(&show_files))
        what |= DIA_SERVE_SHOW;
    if (what & DIA_SERVE_RIG)
        watch_file(&rig_files, rig_path);
    if (what & DIA_SERVE_SHOW)
        watch_file(&show_files, given.show);
    return what;
}

/* The files that go with the rig: itself, its tables of places, the show and all that it names.
 * What else the rig names, passwords and certificates, is this machine's own. */
static const char *named(uint32_t k)
{
    for (int i = 0; i < rig_files.count; i++) {
        const char *path = rig_files.files[i].path, *end = strrchr(path, '.');
        if ((i == 0 || (end && strcmp(end, ".csv") == 0)) && k-- == 0)
            return path;
    }
    return k < (uint32_t)show_files.count ? show_files.files[k].path : NULL;
}

static int read_files(uint8_t *files)
{
    if (given.files && strcmp(given.files, "send") != 0 && strcmp(given.files, "take") != 0)
        return cli_fail(CLI_BAD_INPUT, "serve", "--files is 'send' or 'take', not '%.40s'",
                        given.files);
    *files = (uint8_t)(!given.files                       ? DIA_SERVE_FILES_STAY
                       : strcmp(given.files, "send") == 0 ? DIA_SERVE_FILES_SEND
                                                          : DIA_SERVE_FILES_TAKE);
    return CLI_FINE;
}

static int is_all(const char *address)
{
    return address && (strcmp(address, "0.0.0.0") == 0 || strcmp(address, "::") == 0);
}

static void say_where(const struct dia_serve_options *options, const struct dia_serve *serve)
{
    char line[240];
    const char *address = options->address ? options->address : "127.0.0.1";
    snprintf(line, sizeof line, "listening address=%s port=%u page=http://%s:%u/", address,
             (unsigned)dia_serve_port(serve), is_all(address) ? "127.0.0.1" : address,
             (unsigned)dia_serve_port(serve));
    say(line);
}

static int run(void *self)
{
    const struct dia_serve_options *options = self;
    struct dia_diagnostic wrong = {""};
    int failed = 0;
    guard_hear(end);
    signal(SIGPIPE, SIG_IGN);
    struct dia_serve *serve = dia_serve_new(options, &failed, &wrong);
    if (!serve)
        return cli_fail_with(failed ? DIA_PORT_FAILED : DIA_BAD_VALUE, &wrong);
    say_where(options, serve);
    enum dia_status status = dia_serve_run(serve, &ended, &wrong);
    char line[120];
    snprintf(line, sizeof line, "ended frames=%llu late=%llu light=%s",
             (unsigned long long)dia_serve_frames(serve), (unsigned long long)dia_serve_late(serve),
             options->hold ? "held" : "dark");
    if (status == DIA_OK)
        say(line);
    dia_serve_free(serve);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

static int served(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    struct cli_options options;
    char address[64];
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, take_name, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    if (code == CLI_FINE && !(rig_path = strdup(options.rig_path)))
        code = cli_fail(CLI_MACHINE, "serve", "out of memory");
    cli_options_free(&options);
    if (code != CLI_FINE)
        return code;
    const char *first, *node = cli_node;
    if (!node && dia_rig_nodes(&rig, &first, 1)) {
        node = DIA_SERVE_WHOLE;
        if (given.real_parts)
            return cli_fail(CLI_BAD_INPUT, "serve",
                            "--real drives the parts of one node; say which with --node, such as "
                            "--node %s",
                            first);
    }
    dia_rig_plays_live(&rig);
    take_live(&rig);
    if (given.broker && strlen(given.broker) >= sizeof rig.live.mqtt.broker)
        return cli_fail(CLI_BAD_INPUT, "serve", "--mqtt %.40s...: the name is too long",
                        given.broker);
    struct dia_serve_options serve = {.rig = &rig,
                                      .mqtt = &rig.live.mqtt,
                                      .e131 = given.e131,
                                      .send = &rig.live.send,
                                      .show = given.show,
                                      .node = node,
                                      .usual = "layer light: steady colour=#ffd0a0\n",
                                      .presets = given.presets,
                                      .pairings = given.pairings,
                                      .record = given.record,
                                      .rate_mhz = rig.frame_rate_mhz,
                                      .may_save = (uint8_t)given.save,
                                      .hold = (uint8_t)given.hold,
                                      .real_parts = (uint8_t)given.real_parts,
                                      .clock_s = cli_seconds_of_day(0),
                                      .name_count = given.name_count,
                                      .rig_path = rig_path,
                                      .changed = changed,
                                      .named = named,
                                      .line = isatty(STDIN_FILENO) ? NULL : next_line,
                                      .made = given.events ? made : NULL,
                                      .log = say};
    memcpy(serve.names, given.names, sizeof given.names);
    code = read_listen(&serve, address);
    if (code == CLI_FINE)
        code = cli_quantity("serve", "--rate", given.rate, DIA_RATE, 100, 1000000, &serve.rate_mhz);
    uint32_t flashes = rig.live.flashes;
    if (code == CLI_FINE)
        code = cli_quantity("serve", "--flashes", given.flashes, DIA_NUMBER, 1, DIA_FLASHES_MOST,
                            &flashes);
    serve.flashes = (uint8_t)flashes;
    if (code == CLI_FINE)
        code = read_files(&serve.files);
    if (code == CLI_FINE && given.save && !given.show)
        code = cli_fail(CLI_BAD_INPUT, "serve", "--save writes the file of --show; give it");
    if (code != CLI_FINE)
        return code;
    watch_file(&rig_files, rig_path);
    if (given.show)
        watch_file(&show_files, given.show);
    code = given.real_parts ? guard_run(&rig, "serve", run, &serve) : run(&serve);
    watch_free(&rig_files);
    watch_free(&show_files);
    free(rig_path);
    return code;
}

int cli_serve(const struct cli_command *self, int argc, const char **argv)
{
    return cli_finish(served(self, argc, argv));
}
