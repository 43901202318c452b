/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/reel.h>

#include "play.h"

static struct play play;

static const struct poptOption table[] = {PLAY_LOOK, PLAY_RUN, POPT_AUTOHELP POPT_TABLEEND};

static int keep(void *self, struct dia_player *player, uint64_t time_us)
{
    dia_reel_add(self, player, time_us);
    return CLI_FINE;
}

typedef enum dia_status writes_reel(const struct dia_reel *reel, const char *path,
                                    struct dia_diagnostic *wrong);

/* By the ending of the file's name. */
static writes_reel *writer(const char *path)
{
    const char *end = strrchr(path, '.');
    if (end && strcmp(end, ".png") == 0)
        return dia_reel_write_png;
    if (end && strcmp(end, ".csv") == 0)
        return dia_reel_write_csv;
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
    int code = play_run(&play, player, keep, &reel);
    /* what broke a limit is still what the bench showed, and worth seeing */
    if (play.shown == play.frames) {
        status = write(&reel, play.out, &wrong);
        if (status == DIA_OK) {
            play_summary(&play, what, sizeof what);
            printf("%s: %s\n", play.out, what);
        } else {
            code = cli_fail_with(status, &wrong);
        }
    }
    dia_reel_free(&reel);
    return code;
}

static int render(writes_reel *write)
{
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    int code = run(player, write);
    dia_player_free(player);
    return cli_finish(code);
}

int cli_render(const struct cli_command *self, int argc, const char **argv)
{
    int code = play_read(&play, self, argc, argv, table);
    if (code != CLI_FINE)
        return code;
    if (!play.out)
        return cli_fail(CLI_BAD_INPUT, play.name, "no file to write; add '--out FILE.png'");
    writes_reel *write = writer(play.out);
    if (!write)
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "'%s': the name must end in .png (a picture) or .csv (a table)", play.out);
    return render(write);
}
