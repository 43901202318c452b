/* SPDX-License-Identifier: MIT */
#include "noise.h"

void dia_noise_row_at(struct noise_row *row, uint32_t ms, uint32_t row_ms, uint32_t seed)
{
    /* rows in 2^32 ms, rounded; also the rate in 2^-32 rows a millisecond */
    uint32_t rows = (uint32_t)((0x100000000u + row_ms / 2) / row_ms);
    uint64_t place = (uint64_t)ms * rows;
    uint32_t now = (uint32_t)(place >> 32);
    uint32_t next = now + 1 == rows ? 0 : now + 1;
    uint32_t base = noise_mixed(seed ^ 0x9e3779b9u);
    row->hash_now = noise_mixed(base + now);
    row->hash_next = noise_mixed(base + next);
    row->ease = noise_eased((uint16_t)((uint32_t)place >> 16));
}

uint16_t dia_noise_at(const struct noise_row *row, uint32_t column)
{
    uint16_t now = (uint16_t)noise_mixed(row->hash_now ^ column);
    return mixture_of(now, (uint16_t)noise_mixed(row->hash_next ^ column), row->ease);
}

struct noise_columns dia_noise_columns_at(const struct noise_row *row, uint16_t column)
{
    struct noise_columns pair;
    pair.column = column;
    pair.here = dia_noise_at(row, column);
    pair.next = dia_noise_at(row, (uint16_t)(column + 1));
    return pair;
}

uint16_t dia_noise_between(const struct noise_columns *pair, uint16_t part)
{
    return mixture_of(pair->here, pair->next, noise_eased(part));
}

/* Corners: left and right above, left and right below. */
enum { ABOVE_LEFT = 1, ABOVE_RIGHT = 2, BELOW_LEFT = 4, BELOW_RIGHT = 8, BEGUN = 16 };
#define LEFT_BITS  (ABOVE_LEFT | BELOW_LEFT)
#define RIGHT_BITS (ABOVE_RIGHT | BELOW_RIGHT)
#define ABOVE_BITS (ABOVE_LEFT | ABOVE_RIGHT)

/* On to another cell, with the corners it shares with the one before. 1: it is the one below. */
static uint8_t move(struct noise_cell *cell, uint16_t column, uint16_t line)
{
    uint16_t across = (uint16_t)(column - cell->column), down = (uint16_t)(line - cell->line);
    uint16_t *corner = cell->corner;
    uint8_t known = cell->known & BEGUN ? cell->known : 0;
    cell->column = column;
    cell->line = line;
    cell->known = BEGUN;
    if (known == 0)
        return 0;
    if (across == 0 && down == 1) {
        corner[0] = corner[2];
        corner[1] = corner[3];
        cell->known = (uint8_t)(BEGUN | (known >> 2 & ABOVE_BITS));
        return 1;
    }
    if (across == 1 && down == 0) {
        corner[0] = corner[1];
        corner[2] = corner[3];
        cell->known = (uint8_t)(BEGUN | (known >> 1 & LEFT_BITS));
    } else if (across == 65535u && down == 0) {
        corner[1] = corner[0];
        corner[3] = corner[2];
        cell->known = (uint8_t)(BEGUN | (known << 1 & RIGHT_BITS));
    }
    return 0;
}

/* The value between the left and the right corner of the upper or the lower line of a cell. */
static uint16_t between(const struct noise_row *row, struct noise_cell *cell, uint8_t lower)
{
    uint16_t *corner = cell->corner + lower * 2u;
    uint8_t left = lower ? BELOW_LEFT : ABOVE_LEFT, right = (uint8_t)(left << 1);
    uint32_t line = (uint32_t)(uint16_t)(cell->line + lower) << 16;
    if (!(cell->known & left))
        corner[0] = dia_noise_at(row, line | cell->column);
    if (cell->across == 0) {
        cell->known |= left;
        return corner[0];
    }
    if (!(cell->known & right))
        corner[1] = dia_noise_at(row, line | (uint16_t)(cell->column + 1u));
    cell->known |= left | right;
    return mixture_of(corner[0], corner[1], cell->across);
}

/* On to another cell or another x: upper and lower are new. */
static void go_to(const struct noise_row *row, struct noise_cell *cell, uint32_t x, uint32_t y)
{
    uint16_t column = (uint16_t)(x >> 16), line = (uint16_t)(y >> 16);
    uint8_t begun = cell->known & BEGUN, below = 0;
    if (!begun || column != cell->column || line != cell->line)
        below = move(cell, column, line);
    if (!begun || (uint16_t)x != cell->x) {
        cell->x = (uint16_t)x;
        cell->across = noise_eased((uint16_t)x);
        below = 0;
    }
    cell->upper = below ? cell->lower : between(row, cell, 0);
    cell->lower = between(row, cell, 1);
}

/* From place to place in a cell there is only the ease down. */
void dia_noise_plane_run(const struct noise_row *row, struct noise_cell *cell, const uint32_t *x,
                         const uint32_t *y, uint32_t n, uint16_t *values)
{
    for (; n != 0; n--, x++, y++) {
        if (!(cell->known & BEGUN) || (uint16_t)*x != cell->x ||
            (uint16_t)(*x >> 16) != cell->column || (uint16_t)(*y >> 16) != cell->line)
            go_to(row, cell, *x, *y);
        *values++ = mixture_of(cell->upper, cell->lower, noise_eased((uint16_t)*y));
    }
}

uint32_t dia_noise_slot(uint32_t slot, uint32_t seed)
{
    return noise_mixed(noise_mixed(seed ^ 0x9e3779b9u) + slot);
}
