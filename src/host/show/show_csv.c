/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "show_private.h"

/* Readings in a file: time,name,value with commas (RFC 4180). */

#define COLUMNS 3
#define FIELD   64

struct csv {
    FILE *file;
    const char *path;
    unsigned line, begun; /* where the record that was read begins */
    char field[COLUMNS][FIELD];
    int columns;
    int too_long;
};

/* A record: fields with commas between, in quotes or not; a quote inside is two. 0: the end. */
static int next_record(struct csv *csv)
{
    size_t n = 0;
    int c, quoted = 0, any = 0;
    csv->begun = ++csv->line;
    csv->columns = 0;
    csv->too_long = 0;
    memset(csv->field, 0, sizeof csv->field);
    while ((c = getc(csv->file)) != EOF) {
        any = 1;
        if (c == '"' && quoted) {
            int next = getc(csv->file);
            quoted = next == '"';
            if (!quoted) {
                if (next != EOF)
                    ungetc(next, csv->file);
                continue;
            }
        } else if (c == '"' && n == 0) {
            quoted = 1;
            continue;
        } else if (!quoted && c == '\n') {
            break;
        } else if (!quoted && c == '\r') {
            continue;
        } else if (!quoted && c == ',') {
            csv->columns++;
            n = 0;
            continue;
        }
        csv->line += c == '\n';
        if (csv->columns < COLUMNS && n < FIELD - 1)
            csv->field[csv->columns][n++] = (char)c;
        else
            csv->too_long = 1;
    }
    csv->columns++;
    return any;
}

enum dia_status dia_show_reading(struct dia_show_value *value, uint32_t ms, int32_t number)
{
    if (value->count == value->room) {
        uint32_t room = value->room ? value->room * 2 : 64;
        struct dia_reading *more =
            value->room < DIA_READINGS ? realloc(value->readings, room * sizeof *more) : NULL;
        if (!more)
            return DIA_PORT_FAILED;
        value->readings = more;
        value->room = room;
    }
    uint32_t at = value->count++;
    for (; at > 0 && value->readings[at - 1].ms > ms; at--) /* they come nearly in order */
        value->readings[at] = value->readings[at - 1];
    value->readings[at] = (struct dia_reading){ms, number};
    return DIA_OK;
}

static enum dia_status take_record(struct csv *csv, struct dia_show_value *value,
                                   struct dia_diagnostic *wrong)
{
    struct dia_diagnostic why = {""};
    int32_t ms, number;
    if (csv->columns == 1 && csv->field[0][0] == 0)
        return DIA_OK; /* an empty line */
    if (csv->columns != COLUMNS || csv->too_long)
        return dia_host_wrong(wrong, "%s:%u: a row is time,name,value, as in '12.5,%s,2.37'",
                              csv->path, csv->begun, value->name);
    if (strcmp(csv->field[1], value->name) != 0)
        return DIA_OK;
    if (dia_show_number_read("time", csv->field[0], 3, &ms, &why) != DIA_OK || ms < 0)
        return dia_host_wrong(wrong, "%s:%u: the time is seconds, from 0 on; found '%.40s'",
                              csv->path, csv->begun, csv->field[0]);
    if (dia_show_number_read("the value", csv->field[2], value->decimals, &number, &why) != DIA_OK)
        return dia_host_wrong(wrong, "%s:%u: %.300s", csv->path, csv->begun, why.text);
    if (value->count && value->readings[value->count - 1].ms > (uint32_t)ms)
        return dia_host_wrong(wrong,
                              "%s:%u: the times of a value rise; %s s comes behind a later one",
                              csv->path, csv->begun, csv->field[0]);
    if (value->count == DIA_READINGS)
        return dia_host_wrong(wrong, "%s:%u: a value has at most %d readings", csv->path,
                              csv->begun, DIA_READINGS);
    if (dia_show_reading(value, (uint32_t)ms, number) != DIA_OK) {
        dia_host_wrong(wrong, "%s: out of memory", csv->path);
        return DIA_PORT_FAILED;
    }
    return DIA_OK;
}

enum dia_status dia_show_csv_read(struct dia_show_value *value, const char *path,
                                  struct dia_diagnostic *wrong)
{
    struct csv csv = {.path = path, .file = fopen(path, "rb")};
    enum dia_status status = DIA_OK;
    if (!csv.file)
        return dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    if (!next_record(&csv) || csv.columns != COLUMNS || strcmp(csv.field[0], "time") != 0 ||
        strcmp(csv.field[1], "name") != 0 || strcmp(csv.field[2], "value") != 0)
        status = dia_host_wrong(wrong, "%s:1: the first line must be 'time,name,value'", path);
    while (status == DIA_OK && next_record(&csv))
        status = take_record(&csv, value, wrong);
    if (status == DIA_OK && ferror(csv.file))
        status = dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    fclose(csv.file);
    if (status == DIA_OK && value->count == 0)
        status = dia_host_wrong(wrong, "%s: there is no row for '%s'", path, value->name);
    return status;
}
