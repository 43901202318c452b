/* SPDX-License-Identifier: MIT */
#include <diachrome/version.h>

const char *dia_version(void)
{
    return DIA_VERSION;
}
