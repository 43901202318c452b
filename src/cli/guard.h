/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_GUARD_H
#define DIA_CLI_GUARD_H

#include <diachrome/rig.h>

/*
 * Does work in a process of its own and watches it: when that is killed or crashes, all parts of
 * the rig go dark all the same. When the watcher is killed, the work is told to end. Signals that
 * end it go to the work. The exit code of the work; CLI_MACHINE, said, when it had none.
 */
int guard_run(const struct dia_rig *rig, const char *name, int (*work)(void *self), void *self);

/* Calls hears for each signal that ends a program by itself, but for those that whoever started it
 * wants ignored, as nohup does. */
void guard_hear(void (*hears)(int signal));

#endif
