/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PRIVATE_H
#define DIA_HOST_PRIVATE_H

#include <stdio.h>

#include <diachrome/diagnostic.h>
#include <diachrome/look.h>
#include <diachrome/status.h>

/* Writes a diagnostic, cut to its room. Returns DIA_BAD_VALUE, to be returned on. */
enum dia_status dia_host_wrong(struct dia_diagnostic *wrong, const char *format, ...)
    __attribute__((format(printf, 2, 3)));

/* A palette as people write it: colours with commas, @FILE, or gradient(...). */
enum dia_status dia_host_palette_text(const char *text, struct dia_palette *out,
                                      struct dia_diagnostic *wrong);

/* The machine would not: writes "path: what: reason of errno". Returns DIA_PORT_FAILED. */
enum dia_status dia_host_failed(struct dia_diagnostic *wrong, const char *path, const char *what);

/*
 * A file that is there whole or not at all: what is written goes to a neighbour, which takes the
 * name when it is complete. Discard after an error of your own.
 */
struct host_output {
    FILE *file;
    int nameless;  /* has no name until it is complete */
    int direct;    /* a pipe or a device: nothing takes its place */
    unsigned mode; /* of the file that stands there; 0: there is none */
    char path[4096], partial[4128];
};
enum dia_status dia_host_output_open(struct host_output *out, const char *path,
                                     struct dia_diagnostic *wrong);
enum dia_status dia_host_output_close(struct host_output *out, struct dia_diagnostic *wrong);
/* 0, and errno says why, when something that was written to a file is not out. */
int dia_host_is_out(FILE *file);
void dia_host_output_discard(struct host_output *out);

#endif
