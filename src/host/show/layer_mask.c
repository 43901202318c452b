/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "host_private.h"
#include "show_private.h"

static const char *const shapes[] = {"sine", "triangle", "saw", "pulse", NULL};
static const char *const keys[] = {"along", "length", "speed", "period", "duty", "low", NULL};

static enum dia_status read_share(const char *key, const char *text, dia_share *share,
                                  struct dia_diagnostic *wrong)
{
    int64_t value;
    enum dia_status status = dia_show_amount(key, text, DIA_PERCENT, 0, 1000000, &value, wrong);
    if (status == DIA_OK)
        *share = (dia_share)((value * DIA_SHARE_ONE + 500000) / 1000000);
    return status;
}

static enum dia_status read_key(struct dia_wave *mask, uint8_t key, const char *text,
                                struct dia_diagnostic *wrong)
{
    int64_t value = 0;
    enum dia_status status;
    switch (key) {
    case 0:
        return dia_show_choose("'along'", text, dia_axis_words, &mask->axis, wrong);
    case 1:
        status = dia_show_amount("length", text, DIA_LENGTH, 1000, 100000000, &value, wrong);
        mask->length_um = (int32_t)value;
        return status;
    case 2:
        status = dia_show_amount("speed", text, DIA_SPEED, -10000000, 10000000, &value, wrong);
        mask->speed_um_s = (int32_t)value;
        return status;
    case 3:
        status = dia_show_amount("period", text, DIA_TIME, 20, 3600000, &value, wrong);
        mask->period_ms = (uint32_t)value;
        return status;
    case 4:
        return read_share("duty", text, &mask->duty, wrong);
    default:
        return read_share("low", text, &mask->low, wrong);
    }
}

static enum dia_status read_setting(struct dia_wave *mask, char *word, struct dia_diagnostic *wrong)
{
    char *equals = strchr(word, '=');
    uint8_t key;
    if (!equals)
        return dia_host_wrong(wrong,
                              "'%.40s' sets nothing in a mask; write KEY=VALUE, such as "
                              "length=50cm",
                              word);
    *equals = 0;
    enum dia_status status = dia_show_parameter("a mask", word, keys, &key, wrong);
    return status == DIA_OK ? read_key(mask, key, equals + 1, wrong) : status;
}

enum dia_status dia_show_mask_read(struct dia_wave *mask, const char *text,
                                   struct dia_diagnostic *wrong)
{
    char shape[SHOW_WORD], inside[SHOW_WORD], word[SHOW_WORD];
    const char *at = inside;
    dia_wave_init(mask);
    enum dia_status status =
        dia_show_brackets(text, "sine(length=50cm speed=20cm/s)", shape, inside, wrong);
    if (status == DIA_OK)
        status = dia_show_choose("a mask", shape, shapes, &mask->shape, wrong);
    while (status == DIA_OK && dia_show_word(&at, word))
        status = read_setting(mask, word, wrong);
    return status;
}
