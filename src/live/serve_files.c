/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "serve_private.h"
#include "tell.h"

#define LOOK_MS 250 /* files are looked at again */

/* The parts of the rig that plays, as before; nothing where there is none yet. */
static void drive_again(struct dia_serve *serve)
{
    struct dia_diagnostic no;
    dia_outlet_close(serve->outlet);
    serve->outlet = NULL;
    if (!serve->player)
        return;
    if (serve->options.real_parts)
        serve->outlet = dia_outlet_open(serve->rig, NULL, &no);
    dia_player_drives(serve->player, serve->outlet);
}

/* Lines can be held once, so the old ones are given back first; where the new rig cannot be driven,
 * the old one is again. */
static enum dia_status drive_parts(struct dia_serve *serve, const struct dia_rig *rig,
                                   struct dia_diagnostic *wrong)
{
    int failed = 0;
    if (!serve->options.real_parts)
        return DIA_OK;
    dia_outlet_close(serve->outlet);
    serve->outlet = dia_outlet_open(rig, &failed, wrong);
    if (serve->outlet)
        return DIA_OK;
    drive_again(serve);
    return failed ? DIA_PORT_FAILED : DIA_BAD_VALUE;
}

/* A player for a rig, and where all of it is, in place of what there was. */
enum dia_status dia_serve_stand_on(struct dia_serve *serve, const struct dia_rig *rig,
                                   struct dia_diagnostic *wrong)
{
    enum dia_status driven = drive_parts(serve, rig, wrong);
    if (driven != DIA_OK)
        return driven;
    struct dia_player *player = dia_player_new(rig, wrong);
    int is_kept = player && dia_player_flashes(player, serve->options.flashes) == 0;
    struct dia_scene *scene = is_kept ? dia_scene_new(dia_player_desk(player)) : NULL;
    uint8_t *frame = scene ? calloc(scene->bytes + 1u, 1) : NULL;
    char *json = scene ? dia_tell_scene(scene, rig) : NULL;
    int failed = !frame;
    if (!frame)
        free(json);
    else if (serve->scenes == 0)
        failed = dia_hub_init(&serve->hub, json, scene->bytes);
    else
        failed = dia_hub_change_scene(&serve->hub, json, scene->bytes);
    if (failed) {
        if (player)
            dia_live_wrong(wrong, "out of memory");
        dia_player_free(player);
        dia_scene_free(scene);
        free(frame);
        drive_again(serve);
        return DIA_PORT_FAILED;
    }
    dia_player_drives(player, serve->outlet);
    dia_player_free(serve->player);
    dia_scene_free(serve->scene);
    free(serve->frame);
    serve->player = player;
    serve->scene = scene;
    serve->frame = frame;
    serve->scenes++;
    serve->told = 0;
    return DIA_OK;
}

void dia_serve_free_rig(struct dia_rig *rig)
{
    if (rig)
        dia_rig_free(rig);
    free(rig);
}

/* The rig as its file has it now: everything on it goes on, at the same time. */
static enum dia_status read_rig(struct dia_serve *serve, uint64_t ms, struct dia_diagnostic *wrong)
{
    struct dia_rig *rig = malloc(sizeof *rig);
    if (!rig) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    const char *node = serve->options.node;
    if (node && strcmp(node, DIA_SERVE_WHOLE) == 0)
        node = NULL;
    enum dia_status status = dia_rig_load_node(rig, serve->options.rig_path, node, wrong);
    dia_rig_plays_live(rig);
    if (status == DIA_OK)
        status = dia_live_on(serve->live, rig, ms, wrong);
    if (status != DIA_OK) {
        dia_serve_free_rig(rig);
        return status;
    }
    status = dia_serve_stand_on(serve, rig, wrong);
    if (status != DIA_OK) { /* back to where it was */
        struct dia_diagnostic no;
        dia_live_on(serve->live, serve->rig, ms, &no);
        dia_serve_free_rig(rig);
        return status;
    }
    dia_serve_free_rig(serve->own_rig);
    serve->own_rig = rig;
    serve->rig = rig;
    serve->bench_ns = 0;
    return DIA_OK;
}

/* The text of the file, to know later whether it has changed. */
void dia_serve_keep_text(struct dia_serve *serve, const char *text)
{
    free(serve->file_text);
    serve->file_text = strdup(text);
}

static enum dia_status read_show(struct dia_serve *serve, uint64_t ms, struct dia_diagnostic *wrong)
{
    int failed = 0;
    struct dia_live *read = dia_live_load(serve->rig, serve->options.show, &failed, wrong);
    if (!read)
        return failed ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    /* where only a file that it names has changed, what was changed live stays */
    int is_same = serve->file_text && strcmp(serve->file_text, dia_live_text(read)) == 0;
    enum dia_status status =
        is_same ? dia_live_on(serve->live, serve->rig, ms, wrong)
                : dia_serve_text(serve, dia_live_text(read), ms, DIA_LIVE_OWNER, wrong);
    if (status == DIA_OK)
        dia_serve_keep_text(serve, dia_live_text(read));
    if (status == DIA_OK && !is_same && serve->files)
        dia_files_again(serve->files); /* others may go on naming those */
    dia_live_free(read);
    return status;
}

/* What has changed is taken over with the next frame; while it is wrong, the old goes on. */
void dia_serve_files(struct dia_serve *serve, uint64_t ms)
{
    struct dia_diagnostic wrong = {""};
    char line[500];
    if (!serve->options.changed || ms - serve->look_ms < LOOK_MS)
        return;
    serve->look_ms = ms;
    unsigned changed = serve->options.changed();
    int came = serve->files_came;
    serve->files_came = 0;
    if (changed == 0 && !came)
        return;
    if (serve->trouble[0]) /* what was wrong before may be the other of the two */
        changed = DIA_SERVE_RIG | DIA_SERVE_SHOW;
    enum dia_status status = DIA_OK;
    if (changed & DIA_SERVE_RIG && serve->options.rig_path)
        status = read_rig(serve, ms, &wrong);
    if (status == DIA_OK && changed & DIA_SERVE_SHOW && serve->options.show)
        status = read_show(serve, ms, &wrong);
    else if (status == DIA_OK && came)
        status = dia_live_on(serve->live, serve->rig, ms, &wrong);
    if (came)
        dia_serve_nodes_try_again(serve);
    if (serve->files && status == DIA_OK)
        dia_files_offer(serve->files);
    serve->files_new = 1;
    dia_serve_nodes_rig(serve);
    snprintf(serve->trouble, sizeof serve->trouble, "%s", status == DIA_OK ? "" : wrong.text);
    snprintf(line, sizeof line, "read-again result=%s%s%.400s%s",
             status == DIA_OK ? "taken" : "wrong", status == DIA_OK ? "" : " reason=\"",
             serve->trouble, status == DIA_OK ? "" : "\"");
    line[strcspn(line, "\n")] = 0;
    dia_serve_say(serve, line);
}
