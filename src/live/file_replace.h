/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_FILE_REPLACE_H
#define DIA_LIVE_FILE_REPLACE_H

#include <stddef.h>
#include <sys/types.h>

/* Puts bytes in a file, in place of what is there: whoever reads it has the old or the new, and the
 * new is on the disk. It is written beside it first; is_fine, if it is not NULL, is asked about
 * that one. 0; 1: it is not fine; -1 and errno: it cannot be written. In the latter two all is as
 * it was. */
int dia_file_replace(const char *path, const void *bytes, size_t size, mode_t mode,
                     int (*is_fine)(const char *beside, void *self), void *self);

#endif
