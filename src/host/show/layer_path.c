/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "show_private.h"

/* "curve(10mm,20mm 80mm,5mm over=4s ease=ease-in-out end=back)": the way of a figure or sprite. */

#define EXAMPLE "curve(0mm,20mm 80mm,5mm over=4s)"

static const char *const shapes[] = {"line", "curve", NULL};
static const char *const keys[] = {"over", "speed", "ease", "end", NULL};
static const char *const ends[] = {"again", "back", "stay", NULL};
static const char *const eases[] = {"linear", "ease", "ease-in", "ease-out", "ease-in-out", NULL};
static const struct dia_ease *const ease_of[] = {&dia_ease_linear, &dia_ease_ease, &dia_ease_in,
                                                 &dia_ease_out, &dia_ease_in_out};

static enum dia_status read_key(struct dia_path *path, char *word, int32_t *speed_um_s,
                                struct dia_diagnostic *wrong)
{
    char *equals = strchr(word, '=');
    uint8_t key, choice;
    int64_t value;
    *equals = 0;
    enum dia_status status = dia_show_parameter("a path", word, keys, &key, wrong);
    if (status != DIA_OK)
        return status;
    switch (key) {
    case 0:
        status = dia_show_amount("over", equals + 1, DIA_TIME, 1, 3600000, &value, wrong);
        path->over_ms = status == DIA_OK ? (uint32_t)value : 0;
        return status;
    case 1:
        status = dia_show_amount("speed", equals + 1, DIA_SPEED, 1000, 10000000, &value, wrong);
        *speed_um_s = status == DIA_OK ? (int32_t)value : 0;
        return status;
    case 2:
        status = dia_show_choose("'ease'", equals + 1, eases, &choice, wrong);
        path->ease = status == DIA_OK ? ease_of[choice] : NULL;
        return status;
    default:
        return dia_show_choose("'end'", equals + 1, ends, &path->end, wrong);
    }
}

static enum dia_status read_point(struct dia_rig_layer *layer, char *word,
                                  struct dia_diagnostic *wrong)
{
    char *comma = strchr(word, ',');
    int64_t x, y;
    if (!comma)
        return dia_host_wrong(wrong,
                              "a path has points such as 10mm,20mm, and over, speed, ease, end; "
                              "found '%.40s'",
                              word);
    *comma = 0;
    enum dia_status status =
        dia_show_amount("path", word, DIA_LENGTH, -100000000, 100000000, &x, wrong);
    if (status == DIA_OK)
        status = dia_show_amount("path", comma + 1, DIA_LENGTH, -100000000, 100000000, &y, wrong);
    if (status != DIA_OK)
        return status;
    if (layer->path.count == DIA_PATH_POINTS)
        return dia_host_wrong(wrong, "a path has at most %d points", DIA_PATH_POINTS);
    layer->path_points[layer->path.count++] = (struct dia_point){(int32_t)x, (int32_t)y};
    return DIA_OK;
}

enum dia_status dia_show_path_read(struct dia_rig_layer *layer, const char *text,
                                   struct dia_diagnostic *wrong)
{
    char shape[SHOW_WORD], inside[SHOW_WORD], word[SHOW_WORD];
    const char *at = inside;
    int32_t speed_um_s = 0;
    struct dia_path *path = &layer->path;
    memset(path, 0, sizeof *path);
    enum dia_status status = dia_show_brackets(text, EXAMPLE, shape, inside, wrong);
    if (status == DIA_OK)
        status = dia_show_choose("a path", shape, shapes, &path->curved, wrong);
    while (status == DIA_OK && dia_show_word(&at, word))
        status = strchr(word, '=') ? read_key(path, word, &speed_um_s, wrong)
                                   : read_point(layer, word, wrong);
    if (status != DIA_OK)
        return status;
    path->points = layer->path_points;
    if (path->count < 2)
        return dia_host_wrong(wrong, "a path has at least two points, as in " EXAMPLE);
    if ((path->over_ms != 0) == (speed_um_s != 0))
        return dia_host_wrong(wrong,
                              "a path takes either a time or a speed: over=4s or speed=5cm/s");
    if (speed_um_s) {
        int64_t ms = (int64_t)dia_path_length_um(path) * 1000 / speed_um_s;
        if (ms < 1 || ms > 3600000)
            return dia_host_wrong(wrong, "at this speed the path takes %s; it may take 1 ms to 1 h",
                                  ms < 1 ? "no time" : "more than an hour");
        path->over_ms = (uint32_t)ms;
    }
    return DIA_OK;
}
