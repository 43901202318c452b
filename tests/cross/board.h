/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_BOARD_H
#define DIA_TESTS_BOARD_H

/* Where a test program runs: something that takes characters, and an end. */
void board_begin(void);
void board_put(char c);
void board_end(void);

#endif
