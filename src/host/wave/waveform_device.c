/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "waveform_private.h"

/* Words on the wires of a device, as its family reads them. Nothing is judged: the models do that.
 */

static void begins(struct waveform_private *own)
{
    own->bit_count = 0;
    own->words = 0;
}

static uint8_t level_of(const struct waveform_private *own, uint8_t role)
{
    uint8_t pin = role == FAMILY_NO_ROLE ? DIA_NO_PIN : own->device->pins[role];
    return pin == DIA_NO_PIN ? 0 : own->level[pin];
}

static int is_of(const struct waveform_private *own, uint8_t role, const struct dia_edge *edge)
{
    return role != FAMILY_NO_ROLE && own->device->pins[role] == edge->pin;
}

static void word_ends(struct dia_waveform *wave, uint32_t value, uint8_t choice, uint64_t to)
{
    struct waveform_private *own = wave->own;
    struct family_word word = {value, own->words, choice};
    struct dia_waveform_mark *m = dia_waveform_mark(wave, DIA_MARK_WORD, own->word_from, to, value);
    if (m)
        own->device->family->says(own->device, &word, m->says);
    own->words++;
}

/* Half of a bit around its rising clock, by the low before it, but where that is a rest. */
static uint64_t half_ns(struct waveform_private *own, uint64_t t)
{
    uint64_t low = own->fall && t > own->fall ? t - own->fall : 500;
    if (own->bit_ns && low > 2 * own->bit_ns)
        low = own->bit_ns;
    own->bit_ns = low;
    return low;
}

/* ---- data at a clock ------------------------------------------------------------------------- */

static void bit_comes(struct dia_waveform *wave, uint64_t t)
{
    struct waveform_private *own = wave->own;
    uint32_t bit = level_of(own, own->reading.data);
    uint64_t half = half_ns(own, t), to = t + half;
    if (own->bit_count % own->reading.bits == 0)
        own->word_from = t - half;
    if (own->bit_count % 8 == 0)
        own->byte_from = t - half;
    dia_waveform_mark(wave, DIA_MARK_BIT, t - half, to, bit);
    own->word = own->bit_count == 0 ? 0 : own->word;
    own->word = own->reading.least_first ? own->word | bit << own->bit_count : own->word << 1 | bit;
    own->bit_count++;
    if (own->bit_count % 8 == 0)
        dia_waveform_mark(wave, DIA_MARK_BYTE, own->byte_from, to,
                          own->reading.least_first ? own->word >> (own->bit_count - 8) & 255
                                                   : own->word & 255);
    if (own->bit_count != own->reading.bits)
        return;
    word_ends(wave, own->word, 0, to);
    own->bit_count = 0;
}

static void clocked(struct dia_waveform *wave, const struct dia_edge *edge)
{
    struct waveform_private *own = wave->own;
    if (is_of(own, own->reading.frame, edge) && edge->level == own->reading.ends_high)
        begins(own);
    if (!is_of(own, own->reading.clock, edge))
        return;
    int between = !own->reading.ends_high && own->reading.frame != FAMILY_NO_ROLE &&
                  level_of(own, own->reading.frame);
    if (edge->level && !between)
        bit_comes(wave, edge->t_ns);
    if (!edge->level)
        own->fall = edge->t_ns;
}

/* ---- lines and an enable ----------------------------------------------------------------------
 */

/* Until four lines are set up, halves come alone, the last of them with a 2. */
static void half_comes(struct dia_waveform *wave, uint8_t half, uint8_t choice, uint64_t from,
                       uint64_t to)
{
    struct waveform_private *own = wave->own;
    if (!own->set_up) {
        own->word_from = from;
        word_ends(wave, (uint32_t)half << 4, choice, to);
        own->set_up = half == 2;
        return;
    }
    if (!own->half) {
        own->word_from = from;
        own->word = (uint32_t)half << 4;
    } else {
        word_ends(wave, own->word | half, choice, to);
    }
    own->half = !own->half;
}

static void enabled(struct dia_waveform *wave, const struct dia_edge *edge)
{
    struct waveform_private *own = wave->own;
    uint32_t value = 0, lines = own->reading.halves ? 4 : 8;
    if (!is_of(own, own->reading.clock, edge))
        return;
    if (edge->level) {
        own->rise = edge->t_ns;
        return;
    }
    if (level_of(own, own->reading.away))
        return; /* the display talks */
    for (uint32_t k = 0; k < lines; k++)
        value = value << 1 | level_of(own, (uint8_t)(own->reading.data - k));
    uint8_t choice = level_of(own, own->reading.choice);
    if (own->reading.halves) {
        half_comes(wave, (uint8_t)value, choice, own->rise, edge->t_ns);
        return;
    }
    own->word_from = own->rise;
    word_ends(wave, value, choice, edge->t_ns);
}

/* ---- two wires --------------------------------------------------------------------------------
 */

/* Outputs of an expander: RS, R/W, E, light, then the upper four lines. A half counts as E falls.
 */
static void expander_takes(struct dia_waveform *wave, uint8_t byte, uint64_t from, uint64_t to)
{
    struct waveform_private *own = wave->own;
    uint8_t fell = (own->lines & 4u) != 0 && (byte & 4u) == 0;
    if (fell && !(own->lines & 2))
        half_comes(wave, own->lines >> 4, own->lines & 1, from, to);
    own->lines = byte;
}

static void byte_comes(struct dia_waveform *wave, uint64_t to)
{
    struct waveform_private *own = wave->own;
    uint8_t byte = own->byte;
    dia_waveform_mark(wave, DIA_MARK_BYTE, own->byte_from, to, byte);
    if (own->reading.has_address) {
        if (own->words++ > 0)
            expander_takes(wave, byte, own->byte_from, to);
        return;
    }
    own->word_from = own->byte_from;
    word_ends(wave, byte, 0, to);
}

static void two_wires(struct dia_waveform *wave, const struct dia_edge *edge)
{
    struct waveform_private *own = wave->own;
    uint8_t clock = level_of(own, own->reading.clock);
    if (is_of(own, own->reading.data, edge)) {
        if (clock) /* a start as it falls, a stop as it rises */
            begins(own);
        return;
    }
    if (!edge->level) {
        own->fall = edge->t_ns;
        return;
    }
    uint32_t bit = level_of(own, own->reading.data);
    uint64_t half = half_ns(own, edge->t_ns);
    if (own->bit_count == 8) { /* the answer */
        own->bit_count = 0;
        return;
    }
    if (own->bit_count == 0) {
        own->byte_from = edge->t_ns - half;
        own->byte = 0;
    }
    dia_waveform_mark(wave, DIA_MARK_BIT, edge->t_ns - half, edge->t_ns + half, bit);
    own->byte = own->reading.least_first ? (uint8_t)(own->byte | bit << own->bit_count)
                                         : (uint8_t)((uint32_t)own->byte << 1 | bit);
    if (++own->bit_count == 8)
        byte_comes(wave, edge->t_ns + half);
}

void dia_waveform_read_device(struct dia_waveform *wave, const struct dia_edge *edge)
{
    static void (*const ways[])(struct dia_waveform *,
                                const struct dia_edge *) = {[FAMILY_READS_CLOCKED] = clocked,
                                                            [FAMILY_READS_TWO_WIRES] = two_wires,
                                                            [FAMILY_READS_ENABLE] = enabled};
    ways[wave->own->reading.by](wave, edge);
}
