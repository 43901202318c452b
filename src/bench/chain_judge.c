/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include "chain_judge.h"

/* Counting is all there is to do for a finding already there: no text is made again. */
static int counted(const struct chain *chain, const char *code, struct dia_findings *findings)
{
    struct dia_finding *known = dia_findings_find(findings, code, chain->name);
    if (known)
        known->times++;
    return known != NULL;
}

static struct dia_finding begun(const struct chain *chain, const char *code, uint64_t t)
{
    struct dia_finding finding = {.level = DIA_ERROR, .t_ns = t};
    snprintf(finding.code, sizeof finding.code, "%s", code);
    snprintf(finding.place, sizeof finding.place, "%s", chain->name);
    snprintf(finding.source, sizeof finding.source, "%s", chain->sheet->where);
    return finding;
}

void dia_judge_pulse(const struct chain *chain, const char *code, uint32_t ns,
                     const struct sheet_range *range, struct dia_findings *findings)
{
    if (counted(chain, code, findings))
        return;
    int high = strcmp(code, "pulse-high") == 0;
    uint64_t bit = high ? chain->bits : chain->bits - 1;
    struct dia_finding finding = begun(chain, code, high ? chain->fall : chain->fall + ns);
    snprintf(finding.text, sizeof finding.text,
             "%s of %" PRIu32 " ns in bit %" PRIu64 " of pixel %" PRIu64 "; it must be %" PRIu32
             " to %" PRIu32 " ns",
             high ? "high" : "low", ns, bit % chain->pixel_bits, bit / chain->pixel_bits,
             range->least, range->most);
    dia_findings_add(findings, &finding);
}

void dia_judge_low(const struct chain *chain, uint32_t ns, const struct sheet_range *range,
                   struct dia_findings *findings)
{
    if (ns <= range->most || chain->bits != chain->bits_room) {
        dia_judge_pulse(chain, "pulse-low", ns, range, findings);
        return;
    }
    if (counted(chain, "latch-short", findings))
        return;
    struct dia_finding finding = begun(chain, "latch-short", chain->fall + ns);
    snprintf(finding.text, sizeof finding.text,
             "the line rested %" PRIu32 ".%" PRIu32 " us after a frame of %" PRIu32
             " pixels; to show it, it must rest %" PRIu32 " us or longer",
             ns / 1000, ns % 1000 / 100, chain->shown.count, chain->sheet->reset_ns / 1000);
    dia_findings_add(findings, &finding);
}

void dia_judge_frame(const struct chain *chain, struct dia_findings *findings)
{
    if (chain->bits == chain->bits_room)
        return;
    const char *code = chain->bits < chain->bits_room ? "frame-short" : "bits-left";
    if (counted(chain, code, findings))
        return;
    struct dia_finding finding = begun(chain, code, chain->shown.latched_ns);
    if (chain->bits < chain->bits_room)
        snprintf(finding.text, sizeof finding.text,
                 "the frame ended after %" PRIu64 " bits (%" PRIu64 " whole pixels); %" PRIu32
                 " pixels take %" PRIu64 " bits",
                 chain->bits, chain->bits / chain->pixel_bits, chain->shown.count,
                 chain->bits_room);
    else
        snprintf(finding.text, sizeof finding.text,
                 "%" PRIu64 " bits came out of the last of %" PRIu32
                 " pixels; a frame for them is %" PRIu64 " bits",
                 chain->bits - chain->bits_room, chain->shown.count, chain->bits_room);
    dia_findings_add(findings, &finding);
}

void dia_judge_clock(const struct chain *chain, uint64_t period_ns, uint64_t t,
                     struct dia_findings *findings)
{
    if (counted(chain, "clock-fast", findings))
        return;
    struct dia_finding finding = begun(chain, "clock-fast", t);
    snprintf(finding.text, sizeof finding.text,
             "a clock period of %" PRIu64 " ns; it must be %" PRIu32 " ns or longer", period_ns,
             chain->sheet->clock_ns);
    dia_findings_add(findings, &finding);
}

void dia_judge_clocks_after(const struct chain *chain, uint32_t shown,
                            struct dia_findings *findings)
{
    if (counted(chain, "clocks-short", findings))
        return;
    struct dia_finding finding = begun(chain, "clocks-short", chain->shown.latched_ns);
    snprintf(finding.text, sizeof finding.text,
             "the clock stopped when %" PRIu32 " of %" PRIu32
             " pixels showed the frame; the others want more %s after it",
             shown, chain->shown.count,
             chain->sheet->wire == SHEET_SEVEN ? "zero bytes" : "clocks");
    dia_findings_add(findings, &finding);
}

void dia_judge_word(const struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    if (counted(chain, "word-mark", findings))
        return;
    struct dia_finding finding = begun(chain, "word-mark", t);
    if (chain->sheet->wire == SHEET_SEVEN)
        snprintf(finding.text, sizeof finding.text,
                 "byte %" PRIu64 " is %02" PRIx32
                 "; one for a pixel is 80 to ff, all others are 00",
                 chain->bits / 8, chain->clock.word);
    else
        snprintf(finding.text, sizeof finding.text,
                 "word %" PRIu32 " begins with the byte %02" PRIx32
                 "; one for a pixel begins with e0 to ff",
                 chain->clock.words, chain->clock.word >> 24);
    dia_findings_add(findings, &finding);
}

void dia_judge_start(const struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    if (counted(chain, "start-short", findings))
        return;
    struct dia_finding finding = begun(chain, "start-short", t);
    snprintf(finding.text, sizeof finding.text,
             "a frame began after %" PRIu32 " zero bits; it must be 32 or more",
             chain->clock.zero_run);
    dia_findings_add(findings, &finding);
}
