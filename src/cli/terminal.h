/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_TERMINAL_H
#define DIA_CLI_TERMINAL_H

#include <stdio.h>

/*
 * The terminal as a screen of our own: keys one at a time, no cursor, the other screen. However
 * the program ends or stops (a signal, an abort, Ctrl-Z, exit), the terminal is as it was.
 */

/* 0; or -1 when stdout is no terminal, or there is none to take keys from: stdin, or the one the
 * program was started in. */
int terminal_begin(void);
void terminal_end(void);

/* 1 once somebody has asked the program to end (SIGINT, SIGTERM, SIGHUP). */
int terminal_asked_to_end(void);

/* 1 once after the screen was taken, for the first time or again: nothing is on it. */
int terminal_was_cleared(void);

void terminal_size(int *columns, int *rows);

/* Clicks are told too, from before terminal_begin on. */
void terminal_takes_clicks(void);

/* What somebody does. A sign is its own kind; what has no sign is one of these. */
enum {
    TERMINAL_UP = 256,
    TERMINAL_DOWN,
    TERMINAL_RIGHT,
    TERMINAL_LEFT,
    TERMINAL_PRESSED,  /* the left button of the mouse, at a place */
    TERMINAL_DRAGGED,  /* it moves on while it is down */
    TERMINAL_RELEASED, /* */
    TERMINAL_UNKNOWN
};
struct terminal_event {
    int kind;        /* 0: nothing in that time; -1: there will be no more */
    int with_shift;  /* or Alt: of arrows */
    int column, row; /* of the mouse, from 0 */
};

/* Waits up to ms for a key or the mouse. */
struct terminal_event terminal_event(int ms);

/* Waits up to ms for a key. The key, or 0: none, -1: there will be no more. */
int terminal_key(int ms);

/* Writes all of a text at once. */
void terminal_write(const char *text, size_t length);

#endif
