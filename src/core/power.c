/* SPDX-License-Identifier: MIT */
#include <diachrome/power.h>

#include "drive.h"

/*
 * All in 32 bits: 65535 pixels of 16-bit light still add up below 2^32, and are turned into
 * microamperes before more are added. What is rounded is rounded up: a limiter may only err to
 * the dark side.
 */

void dia_budget_init(struct dia_budget *budget, uint32_t supply_ua, uint32_t reserve_ua)
{
    budget->given_ua = supply_ua > reserve_ua ? supply_ua - reserve_ua : 0;
    budget->idle_ua = 0;
    budget->light_ua = 0;
    budget->held_ua = 0;
}

/*
 * What dithering may add to a frame: its starting carry, phase / 256 of a step, in each channel. A
 * step is 1 / 255 of the current: ua * phase / 65280, and with / 65536 at most 2 are missing.
 */
static uint16_t dither_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power)
{
    uint16_t ua = 0;
    for (uint8_t c = 0; c < develop->channels->powers; c++)
        ua = (uint16_t)(ua + ((uint32_t)power->channel_ua[c] * develop->phase >> 16) + 2);
    return develop->channels->steps == 1 ? ua : (uint16_t)(ua * 2u);
}

void dia_budget_add(struct dia_budget *budget, const struct dia_develop *develop,
                    const DIA_ROM struct dia_power *power, const struct dia_rgb *pixels, uint16_t n)
{
    uint32_t light_ua = develop->channels->draw_ua(develop, power, pixels, n);
    budget->light_ua = drive_sum(budget->light_ua, light_ua);
    budget->idle_ua = drive_sum(budget->idle_ua, (uint32_t)n * power->idle_ua);
    budget->held_ua += dither_ua(develop, power);
}

/* a / b as a share, rounded down, for a < b: long division, one bit a turn. */
static dia_share part_of(uint32_t a, uint32_t b)
{
    while (b > 0x7fffffffu) {
        a >>= 1;
        b = (b >> 1) + 1;
    }
    dia_share share = 0;
    for (uint8_t bit = 0; bit < 15; bit++) {
        a <<= 1;
        share = (dia_share)(share << 1);
        if (a >= b) {
            a -= b;
            share++;
        }
    }
    return share;
}

dia_share dia_budget_share(const struct dia_budget *budget)
{
    if (budget->light_ua == 0)
        return DIA_SHARE_ONE;
    uint32_t taken = drive_sum(budget->idle_ua, budget->held_ua);
    if (taken >= budget->given_ua || budget->light_ua == UINT32_MAX)
        return 0;
    uint32_t room = budget->given_ua - taken;
    return room >= budget->light_ua ? (dia_share)DIA_SHARE_ONE : part_of(room, budget->light_ua);
}

uint32_t dia_budget_asked_ua(const struct dia_budget *budget)
{
    return drive_sum(budget->light_ua, budget->idle_ua);
}
