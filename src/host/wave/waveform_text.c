/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/waveform.h>

#include "waveform_words.h"

#define LABEL 15 /* columns left of the wires */
#define MOST  400

static int column_of(const struct dia_waveform *wave, uint64_t t_ns, int wide)
{
    if (t_ns <= wave->from_ns)
        return 0;
    double at = (double)(t_ns - wave->from_ns) / (double)(wave->to_ns - wave->from_ns);
    return at >= 1 ? wide : (int)(at * wide);
}

static int next_column(const struct dia_waveform *wave, uint32_t i, int wide)
{
    for (i++; i < wave->mark_count; i++) {
        if (wave->marks[i].kind == DIA_MARK_WORD)
            return column_of(wave, wave->marks[i].from_ns, wide);
    }
    return wide;
}

/* Each mark from its column on, where it has room. */
static void write_marks(const struct dia_waveform *wave, FILE *file, int wide, enum dia_mark kind)
{
    char line[MOST + 1], words[24];
    int any = 0;
    memset(line, ' ', sizeof line);
    line[wide] = 0;
    for (uint32_t i = 0; i < wave->mark_count; i++) {
        const struct dia_waveform_mark *m = &wave->marks[i];
        int left = column_of(wave, m->from_ns, wide), right = column_of(wave, m->to_ns, wide);
        if (m->kind != kind)
            continue;
        if (kind == DIA_MARK_WORD)
            snprintf(words, sizeof words, "|%.22s", m->says);
        else if (kind == DIA_MARK_PIXEL)
            snprintf(words, sizeof words, "|%u #%02x%02x%02x", (unsigned)m->value, m->colour.r,
                     m->colour.g, m->colour.b);
        else
            snprintf(words, sizeof words, kind == DIA_MARK_BYTE ? "|%02x" : "%u",
                     (unsigned)m->value);
        int n = (int)strlen(words);
        if (kind == DIA_MARK_WORD) /* up to where the next one begins */
            right = next_column(wave, i, wide);
        if (left + n > right + (kind == DIA_MARK_BIT) || left + n > wide)
            continue;
        memcpy(line + left, words, (size_t)n);
        any = 1;
    }
    static const char *const names[] = {"bits", "bytes", "pixels", "words"};
    for (int n = wide; n > 0 && line[n - 1] == ' ';)
        line[--n] = 0;
    if (any)
        fprintf(file, "%-*s%s\n", LABEL, names[kind], line);
}

/* Upper and lower line of a wire: where it is high in the upper, where it is low in the lower;
 * where it changes more than once in a column, in both. */
static void write_wire(const struct dia_waveform *wave, const struct dia_waveform_wire *wire,
                       FILE *file, int wide, int in_utf8)
{
    uint8_t high[MOST] = {0}, low[MOST] = {0}, level = wire->before;
    int at = 0;
    for (uint32_t i = 0; i <= wire->count; i++) {
        int to = i < wire->count ? column_of(wave, wire->edges[i].t_ns, wide) : wide - 1;
        for (; at <= to && at < wide; at++) {
            high[at] |= level;
            low[at] |= !level;
        }
        at = to;
        level = i < wire->count ? wire->edges[i].level : level;
    }
    for (int row = 0; row < 2; row++) {
        fprintf(file, "%-*.*s", LABEL, LABEL - 1, row ? "" : wire->name);
        for (int x = 0; x < wide; x++) {
            int both = high[x] && low[x];
            if (in_utf8)
                fputs(both      ? "\342\224\202"
                      : row     ? low[x] ? "\342\224\200" : " "
                      : high[x] ? "\342\224\200"
                                : " ",
                      file);
            else
                fputc(both ? '|' : row ? low[x] ? '_' : ' ' : high[x] ? '-' : ' ', file);
        }
        fputc('\n', file);
    }
}

void dia_waveform_write_text(const struct dia_waveform *wave, FILE *file, int columns, int in_utf8)
{
    char words[200], from[40], to[40];
    int wide = (columns < 40 ? 40 : columns > MOST ? MOST : columns) - LABEL;
    fprintf(file, "%s, %s of %s\n", wave->title,
            dia_waveform_time(from, (double)(wave->to_ns - wave->from_ns)), wave->rig->name);
    for (int kind = DIA_MARK_WORD; kind >= DIA_MARK_BIT; kind--)
        write_marks(wave, file, wide, (enum dia_mark)kind);
    for (uint32_t i = 0; i < wave->wire_count; i++)
        write_wire(wave, &wave->wires[i], file, wide, in_utf8);
    dia_waveform_time(from,
                      (double)(wave->from_ns -
                               (wave->first_ns < wave->from_ns ? wave->first_ns : wave->from_ns)));
    dia_waveform_time(to, (double)(wave->to_ns - wave->first_ns));
    fprintf(file, "%-*s%s%*s\n", LABEL, "since the first", from, wide - (int)strlen(from), to);
    if (dia_waveform_first(wave, words, sizeof words))
        fprintf(file, "\n%s\n", words);
    for (uint32_t k = 0; k < wave->pulse_kinds; k++) {
        const struct dia_waveform_pulses *p = &wave->pulses[k];
        if (p->count)
            dia_waveform_statistics(p, words, sizeof words);
        else
            snprintf(words, sizeof words, "none");
        fprintf(file, "%s%-*s%s\n", k ? "" : "\n", LABEL, p->name, words);
    }
}
