/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_NEAREST_H
#define DIACHROME_NEAREST_H

#include "linkage.h"

DIA_BEGIN

/*
 * The known word that someone who wrote `word` most likely meant: the one with the fewest letters
 * to change, put in or leave out (case does not count), if those are at most a third of its
 * length and one. NULL when none is near. known ends with NULL.
 *
 * Cost: letters times letters for each known word; words are short.
 * Context: one thread at a time for an object; not from an interrupt.
 */
const char *dia_nearest(const char *word, const char *const *known);

DIA_END

#endif
