/* SPDX-License-Identifier: MIT */
#include <diachrome/quantity.h>

#include "report_private.h"

#define WIDE  1120.0
#define HIGH  220.0
#define LEFT  64.0
#define RIGHT 24.0
#define LOW   34.0
#define TOP   16.0

static const char *const inks[] = {"#1c6fd0", "#c2410c", "#15803d", "#7e22ce",
                                   "#b45309", "#0e7490", "#be123c", "#4d7c0f"};
#define INKS (sizeof inks / sizeof inks[0])

static double y_of(double value, double least, double most)
{
    return TOP + (HIGH - TOP - LOW) * (1 - (value - least) / (most - least));
}

static double x_of(double value, double most)
{
    return LEFT + (WIDE - LEFT - RIGHT) * (most > 0 ? value / most : 0);
}

/* Axes with lines at five heights, and the ends of the lower one named. */
static void begin(FILE *file, const char *label, double least, double most, const char *unit,
                  const char *from, const char *to)
{
    fprintf(file, "<svg class=\"plot\" viewBox=\"0 0 %.0f %.0f\" role=\"img\" aria-label=\"%s\">\n",
            WIDE, HIGH, label);
    for (int k = 0; k <= 4; k++) {
        double value = least + (most - least) * k / 4, y = y_of(value, least, most);
        fprintf(file,
                "<path class=\"grid\" d=\"M%.1f %.1f H%.1f\"/>"
                "<text class=\"end\" x=\"%.1f\" y=\"%.1f\">%.3g %s</text>\n",
                LEFT, y, WIDE - RIGHT, LEFT - 6, y + 4, value, unit);
    }
    fprintf(file,
            "<text class=\"small\" x=\"%.1f\" y=\"%.1f\">%s</text>"
            "<text class=\"end\" x=\"%.1f\" y=\"%.1f\">%s</text>\n",
            LEFT, HIGH - 14, from, WIDE - RIGHT, HIGH - 14, to);
}

static void limit(FILE *file, double value, double least, double most, const char *text)
{
    double y = y_of(value, least, most);
    fprintf(file,
            "<path class=\"limit\" d=\"M%.1f %.1f H%.1f\"/>"
            "<text class=\"end limit-words\" x=\"%.1f\" y=\"%.1f\">",
            LEFT, y, WIDE - RIGHT, WIDE - RIGHT - 4, y - 4);
    dia_report_text(file, text);
    fputs("</text>\n", file);
}

void dia_report_currents(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    if (report->sample_count < 2) {
        fputs("<p>One moment was shown: say how long with <code>--for</code>.</p>\n", file);
        return;
    }
    uint32_t from = report->sample_ms[0], last = report->sample_ms[report->sample_count - 1];
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        const struct dia_rig_supply *supply = &rig->supplies[i];
        double most = supply->current_ua / 1e6 * 1.1, sum = 0, peak = 0;
        struct dia_words w[2];
        char text[120];
        for (uint32_t k = 0; k < report->sample_count; k++) {
            double amps = (double)report->gives_ua[i][k] / 1e6;
            peak = amps > peak ? amps : peak;
            sum += amps;
        }
        most = peak * 1.1 > most ? peak * 1.1 : most;
        fputs("<h3>", file);
        dia_report_say(file, "%s: %.2f A in the mean, %.2f A at the most", supply->name,
                       sum / report->sample_count, peak);
        fputs("</h3>\n", file);
        begin(file, "current over time", 0, most, "A", dia_quantity_as(from, DIA_TIME, &w[0]),
              dia_quantity_as(last, DIA_TIME, &w[1]));
        snprintf(text, sizeof text, "may give %.3g A", supply->current_ua / 1e6);
        limit(file, supply->current_ua / 1e6, 0, most, text);
        fprintf(file, "<path class=\"curve\" stroke=\"%s\" d=\"", inks[i % INKS]);
        for (uint32_t k = 0; k < report->sample_count; k++)
            fprintf(file, "%c%.1f %.1f", k ? 'L' : 'M',
                    x_of(report->sample_ms[k] - from, last - from),
                    y_of((double)report->gives_ua[i][k] / 1e6, 0, most));
        fputs("\"/>\n</svg>\n", file);
    }
}

void dia_report_volts(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    int any = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        const uint16_t *mv = report->mv[i];
        if (!mv)
            continue;
        double full = rig->supplies[lane->supply].voltage_mv / 1e3, least = full * 0.6, at = full;
        char text[120], to[40];
        for (uint32_t k = 0; k < lane->count; k++)
            at = mv[k] / 1e3 < at ? mv[k] / 1e3 : at;
        least = at * 0.95 < least ? at * 0.95 : least;
        any = 1;
        fputs("<h3>", file);
        dia_report_say(file, "%s: %.2f V at its worst pixel", lane->name, at);
        fputs("</h3>\n", file);
        snprintf(to, sizeof to, "pixel %u", (unsigned)lane->count - 1);
        begin(file, "volts along the lane", least, full, "V", "pixel 0", to);
        double wanted = dia_volts_wanted_mv(rig, lane) / 1e3;
        snprintf(text, sizeof text, "wanted: %.2f V", wanted);
        limit(file, wanted, least, full, text);
        fprintf(file, "<path class=\"curve\" stroke=\"%s\" d=\"", inks[i % INKS]);
        uint32_t step = lane->count / 2000 + 1;
        for (uint32_t k = 0; k < lane->count; k += step)
            fprintf(file, "%c%.1f %.1f", k ? 'L' : 'M',
                    x_of(k, lane->count > 1 ? lane->count - 1 : 1), y_of(mv[k] / 1e3, least, full));
        fputs("\"/>\n</svg>\n", file);
    }
    if (!any)
        fputs("<p>The rig does not say how its strips are fed (<code>feeds</code>), so every pixel "
              "has all the volts of its supply.</p>\n",
              file);
}
