/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_PRESETS_H
#define DIA_LIVE_PRESETS_H

#include <diachrome/diagnostic.h>
#include <diachrome/rig.h>
#include <diachrome/status.h>

/*
 * Shows that were saved by name: files NAME.show in one folder, or in memory where there is none.
 * Nothing else of the file system can be reached by a name.
 */
#define PRESETS 64

struct presets {
    const char *folder;                /* NULL: none */
    char names[PRESETS][DIA_RIG_NAME]; /* sorted */
    char *texts[PRESETS];              /* where there is no folder */
    uint32_t count;
};

/* Finds what is in the folder, which it makes where it is not there. */
enum dia_status dia_presets_open(struct presets *presets, const char *folder,
                                 struct dia_diagnostic *wrong);
void dia_presets_free(struct presets *presets);

enum dia_status dia_presets_save(struct presets *presets, const char *name, const char *text,
                                 struct dia_diagnostic *wrong);
/* Its text on the heap; NULL and a diagnostic. */
char *dia_presets_text(const struct presets *presets, const char *name,
                       struct dia_diagnostic *wrong);
enum dia_status dia_presets_drop(struct presets *presets, const char *name,
                                 struct dia_diagnostic *wrong);

/* Writes a diagnostic. DIA_BAD_VALUE. */
enum dia_status dia_live_wrong(struct dia_diagnostic *wrong, const char *format, ...)
    __attribute__((format(printf, 2, 3)));

#endif
