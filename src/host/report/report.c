/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "host_private.h"
#include "report_private.h"

enum dia_status dia_report_init(struct dia_report *report, const struct dia_rig *rig,
                                const struct dia_check *check, const struct dia_parts *parts,
                                const char *look, struct dia_diagnostic *wrong)
{
    memset(report, 0, sizeof *report);
    report->rig = rig;
    report->check = check;
    report->parts = parts;
    return dia_reel_init(&report->reel, rig, look, DIA_REPORT_FRAMES, wrong);
}

void dia_report_free(struct dia_report *report)
{
    dia_reel_free(&report->reel);
    for (uint32_t i = 0; i < DIA_RIG_LANES; i++)
        free(report->mv[i]);
}

/* Volts along each lane now, if memory is there; else those before stay. */
static void keep_volts(struct dia_report *report, const struct dia_player *player)
{
    for (uint32_t i = 0; i < report->rig->lane_count; i++) {
        const struct dia_fed *fed = dia_player_fed(player, i);
        size_t bytes = report->rig->lanes[i].count * sizeof *report->mv[i];
        if (!fed || report->rig->lanes[i].feed_count == 0)
            continue;
        if (!report->mv[i])
            report->mv[i] = malloc(bytes);
        if (report->mv[i])
            memcpy(report->mv[i], fed->mv, bytes);
    }
}

void dia_report_sample(struct dia_report *report, const struct dia_player *player, uint32_t ms)
{
    uint64_t sum = 0;
    if (report->sample_count == DIA_REPORT_SAMPLES)
        return;
    for (uint32_t i = 0; i < report->rig->supply_count; i++) {
        report->gives_ua[i][report->sample_count] = dia_player_gives_ua(player, i);
        sum += dia_player_gives_ua(player, i);
    }
    report->sample_ms[report->sample_count++] = ms;
    if (sum > report->most_ua || report->sample_count == 1) {
        report->most_ua = sum;
        keep_volts(report, player);
    }
}

void dia_report_frame(struct dia_report *report, const struct dia_player *player, uint64_t us)
{
    if (report->reel.frames < DIA_REPORT_FRAMES)
        dia_reel_add(&report->reel, player, us);
}

/* ---- the page -------------------------------------------------------------------------------- */

static const char style[] =
    ":root{--ink:#16181d;--soft:#5b6270;--line:#d9dde4;--ground:#fff;--box:#f5f7fa}"
    "*{box-sizing:border-box}"
    "body{margin:0 auto;max-width:1120px;padding:24px;font:15px/1.5 system-ui,'Helvetica Neue',"
    "Arial,'DejaVu Sans',sans-serif;color:var(--ink);background:var(--ground)}"
    "h1{margin:0 0 4px;font-size:28px}h2{margin:36px 0 10px;font-size:20px;border-bottom:2px solid "
    "var(--line);padding-bottom:4px}h3{margin:16px 0 4px;font-size:15px}"
    "nav{margin:12px 0;color:var(--soft)}nav "
    "a{display:inline-block;margin-right:14px;color:#1559a8}"
    ".verdict{font-size:18px;font-weight:600;padding:10px 14px;border-radius:6px;margin:12px 0}"
    ".fine{background:#e3f5e6;color:#0d5a22}.some{background:#fff3d6;color:#6d4a00}"
    ".bad{background:#fde4e1;color:#8c1409}"
    "table{border-collapse:collapse;width:100%;margin:8px 0 14px;font-size:14px}"
    "th{text-align:left;color:var(--soft);font-weight:600;border-bottom:1px solid var(--line);"
    "padding:4px 10px 4px 0}td{padding:4px 10px 4px 0;border-bottom:1px solid "
    "var(--line);vertical-align:top}td.n{text-align:right;font-variant-numeric:tabular-nums;"
    "white-space:nowrap}th.n{text-align:right}"
    "tr.error .level{color:#8c1409;font-weight:700}tr.warning .level{color:#7a5200;font-weight:700}"
    "tr.note .level{color:#1559a8}tr.sum td{font-weight:600}"
    "figure{margin:10px 0}figcaption{color:var(--soft);font-size:13px}"
    "img{max-width:100%;height:auto;border-radius:6px;display:block}svg{width:100%;height:auto}"
    ".wiring text,.plot text{font:12px system-ui,Arial,'DejaVu Sans',sans-serif;fill:var(--ink)}"
    ".wiring .bold{font-weight:600}.wiring .small,.plot .small{font-size:11px;fill:var(--soft)}"
    ".wiring .end,.plot .end{text-anchor:end;fill:var(--soft);font-size:11px}"
    ".box{fill:var(--box);stroke:#8a93a3}.part{fill:#fff;stroke:#5b6270}"
    ".signal{stroke:#1c6fd0;stroke-width:1.5;fill:none}.power{stroke:#c2410c;stroke-width:2;"
    "fill:none}.node{fill:#c2410c}.grid{stroke:var(--line);fill:none}.curve{fill:none;"
    "stroke-width:1.6}.limit{stroke:#8c1409;stroke-dasharray:5 4;fill:none}"
    ".plot .limit-words{fill:#8c1409}"
    ".few{max-width:680px}"
    ".pins{columns:4 200px;list-style:none;padding:0;margin:8px 0;font-size:14px}.pins b{display:"
    "inline-block;min-width:34px;text-align:right;margin-right:8px;color:var(--soft)}"
    "code{background:var(--box);padding:0 4px;border-radius:3px}"
    ".wide{overflow-x:auto}.wide svg{min-width:760px}"
    "@media (max-width:760px){table{display:block;overflow-x:auto}}"
    "@page{size:A4;margin:14mm}"
    "@media print{.wide{overflow:visible}.wide "
    "svg{min-width:0}body{padding:0;font-size:11px}table{font-size:10.5px}nav{display:none}"
    "h2{break-after:avoid}tr,figure,svg,.verdict{break-inside:avoid}thead{display:"
    "table-header-group}}";

static void verdict(FILE *file, const struct dia_check *check)
{
    uint32_t errors = dia_findings_of(&check->findings, DIA_ERROR);
    uint32_t warnings = dia_findings_of(&check->findings, DIA_WARNING);
    fprintf(file, "<p class=\"verdict %s\">", errors ? "bad" : warnings ? "some" : "fine");
    if (errors)
        fprintf(file, "%" PRIu32 " limit%s broken", errors, errors == 1 ? " is" : "s are");
    else
        fputs("Every limit is kept", file);
    if (warnings)
        fprintf(file, "; %" PRIu32 " warning%s", warnings, warnings == 1 ? "" : "s");
    fputs("</p>\n", file);
}

static void section(FILE *file, const char *id, const char *title)
{
    fprintf(file, "<h2 id=\"%s\">%s</h2>\n", id, title);
}

static void head(FILE *file, const struct dia_report *report)
{
    const struct dia_rig *rig = report->rig;
    struct dia_words w[1];
    fputs(
        "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">\n"
        "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n"
        "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; img-src data:; "
        "style-src 'unsafe-inline'\">\n<title>",
        file);
    dia_report_text(file, rig->name);
    fprintf(file, "</title>\n<style>%s</style></head>\n<body>\n<h1>", style);
    dia_report_text(file, rig->name);
    fputs("</h1>\n<p>", file);
    dia_report_say(file, "%s at %s; %" PRIu32 " lane%s, %" PRIu32 " device%s; shown: %s",
                   rig->controller.name, dia_quantity_as(rig->controller.clock_hz, DIA_CLOCK, w),
                   rig->lane_count, rig->lane_count == 1 ? "" : "s", rig->device_count,
                   rig->device_count == 1 ? "" : "s", report->reel.look);
    fputs("</p>\n", file);
    verdict(file, report->check);
    fputs("<nav><a href=\"#findings\">findings</a><a href=\"#pictures\">pictures</a>"
          "<a href=\"#wiring\">wiring</a><a href=\"#pins\">pins</a><a href=\"#parts\">parts</a>"
          "<a href=\"#limits\">limits</a><a href=\"#current\">current</a>"
          "<a href=\"#volts\">volts</a><a href=\"#time\">time</a><a href=\"#flicker\">flicker</a>"
          "<a href=\"#memory\">memory</a><a href=\"#waveforms\">waveforms</a></nav>\n",
          file);
}

static int page(FILE *file, const struct dia_report *report)
{
    head(file, report);
    section(file, "findings", "What is wrong, and what to know");
    dia_report_findings(file, report);
    section(file, "pictures", "What it looks like");
    int failed = dia_report_pictures(file, report);
    section(file, "wiring", "How it is wired");
    fputs("<div class=\"wide\">\n", file);
    failed |= dia_report_wiring(file, report);
    fputs("</div>\n", file);
    fputs("<p>A feed is two wires, supply and ground. All grounds are joined, the controller's "
          "too.</p>\n",
          file);
    section(file, "pins", "Pins");
    dia_report_pins(file, report->rig);
    section(file, "parts", "Parts around it");
    dia_report_parts(file, report->parts);
    section(file, "limits", "Limits");
    failed |= dia_report_limits_table(file, report);
    section(file, "current", "Current over time");
    dia_report_currents(file, report);
    section(file, "volts", "Volts along each lane, when it drew the most");
    dia_report_volts(file, report);
    section(file, "time", "Time");
    dia_report_timing(file, report);
    section(file, "flicker", "Flicker");
    dia_report_flicker(file, report->check);
    section(file, "memory", "Memory");
    dia_report_memory(file, report);
    section(file, "waveforms", "Waveforms");
    failed |= dia_report_waveforms(file, report);
    fputs("</body></html>\n", file);
    return failed;
}

enum dia_status dia_report_write(const struct dia_report *report, const char *path,
                                 struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    errno = ENOMEM;
    if (page(out.file, report) != 0) {
        int why = errno ? errno : ENOMEM;
        dia_host_output_discard(&out);
        errno = why;
        return dia_host_failed(wrong, path, "cannot be written");
    }
    return dia_host_output_close(&out, wrong);
}
