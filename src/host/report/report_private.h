/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_REPORT_PRIVATE_H
#define DIA_HOST_REPORT_PRIVATE_H

#include <cairo.h>
#include <stdio.h>

#include <diachrome/report.h>

/* Text as HTML and SVG want it. */
void dia_report_text(FILE *file, const char *text);

/* printf whose result is text as above. */
void dia_report_say(FILE *file, const char *format, ...) __attribute__((format(printf, 2, 3)));

/* Bytes in base64 (RFC 4648), three at a time: begin with count 0, end with dia_base64_end. */
struct base64 {
    FILE *file;
    uint8_t kept[3];
    uint32_t count;
};
void dia_base64_put(struct base64 *to, const uint8_t *bytes, size_t n);
void dia_base64_end(struct base64 *to);

/* Each writes an element of HTML. Those that answer: 0, or -1: no memory. */
void dia_report_findings(FILE *file, const struct dia_report *report);
void dia_report_pins(FILE *file, const struct dia_rig *rig);
void dia_report_parts(FILE *file, const struct dia_parts *list);
int dia_report_limits_table(FILE *file, const struct dia_report *report);
void dia_report_timing(FILE *file, const struct dia_report *report);
void dia_report_flicker(FILE *file, const struct dia_check *check);
void dia_report_memory(FILE *file, const struct dia_report *report);
int dia_report_pictures(FILE *file, const struct dia_report *report);
int dia_report_waveforms(FILE *file, const struct dia_report *report);
int dia_report_wiring(FILE *file, const struct dia_report *report);
void dia_report_currents(FILE *file, const struct dia_report *report);
void dia_report_volts(FILE *file, const struct dia_report *report);

#endif
