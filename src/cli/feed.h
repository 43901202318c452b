/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_FEED_H
#define DIA_CLI_FEED_H

#include <diachrome/show.h>

/* Values that come in as lines of standard input, where that is no terminal, and of named pipes. */

/* Opens them, for the values of the show that wait for lines. CLI_FINE, or CLI_BAD_INPUT, said. */
int feed_begin(const struct dia_show *show, const char *command);

/* 1: something is open. */
int feed_is_on(void);

/* Takes the lines that have come in, for a time of the show; waits for the end of them if asked to.
 * A named pipe has no end: what is there within a second is taken. */
void feed_take(struct dia_show *show, uint32_t ms, int all);

/* Says that lines were wrong, with the first of them: CLI_BAD_INPUT, or CLI_MACHINE where there was
 * no room for one. */
int feed_end(const char *command);

#endif
