/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_FILM_INLET_H
#define DIA_HOST_FILM_INLET_H

#include "film_private.h"

/*
 * Frames that come in while a show runs: by standard input, a named pipe, or a Unix socket that is
 * made here. A thread reads as fast as they come; what shows is the newest whole one, so nobody who
 * shows waits for who sends, nor the other way round.
 */
extern const struct film_format dia_film_inlet;

/* 1: the path is one of a stream: "-", a named pipe, "unix:PATH". */
int dia_film_is_inlet(const char *path);

#endif
