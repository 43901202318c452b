/* SPDX-License-Identifier: MIT */
#include <diachrome/signal.h>

#include "once.h"

dia_phase dia_once_travelled(const struct dia_surface *surface, int32_t turns, int32_t speed_um_s,
                             uint32_t ms)
{
    int64_t turns_um = (int64_t)speed_um_s * turns;
    uint64_t size = (uint64_t)(turns_um < 0 ? -turns_um : turns_um) << 32;
    uint64_t per_ms = (uint64_t)dia_surface_length_um(surface) * 1000u;
    uint32_t rate = (uint32_t)((size + per_ms / 2) / per_ms);
    uint32_t phase = ms * rate;
    return turns_um < 0 ? 0u - phase : phase;
}

void dia_once_turns(struct dia_ramp *ramp, const struct dia_surface *surface, int32_t turns,
                    dia_phase start)
{
    dia_ramp_init(ramp, surface, (uint64_t)turns << 32, start);
}

void dia_once_places(struct dia_ramp *ramp, const struct dia_surface *surface)
{
    dia_ramp_init(ramp, surface, (uint64_t)dia_surface_length_um(surface), 0);
}

uint64_t dia_once_lengths(const struct dia_surface *surface, uint32_t unit_um)
{
    return ((uint64_t)dia_surface_length_um(surface) << 16) / unit_um;
}

/* 2^32 a / b, rounded to nearest and modulo 2^32; b from 1 to 2^31. A bit a step: on a small
 * controller a fifth of what a division of 64 bits takes. */
static uint32_t dia_once_ratio(uint32_t a, uint32_t b)
{
    uint32_t left = a % b, ratio = 0;
    for (uint8_t k = 32; k != 0; k--) {
        left <<= 1;
        ratio <<= 1;
        if (left >= b) {
            left -= b;
            ratio |= 1u;
        }
    }
    return ratio + (left >= b - left);
}

dia_phase dia_once_moved(int32_t speed_um_s, uint32_t spacing_um, uint32_t ms)
{
    uint32_t speed = speed_um_s < 0 ? 0u - (uint32_t)speed_um_s : (uint32_t)speed_um_s, rate;
    if (spacing_um <= 0x80000000u / 1000u) {
        rate = dia_once_ratio(speed, spacing_um * 1000u);
    } else {
        uint64_t per_ms = (uint64_t)spacing_um * 1000u;
        rate = (uint32_t)((((uint64_t)speed << 32) + per_ms / 2) / per_ms);
    }
    return speed_um_s < 0 ? 0u - ms * rate : ms * rate;
}

uint32_t dia_once_of(dia_phase phase, uint32_t whole)
{
    return (uint32_t)((uint64_t)phase * whole >> 32);
}

uint32_t dia_once_offset(int32_t speed_um_s, uint32_t spacing_um, uint32_t ms)
{
    return dia_once_of(dia_once_moved(speed_um_s, spacing_um, ms), spacing_um);
}

void dia_once_spaced(struct dia_ramp *ramp, const struct dia_surface *surface, uint32_t spacing_um,
                     dia_phase start)
{
    dia_ramp_init(ramp, surface, ((uint64_t)dia_surface_length_um(surface) << 32) / spacing_um,
                  start);
}

struct once_slot dia_once_slot_at(uint32_t ms, uint32_t slot_ms)
{
    struct once_slot slot;
    slot.of = UINT32_MAX / slot_ms + 1u; /* rounded up: a slot is never late */
    uint64_t place = (uint64_t)ms * slot.of;
    slot.number = (uint32_t)(place >> 32);
    slot.part = (uint16_t)((uint32_t)place >> 16);
    return slot;
}

/* A cell's 65536 come round a whole number of times in 2^32 ms when the rate is a whole number of
 * 2^-32 of them a millisecond. */
uint32_t dia_once_cells(int32_t speed_um_s, uint32_t cell_um, uint32_t ms)
{
    uint64_t size = (uint64_t)(speed_um_s < 0 ? -(int64_t)speed_um_s : speed_um_s) << 16;
    uint64_t per_ms = (uint64_t)cell_um * 1000u;
    uint32_t moved = ms * (uint32_t)((size + per_ms / 2) / per_ms);
    return speed_um_s < 0 ? 0u - moved : moved;
}

uint32_t dia_once_elapsed(uint32_t ms, uint32_t period_ms)
{
    return (uint32_t)((uint64_t)dia_phase_at(ms, period_ms) * period_ms >> 32);
}

uint32_t dia_once_gone(uint32_t ms, uint32_t way_um, uint32_t speed_um_s, uint32_t rest_ms)
{
    uint64_t moving_ms = (uint64_t)way_um * 1000u / speed_um_s + 1u;
    uint64_t all_ms = moving_ms + rest_ms;
    uint32_t period_ms = all_ms > 0x7fffffffu ? 0x7fffffffu : (uint32_t)all_ms;
    uint32_t elapsed = dia_once_elapsed(ms, period_ms);
    uint64_t gone = (uint64_t)elapsed * way_um / moving_ms;
    return gone > UINT32_MAX ? UINT32_MAX : (uint32_t)gone;
}

uint32_t dia_once_way_ms(uint32_t way_um, uint32_t speed_um_s)
{
    uint64_t takes = (uint64_t)way_um * 1000u / speed_um_s + 1u;
    return takes < 0x30000000u ? (uint32_t)takes : 0x30000000u;
}

uint32_t dia_once_part(uint32_t whole, uint32_t ms, uint32_t of_ms)
{
    return (uint32_t)((uint64_t)whole * ms / of_ms);
}
