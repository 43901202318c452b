/* SPDX-License-Identifier: MIT */
#include "chain.h"
#include "chain_judge.h"

/*
 * Chains of pixels with a clock: each takes its data on the rising clock and hands what is not its
 * own on, with a clock made anew.
 *
 * Parts with a level (APA102, SK9822) hand each bit on half a clock late, so pixel k has its word
 * only k / 2 clocks after it came in: a frame without enough clocks behind it leaves the last
 * pixels dark. The APA102 shows a word at once, the SK9822 when 32 zero bits have come through.
 * The WS2801 shows when its clock has rested; the LPD8806 on a zero byte, one for 32 pixels.
 *
 * What a chain shows is worked out when it is settled or when its next frame begins.
 */

static int has_level(const struct chain *chain)
{
    return chain->sheet->wire == SHEET_LEVEL || chain->sheet->wire == SHEET_LEVEL_LATCH;
}

/* Whether pixel k has all it needs to show the frame. */
static int comes_through(const struct chain *chain, uint32_t k)
{
    uint64_t late = (k + 1) / 2;
    switch (chain->sheet->wire) {
    case SHEET_LEVEL:
        return chain->clock.count >= 32u * ((uint64_t)k + 1) + late;
    case SHEET_LEVEL_LATCH:
        return chain->clock.zeros_at != 0 && chain->clock.count >= chain->clock.zeros_at + late;
    case SHEET_SEVEN:
        return k / 32 < chain->clock.zero_bytes;
    default:
        return 1;
    }
}

static void copy(struct chain *chain, uint32_t k)
{
    const uint8_t *heard = chain->heard + (uint64_t)k * chain->channels;
    uint8_t mask = chain->sheet->wire == SHEET_SEVEN ? 0x7f : 0xff;
    for (uint8_t i = 0; i < chain->channels; i++) {
        uint8_t place = chain->place_of[i];
        chain->shown.drive[k][place] = heard[i] & (has_level(chain) && place == 3 ? 0x1f : mask);
    }
}

/* The frame was there when its clock stopped, also where the next one tells that it is over. */
static uint64_t over_ns(const struct chain *chain)
{
    return has_level(chain) && chain->clock.rested > chain->clock.began ? chain->clock.rested
                                                                        : chain->fall;
}

static void show(struct chain *chain, struct dia_findings *findings)
{
    uint64_t whole = chain->bits / chain->pixel_bits;
    uint32_t words = (uint32_t)(whole < chain->shown.count ? whole : chain->shown.count), k = 0;
    uint32_t alive = chain_alive(chain);
    for (; k < words && comes_through(chain, k); k++) {
        if (k < alive)
            copy(chain, k);
    }
    chain->shown.latched_ns = over_ns(chain) + chain->sheet->reset_ns;
    chain->shown.frames++;
    chain->shown.draws_ua = dia_chain_draw(chain);
    if (k < words)
        dia_judge_clocks_after(chain, k, findings);
    dia_judge_frame(chain, findings);
    chain->bits = 0;
    chain->clock.word_bits = 0;
    chain->clock.words = 0;
    chain->clock.zero_bytes = 0;
    chain->clock.zero_run = 0;
    chain->clock.zeros_at = 0;
}

static void hear(struct chain *chain, uint8_t byte)
{
    if (chain->bits < chain->bits_room)
        chain->heard[chain->bits / 8] = chain_taken(chain, byte);
    chain->bits += 8;
}

/* A word of 32 bits: a pixel's, or all zeros (or all ones behind the last pixel) for the clocks. */
static void take_word(struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    uint32_t word = chain->clock.word;
    chain->clock.word_bits = 0;
    if (word == 0) {
        chain->clock.in_words = 0;
        chain->clock.zero_run = 32;
        chain->clock.zeros_at = chain->clock.count;
    } else if (word >> 29 != 7) {
        dia_judge_word(chain, t, findings);
        chain->clock.in_words = 0;
        chain->clock.lost = 1;
    } else if (word != UINT32_MAX || chain->bits < chain->bits_room) {
        for (int shift = 24; shift >= 0; shift -= 8)
            hear(chain, (uint8_t)(word >> shift));
        chain->clock.words++;
    }
}

static int level_bit(struct chain *chain, uint64_t t, uint8_t bit, struct dia_findings *findings)
{
    int shown = 0;
    chain->clock.count++;
    if (!chain->clock.in_words && bit) {
        if (chain->clock.zero_run < 32) {
            if (!chain->clock.lost)
                dia_judge_start(chain, t, findings);
            chain->clock.lost = 1;
            chain->clock.zero_run = 0;
            return 0;
        }
        chain->clock.lost = 0;
        if (chain->bits != 0) {
            show(chain, findings);
            shown = 1;
        }
        chain->clock.in_words = 1;
        chain->clock.began = t;
        chain->clock.count = 1;
        chain->clock.word_bits = 0;
        chain->clock.zero_run = 0;
    }
    if (!chain->clock.in_words) {
        chain->clock.zero_run++;
        return 0;
    }
    chain->clock.word = chain->clock.word << 1 | bit;
    if (++chain->clock.word_bits == 32)
        take_word(chain, t, findings);
    return shown;
}

/* Bytes, most significant bit first. 1 when one is complete, in clock.word. */
static int byte_bit(struct chain *chain, uint8_t bit)
{
    chain->clock.word = (chain->clock.word << 1 | bit) & 0xffu;
    if (++chain->clock.word_bits < 8)
        return 0;
    chain->clock.word_bits = 0;
    return 1;
}

static int seven_byte(struct chain *chain, uint64_t t, uint8_t byte, struct dia_findings *findings)
{
    int shown = 0;
    chain->clock.word = byte;
    if (!(byte & 0x80)) {
        if (byte != 0)
            dia_judge_word(chain, t, findings);
        else
            chain->clock.zero_bytes++;
        return 0;
    }
    if (chain->clock.zero_bytes != 0 && chain->bits != 0) {
        show(chain, findings);
        shown = 1;
    }
    chain->clock.zero_bytes = 0;
    hear(chain, byte);
    return shown;
}

#define RESTS_NS 100000u /* a clock that is slower than 10 kHz rests; a choice */
#define JOINS_NS 500000u /* a rest of the clock after which bytes begin anew; a choice */

/* The clock rises at t. 1: the chain shows a frame. */
static int take_bit(struct chain *chain, uint64_t t, uint8_t bit, struct dia_findings *findings)
{
    int shown = 0;
    if (t - chain->clock.rise > RESTS_NS)
        chain->clock.rested = chain->fall;
    if (chain->joins) { /* words find their beginning by zeros, bytes by a rest of the clock */
        chain->joins = !has_level(chain) && t - chain->clock.rise < JOINS_NS;
        chain->clock.rise = chain->joins ? t : 0;
        if (chain->joins)
            return 0;
    }
    if (has_level(chain)) {
        shown = level_bit(chain, t, bit, findings);
    } else if (chain->sheet->wire == SHEET_PAUSE) { /* what showed has latched already */
        if (byte_bit(chain, bit))
            hear(chain, (uint8_t)chain->clock.word);
    } else if (byte_bit(chain, bit)) {
        shown = seven_byte(chain, t, (uint8_t)chain->clock.word, findings);
    }
    if (chain->clock.rise != 0 && t - chain->clock.rise + chain->slack_ns < chain->sheet->clock_ns)
        dia_judge_clock(chain, t - chain->clock.rise, t, findings);
    chain->clock.rise = t;
    return shown;
}

int dia_clocked_edge(struct chain *chain, uint64_t t, uint8_t pin, uint8_t level,
                     struct dia_findings *findings)
{
    if (pin != chain->clock.pin) {
        chain->clock.data = level;
        return 0;
    }
    if (level)
        return take_bit(chain, t, chain->clock.data, findings);
    chain->fall = t;
    return 0;
}

int dia_clocked_fits(const struct chain *chain, const struct dia_burst *burst)
{
    return chain->sheet->wire != SHEET_PULSES && burst->pin == chain->pin &&
           burst->clock_pin == chain->clock.pin &&
           (burst->low[0] + burst->high[0]) >> 10 >= chain->sheet->clock_ns &&
           (chain->sheet->wire != SHEET_PAUSE ||
            (burst->low[0] >> 10) + 1 < chain->sheet->reset_ns);
}

/* A byte in the middle of a frame of words, or of zeros; 0: it is something else. */
static int plain_byte(struct chain *chain, uint64_t t, uint8_t byte, struct dia_findings *findings)
{
    if (!has_level(chain) || chain->clock.word_bits % 8 != 0)
        return 0;
    if (!chain->clock.in_words) {
        if (byte != 0)
            return 0;
        chain->clock.zero_run += 8;
        chain->clock.count += 8;
        return 1;
    }
    chain->clock.word = chain->clock.word << 8 | byte;
    chain->clock.word_bits += 8;
    chain->clock.count += 8;
    if (chain->clock.word_bits == 32)
        take_word(chain, t, findings);
    return 1;
}

int dia_clocked_byte(struct chain *chain, const struct dia_burst *burst, uint32_t i,
                     struct dia_findings *findings)
{
    uint64_t period = burst->low[0] + burst->high[0], rise = burst->at + burst->low[0];
    uint8_t byte = burst->bytes[i];
    int shown = 0;
    rise += 8 * (uint64_t)i * period;
    uint64_t last = rise + 7 * period;
    uint64_t rests = (rise >> 10) - chain->clock.rise;
    if (rests > RESTS_NS)
        chain->clock.rested = chain->fall;
    uint8_t soon = chain->clock.rise != 0 && rests < chain->sheet->clock_ns;
    if (soon || !plain_byte(chain, last >> 10, byte, findings)) {
        for (int bit = 7; bit >= 0; bit--, rise += period) {
            shown |= take_bit(chain, rise >> 10, byte >> bit & 1, findings);
            chain->fall = (rise + burst->high[0]) >> 10;
        }
    }
    chain->clock.rise = last >> 10;
    chain->clock.data = byte & 1;
    chain->fall = (last + burst->high[0]) >> 10;
    return shown;
}

void dia_clocked_settle(struct chain *chain, struct dia_findings *findings)
{
    show(chain, findings);
}
