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
    row->ease = noise_eased((uint16_t)((uint32_t)place >> 17));
}

uint16_t dia_noise_at(const struct noise_row *row, uint32_t column)
{
    uint16_t now = (uint16_t)noise_mixed(row->hash_now ^ column);
    uint16_t next = (uint16_t)noise_mixed(row->hash_next ^ column);
    return mixture_of(now, next, row->ease);
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
    return mixture_of(pair->here, pair->next, noise_eased((uint16_t)(part >> 1)));
}

/* Corners: left and right above, left and right below. */
enum { LEFT_BITS = 5, RIGHT_BITS = 10, ABOVE_BITS = 3, BEGUN = 16 };

/* On to another cell, with the corners it shares with the one before. */
static void move(struct noise_cell *cell, uint32_t column)
{
    uint32_t apart = cell->known & BEGUN ? column - cell->column : 0;
    uint16_t *corner = cell->corner;
    uint8_t known = cell->known;
    if (apart == 65536u) {
        corner[0] = corner[2];
        corner[1] = corner[3];
        cell->known = (uint8_t)(BEGUN | (known >> 2 & ABOVE_BITS));
    } else if (apart == 1 && (uint16_t)column != 0) { /* else it is on the next row */
        corner[0] = corner[1];
        corner[2] = corner[3];
        cell->known = (uint8_t)(BEGUN | (known >> 1 & LEFT_BITS));
    } else if (apart == UINT32_MAX && (uint16_t)column != 65535u) {
        corner[1] = corner[0];
        corner[3] = corner[2];
        cell->known = (uint8_t)(BEGUN | (known << 1 & RIGHT_BITS));
    } else {
        cell->known = BEGUN;
    }
    cell->column = column;
}

static uint16_t corner_of(const struct noise_row *row, struct noise_cell *cell, uint8_t which)
{
    uint32_t column = cell->column;
    if (!(cell->known >> which & 1)) {
        if (which & 1)
            column = (uint16_t)(column + 1u) | (column & 0xffff0000u);
        if (which & 2)
            column += 65536u;
        cell->corner[which] = dia_noise_at(row, column);
        cell->known = (uint8_t)(cell->known | 1u << which);
    }
    return cell->corner[which];
}

static uint16_t between(const struct noise_row *row, struct noise_cell *cell, uint8_t left)
{
    uint16_t here = corner_of(row, cell, left);
    return cell->across ? mixture_of(here, corner_of(row, cell, left | 1u), cell->across) : here;
}

/* On to another place; 1: upper and lower are those of another cell or another x. */
static uint8_t go_to(struct noise_cell *cell, uint32_t x, uint32_t y)
{
    uint32_t column = (uint32_t)(uint16_t)(x >> 16) | (y & 0xffff0000u);
    uint16_t x_part = (uint16_t)x, y_part = (uint16_t)y;
    uint8_t begins = !(cell->known & BEGUN), moves = begins || column != cell->column;
    if (moves)
        move(cell, column);
    if (begins || y_part != cell->y) {
        cell->y = y_part;
        cell->down = noise_eased(y_part >> 1);
    }
    if (!begins && x_part == cell->x)
        return moves;
    cell->x = x_part;
    cell->across = noise_eased(x_part >> 1);
    return 1;
}

void dia_noise_plane_run(const struct noise_row *row, struct noise_cell *cell, const uint32_t *x,
                         const uint32_t *y, uint32_t n, uint16_t *values)
{
    for (; n != 0; n--, x++, y++) {
        if (go_to(cell, *x, *y)) {
            cell->upper = between(row, cell, 0);
            cell->lower = between(row, cell, 2);
        }
        *values++ = mixture_of(cell->upper, cell->lower, cell->down);
    }
}

uint32_t dia_noise_slot(uint32_t slot, uint32_t seed)
{
    return noise_mixed(noise_mixed(seed ^ 0x9e3779b9u) + slot);
}
