/* SPDX-License-Identifier: MIT */
#ifndef TESTS_SPEED_LOOK_SPEED_H
#define TESTS_SPEED_LOOK_SPEED_H

/* Seconds, and a line of the report: what, its value, its goal, and whether it is met. */
double now(void);
void print(const char *what, double value, const char *goal, int met);

/* Times every look, the hue sweep alone, and a stack. 1: all goals are met; -1: no memory. */
int look_speeds(void);

/* The same of films onto elements, and of moving pictures of a rig file. Needs the host library. */
int film_speeds(const char *rig_path);

#endif
