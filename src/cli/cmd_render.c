/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/reel.h>

#include "play.h"

static struct play play;

static char *view, *width_text, *camera_text, *readout_text;
static uint32_t shutter_us, readout_us;
static uint32_t width = DIA_PICTURE_WIDTH;

const struct poptOption cli_render_options[] = {
    PLAY_LOOK,
    PLAY_CHANGES,
    PLAY_TIME,
    PLAY_OUT,
    {"view", 'v', POPT_ARG_STRING, &view, 0, "desk: all to scale; parts: each by itself", "VIEW"},
    {"width", 'w', POPT_ARG_STRING, &width_text, 0, "of a picture of the desk (default: 1280)",
     "PIXELS"},
    {"camera", 'C', POPT_ARG_STRING, &camera_text, 0,
     "as a camera with that shutter takes it, such as \"1/50 s\"", "TIME"},
    {"readout", 0, POPT_ARG_STRING, &readout_text, 0,
     "time from its first row to its last (default: 20 ms)", "TIME"},
    {"sheet", 0, POPT_ARG_STRING, &play.sheet_text, 0, "so many frames of the run on one picture",
     "N"},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

static int keep(void *self, struct dia_player *player, uint64_t time_us)
{
    dia_reel_add(self, player, time_us);
    return CLI_FINE;
}

typedef enum dia_status writes_reel(const struct dia_reel *reel, const char *path,
                                    struct dia_diagnostic *wrong);

static enum dia_status write_apng(const struct dia_reel *reel, const char *path,
                                  struct dia_diagnostic *wrong)
{
    return dia_reel_write_moving(reel, DIA_MOVING_APNG, path, wrong);
}

static enum dia_status write_y4m(const struct dia_reel *reel, const char *path,
                                 struct dia_diagnostic *wrong)
{
    return dia_reel_write_moving(reel, DIA_MOVING_Y4M, path, wrong);
}

static enum dia_status write_ppm(const struct dia_reel *reel, const char *path,
                                 struct dia_diagnostic *wrong)
{
    return dia_reel_write_moving(reel, DIA_MOVING_PPM, path, wrong);
}

/* "-.y4m" and "-.ppm" go to stdout, for a pipe. */
static int to_stdout(const char *path)
{
    return strcmp(path, "-.y4m") == 0 || strcmp(path, "-.ppm") == 0;
}

static enum dia_status write_gif(const struct dia_reel *reel, const char *path,
                                 struct dia_diagnostic *wrong)
{
    return dia_reel_write_moving(reel, DIA_MOVING_GIF, path, wrong);
}

/* By the ending of the file's name. */
static writes_reel *writer(const char *path)
{
    const char *end = strrchr(path, '.');
    if (end && strcmp(end, ".png") == 0)
        return play.sheet ? dia_reel_write_sheet : dia_reel_write_png;
    if (end && strcmp(end, ".csv") == 0)
        return dia_reel_write_csv;
    if (end && strcmp(end, ".apng") == 0)
        return write_apng;
    if (end && strcmp(end, ".gif") == 0)
        return write_gif;
    if (end && strcmp(end, ".y4m") == 0)
        return write_y4m;
    if (end && strcmp(end, ".ppm") == 0)
        return write_ppm;
    return NULL;
}

static int run(struct dia_player *player, writes_reel *write)
{
    struct dia_diagnostic wrong = {""};
    char what[160];
    struct dia_reel reel;
    /* what is seen belongs to the hardware as it is */
    enum dia_status status =
        dia_reel_init(&reel, dia_player_desk(player), play_name(&play), play.frames, &wrong);
    if (status != DIA_OK)
        return cli_fail(status == DIA_PORT_FAILED ? CLI_MACHINE : CLI_BAD_INPUT, play.name, "%s",
                        wrong.text);
    reel.width = width;
    reel.shutter_us = shutter_us;
    reel.readout_us = readout_us;
    reel.progress = cli_progress_of_frames;
    if (shutter_us)
        reel.view = DIA_VIEW_DESK;
    else if (view)
        reel.view = strcmp(view, "desk") == 0 ? DIA_VIEW_DESK : DIA_VIEW_PARTS;
    int code = play_run(&play, player, keep, &reel);
    /* what broke a limit is still what the bench showed, and worth seeing */
    if (play.shown == play.frames) {
        status = write(&reel, to_stdout(play.out) ? NULL : play.out, &wrong);
        if (status == DIA_OK && !to_stdout(play.out)) {
            play_summary(&play, what, sizeof what);
            printf("%s: %s\n", play.out, what);
        } else if (status != DIA_OK) {
            code = cli_fail_with(status, &wrong);
        }
    }
    dia_reel_free(&reel);
    return code;
}

#define SHUTTER_LEAST_NS 10000u
#define SHUTTER_MOST_NS  4000000000u

/* "1/50 s", or a time as all others. */
static int read_shutter(void)
{
    uint32_t shutter_ns = 0, readout_ns = 20000000;
    unsigned of = 0;
    int used = 0, code = CLI_FINE;
    if (!camera_text)
        return readout_text ? cli_fail(CLI_BAD_INPUT, play.name, "--readout is of a --camera")
                            : CLI_FINE;
    if (view && strcmp(view, "desk") != 0)
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "--camera takes pictures of the desk; leave out "
                        "'--view parts'");
    if (strncmp(camera_text, "1/", 2) != 0)
        code = play_quantity(&play, camera_text, DIA_MOMENT, SHUTTER_LEAST_NS, SHUTTER_MOST_NS,
                             "--camera", &shutter_ns);
    else if (sscanf(camera_text, "1/%6u %n", &of, &used) == 1 && of >= 1 && of <= 100000 &&
             strcmp(camera_text + used, "s") == 0)
        shutter_ns = 1000000000u / of;
    else
        code =
            cli_fail(CLI_BAD_INPUT, play.name,
                     "--camera: '%.40s' is no shutter; write '1/50 s' (to 1/100000 s) or '20 ms'",
                     camera_text);
    if (code == CLI_FINE)
        code =
            play_quantity(&play, readout_text, DIA_MOMENT, 0, 1000000000, "--readout", &readout_ns);
    shutter_us = (shutter_ns + 500u) / 1000u;
    readout_us = (readout_ns + 500u) / 1000u;
    return code;
}

/* What is said of pictures. */
static int read_picture(void)
{
    const char *end = play.out ? strrchr(play.out, '.') : NULL;
    if (view && strcmp(view, "desk") != 0 && strcmp(view, "parts") != 0)
        return cli_fail(CLI_BAD_INPUT, play.name, "--view is 'desk' or 'parts'; found '%.40s'",
                        view);
    if (play.sheet && (!end || strcmp(end, ".png") != 0))
        return cli_fail(CLI_BAD_INPUT, play.name, "a sheet is a picture; its name ends in .png");
    int code = read_shutter();
    return code == CLI_FINE
               ? play_quantity(&play, width_text, DIA_NUMBER, 320, 7680, "--width", &width)
               : code;
}

static int render(writes_reel *write)
{
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    int code = run(player, write);
    dia_player_free(player);
    return code;
}

static int rendered(const struct cli_command *self, int argc, const char **argv)
{
    int code = play_read(&play, self, argc, argv);
    if (code != CLI_FINE)
        return code;
    if (!play.out)
        return cli_fail(CLI_BAD_INPUT, play.name, "no file to write; add '--out FILE.png'");
    code = read_picture();
    if (code != CLI_FINE)
        return code;
    writes_reel *write = writer(play.out);
    if (!write)
        return cli_fail(
            CLI_BAD_INPUT, play.name,
            "'%s': the name must end in .png (a picture), .csv (a table), or .apng, .gif, .y4m, "
            ".ppm (moving pictures)",
            play.out);
    return render(write);
}

int cli_render(const struct cli_command *self, int argc, const char **argv)
{
    int code = rendered(self, argc, argv);
    play_free(&play);
    return cli_finish(code);
}
