/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <inttypes.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/capture.h>

#include "host_private.h"

#define WORD_MOST 256 /* of a token; longer ones are no VCD that we can use */
#define CODE_MOST 12
#define SLOTS     4096 /* of the table of codes, more than there are wires */

struct wire {
    char name[80];
    char code[CODE_MOST]; /* as changes name it; several wires may have one */
    uint16_t bit;         /* of a vector, from the lowest */
    int32_t next;         /* wire with the same code, -1: none */
};

struct dia_capture {
    FILE *file;
    char path[256];
    uint64_t line;
    struct wire wires[DIA_CAPTURE_WIRES];
    uint32_t wire_count;
    int32_t slot[SLOTS];      /* the first wire of a code, -1: none */
    uint64_t unit_fs;         /* of its times */
    uint64_t ticks, t_ns;     /* now */
    char word[WORD_MOST + 1]; /* the token that was read last */
    char bits[WORD_MOST + 1]; /* of a vector whose wires are still to be told */
    int32_t pending;          /* the next of them, -1: none */
    int in_dump;              /* between $dumpvars and $end */
};

static enum dia_status damaged(const struct dia_capture *c, struct dia_diagnostic *wrong,
                               const char *format, ...) __attribute__((format(printf, 3, 4)));

static enum dia_status damaged(const struct dia_capture *c, struct dia_diagnostic *wrong,
                               const char *format, ...)
{
    char text[300];
    va_list args;
    va_start(args, format);
    vsnprintf(text, sizeof text, format, args);
    va_end(args);
    return dia_host_wrong(wrong, "%s:%" PRIu64 ": %s", c->path, c->line, text);
}

/* A word between blanks. DIA_BUSY: the file ends. */
static enum dia_status read_word(struct dia_capture *c, struct dia_diagnostic *wrong)
{
    int byte;
    size_t n = 0;
    while ((byte = getc(c->file)) != EOF && isspace(byte))
        c->line += byte == '\n';
    for (; byte != EOF && !isspace(byte); byte = getc(c->file)) {
        if (byte < 33 || byte > 126) {
            if (byte < 128)
                return damaged(c, wrong, "byte 0x%02x is no text; is this a VCD file?",
                               (unsigned)byte);
            byte = '?'; /* in comments and names anything may be */
        }
        if (n < WORD_MOST)
            c->word[n] = (char)byte;
        n++;
    }
    if (byte != EOF)
        ungetc(byte, c->file);
    if (ferror(c->file))
        return dia_host_failed(wrong, c->path, "cannot be read");
    c->word[n < WORD_MOST ? n : WORD_MOST] = 0;
    if (n > WORD_MOST)
        return damaged(c, wrong, "a word of %zu bytes; at most %d can be", n, WORD_MOST);
    return n ? DIA_OK : DIA_BUSY;
}

/* Over all that is there until $end. */
static enum dia_status skip(struct dia_capture *c, const char *of, struct dia_diagnostic *wrong)
{
    uint64_t from = c->line;
    enum dia_status status;
    while ((status = read_word(c, wrong)) == DIA_OK) {
        if (strcmp(c->word, "$end") == 0)
            return DIA_OK;
    }
    return status == DIA_BUSY ? damaged(c, wrong, "%s of line %" PRIu64 " has no $end", of, from)
                              : status;
}

static uint32_t slot_of(const char *code)
{
    uint32_t hash = 2166136261u;
    for (; *code; code++)
        hash = (hash ^ (uint8_t)*code) * 16777619u;
    return hash % SLOTS;
}

/* The first wire of a code, -1: none has it. */
static int32_t find_code(const struct dia_capture *c, const char *code)
{
    uint32_t at = slot_of(code);
    while (c->slot[at] >= 0 && strcmp(c->wires[c->slot[at]].code, code) != 0)
        at = (at + 1) % SLOTS;
    return c->slot[at];
}

static void add_wire(struct dia_capture *c, const char *code, const char *name, const char *bit,
                     uint16_t number)
{
    struct wire *wire = &c->wires[c->wire_count];
    uint32_t at = slot_of(code);
    memset(wire, 0, sizeof *wire);
    snprintf(wire->name, sizeof wire->name, "%.60s%.16s", name, bit);
    snprintf(wire->code, sizeof wire->code, "%s", code);
    wire->bit = number;
    while (c->slot[at] >= 0 && strcmp(c->wires[c->slot[at]].code, code) != 0)
        at = (at + 1) % SLOTS;
    wire->next = c->slot[at];
    c->slot[at] = (int32_t)c->wire_count++;
}

/* "$timescale 10 ns $end", with or without a blank. */
static enum dia_status read_timescale(struct dia_capture *c, struct dia_diagnostic *wrong)
{
    static const struct {
        const char *name;
        uint64_t fs;
    } units[] = {{"s", 1000000000000000u}, {"ms", 1000000000000u}, {"us", 1000000000u},
                 {"ns", 1000000u},         {"ps", 1000u},          {"fs", 1u}};
    char text[40] = "";
    enum dia_status status;
    while ((status = read_word(c, wrong)) == DIA_OK && strcmp(c->word, "$end") != 0)
        snprintf(text + strlen(text), sizeof text - strlen(text), "%.20s", c->word);
    if (status != DIA_OK)
        return status == DIA_BUSY ? damaged(c, wrong, "$timescale has no $end") : status;
    char *unit = text;
    unsigned long number = strtoul(text, &unit, 10);
    for (size_t i = 0; i < sizeof units / sizeof units[0]; i++) {
        if (strcmp(unit, units[i].name) == 0 && (number == 1 || number == 10 || number == 100)) {
            c->unit_fs = number * units[i].fs;
            return DIA_OK;
        }
    }
    return damaged(c, wrong, "$timescale is 1, 10 or 100 of s, ms, us, ns, ps, fs; found '%.40s'",
                   text);
}

/* "$var wire 1 ! name [3:0] $end" */
static enum dia_status read_var(struct dia_capture *c, struct dia_diagnostic *wrong)
{
    char words[5][WORD_MOST + 1];
    char *end = NULL;
    uint32_t n = 0;
    enum dia_status status;
    while ((status = read_word(c, wrong)) == DIA_OK && strcmp(c->word, "$end") != 0) {
        if (n < 5)
            memcpy(words[n], c->word, sizeof words[n]);
        n++;
    }
    if (status != DIA_OK)
        return status == DIA_BUSY ? damaged(c, wrong, "$var has no $end") : status;
    if (n < 4)
        return damaged(c, wrong, "$var has %u words; it has a kind, a width, a code and a name",
                       (unsigned)n);
    unsigned long width = strtoul(words[1], &end, 10);
    if (*end || width == 0 || width > 65536)
        return damaged(c, wrong, "the width of '%.40s' is '%.20s'; it is 1 to 65536", words[3],
                       words[1]);
    if (strlen(words[2]) >= CODE_MOST)
        return damaged(c, wrong, "the code of '%.40s' has more than %d signs", words[3],
                       CODE_MOST - 1);
    if (strcmp(words[0], "real") == 0 || strcmp(words[0], "string") == 0 || width > 64)
        return DIA_OK; /* no wire of ours: its changes are passed over */
    if (c->wire_count + width > DIA_CAPTURE_WIRES)
        return damaged(c, wrong, "more than %d wires", DIA_CAPTURE_WIRES);
    if (width == 1) {
        add_wire(c, words[2], words[3], n > 4 ? words[4] : "", 0);
        return DIA_OK;
    }
    for (unsigned long bit = 0; bit < width; bit++) {
        char number[16];
        snprintf(number, sizeof number, "[%lu]", bit);
        add_wire(c, words[2], words[3], number, (uint16_t)bit);
    }
    return DIA_OK;
}

static enum dia_status read_header(struct dia_capture *c, struct dia_diagnostic *wrong)
{
    enum dia_status status;
    while ((status = read_word(c, wrong)) == DIA_OK) {
        if (strcmp(c->word, "$enddefinitions") == 0)
            return skip(c, "$enddefinitions", wrong);
        if (strcmp(c->word, "$timescale") == 0)
            status = read_timescale(c, wrong);
        else if (strcmp(c->word, "$var") == 0)
            status = read_var(c, wrong);
        else if (c->word[0] == '$')
            status = skip(c, "a section", wrong);
        else
            return damaged(c, wrong,
                           "'%.40s' stands where a section such as $var begins; is this a VCD "
                           "file?",
                           c->word);
        if (status != DIA_OK)
            return status;
    }
    return status == DIA_BUSY ? damaged(c, wrong, "the file ends before $enddefinitions") : status;
}

struct dia_capture *dia_capture_open(const char *path, struct dia_diagnostic *wrong)
{
    struct dia_capture *c = calloc(1, sizeof *c);
    if (!c) {
        dia_host_failed(wrong, path, "cannot be read");
        return NULL;
    }
    snprintf(c->path, sizeof c->path, "%s", path);
    c->line = 1;
    c->pending = -1;
    c->unit_fs = 1000000;
    for (uint32_t k = 0; k < SLOTS; k++)
        c->slot[k] = -1;
    c->file = fopen(path, "rb");
    if (!c->file) {
        dia_host_wrong(wrong, "%s: %s", path, strerror(errno));
        free(c);
        return NULL;
    }
    if (read_header(c, wrong) == DIA_OK)
        return c;
    dia_capture_close(c);
    return NULL;
}

void dia_capture_close(struct dia_capture *c)
{
    if (c)
        fclose(c->file);
    free(c);
}

uint32_t dia_capture_wires(const struct dia_capture *c)
{
    return c->wire_count;
}

const char *dia_capture_name(const struct dia_capture *c, uint32_t wire)
{
    return c->wires[wire].name;
}

uint64_t dia_capture_time_ns(const struct dia_capture *c)
{
    return c->t_ns;
}

/* "#1234" */
static enum dia_status read_time(struct dia_capture *c, struct dia_diagnostic *wrong)
{
    char *end = NULL;
    errno = 0;
    uint64_t ticks = strtoull(c->word + 1, &end, 10);
    if (!isdigit((unsigned char)c->word[1]) || *end || errno)
        return damaged(c, wrong, "'%.40s' is no time; it is '#' and a number", c->word);
    if (ticks < c->ticks)
        return damaged(c, wrong, "time goes back from #%" PRIu64 " to #%" PRIu64, c->ticks, ticks);
    uint64_t unit_ns = c->unit_fs / 1000000u;
    if (unit_ns ? ticks > (UINT64_MAX >> 2) / unit_ns : 0)
        return damaged(c, wrong, "time #%" PRIu64 " is more than can be counted in ns", ticks);
    c->ticks = ticks;
    c->t_ns = unit_ns ? ticks * unit_ns : ticks / (1000000u / c->unit_fs);
    return DIA_OK;
}

static uint8_t value_of(char sign)
{
    return sign == '0' ? DIA_CAPTURE_LOW : sign == '1' ? DIA_CAPTURE_HIGH : DIA_CAPTURE_UNKNOWN;
}

static void tell(struct dia_capture *c, struct dia_capture_change *change)
{
    const struct wire *wire = &c->wires[c->pending];
    size_t n = strlen(c->bits);
    /* bits that are left out on the left are as the leftmost one, but for a 1 */
    char sign = wire->bit < n ? c->bits[n - 1 - wire->bit] : c->bits[0] == '1' ? '0' : c->bits[0];
    *change = (struct dia_capture_change){c->t_ns, (uint32_t)c->pending, value_of(sign)};
    c->pending = wire->next;
}

/* A value and, glued to it or behind it, the code of its wires. */
static enum dia_status read_value(struct dia_capture *c, struct dia_diagnostic *wrong)
{
    char first = (char)tolower((unsigned char)c->word[0]);
    char code[WORD_MOST + 1];
    if (first == 'b' || first == 'r' || first == 's') {
        snprintf(c->bits, sizeof c->bits, "%.*s", WORD_MOST, c->word + 1);
        for (char *bit = c->bits; first == 'b' && *bit; bit++) {
            *bit = (char)tolower((unsigned char)*bit);
            if (!strchr("01xz", *bit))
                return damaged(c, wrong, "'%.40s' is no value; bits are 0, 1, x, z", c->word);
        }
        enum dia_status status = read_word(c, wrong);
        if (status != DIA_OK || c->bits[0] == 0)
            return status == DIA_OK || status == DIA_BUSY
                       ? damaged(c, wrong, "a value without a wire, or a wire without a value")
                       : status;
        snprintf(code, sizeof code, "%s", c->word);
        c->pending = first == 'b' ? find_code(c, code) : -1;
    } else {
        snprintf(code, sizeof code, "%s", c->word + 1);
        c->bits[0] = first;
        c->bits[1] = 0;
        c->pending = find_code(c, code);
        if (!strchr("01xz", first) || code[0] == 0)
            return damaged(c, wrong, "'%.40s' is no change; write '1!' or 'b1010 !'", c->word);
    }
    return DIA_OK;
}

enum dia_status dia_capture_next(struct dia_capture *c, struct dia_capture_change *change,
                                 struct dia_diagnostic *wrong)
{
    enum dia_status status = DIA_OK;
    while (status == DIA_OK && c->pending < 0) {
        status = read_word(c, wrong);
        if (status != DIA_OK)
            return status;
        if (c->word[0] == '#')
            status = read_time(c, wrong);
        else if (strcmp(c->word, "$comment") == 0)
            status = skip(c, "$comment", wrong);
        else if (strcmp(c->word, "$end") == 0 && c->in_dump)
            c->in_dump = 0;
        else if (strncmp(c->word, "$dump", 5) == 0)
            c->in_dump = 1;
        else if (c->word[0] == '$')
            status = damaged(c, wrong, "'%.40s' has no place among the changes", c->word);
        else
            status = read_value(c, wrong);
    }
    if (status == DIA_OK)
        tell(c, change);
    return status;
}
