/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/colour_text.h>
#include <diachrome/palette_file.h>
#include <diachrome/quantity.h>

#include "host_private.h"

#define MOST_TEXT 80 /* of one colour */

/* Up to the next comma that is not between brackets. */
static size_t colour_length(const char *text)
{
    size_t n = 0;
    for (int depth = 0; text[n] && (depth > 0 || text[n] != ','); n++)
        depth += text[n] == '(' ? 1 : text[n] == ')' && depth > 0 ? -1 : 0;
    return n;
}

/* The next of several with commas, without spaces around it; 0: there is none. */
static int next_colour(const char **at, char one[MOST_TEXT])
{
    if (!*at)
        return 0;
    *at += strspn(*at, " ");
    size_t length = colour_length(*at), used = length < MOST_TEXT ? length : MOST_TEXT - 1;
    memcpy(one, *at, used);
    while (used && one[used - 1] == ' ')
        used--;
    one[used] = 0;
    *at = (*at)[length] ? *at + length + 1 : NULL;
    return 1;
}

static enum dia_status read_colours(const char *text, struct dia_palette *out,
                                    struct dia_diagnostic *wrong)
{
    struct dia_palette palette = *out;
    char one[MOST_TEXT];
    palette.count = palette.placed = 0;
    for (const char *at = text; next_colour(&at, one);) {
        struct dia_diagnostic why = {""};
        if (palette.count == DIA_PALETTE_MAX)
            return dia_host_wrong(wrong, "at most %d colours; '%.60s' has more", DIA_PALETTE_MAX,
                                  text);
        if (dia_colour_read(one, &palette.colours[palette.count], &why) != DIA_OK)
            return dia_host_wrong(wrong, "colour %d: %s", palette.count + 1, why.text);
        palette.count++;
    }
    *out = palette;
    return DIA_OK;
}

/* ---- gradients: "gradient(oklab red, gold 30%, navy)" -----------------------------------------
 */

#define NO_PLACE (-1)

struct stops {
    struct dia_rgb colour[DIA_GRADIENT_MAX];
    int32_t place[DIA_GRADIENT_MAX]; /* 0..65535, or NO_PLACE */
    int count;
};

/* "gold 30%": the place is what follows the last space outside of brackets and ends in %. */
static enum dia_status read_stop(struct stops *to, char *text, struct dia_diagnostic *wrong)
{
    struct dia_diagnostic why = {""};
    char *space = strrchr(text, ' ');
    int64_t ppm;
    to->place[to->count] = NO_PLACE;
    if (space && space[strlen(space) - 1] == '%') {
        if (dia_quantity_read(space + 1, DIA_PERCENT, 0, 1000000, "a stop's place", &ppm, wrong) !=
            DIA_OK)
            return DIA_BAD_VALUE;
        to->place[to->count] = (int32_t)((ppm * 65535 + 500000) / 1000000);
        while (space > text && space[-1] == ' ')
            space--;
        *space = 0;
    }
    if (dia_colour_read(text, &to->colour[to->count], &why) != DIA_OK)
        return dia_host_wrong(wrong, "stop %d: %s", to->count + 1, why.text);
    to->count++;
    return DIA_OK;
}

/* Those without a place lie evenly between their neighbours; the first at 0 and the last at the
 * end. */
static void place_others(struct stops *stops)
{
    if (stops->place[0] == NO_PLACE)
        stops->place[0] = 0;
    if (stops->place[stops->count - 1] == NO_PLACE)
        stops->place[stops->count - 1] = 65535;
    for (int k = 1; k < stops->count; k++) {
        int next = k;
        while (stops->place[next] == NO_PLACE)
            next++;
        int32_t from = stops->place[k - 1], way = stops->place[next] - from;
        for (int of = next - k + 1, i = 1; k < next; k++, i++)
            stops->place[k] = from + way * i / of;
    }
}

static enum dia_status read_gradient(const char *text, struct dia_palette *out,
                                     struct dia_diagnostic *wrong)
{
    struct dia_stop stops[DIA_GRADIENT_MAX];
    struct dia_gradient gradient;
    struct stops read = {.count = 0};
    char inside[400], one[MOST_TEXT];
    const char *at = inside;
    enum dia_mix mix = DIA_MIX_LIGHT;
    size_t length = strlen(text);
    if (text[length - 1] != ')' || length >= sizeof inside)
        return dia_host_wrong(wrong,
                              "write a gradient like this: gradient(oklab red, gold 30%%, navy); "
                              "'%.40s' has no closing bracket",
                              text);
    memcpy(inside, text + 9, length - 10);
    inside[length - 10] = 0;
    at += strspn(at, " ");
    if (strncmp(at, "oklab ", 6) == 0 || strncmp(at, "light ", 6) == 0) {
        mix = at[0] == 'o' ? DIA_MIX_OKLAB : DIA_MIX_LIGHT;
        at += 6;
    }
    while (next_colour(&at, one)) {
        if (read.count == DIA_GRADIENT_MAX)
            return dia_host_wrong(wrong, "a gradient has at most %d stops", DIA_GRADIENT_MAX);
        if (read_stop(&read, one, wrong) != DIA_OK)
            return DIA_BAD_VALUE;
    }
    place_others(&read);
    for (int k = 0; k < read.count; k++)
        stops[k] = (struct dia_stop){(uint16_t)read.place[k], read.colour[k]};
    if (dia_gradient_init(&gradient, mix, stops, (uint8_t)read.count) != DIA_OK)
        return dia_host_wrong(wrong, "the places of a gradient's stops rise from one to the next");
    dia_palette_of(out, &gradient);
    return DIA_OK;
}

enum dia_status dia_host_palette_text(const char *text, struct dia_palette *out,
                                      struct dia_diagnostic *wrong)
{
    if (text[0] == '@')
        return dia_palette_read(text + 1, out, wrong);
    if (strncmp(text, "gradient(", 9) == 0)
        return read_gradient(text, out, wrong);
    return read_colours(text, out, wrong);
}
