/* SPDX-License-Identifier: MIT */
#include <diachrome/status.h>

const char *dia_status_text(enum dia_status status)
{
    switch (status) {
    case DIA_OK:
        return "done";
    case DIA_BUSY:
        return "still under way";
    case DIA_BAD_VALUE:
        return "an argument is out of range";
    case DIA_UNSUPPORTED:
        return "not supported by this port or part";
    case DIA_PORT_FAILED:
        return "the port broke off";
    }
    return "unknown status";
}
