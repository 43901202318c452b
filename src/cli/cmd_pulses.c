/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/nearest.h>
#include <diachrome/pulses_run.h>
#include <diachrome/quantity.h>

#include "cli.h"
#include "findings_text.h"
#include "json.h"
#include "terminal.h"

static int as_json, as_c, antiphase, again;
static char *part_name, *clock_text, *square_text, *train_text, *spi_text, *bits_text, *chips_text,
    *out_path;

const struct poptOption cli_pulses_options[] = {
    {"part", 'p', POPT_ARG_STRING, &part_name, 0, "the pulses of a one-wire part", "PART"},
    {"square", 's', POPT_ARG_STRING, &square_text, 0, "a square wave", "RATE"},
    {"antiphase", 'a', POPT_ARG_NONE, &antiphase, 0,
     "of a square wave: a second pin, the other way", NULL},
    {"train", 't', POPT_ARG_STRING, &train_text, 0, "levels in turn, the first one high",
     "\"TIME TIME ...\""},
    {"again", 0, POPT_ARG_NONE, &again, 0, "of a train: again and again, not once", NULL},
    {"spi", 0, POPT_ARG_STRING, &spi_text, 0, "words with a clock of that rate", "RATE"},
    {"bits", 0, POPT_ARG_STRING, &bits_text, 0, "of an SPI word; 8 without it", "N"},
    {"chips", 0, POPT_ARG_STRING, &chips_text, 0, "of SPI: shift registers, with their latch", "N"},
    {"clock", 'c', POPT_ARG_STRING, &clock_text, 0, "of the controller; 125 MHz without it",
     "RATE"},
    {"c", 'C', POPT_ARG_NONE, &as_c, 0, "as a table of C", NULL},
    {"out", 'o', POPT_ARG_STRING, &out_path, 0, "picture of the edges, PNG or SVG", "FILE"},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    POPT_AUTOHELP POPT_TABLEEND};

static uint32_t clock_hz = 125000000;
static const struct dia_pixel_part *part;
static struct dia_pulses plan;
static struct dia_pulses_seen seen;
static char title[160];

/* ---- what is wanted ---------------------------------------------------------------------------
 */

static int find_part(void)
{
    const char *names[24];
    char all[240] = "";
    uint32_t n = 0;
    for (int k = 0; dia_onewire_parts[k] && n < 23; k++) {
        names[n++] = dia_onewire_parts[k]->name;
        snprintf(all + strlen(all), sizeof all - strlen(all), "%s%s", k ? ", " : "",
                 dia_onewire_parts[k]->name);
        if (strcmp(dia_onewire_parts[k]->name, part_name) == 0)
            part = dia_onewire_parts[k];
    }
    names[n] = NULL;
    if (part)
        return CLI_FINE;
    const char *near = dia_nearest(part_name, names);
    if (near)
        return cli_fail(CLI_BAD_INPUT, "pulses",
                        "--part: no one-wire part '%.40s'; did you mean %s?", part_name, near);
    return cli_fail(CLI_BAD_INPUT, "pulses", "--part: no one-wire part '%.40s'; there are %s",
                    part_name, all);
}

/* "3 us 5 us", with or without commas; each time with its unit. */
static int read_train(uint32_t *ns, uint32_t *n)
{
    char word[40];
    const char *at = train_text;
    for (*n = 0; *at;) {
        size_t length = strspn(at, " ,");
        at += length;
        size_t number = strspn(at, "0123456789.");
        size_t gap = strspn(at + number, " ");
        size_t unit = strcspn(at + number + gap, " ,0123456789");
        length = number + gap + unit;
        if (length == 0 && *at == 0)
            break;
        if (length == 0)
            length = strcspn(at, " ,");
        snprintf(word, sizeof word, "%.*s", (int)(length < 39 ? length : 39), at);
        if (*n == DIA_PULSES_WORDS - 1)
            return cli_fail(CLI_BAD_INPUT, "pulses", "--train: at most %d levels",
                            DIA_PULSES_WORDS - 1);
        int code = cli_quantity("pulses", "--train", word, DIA_MOMENT, 1, 4000000000, &ns[*n]);
        if (code != CLI_FINE)
            return code;
        at += length;
        ++*n;
    }
    return *n ? CLI_FINE
              : cli_fail(CLI_BAD_INPUT, "pulses", "--train: no levels; write \"3 us 5 us\"");
}

static int plan_train(void)
{
    uint32_t ns[DIA_PULSES_WORDS], n;
    int code = read_train(ns, &n);
    if (code != CLI_FINE)
        return code;
    if (again && n % 2 != 0)
        return cli_fail(CLI_BAD_INPUT, "pulses",
                        "--train: again and again takes highs and lows in pairs; found %u levels",
                        (unsigned)n);
    snprintf(title, sizeof title, "%u level%s%s", (unsigned)n, n == 1 ? "" : "s",
             again ? ", again and again" : ", once");
    dia_pulses_train(&plan, clock_hz, ns, n, again);
    return CLI_FINE;
}

static int plan_spi(void)
{
    uint32_t spi_hz = 0, bits = 8, chips = 0;
    int code = cli_quantity("pulses", "--spi", spi_text, DIA_CLOCK, 1, 500000000, &spi_hz);
    if (code == CLI_FINE)
        code = cli_quantity("pulses", "--bits", bits_text, DIA_NUMBER, 1, 32, &bits);
    if (code == CLI_FINE)
        code = cli_quantity("pulses", "--chips", chips_text, DIA_NUMBER, 1, 32, &chips);
    if (code != CLI_FINE)
        return code;
    if (bits_text && chips_text)
        return cli_fail(CLI_BAD_INPUT, "pulses",
                        "--bits is of words, and --chips of shift registers; keep one");
    struct dia_words w[1];
    if (chips)
        snprintf(title, sizeof title, "%u shift register%s at %s", (unsigned)chips,
                 chips == 1 ? "" : "s", dia_quantity_as(spi_hz, DIA_CLOCK, w));
    else
        snprintf(title, sizeof title, "SPI words of %u bits at %s", (unsigned)bits,
                 dia_quantity_as(spi_hz, DIA_CLOCK, w));
    dia_pulses_spi(&plan, clock_hz, spi_hz, (uint8_t)bits, (uint8_t)chips);
    return CLI_FINE;
}

static int plan_square(void)
{
    int64_t mhz = 0;
    struct dia_diagnostic wrong = {""};
    struct dia_words w[1];
    const char *unit = square_text + strcspn(square_text, "M");
    int of_clock = strcmp(unit, "MHz") == 0; /* rates end with kHz */
    if (dia_quantity_read(square_text, of_clock ? DIA_CLOCK : DIA_RATE, 1, 1000000000, "--square",
                          &mhz, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, "pulses", "%s", wrong.text);
    snprintf(title, sizeof title, "square wave of %s%s",
             dia_quantity_as(mhz, of_clock ? DIA_CLOCK : DIA_RATE, w),
             antiphase ? ", two pins in antiphase" : "");
    dia_pulses_square(&plan, clock_hz, (uint64_t)mhz * (of_clock ? 1000u : 1u), antiphase);
    return CLI_FINE;
}

static int make_plan(void)
{
    int kinds = !!part_name + !!square_text + !!train_text + !!spi_text;
    struct dia_words w[1];
    if (kinds != 1)
        return cli_fail(
            CLI_BAD_INPUT, "pulses",
            "what is wanted? write one of --part WS2812B, --square 855Hz, --train \"3 us "
            "5 us\", --spi 1MHz");
    if (antiphase && !square_text)
        return cli_fail(CLI_BAD_INPUT, "pulses", "--antiphase is of a --square");
    if (again && !train_text)
        return cli_fail(CLI_BAD_INPUT, "pulses", "--again is of a --train");
    if ((bits_text || chips_text) && !spi_text)
        return cli_fail(CLI_BAD_INPUT, "pulses", "--bits and --chips are of --spi");
    const char *end = out_path ? strrchr(out_path, '.') : NULL;
    if (out_path && (!end || (strcmp(end, ".png") != 0 && strcmp(end, ".svg") != 0)))
        return cli_fail(CLI_BAD_INPUT, "pulses", "'%s': the name must end in .png or .svg",
                        out_path);
    int code =
        cli_quantity("pulses", "--clock", clock_text, DIA_CLOCK, 1000, 1000000000, &clock_hz);
    if (code == CLI_FINE)
        code = part_name     ? find_part()
               : square_text ? plan_square()
               : train_text  ? plan_train()
                             : plan_spi();
    if (code == CLI_FINE && part) {
        snprintf(title, sizeof title, "%s", part->name);
        dia_pulses_onewire(&plan, clock_hz, &part->timing, (uint8_t)(part->channels->count * 8));
    }
    size_t used = strlen(title);
    snprintf(title + used, sizeof title - used, ", controller at %s",
             dia_quantity_as(clock_hz, DIA_CLOCK, w));
    return code;
}

/* ---- for people -------------------------------------------------------------------------------
 */

/* "384 ns", "1.17 ms": a time of ps to five digits. */
static const char *time_text(uint64_t ps, char *text, size_t size)
{
    static const char *const units[] = {"ns", "us", "ms", "s"};
    double value = (double)ps / 1e3;
    int k = 0;
    for (; value >= 10000 && k < 3; k++)
        value /= 1000;
    snprintf(text, size, "%.6g %s", value, units[k]);
    return text;
}

static void print_times(void)
{
    puts("\n                  wanted           is       error      ppm  allowed");
    for (uint8_t k = 0; k < plan.time_count; k++) {
        const struct dia_pulse_time *t = &plan.times[k];
        char wanted[40], got[40], least[40], most[40];
        double error = ((double)t->got_ps - (double)t->wanted_ps) / 1e3;
        double ppm = error * 1e9 / (double)t->wanted_ps;
        printf("%-12s%12s%13s%9.3f ns%9.*f", t->name,
               time_text(t->wanted_ps, wanted, sizeof wanted),
               time_text(t->got_ps, got, sizeof got), error, ppm > -100 && ppm < 100 ? 2 : 0, ppm);
        if (t->most_ps)
            printf("  %s to %s", time_text(t->least_ps, least, sizeof least),
                   time_text(t->most_ps, most, sizeof most));
        putchar('\n');
    }
}

static void print_program(void)
{
    printf("\n%u word%s of 32, divider %.10g%s", plan.count, plan.count == 1 ? "" : "s",
           plan.divider / 256.0, plan.jitters ? " (edges may be a clock late)" : "");
    if (plan.least_divider)
        printf("; right from %.5g to %.5g", plan.least_divider / 256.0, plan.most_divider / 256.0);
    putchar('\n');
    for (uint8_t k = 0; k < plan.count; k++)
        printf("  %2u  %-36s 0x%04x\n", k, plan.text[k], plan.words[k]);
    printf("  after the last comes word %u", plan.wrap);
    if (plan.side_pins)
        printf("; %u pin%s set beside an instruction", plan.side_pins,
               plan.side_pins == 1 ? "" : "s");
    if (plan.pull_bits)
        printf("; data of %u bits", plan.pull_bits);
    putchar('\n');
}

static void print_seen(void)
{
    char a[40], b[40];
    printf("\non the engine: ");
    if (part) {
        printf("%u of %d pixels show what was sent%s\n", (unsigned)seen.right, DIA_PULSES_PIXELS,
               seen.found.count ? "" : ", every pulse inside its sheet");
        findings_print(stdout, &seen.found, cli_in_colour());
        return;
    }
    printf("pin 0 is high for %s", time_text(seen.least_high_ns * 1000, a, sizeof a));
    if (seen.most_high_ns != seen.least_high_ns)
        printf(" to %s", time_text(seen.most_high_ns * 1000, b, sizeof b));
    if (seen.rate_hz > 0 && square_text)
        printf(",\nand rises %.9g times a second in the mean", seen.rate_hz);
    putchar('\n');
}

/* "100/110": what SPI sends for a 0 and for a 1. */
static void pattern(const struct dia_pulses_way *way, char text[20])
{
    size_t k = 0;
    for (int one = 0; one < 2; one++) {
        for (uint8_t bit = 0; bit < way->bits && k < 18; bit++)
            text[k++] = bit < (one ? way->one : way->zero) ? '1' : '0';
        text[k++] = one ? 0 : '/';
    }
}

static void print_ways(void)
{
    struct dia_pulses_way ways[DIA_PULSES_WAYS];
    static const char *const parts[4] = {"high of a 0", "low of a 0", "high of a 1", "low of a 1"};
    dia_pulses_ways(ways, clock_hz, &part->timing);
    puts("\nother ways at this clock");
    for (int k = 0; k < DIA_PULSES_WAYS; k++) {
        const struct dia_pulses_way *w = &ways[k];
        char what[60], bits[20], right[40] = "";
        if (w->by == DIA_PULSES_SPI && (w->one || w->fits)) {
            pattern(w, bits);
            snprintf(what, sizeof what, "SPI, %s", bits);
            snprintf(right, sizeof right, "%.4g to %.4g MHz", w->least_hz / 1e6, w->most_hz / 1e6);
        } else {
            snprintf(what, sizeof what,
                     w->by == DIA_PULSES_SPI     ? "SPI, %u bits a bit"
                     : w->by == DIA_PULSES_TIMER ? "timer with DMA"
                                                 : "counted cycles",
                     w->bits);
        }
        printf("  %-23s", what);
        if (!w->fits) {
            char why[160];
            snprintf(why, sizeof why, "does not fit: %s", w->why);
            text_wrapped(stdout, why, 25);
            putchar('\n');
            continue;
        }
        if (w->by == DIA_PULSES_SPI)
            printf("%s; clock / %u is %.4g MHz", right, (unsigned)w->divider, w->hz / 1e6);
        else
            printf("%u + %u and %u + %u cycles", (unsigned)w->cycles[0], (unsigned)w->cycles[1],
                   (unsigned)w->cycles[2], (unsigned)w->cycles[3]);
        printf(";\n%25s%s is nearest to a limit, by %.0f ns\n", "", parts[w->worst],
               (double)w->margin_ps / 1e3);
    }
}

static void print_c(void)
{
    printf("/* %s: divider %u + %u / 256, from the last word on to word %u,\n"
           "   %u pin%s beside, data of %u bits. */\n"
           "static const uint16_t pulses[%u] = {\n",
           title, (unsigned)plan.divider / 256, (unsigned)plan.divider % 256, plan.wrap,
           plan.side_pins, plan.side_pins == 1 ? "" : "s", plan.pull_bits, plan.count);
    for (uint8_t k = 0; k < plan.count; k++)
        printf("    0x%04x, /* %2u  %s */\n", plan.words[k], k, plan.text[k]);
    puts("};");
}

/* ---- for programs -------------------------------------------------------------------------------
 */

static void print_json(void)
{
    cJSON *root = cJSON_CreateObject();
    cJSON_AddStringToObject(root, "wanted", title);
    cJSON_AddNumberToObject(root, "clock_hz", plan.clock_hz);
    cJSON_AddBoolToObject(root, "fits", plan.count != 0);
    if (plan.count == 0) {
        cJSON_AddStringToObject(root, "why", plan.why);
        json_print(root);
        return;
    }
    cJSON_AddNumberToObject(root, "divider", plan.divider / 256.0);
    cJSON_AddNumberToObject(root, "wrap", plan.wrap);
    cJSON_AddNumberToObject(root, "side_pins", plan.side_pins);
    cJSON_AddNumberToObject(root, "data_bits", plan.pull_bits);
    cJSON *words = cJSON_AddArrayToObject(root, "words");
    cJSON *listing = cJSON_AddArrayToObject(root, "listing");
    for (uint8_t k = 0; k < plan.count; k++) {
        cJSON_AddItemToArray(words, cJSON_CreateNumber(plan.words[k]));
        cJSON_AddItemToArray(listing, cJSON_CreateString(plan.text[k]));
    }
    cJSON *times = cJSON_AddArrayToObject(root, "times");
    for (uint8_t k = 0; k < plan.time_count; k++) {
        const struct dia_pulse_time *t = &plan.times[k];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(times, json);
        cJSON_AddStringToObject(json, "name", t->name);
        cJSON_AddNumberToObject(json, "wanted_ns", (double)t->wanted_ps / 1e3);
        cJSON_AddNumberToObject(json, "is_ns", (double)t->got_ps / 1e3);
        if (t->most_ps) {
            cJSON_AddNumberToObject(json, "least_ns", (double)t->least_ps / 1e3);
            cJSON_AddNumberToObject(json, "most_ns", (double)t->most_ps / 1e3);
        }
    }
    if (seen.rate_hz > 0)
        cJSON_AddNumberToObject(root, "rate_hz", seen.rate_hz);
    json_findings(root, &seen.found);
    json_print(root);
}

/* ---- the command ------------------------------------------------------------------------------
 */

/* The edges, as a picture or, where none is wanted, for the terminal. */
static int draw(void)
{
    static struct dia_rig rig;
    static struct dia_waveform wave;
    struct dia_waveform_stretch stretch;
    struct dia_diagnostic wrong = {""};
    const char *name = dia_pulses_rig(&plan, part, title, &rig, &stretch);
    enum dia_status status = dia_waveform_init(&wave, &rig, name, &stretch, &wrong);
    if (status == DIA_OK)
        status = dia_pulses_run(&plan, part, &seen, &wave);
    if (status == DIA_OK)
        status = dia_waveform_end(&wave, UINT64_MAX, &wrong);
    if (status == DIA_OK && out_path) {
        status = dia_waveform_write_picture(&wave, out_path, &wrong);
        if (status == DIA_OK)
            printf("%s: %s\n", out_path, title);
    } else if (status == DIA_OK && !as_json && !as_c) {
        putchar('\n');
        int columns = 80, rows;
        if (cli_in_colour())
            terminal_size(&columns, &rows);
        dia_waveform_write_text(&wave, stdout, columns, cli_in_utf8());
    }
    dia_waveform_free(&wave);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

static void print_impossible(void)
{
    printf("%s: impossible\n\n", title);
    text_wrapped(stdout, plan.why, 0);
    putchar('\n');
}

static int planned(void)
{
    int code = make_plan();
    if (code != CLI_FINE)
        return code;
    if (plan.count == 0 && as_json)
        print_json();
    else if (plan.count == 0)
        print_impossible();
    if (plan.count == 0) {
        if (part && !as_json)
            print_ways();
        return CLI_LIMIT;
    }
    if (!as_json && !as_c && !out_path) {
        printf("%s\n", title);
        print_program();
        print_times();
    }
    code = draw();
    if (code == CLI_FINE && as_json)
        print_json();
    else if (code == CLI_FINE && as_c)
        print_c();
    else if (code == CLI_FINE && !out_path)
        print_seen();
    if (code == CLI_FINE && part && !as_json && !as_c && !out_path)
        print_ways();
    if (code == CLI_FINE && seen.found.count)
        code = CLI_LIMIT;
    dia_findings_free(&seen.found);
    return code;
}

int cli_pulses(const struct cli_command *self, int argc, const char **argv)
{
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0) {
        const char *left = cli_options_argument(&options);
        code = left ? cli_fail(CLI_BAD_INPUT, "pulses",
                               "nothing is wanted beside options; found '%s'", left)
                    : planned();
    }
    cli_options_free(&options);
    return cli_finish(code);
}
