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
    return noise_mixture(now, next, row->ease);
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
    return noise_mixture(pair->here, pair->next, noise_eased((uint16_t)(part >> 1)));
}

uint16_t dia_noise_in_plane(const struct noise_row *row, struct noise_cell *cell, uint32_t x,
                            uint32_t y)
{
    uint32_t column = (uint32_t)(uint16_t)(x >> 16) | (y & 0xffff0000u);
    if (!cell->known || cell->column != column) {
        uint32_t right = (uint16_t)(column + 1u) | (column & 0xffff0000u);
        cell->column = column;
        cell->corner[0] = dia_noise_at(row, column);
        cell->corner[1] = dia_noise_at(row, right);
        cell->corner[2] = dia_noise_at(row, column + 65536u);
        cell->corner[3] = dia_noise_at(row, right + 65536u);
        cell->known = 1;
    }
    uint16_t across = noise_eased((uint16_t)((uint16_t)x >> 1)),
             down = noise_eased((uint16_t)((uint16_t)y >> 1));
    return noise_mixture(noise_mixture(cell->corner[0], cell->corner[1], across),
                         noise_mixture(cell->corner[2], cell->corner[3], across), down);
}

uint32_t dia_noise_slot(uint32_t slot, uint32_t seed)
{
    return noise_mixed(noise_mixed(seed ^ 0x9e3779b9u) + slot);
}
