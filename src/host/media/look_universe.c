/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/universe.h>

/* ---- universes ------------------------------------------------------------------------------- */

void dia_universes_free(struct dia_universes *universes)
{
    free(universes->all);
    universes->all = NULL;
    universes->count = universes->room = 0;
}

/* Where that number is, or belongs. */
static uint32_t place_of(const struct dia_universes *universes, uint32_t number)
{
    uint32_t low = 0, high = universes->count;
    while (low < high) {
        uint32_t middle = low + (high - low) / 2;
        if (universes->all[middle].number < number)
            low = middle + 1;
        else
            high = middle;
    }
    return low;
}

struct dia_universe *dia_universes_find(const struct dia_universes *universes, uint32_t number)
{
    uint32_t at = place_of(universes, number);
    return at < universes->count && universes->all[at].number == number ? &universes->all[at]
                                                                        : NULL;
}

enum dia_status dia_universes_set(struct dia_universes *universes, uint32_t number,
                                  const uint8_t *slots, uint32_t count)
{
    struct dia_universe *universe = dia_universes_find(universes, number);
    if (number < 1 || number > DIA_UNIVERSE_LAST || count > DIA_UNIVERSE_SLOTS)
        return DIA_BAD_VALUE;
    if (!universe) {
        uint32_t at = place_of(universes, number);
        if (universes->count == DIA_UNIVERSES)
            return DIA_BAD_VALUE;
        if (universes->count == universes->room) {
            uint32_t room = universes->room ? 2 * universes->room : 8;
            struct dia_universe *more = realloc(universes->all, room * sizeof *more);
            if (!more)
                return DIA_PORT_FAILED;
            universes->all = more;
            universes->room = room;
        }
        universe = &universes->all[at];
        memmove(universe + 1, universe, (universes->count++ - at) * sizeof *universe);
        universe->number = (uint16_t)number;
    }
    universe->is_live = 1;
    if (count)
        memcpy(universe->slots, slots, count);
    memset(universe->slots + count, 0, DIA_UNIVERSE_SLOTS - count);
    return DIA_OK;
}

void dia_universes_lose(struct dia_universes *universes, uint32_t number)
{
    struct dia_universe *universe = dia_universes_find(universes, number);
    if (universe)
        universe->is_live = 0;
}

/* ---- the look -------------------------------------------------------------------------------- */

static void defaults(void *values)
{
    *(struct dia_universe_look *)values = (struct dia_universe_look){.first = 1, .channel = 1};
}

/* A slot of the run of universes that begins with the first: which universe, and its slot. */
struct slot {
    uint32_t universe, slot;
};
static struct slot slot_of(const struct dia_universe_look *p, uint32_t element, uint32_t colour)
{
    uint32_t begin = (uint32_t)p->channel - 1, first = (uint32_t)p->first;
    uint32_t in_first = (DIA_UNIVERSE_SLOTS - begin) / 3;
    if (p->packing == DIA_PACKING_SPLIT) {
        uint64_t at = begin + 3ull * element + colour;
        return (struct slot){first + (uint32_t)(at / DIA_UNIVERSE_SLOTS),
                             (uint32_t)(at % DIA_UNIVERSE_SLOTS)};
    }
    if (element < in_first)
        return (struct slot){first, begin + 3 * element + colour};
    element -= in_first;
    return (struct slot){first + 1 + element / 170, element % 170 * 3 + colour};
}

static void render(const void *values, const struct dia_surface *surface, uint32_t ms,
                   uint32_t first, uint32_t n, struct dia_rgb *out)
{
    /* where red, green and blue are */
    static const uint8_t orders[][3] = {{0, 1, 2}, {0, 2, 1}, {1, 0, 2},
                                        {2, 0, 1}, {1, 2, 0}, {2, 1, 0}};
    const struct dia_universe_look *p = values;
    const struct dia_universe *universe = NULL;
    uint32_t found = 0; /* the number that was looked for last */
    (void)surface;
    (void)ms;
    for (uint32_t i = 0; i < n; i++) {
        uint8_t colours[3];
        int is_there = 1;
        for (uint32_t c = 0; c < 3; c++) {
            struct slot slot = slot_of(p, first + i, c);
            if (slot.universe != found) {
                universe = p->from ? dia_universes_find(p->from, slot.universe) : NULL;
                found = slot.universe;
            }
            is_there &= universe && (universe->is_live || p->lost == DIA_LOST_HOLD);
            colours[c] = is_there ? universe->slots[slot.slot] : 0;
        }
        const uint8_t *order = orders[p->order];
        if (is_there)
            out[i] = (struct dia_rgb){colours[order[0]], colours[order[1]], colours[order[2]]};
        else if (p->lost == DIA_LOST_DARK)
            out[i] = (struct dia_rgb){0, 0, 0};
    }
}

#define NUMBER(field, key, help, max)                                                              \
    {                                                                                              \
        key, help, DIA_PARAM_COUNT, 1, max, offsetof(struct dia_universe_look, field), NULL        \
    }
#define CHOICE(field, key, help, words, count)                                                     \
    {                                                                                              \
        key, help, DIA_PARAM_CHOICE, 0, count - 1, offsetof(struct dia_universe_look, field),      \
            words                                                                                  \
    }
static const struct dia_param params[] = {
    NUMBER(first, "first", "universe of the first element", DIA_UNIVERSE_LAST),
    NUMBER(channel, "channel", "its slot of the first colour", DIA_UNIVERSE_SLOTS),
    CHOICE(order, "order", "of colours, as the source has them", "rgb rbg grb gbr brg bgr", 6),
    CHOICE(packing, "packing", "170 pixels a universe, or all 512 slots", "whole split", 2),
    CHOICE(lost, "lost", "what shows where no source is", "below dark hold", 3),
};

const struct dia_look dia_look_universe = {.name = "universe",
                                           .help = "slots of a lighting network, E1.31",
                                           .draws = 1,
                                           .params = params,
                                           .param_count = sizeof params / sizeof params[0],
                                           .size = sizeof(struct dia_universe_look),
                                           .defaults = defaults,
                                           .render = render};

_Static_assert(sizeof(struct dia_universe_look) <= sizeof(union dia_look_values),
               "a layer has room for its values");
