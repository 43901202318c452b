/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_FILES_H
#define DIA_LIVE_FILES_H

#include <diachrome/serve.h>

/*
 * The files of a rig of many nodes over the broker: that of the rig, and those that rig and show
 * name. Whoever sends them sends what the broker does not have; whoever takes them puts them beside
 * its rig. All are in the folder in which serve runs. docs/nodes.md says which names may be taken.
 * Neither side waits for the other.
 */
#define FILES_NAME  64         /* bytes of a name, the zero included */
#define FILES_BYTES (4u << 20) /* longest file */
#define FILES_MOST  128

struct files;

/* NULL, and a diagnostic where the options are wrong; *failed is 1 where the machine failed. */
struct files *dia_files_new(const struct dia_serve_options *options, int *failed,
                            struct dia_diagnostic *wrong);
void dia_files_free(struct files *files);

/* The light's side. All that rig and show name now, to be sent where it is another; nothing for one
 * that takes. And the next name that has come since it was last asked: 1; 0: there is none. */
void dia_files_offer(struct files *files);
int dia_files_next(struct files *files, char name[FILES_NAME]);
void dia_files_again(struct files *files); /* all that has come is told once more */

/* Sum over the names and the bytes of all files that the show names as it plays; 0: it names none.
 */
uint32_t dia_files_sum(const struct dia_live *live);

/* The broker's side, in its thread. What it has: "rig" or "file/NAME"; all of that is known now; it
 * is gone. And the next file for it: 1; its bytes are on the heap. */
struct files_out {
    char topic[FILES_NAME + 16]; /* below the base */
    void *bytes;
    size_t size;
};
/* The next one goes out when the broker has told the last to us too, or has not for 10 s. One for
 * which it ends the connection is not given to it for ever. */
void dia_files_refused(struct files *files, const char *why); /* it is not on its way */
void dia_files_take(struct files *files, const char *what, const void *bytes, size_t size);
void dia_files_known(struct files *files);
void dia_files_lost(struct files *files);
int dia_files_out(struct files *files, struct files_out *out);

#endif
