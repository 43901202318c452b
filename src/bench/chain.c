/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "chain.h"
#include "chain_feeding.h"
#include "chain_judge.h"

/* A level stands where white would. */
static int read_order(struct chain *chain, const char *order)
{
    const char *letters = strchr(chain->sheet->order, 'L') ? "RGBL" : "RGBW";
    size_t n = strlen(order);
    if (n != strlen(chain->sheet->order))
        return -1;
    unsigned seen = 0;
    for (size_t k = 0; k < n; k++) {
        const char *at = strchr(letters, order[k]);
        if (!at)
            return -1;
        chain->place_of[k] = (uint8_t)(at - letters);
        seen |= 1u << chain->place_of[k];
    }
    chain->channels = (uint8_t)n;
    return seen == (1u << n) - 1 ? 0 : -1;
}

int dia_chain_init(struct chain *chain, const struct dia_chain_setup *setup)
{
    memset(chain, 0, sizeof *chain);
    chain->sheet = dia_sheet_of(setup->part);
    if (!chain->sheet || setup->count == 0)
        return -1;
    if (read_order(chain, setup->order ? setup->order : chain->sheet->order) != 0)
        return -1;
    chain->shown.drive = calloc(setup->count, sizeof *chain->shown.drive);
    chain->heard = calloc(setup->count, chain->channels);
    if (!chain->shown.drive || !chain->heard) {
        dia_chain_free(chain);
        return -1;
    }
    snprintf(chain->name, sizeof chain->name, "%s", setup->name);
    chain->pin = setup->pin;
    chain->clock.pin = setup->clock_pin;
    chain->shown.scale = chain->sheet->wire == SHEET_SEVEN  ? DIA_SCALE_SEVEN
                         : strchr(chain->sheet->order, 'L') ? DIA_SCALE_LEVEL
                                                            : DIA_SCALE_BYTE;
    chain->supply = setup->supply;
    chain->shown.count = setup->count;
    chain->shown.channels = chain->channels;
    chain->pixel_bits = 8u * chain->channels;
    chain->bits_room = (uint64_t)chain->pixel_bits * setup->count;
    chain->led_ua = setup->channel_ua ? setup->channel_ua : chain->sheet->led_ua;
    chain->quiet_ua = setup->idle_ua ? setup->idle_ua : chain->sheet->quiet_ua;
    dia_chain_slack(chain, 0);
    chain->threshold = (chain->sheet->high[0].most + chain->sheet->high[1].least) / 2;
    chain->shown.lit = chain->shown.drive;
    chain->powered = setup->count;
    chain->shown.draws_ua = (uint64_t)chain->quiet_ua * setup->count;
    return 0;
}

void dia_chain_slack(struct chain *chain, uint32_t ns)
{
    chain->slack_ns = ns;
    for (int bit = 0; bit < 2; bit++) {
        const struct sheet_range *high = &chain->sheet->high[bit], *low = &chain->sheet->low[bit];
        chain->high[bit] =
            (struct sheet_range){high->least > ns ? high->least - ns : 0, high->most + ns};
        chain->low[bit] =
            (struct sheet_range){low->least > ns ? low->least - ns : 0, low->most + ns};
    }
}

void dia_chain_join(struct chain *chain, uint64_t t_ns)
{
    chain->joins = 1;
    chain->fall = chain->rise = chain->clock.rise = t_ns;
    chain->clock.lost = 1;
    chain->clock.zero_run = 0;
}

void dia_chain_free(struct chain *chain)
{
    dia_chain_feeding_free(chain);
    free(chain->shown.drive);
    free(chain->heard);
    chain->shown.drive = NULL;
    chain->heard = NULL;
}

/* The pixels that have all their bits show them; the others go on as they were. */
static void latch(struct chain *chain, struct dia_findings *findings)
{
    uint64_t whole = chain->bits / chain->pixel_bits;
    if (whole > chain_alive(chain))
        whole = chain_alive(chain);
    for (uint64_t i = 0; i < whole; i++) {
        for (uint8_t k = 0; k < chain->channels; k++)
            chain->shown.drive[i][chain->place_of[k]] = chain->heard[i * chain->channels + k];
    }
    chain->shown.latched_ns = chain->fall + chain->sheet->reset_ns;
    chain->shown.frames++;
    chain->shown.draws_ua = dia_chain_draw(chain);
    dia_judge_frame(chain, findings);
    chain->bits = 0;
}

static void read_bit(struct chain *chain, uint32_t high, struct dia_findings *findings)
{
    uint8_t bit = high > chain->threshold;
    const struct sheet_range *range = &chain->high[bit];
    if (high < range->least || high > range->most)
        dia_judge_pulse(chain, "pulse-high", high, &chain->sheet->high[bit], findings);
    chain->bit = bit;
    chain->byte = (uint8_t)(chain->byte << 1 | bit);
    if (chain->bits < chain->bits_room && (chain->bits & 7) == 7)
        chain->heard[chain->bits >> 3] = chain_taken(chain, chain->byte);
    chain->bits++;
}

/* The middle of a frame tells nothing: only after a rest does a pixel know where it begins. */
static int joined(struct chain *chain, uint64_t t, uint8_t level)
{
    if (level && t - chain->fall >= chain->sheet->reset_ns)
        chain->joins = 0;
    else if (level)
        chain->rise = t;
    else
        chain->fall = t;
    return !chain->joins;
}

void dia_chain_edge(struct chain *chain, uint64_t t, uint8_t level, struct dia_findings *findings)
{
    if (level == chain->level)
        return;
    chain->level = level;
    if (chain->joins && !joined(chain, t, level))
        return;
    if (level) {
        uint64_t low = t - chain->fall;
        const struct sheet_range *range = &chain->low[chain->bit];
        if (chain->bits != 0 && (low < range->least || low > range->most))
            dia_judge_low(chain, (uint32_t)low, &chain->sheet->low[chain->bit], findings);
        chain->rise = t;
    } else {
        chain->fall = t;
        uint64_t high = t - chain->rise;
        read_bit(chain, high > UINT32_MAX ? UINT32_MAX : (uint32_t)high, findings);
    }
}

/* Between two edges in whole ns there may be 1 ns more than the whole ns of what lies between. */
static int inside(const struct sheet_range *range, uint64_t lasts)
{
    return lasts >> 10 >= range->least && (lasts >> 10) + 1 <= range->most;
}

int dia_chain_fits(const struct chain *chain, const struct dia_burst *burst)
{
    const struct sheet *sheet = chain->sheet;
    if (sheet->wire != SHEET_PULSES || chain->level || chain->bits % 8 != 0)
        return 0;
    for (int bit = 0; bit < 2; bit++) {
        if (!inside(&sheet->high[bit], burst->high[bit]) ||
            !inside(&sheet->low[bit], burst->low[bit]) ||
            (burst->low[bit] >> 10) + 1 >= sheet->reset_ns)
            return 0;
    }
    return (burst->high[0] >> 10) + 1 <= chain->threshold &&
           burst->high[1] >> 10 > chain->threshold;
}

void dia_chain_burst(struct chain *chain, const struct dia_burst *burst,
                     struct dia_findings *findings)
{
    dia_chain_edge(chain, burst->at >> 10, 1, findings);
    uint64_t first = chain->bits / 8, room = chain->bits_room / 8;
    for (uint32_t i = 0; i < burst->n && first + i < room; i++)
        chain->heard[first + i] = chain_taken(chain, burst->bytes[i]);
    chain->bits += 8u * (uint64_t)burst->n;
    chain->bit = burst->bytes[burst->n - 1] & 1;
    uint64_t fall = burst->end - burst->low[chain->bit];
    chain->rise = (fall - burst->high[chain->bit]) >> 10;
    chain->fall = fall >> 10;
    chain->level = 0;
}

uint64_t dia_chain_latches_ns(const struct chain *chain)
{
    return chain->level || chain->bits == 0 ? UINT64_MAX : chain->fall + chain->sheet->reset_ns;
}

void dia_chain_settle(struct chain *chain, struct dia_findings *findings)
{
    if (chain->sheet->wire != SHEET_PULSES)
        dia_clocked_settle(chain, findings);
    else
        latch(chain, findings);
}
