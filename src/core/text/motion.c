/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "../look/once.h"
#include "motion.h"

/* No period is longer: with a rest it is less than half of the time after which times come again.
 */
#define MOST_MS 0x30000000u

void dia_stand_all(struct stand *stand, const struct measure *measure, const struct dia_text *text)
{
    struct line line = {NULL, NULL, text->says, 0};
    stand->from = text->says;
    stand->width = 0;
    stand->lines = 0;
    while (line.next && stand->lines < UINT16_MAX) {
        dia_line_at(&line, measure, line.next);
        stand->width = line.width > stand->width ? line.width : stand->width;
        stand->lines++;
    }
    stand->until = line.end;
    stand->line = line;
    stand->height = (int32_t)(stand->lines - 1u) * measure->line + measure->rows;
    stand->x = stand->y = stand->again_x = stand->again_y = 0;
}

/* In um, as far as 32 bits go. */
static uint32_t um_of(const struct dia_screen *screen, int32_t dots)
{
    uint32_t pitch = screen->pitch_um > 0 ? (uint32_t)screen->pitch_um : 1u;
    return (uint32_t)dots < UINT32_MAX / pitch ? (uint32_t)dots * pitch : UINT32_MAX;
}

/* How far something has come that comes again after so many dots: 0 .. dots - 1. */
static int32_t moved(const struct dia_text *text, const struct dia_screen *screen, int32_t dots,
                     uint32_t ms)
{
    dia_phase phase = dia_once_moved(text->form.speed_um_s, um_of(screen, dots), ms);
    return (int32_t)dia_once_of(phase, (uint32_t)dots);
}

/* What comes in at one end and goes out at the other: where it begins on a screen of so many dots,
 * the copy that is furthest on. */
static int32_t passes(const struct dia_text *text, const struct dia_screen *screen, int32_t size,
                      int32_t room, uint8_t back, uint32_t ms, int32_t *again)
{
    *again = size + (text->form.gap ? text->form.gap : room);
    int32_t at = moved(text, screen, *again, ms);
    if (back)
        return room - at;
    return at - size + (room - 1 - (at - size)) / *again * *again;
}

/* There, a rest, back, a rest. */
static int32_t sways(const struct dia_text *text, const struct dia_screen *screen, int32_t way,
                     uint32_t ms)
{
    uint32_t hold = (uint32_t)text->form.hold_ms;
    uint32_t go = dia_once_way_ms(um_of(screen, way), (uint32_t)text->form.speed_um_s);
    uint32_t at = dia_once_elapsed(ms, 2u * (hold + go));
    if (at >= 2u * hold + go)
        return way - (int32_t)dia_once_part((uint32_t)way, at - 2u * hold - go, go);
    if (at >= hold + go)
        return way;
    return at < hold ? 0 : (int32_t)dia_once_part((uint32_t)way, at - hold, go);
}

/* The lines of the page that shows. */
static void turn_to_page(struct stand *stand, const struct measure *measure,
                         const struct dia_text *text, const struct dia_screen *screen, uint32_t ms)
{
    uint32_t room = (uint32_t)((screen->rows + measure->line - measure->rows) / measure->line);
    uint32_t each = room ? room : 1u, pages = (stand->lines + each - 1u) / each;
    uint32_t hold = (uint32_t)text->form.hold_ms;
    hold = hold < MOST_MS / pages ? hold : MOST_MS / pages;
    uint32_t page = hold ? dia_once_elapsed(ms, hold * pages) / hold : 0;
    struct line line = {NULL, NULL, stand->from, 0};
    for (uint32_t k = 0; k < page * each; k++) {
        dia_line_at(&line, measure, line.next);
        stand->from = line.next;
    }
    stand->lines = (uint16_t)(stand->lines - page * each);
    stand->lines = (uint16_t)(stand->lines < each ? stand->lines : each);
    stand->height = (int32_t)(each - 1u) * measure->line + measure->rows;
}

/* The letters that show so far. */
static void type_letters(struct stand *stand, const struct dia_text *text, uint32_t ms)
{
    uint32_t every = (uint32_t)text->form.every_ms, count = 0;
    const char *at = text->says;
    for (; *at; count++)
        dia_utf8_next(&at);
    if (count == 0 || every == 0)
        return;
    every = every < MOST_MS / count ? every : MOST_MS / count;
    uint32_t shown = dia_once_elapsed(ms, every * count + (uint32_t)text->form.hold_ms) / every;
    for (at = text->says; *at && shown + 1u != 0; shown--)
        dia_utf8_next(&at);
    stand->until = at;
}

/* How far down the first of some lines is. */
static int32_t placed(const struct dia_text *text, int32_t height, int32_t rows)
{
    return text->form.place == DIA_TEXT_IN_MIDDLE   ? (rows - height) / 2
           : text->form.place == DIA_TEXT_AT_BOTTOM ? rows - height
                                                    : 0;
}

void dia_stand_of(struct stand *stand, const struct measure *measure, const struct dia_text *text,
                  const struct dia_screen *screen, uint32_t ms)
{
    int32_t motion = text->form.motion, wide = screen->columns, high = screen->rows;
    dia_stand_all(stand, measure, text);
    if (motion == DIA_TEXT_PAGES)
        turn_to_page(stand, measure, text, screen, ms);
    else if (motion == DIA_TEXT_LETTERS)
        type_letters(stand, text, ms);
    else if (text->form.speed_um_s == 0 || stand->width == 0)
        motion = DIA_TEXT_RESTS;
    stand->y = placed(text, stand->height, high);
    if (motion == DIA_TEXT_LEFT || motion == DIA_TEXT_RIGHT)
        stand->x =
            passes(text, screen, stand->width, wide, motion == DIA_TEXT_LEFT, ms, &stand->again_x);
    else if (motion == DIA_TEXT_SWAYS && stand->width > wide)
        stand->x = -sways(text, screen, stand->width - wide, ms);
    else
        stand->width = wide; /* lines lie on the screen, not beside each other */
    if (motion == DIA_TEXT_UP || motion == DIA_TEXT_DOWN)
        stand->y =
            passes(text, screen, stand->height, high, motion == DIA_TEXT_UP, ms, &stand->again_y);
}
