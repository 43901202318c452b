/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#include "file_replace.h"
#include "pairing.h"
#include "presets.h"

/* Who has paired, over the end of the process: a line of text, then one for each: number, token,
 * address. Whoever can read a token has it, so nobody but the owner may. */
#define FIRST_LINE "pairings 1\n"
#define HEX        "0123456789abcdef"

static int take_line(struct pairings *pairings, char *line)
{
    struct pairing *one = &pairings->all[pairings->count];
    unsigned long number;
    int used = 0;
    line[strcspn(line, "\n")] = 0;
    if (pairings->count == PAIRINGS ||
        sscanf(line, "%10lu %32s %47s%n", &number, one->token, one->from, &used) != 3 ||
        line[used] || strspn(one->token, HEX) != PAIRING_TOKEN - 1 || number <= pairings->next ||
        number > UINT32_MAX)
        return 0;
    one->number = pairings->next = (uint32_t)number;
    pairings->count++;
    return 1;
}

static enum dia_status take_file(struct pairings *pairings, FILE *file,
                                 struct dia_diagnostic *wrong)
{
    struct stat about;
    char line[120];
    int number = 1;
    if (fstat(fileno(file), &about) != 0 || !S_ISREG(about.st_mode))
        return dia_live_wrong(wrong, "%s: it is no file", pairings->path);
    if (about.st_mode & 077)
        return dia_live_wrong(wrong,
                              "%s: others can read or write it, and with what is in it they could "
                              "change the light; 'chmod 600' keeps them out",
                              pairings->path);
    int fine = fgets(line, sizeof line, file) && strcmp(line, FIRST_LINE) == 0;
    while (fine && fgets(line, sizeof line, file)) {
        fine = take_line(pairings, line);
        number++;
    }
    if (fine)
        return DIA_OK;
    return dia_live_wrong(wrong,
                          "%s:%d: this is no file of pairings that serve wrote; give another one",
                          pairings->path, number);
}

enum dia_status dia_pairings_open(struct pairings *pairings, const char *path,
                                  struct dia_diagnostic *wrong)
{
    struct stat about;
    pairings->path = path;
    if (path && lstat(path, &about) == 0 && S_ISLNK(about.st_mode))
        return dia_live_wrong(wrong, "%s: it is a link; give the file itself", path);
    FILE *file = path ? fopen(path, "r") : NULL;
    if (!path || (!file && errno == ENOENT))
        return dia_pairings_keep(pairings, wrong);
    if (!file)
        return dia_live_wrong(wrong, "%s: it cannot be read: %s", path, strerror(errno));
    enum dia_status status = take_file(pairings, file, wrong);
    fclose(file);
    return status;
}

enum dia_status dia_pairings_keep(struct pairings *pairings, struct dia_diagnostic *wrong)
{
    char *text = NULL;
    size_t size = 0;
    if (!pairings->path)
        return DIA_OK;
    FILE *file = open_memstream(&text, &size);
    if (file) {
        fputs(FIRST_LINE, file);
        for (uint32_t k = 0; k < pairings->count; k++) {
            const struct pairing *one = &pairings->all[k];
            fprintf(file, "%u %s %s\n", (unsigned)one->number, one->token, one->from);
        }
    }
    int fine = file && fclose(file) == 0 &&
               dia_file_replace(pairings->path, text, size, 0600, NULL, NULL) == 0;
    if (!fine)
        dia_live_wrong(wrong, "%s: it cannot be written: %s", pairings->path, strerror(errno));
    free(text);
    return fine ? DIA_OK : DIA_PORT_FAILED;
}
