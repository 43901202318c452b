/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_STATUS_H
#define DIACHROME_STATUS_H

#include "linkage.h"

DIA_BEGIN

/* What a call has to say. Errors are values; nothing aborts. */
enum dia_status {
    DIA_OK = 0,      /* done */
    DIA_BUSY,        /* still under way: call again later; nothing was changed */
    DIA_BAD_VALUE,   /* an argument is outside its stated range; nothing was changed */
    DIA_UNSUPPORTED, /* this port or part cannot do that */
    DIA_PORT_FAILED  /* the hardware (or its stand-in) refused */
};

/* A short English text for a status, without a full stop. Never NULL; static, not to be freed.
 * Cost: looks a text up.
 * Context: any. */
const char *dia_status_text(enum dia_status status);

DIA_END

#endif
