/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/look_text.h>
#include <diachrome/show.h>

#include "host_private.h"
#include "show_private.h"

/* What is read before it becomes a wave: numbers as a look has them. */
struct settings {
    int32_t shape, along, length_um, speed_um_s, period_ms, duty, low;
};

#define ROW(field, word, says, what, low, high)                                                    \
    {                                                                                              \
        word, says, what, low, high, offsetof(struct settings, field), NULL                        \
    }
#define CHOICE(field, word, says, list, n)                                                         \
    {                                                                                              \
        word, says, DIA_PARAM_CHOICE, 0, (n)-1, offsetof(struct settings, field), list             \
    }
static const struct dia_param params[] = {
    CHOICE(shape, "shape", "of the wave; comes first", "sine triangle saw pulse", 4),
    CHOICE(along, "along", "the coordinate it runs along", "along x y radius angle side index", 7),
    ROW(length_um, "length", "of a wave; as long as the place without", DIA_PARAM_LENGTH, 1000,
        100000000),
    ROW(speed_um_s, "speed", "how fast it moves, away from the start", DIA_PARAM_SPEED, -10000000,
        10000000),
    ROW(period_ms, "period", "all of it rises and falls in this time", DIA_PARAM_TIME, 20, 3600000),
    ROW(duty, "duty", "how much of a pulse is at full", DIA_PARAM_SHARE, 0, DIA_SHARE_ONE),
    ROW(low, "low", "how strongly the layer shows at a trough", DIA_PARAM_SHARE, 0, DIA_SHARE_ONE),
};
static const char *const shapes[] = {"sine", "triangle", "saw", "pulse", NULL};
static const char *const keys[] = {"along", "length", "speed", "period", "duty", "low", NULL};

static void usual(void *values)
{
    struct settings *settings = values;
    memset(settings, 0, sizeof *settings);
    settings->duty = DIA_SHARE_ONE / 2;
}

const struct dia_look dia_mask_words = {
    .name = "mask",
    .help = "a wave that says how strongly a layer shows",
    .params = params,
    .param_count = sizeof params / sizeof params[0],
    .size = sizeof(struct settings),
    .defaults = usual,
};

static enum dia_status read_setting(struct settings *settings, char *word,
                                    struct dia_diagnostic *wrong)
{
    char key[SHOW_WORD];
    const char *equals = strchr(word, '=');
    uint8_t which;
    if (!equals)
        return dia_host_wrong(wrong,
                              "'%.40s' sets nothing in a mask; write KEY=VALUE, such as "
                              "length=50cm",
                              word);
    snprintf(key, sizeof key, "%.*s", (int)(equals - word), word);
    enum dia_status status = dia_show_parameter("a mask", key, keys, &which, wrong);
    return status == DIA_OK ? dia_look_set(&dia_mask_words, settings, word, wrong) : status;
}

enum dia_status dia_show_mask_read(struct dia_wave *mask, const char *text,
                                   struct dia_diagnostic *wrong)
{
    char shape[SHOW_WORD], inside[SHOW_WORD], word[SHOW_WORD];
    const char *at = inside;
    struct settings settings;
    usual(&settings);
    dia_wave_init(mask);
    enum dia_status status =
        dia_show_brackets(text, "sine(length=50cm speed=20cm/s)", shape, inside, wrong);
    if (status == DIA_OK)
        status = dia_show_choose("a mask", shape, shapes, &mask->shape, wrong);
    while (status == DIA_OK && dia_show_word(&at, word))
        status = read_setting(&settings, word, wrong);
    mask->axis = (uint8_t)settings.along;
    mask->length_um = settings.length_um;
    mask->speed_um_s = settings.speed_um_s;
    mask->period_ms = (uint32_t)settings.period_ms;
    mask->duty = (dia_share)settings.duty;
    mask->low = (dia_share)settings.low;
    return status;
}
