/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "family.h"
#include "report_private.h"

/*
 * The wiring: the controller at the left with a line for each pin, to its lane or device in the
 * middle; supplies at the right, each with a bus that the feeds go to. Signals never cross; feeds
 * cross only the buses of other supplies, where no words are.
 */
#define WIDE_LEAST 1120
#define SUPPLY     170 /* width of a supply's box */
#define PINS_RIGHT 150 /* right edge of the controller */
#define IN_LINE    215 /* where what is in a line begins */
#define BOX_LEFT   390
#define BOX_RIGHT  640
#define WORDS_LEFT 650
#define BUS_LEFT   900
#define NOTES      8 /* parts and words in a box */
#define NOTE_LEFT  74
#define BUS_STEP   14
#define ROW        22
#define HEAD       34 /* of a box, above its first line */
#define GAP        20

struct line {
    char role[32];
    uint8_t pin;
    uint8_t resistor, shifter;
};

struct box {
    char title[80], notes[NOTES][48];
    uint32_t note_count;
    struct line lines[DIA_RIG_PINS];
    uint32_t line_count, supply, feed_count;
    const struct dia_rig_feed *feeds;
    const char *shifter;
    char resistor[24]; /* in each line of a lane */
    uint32_t top, rows;
};

static void note(struct box *box, const char *format, ...) __attribute__((format(printf, 2, 3)));
static void note(struct box *box, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    if (box->note_count < NOTES)
        vsnprintf(box->notes[box->note_count++], sizeof box->notes[0], format, args);
    va_end(args);
}

/* 1: the text has the name in it, as a word. */
static int names_it(const char *text, const char *name)
{
    size_t n = strlen(name);
    for (const char *at = strstr(text, name); at; at = strstr(at + 1, name)) {
        int before = at == text || at[-1] == ' ',
            after = at[n] == 0 || strchr(" ,:;", at[n]) != NULL;
        if (before && after)
            return 1;
    }
    return 0;
}

/* What belongs to it but wires and fuses, which stand at its feeds, and the resistors in its lines.
 */
static void parts_of(struct box *box, const struct dia_parts *parts, const char *name)
{
    for (uint32_t i = 0; i < parts->count; i++) {
        const struct dia_part *part = &parts->items[i];
        if (strncmp(part->name, "resistor ", 9) == 0 && strncmp(part->used, "data ", 5) == 0 &&
            names_it(part->used, name))
            snprintf(box->resistor, sizeof box->resistor, "%.*s", (int)strcspn(part->name + 9, ","),
                     part->name + 9);
        if (!names_it(part->used, name) || strncmp(part->name, "wire ", 5) == 0 ||
            strncmp(part->name, "fuse ", 5) == 0 || strncmp(part->used, "data ", 5) == 0)
            continue;
        note(box, "%u x %.*s", (unsigned)part->pieces, (int)strcspn(part->name, ","), part->name);
    }
}

static void of_lane(struct box *box, const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    memset(box, 0, sizeof *box);
    snprintf(box->title, sizeof box->title, "%s: %u x %s", lane->name, (unsigned)lane->count,
             lane->part.name);
    note(box, "%s order%s%s", lane->order, lane->group ? ", group " : "",
         lane->group ? rig->groups[lane->group - 1] : "");
    box->lines[box->line_count++] = (struct line){"data", (uint8_t)lane->pin, 1, 1};
    if (lane->part.family == DIA_CLOCKED)
        box->lines[box->line_count++] = (struct line){"clock", (uint8_t)lane->clock_pin, 1, 1};
    box->supply = lane->supply;
    box->feeds = lane->feeds;
    box->feed_count = lane->feed_count;
    if (lane->shifter.mv)
        box->shifter = dia_rig_shifter_name(lane->shifter.is);
}

static void of_device(struct box *box, const struct dia_rig_device *device)
{
    const char *role;
    memset(box, 0, sizeof *box);
    snprintf(box->title, sizeof box->title, "%s: %s", device->name, device->chip);
    if (dia_rig_is_chain(device))
        snprintf(box->title, sizeof box->title, "%s: %u x %s", device->name,
                 (unsigned)device->count, device->chip);
    for (uint8_t k = 0; (role = dia_rig_role(device, k)) != NULL; k++) {
        struct line line = {"", device->pins[k], 0, 1};
        snprintf(line.role, sizeof line.role, "%s", role);
        if (device->pins[k] != DIA_NO_PIN && box->line_count < DIA_RIG_PINS)
            box->lines[box->line_count++] = line;
    }
    box->supply = device->supply;
    if (device->shifter.mv)
        box->shifter = dia_rig_shifter_name(device->shifter.is);
}

static void measure(struct box *box, uint32_t top)
{
    uint32_t feeds = box->feed_count ? box->feed_count : 1;
    box->rows = box->line_count > feeds ? box->line_count : feeds;
    box->rows = box->note_count > box->rows ? box->note_count : box->rows;
    box->top = top;
}

static uint32_t bottom_of(const struct box *box)
{
    return box->top + HEAD + box->rows * ROW;
}

static void words(FILE *file, double x, double y, const char *kind, const char *text)
{
    fprintf(file, "<text x=\"%.0f\" y=\"%.0f\" class=\"%s\">", x, y, kind);
    dia_report_text(file, text);
    fputs("</text>\n", file);
}

static void wire(FILE *file, const char *kind, double x0, double y0, double x1, double y1)
{
    fprintf(file, "<path class=\"%s\" d=\"M%.1f %.1f L%.1f %.1f\"/>\n", kind, x0, y0, x1, y1);
}

static void signal_line(FILE *file, const struct box *box, const struct line *line, double y)
{
    char pin[24];
    snprintf(pin, sizeof pin, "pin %u", line->pin);
    words(file, PINS_RIGHT - 10, y + 4, "end", pin);
    wire(file, "signal", PINS_RIGHT, y, BOX_LEFT, y);
    if (line->shifter && box->shifter) {
        fprintf(file,
                "<path class=\"part\" d=\"M%d %.1f l22 8 l-22 8 z\"/>"
                "<text x=\"%d\" y=\"%.1f\" class=\"small\">%s</text>\n",
                IN_LINE, y - 8, IN_LINE + 26, y - 4, box->shifter);
    }
    if (line->resistor && box->resistor[0]) {
        fprintf(file, "<rect class=\"part\" x=\"%d\" y=\"%.1f\" width=\"34\" height=\"10\"/>",
                IN_LINE + 84, y - 5);
        words(file, IN_LINE + 121, y - 4, "small", box->resistor);
    }
    words(file, BOX_LEFT + 8, y + 4, "", line->role);
}

/* What is said of a feed: where, how long, how thick, what fuse. */
static void feed_words(const struct dia_rig_feed *feed, char *text, size_t size)
{
    struct dia_words w[2];
    int n = snprintf(text, size, "%s at %u: %.4g m, %s",
                     feed->supply == DIA_RIG_NO_SUPPLY ? "ground" : "feed", (unsigned)feed->element,
                     feed->length_um / 1e6, dia_quantity_as(feed->section_um2, DIA_SECTION, &w[0]));
    if (feed->fuse_ua)
        snprintf(text + n, size - (size_t)n, ", fuse %s",
                 dia_quantity_as(feed->fuse_ua, DIA_CURRENT, &w[1]));
}

static double bus_of(uint32_t supply)
{
    return BUS_LEFT + supply * (double)BUS_STEP;
}

static void power_line(FILE *file, uint32_t supply, double y, const char *text)
{
    words(file, WORDS_LEFT, y - 4, "small", text);
    wire(file, "power", BOX_RIGHT, y, bus_of(supply), y);
    fprintf(file, "<circle class=\"node\" cx=\"%.1f\" cy=\"%.1f\" r=\"3\"/>\n", bus_of(supply), y);
}

static void draw_box(FILE *file, const struct box *box)
{
    fprintf(file, "<rect class=\"box\" x=\"%d\" y=\"%u\" width=\"%d\" height=\"%u\" rx=\"4\"/>\n",
            BOX_LEFT, (unsigned)box->top, BOX_RIGHT - BOX_LEFT, (unsigned)(HEAD + box->rows * ROW));
    words(file, BOX_LEFT + 8, box->top + 18, "bold", box->title);
    for (uint32_t k = 0; k < box->note_count; k++)
        words(file, BOX_LEFT + NOTE_LEFT, box->top + HEAD + k * ROW + 14, "small", box->notes[k]);
    for (uint32_t k = 0; k < box->line_count; k++)
        signal_line(file, box, &box->lines[k], box->top + HEAD + k * ROW + 10);
    for (uint32_t k = 0; k < box->feed_count; k++) {
        const struct dia_rig_feed *feed = &box->feeds[k];
        uint32_t to = feed->supply == DIA_RIG_NO_SUPPLY ? box->supply : feed->supply;
        char text[120];
        feed_words(feed, text, sizeof text);
        power_line(file, to, box->top + HEAD + k * ROW + 10, text);
    }
    if (box->feed_count == 0)
        power_line(file, box->supply, box->top + HEAD + 10, "supply and ground");
}

static double supply_y(uint32_t number)
{
    return 20 + number * 40.0;
}

static double supply_left(const struct dia_rig *rig)
{
    return bus_of(rig->supply_count) + 30;
}

/* Its bus reaches over all that goes to it. */
static void bus(FILE *file, const struct dia_rig *rig, uint32_t number, double top, double bottom)
{
    struct dia_words w[2];
    char text[120];
    double x = bus_of(number), y = supply_y(number), box = supply_left(rig);
    wire(file, "power", x, top, x, bottom);
    wire(file, "power", x, y, box, y);
    fprintf(file,
            "<rect class=\"box\" x=\"%.0f\" y=\"%.0f\" width=\"%d\" height=\"34\" rx=\"4\"/>\n",
            box, y - 17, SUPPLY);
    words(file, box + 8, y - 3, "bold", rig->supplies[number].name);
    snprintf(text, sizeof text, "%s, %s",
             dia_quantity_as(rig->supplies[number].voltage_mv, DIA_VOLTAGE, &w[0]),
             dia_quantity_as(rig->supplies[number].current_ua, DIA_CURRENT, &w[1]));
    words(file, box + 8, y + 12, "small", text);
}

static void reaches(double *top, double *bottom, double y)
{
    *top = y < *top ? y : *top;
    *bottom = y > *bottom ? y : *bottom;
}

static void draw_supply(FILE *file, const struct dia_rig *rig, const struct box *boxes,
                        uint32_t count, uint32_t supply)
{
    double top = supply_y(supply), bottom = top;
    for (uint32_t i = 0; i < count; i++) {
        const struct box *box = &boxes[i];
        if (box->feed_count == 0 && box->supply == supply)
            reaches(&top, &bottom, box->top + HEAD + 10);
        for (uint32_t k = 0; k < box->feed_count; k++) {
            uint32_t to = box->feeds[k].supply;
            if ((to == DIA_RIG_NO_SUPPLY ? box->supply : to) == supply)
                reaches(&top, &bottom, box->top + HEAD + k * ROW + 10);
        }
    }
    bus(file, rig, supply, top, bottom);
}

static void draw(FILE *file, const struct dia_rig *rig, struct box *boxes, uint32_t count)
{
    uint32_t top = 20;
    for (uint32_t i = 0; i < count; i++) {
        measure(&boxes[i], top);
        top = bottom_of(&boxes[i]) + GAP;
    }
    for (uint32_t k = 0; k < rig->button_count; k++)
        top += ROW;
    uint32_t least = 40u * rig->supply_count + 30;
    uint32_t high = (top > least ? top : least) + 10;
    uint32_t wide = (uint32_t)supply_left(rig) + SUPPLY + 2;
    wide = wide > WIDE_LEAST ? wide : WIDE_LEAST;
    fprintf(file,
            "<svg class=\"wiring\" viewBox=\"0 0 %u %u\" role=\"img\" aria-label=\"wiring\">\n"
            "<rect class=\"box\" x=\"2\" y=\"2\" width=\"%d\" height=\"%u\" rx=\"4\"/>\n",
            (unsigned)wide, (unsigned)high, PINS_RIGHT - 2, (unsigned)high - 4);
    words(file, 12, 22, "bold", "controller");
    char name[24];
    snprintf(name, sizeof name, "%.22s", rig->controller.name);
    words(file, 12, 38, "small", name);
    for (uint32_t k = 0; k < rig->supply_count; k++)
        draw_supply(file, rig, boxes, count, k);
    for (uint32_t i = 0; i < count; i++)
        draw_box(file, &boxes[i]);
    double y = top - rig->button_count * (double)ROW + 4;
    for (uint32_t k = 0; k < rig->button_count; k++, y += ROW) {
        char text[120];
        struct box none = {.line_count = 0};
        struct line line = {"", (uint8_t)rig->buttons[k].pin, 0, 0};
        signal_line(file, &none, &line, y);
        snprintf(text, sizeof text, "button %s, pressed %s", rig->buttons[k].name,
                 rig->buttons[k].pressed ? "high" : "low");
        words(file, BOX_LEFT + 8, y + 4, "", text);
    }
    fputs("</svg>\n", file);
}

int dia_report_wiring(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    struct box *boxes = calloc(rig->lane_count + rig->device_count, sizeof *boxes);
    uint32_t count = 0;
    if (!boxes)
        return -1;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        of_lane(&boxes[count], rig, &rig->lanes[i]);
        parts_of(&boxes[count++], report->parts, rig->lanes[i].name);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        of_device(&boxes[count], &rig->devices[i]);
        parts_of(&boxes[count++], report->parts, rig->devices[i].name);
    }
    draw(file, rig, boxes, count);
    free(boxes);
    return 0;
}
