/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/flicker.h>

#include "report_private.h"

static void cell(FILE *file, const char *text)
{
    fputs("<td>", file);
    dia_report_text(file, text);
    fputs("</td>", file);
}

static void number(FILE *file, const char *format, double value)
{
    char text[60];
    snprintf(text, sizeof text, format, value);
    fputs("<td class=\"n\">", file);
    dia_report_text(file, text);
    fputs("</td>", file);
}

/* "A|#B|C": a table with these heads begins, of which B is of numbers. */
static void table(FILE *file, const char *heads)
{
    int few = !strstr(heads, "source") && !strstr(heads, "value from");
    fprintf(file, "<table%s><thead><tr>", few ? " class=\"few\"" : "");
    while (*heads) {
        size_t n = strcspn(heads, "|");
        int of_numbers = *heads == '#';
        fprintf(file, "<th%s>%.*s</th>", of_numbers ? " class=\"n\"" : "", (int)n - of_numbers,
                heads + of_numbers);
        heads += n + (heads[n] == '|');
    }
    fputs("</tr></thead><tbody>\n", file);
}

static void table_ends(FILE *file)
{
    fputs("</tbody></table>\n", file);
}

void dia_report_findings(FILE *file, const struct dia_report *report)
{
    static const char *const names[] = {"note", "warning", "error"};
    const struct dia_findings *all = &report->check->findings;
    if (all->count == 0)
        fputs("<p>There is nothing to say: every limit is kept.</p>\n", file);
    else
        table(file, "|where|what, and what helps|source");
    for (int level = DIA_ERROR; level >= DIA_NOTE && all->count; level--) {
        for (uint32_t i = 0; i < all->count; i++) {
            const struct dia_finding *finding = &all->items[i];
            if ((int)finding->level != level)
                continue;
            fprintf(file, "<tr class=\"%s\"><td class=\"level\">%s</td>", names[level],
                    names[level]);
            cell(file, finding->place);
            cell(file, finding->text);
            cell(file, finding->source);
            fputs("</tr>\n", file);
        }
    }
    if (all->count)
        table_ends(file);
}

void dia_report_pins(FILE *file, const struct dia_rig *rig)
{
    char name[64];
    uint8_t pin;
    fputs("<ul class=\"pins\">\n", file);
    for (uint8_t at = 0; at < DIA_SIM_PINS; at++) {
        char names[300] = "";
        for (uint32_t k = 0; dia_rig_wire(rig, k, name, &pin); k++) {
            size_t used = strlen(names);
            if (pin == at)
                snprintf(names + used, sizeof names - used, "%s%s", used ? ", " : "", name);
        }
        if (!names[0])
            continue;
        fprintf(file, "<li><b>%u</b> ", at);
        dia_report_text(file, names);
        fputs("</li>\n", file);
    }
    fputs("</ul>\n", file);
}

/* Equal parts are counted together, with all that they are for. */
void dia_report_parts(FILE *file, const struct dia_parts *list)
{
    table(file, "#how many|part|for|value from");
    for (uint32_t i = 0; i < list->count; i++) {
        const struct dia_part *part = &list->items[i];
        uint64_t pieces = 0;
        int first = 1, is_wire = strncmp(part->name, "wire ", 5) == 0;
        for (uint32_t k = 0; k < i; k++)
            first &= strcmp(list->items[k].name, part->name) != 0;
        if (!first)
            continue;
        for (uint32_t k = i; k < list->count; k++)
            pieces += strcmp(list->items[k].name, part->name) == 0 ? list->items[k].pieces : 0;
        fputs("<tr>", file);
        if (is_wire)
            number(file, "%.2f m", (double)pieces / 1e3);
        else
            number(file, "%.0f", (double)pieces);
        cell(file, part->name);
        fputs("<td>", file);
        for (uint32_t k = i, any = 0; k < list->count; k++) {
            if (strcmp(list->items[k].name, part->name) != 0)
                continue;
            fputs(any++ ? "<br>" : "", file);
            dia_report_text(file, list->items[k].used);
        }
        fputs("</td>", file);
        cell(file, part->source);
        fputs("</tr>\n", file);
    }
    table_ends(file);
}

int dia_report_limits_table(FILE *file, const struct dia_report *report)
{
    struct dia_report_limits all;
    int failed = dia_report_limits(&all, report->rig, report->check) != DIA_OK ? -1 : 0;
    table(file, "where|what|is|may be|#margin|source");
    for (uint32_t i = 0; i < all.count; i++) {
        const struct dia_report_limit *limit = &all.items[i];
        fputs(limit->margin_permille < 0     ? "<tr class=\"error\">"
              : limit->margin_permille < 100 ? "<tr class=\"warning\">"
                                             : "<tr>",
              file);
        cell(file, limit->place);
        cell(file, limit->what);
        cell(file, limit->is);
        cell(file, limit->may);
        if (limit->margin_permille < 0)
            fputs("<td class=\"n level\">broken</td>", file);
        else if (limit->margin_permille == INT32_MAX)
            fputs("<td></td>", file);
        else if (limit->margin_permille > 2000)
            number(file, "%.0f times", limit->margin_permille / 1000.0 + 1);
        else
            number(file, "%.0f %%", limit->margin_permille / 10.0);
        cell(file, limit->source);
        fputs("</tr>\n", file);
    }
    table_ends(file);
    dia_report_limits_free(&all);
    return failed;
}

void dia_report_timing(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    const struct dia_check *check = report->check;
    table(file, "wire|#bits a frame|#frame, ms|#highest rate, Hz");
    for (uint32_t i = 0; i < rig->lane_count + rig->device_count; i++) {
        int is_lane = i < rig->lane_count;
        const struct dia_check_lane *l = &check->lanes[is_lane ? i : 0];
        const struct dia_check_device *d = &check->devices[is_lane ? 0 : i - rig->lane_count];
        fputs("<tr>", file);
        cell(file, is_lane ? rig->lanes[i].name : rig->devices[i - rig->lane_count].name);
        number(file, "%.0f", is_lane ? l->bits : d->bits);
        number(file, "%.2f", (double)(is_lane ? l->frame_ns : d->frame_ns) / 1e6);
        number(file, "%.4g", (is_lane ? l->rate_mhz : d->rate_mhz) / 1e3);
        fputs("</tr>\n", file);
    }
    table_ends(file);
    const struct dia_check_processor *p = &check->processor;
    table(file, "the processor|#a frame, ms|#of its time");
    if (p->sent_ns) {
        fputs("<tr><td>sending, interrupts off</td>", file);
        number(file, "%.2f", (double)p->sent_ns / 1e6);
        number(file, "%.1f %%", (double)p->sent_ns * rig->frame_rate_mhz / 1e10);
        fputs("</tr>\n", file);
    }
    if (p->drawn_ns) {
        fputs("<tr><td>drawing a hue sweep</td>", file);
        number(file, "%.2f", (double)p->drawn_ns / 1e6);
        number(file, "%.1f %%", (double)p->drawn_ns * rig->frame_rate_mhz / 1e10);
        fputs("</tr>\n", file);
    }
    fputs("<tr><td>ticks of what is lit in turns</td><td></td>", file);
    number(file, "%.1f %%", check->tick_permille / 10.0);
    fputs("</tr>\n", file);
    table_ends(file);
}

void dia_report_flicker(FILE *file, const struct dia_check *check)
{
    if (check->flicker_count == 0) {
        fputs("<p>Nothing goes up and down, as far as it is known.</p>\n", file);
        return;
    }
    table(file, "what|cause|#frequency, Hz|#depth|IEEE 1789-2015|source");
    for (uint32_t i = 0; i < check->flicker_count; i++) {
        const struct dia_check_flicker *f = &check->flickers[i];
        fputs("<tr>", file);
        cell(file, f->name);
        cell(file, f->cause);
        number(file, f->runs_free ? "about %.6g" : "%.6g", f->mhz / 1e3);
        number(file, "%.1f %%", f->modulation_permille / 10.0);
        cell(file, dia_flicker_class_text((enum dia_flicker_class)f->risk));
        cell(file, f->source);
        fputs("</tr>\n", file);
    }
    table_ends(file);
}

void dia_report_memory(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    const struct dia_check *check = report->check;
    table(file, "what|#bytes");
    for (uint32_t i = 0; i < rig->lane_count + rig->device_count + rig->group_count; i++) {
        uint32_t device = i - rig->lane_count, group = device - rig->device_count;
        fputs("<tr>", file);
        if (i < rig->lane_count) {
            cell(file, rig->lanes[i].name);
            number(file, "%.0f", check->lanes[i].ram_bytes);
        } else if (device < rig->device_count) {
            cell(file, rig->devices[device].name);
            number(file, "%.0f", check->devices[device].ram_bytes);
        } else {
            cell(file, rig->groups[group]);
            number(file, "%.0f", check->group_ram[group]);
        }
        fputs("</tr>\n", file);
    }
    fputs("<tr><td>stack</td>", file);
    number(file, "%.0f", check->stack_ram);
    fputs("</tr>\n<tr class=\"sum\"><td>together</td>", file);
    number(file, "%.0f", check->frame_ram + check->stack_ram);
    fputs("</tr>\n<tr><td>there is</td>", file);
    number(file, "%.0f", rig->controller.ram_bytes);
    fputs("</tr>\n", file);
    table_ends(file);
}
