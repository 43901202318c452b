/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_LIVE_CHANGES_H
#define DIA_HOST_LIVE_CHANGES_H

#include "live_private.h"

/* A change that is being made. Each function below makes what the word of its name asks for, with
 * the words behind it. */
struct change {
    struct dia_live *live;
    uint64_t ms; /* of the run */
    enum dia_live_from from;
    struct dia_diagnostic *wrong;
};

/* live_layers.c */
enum dia_status dia_live_set(const struct change *to, const char *at);
enum dia_status dia_live_put_clause(const struct change *to, const char *at);
enum dia_status dia_live_look(const struct change *to, const char *at);
enum dia_status dia_live_layer(const struct change *to, const char *at);
enum dia_status dia_live_drop(const struct change *to, const char *at);
enum dia_status dia_live_place(const struct change *to, const char *at);
enum dia_status dia_live_paint(const struct change *to, const char *at);

/* Another text from now on, in this step of undo. A text of others names no file but those that the
 * owner's names. Takes the text; NULL: memory ran out. */
enum dia_status dia_live_take(const struct change *to, char *text, const char *step);

/* Nothing may follow. */
enum dia_status dia_live_at_end(const struct change *to, const char *at);

#endif
