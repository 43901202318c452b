/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

/* A drive of 256 for each step of the code. */
#define FOUR(n)       (n) * 256u, ((n) + 1u) * 256u, ((n) + 2u) * 256u, ((n) + 3u) * 256u
#define SIXTEEN(n)    FOUR(n), FOUR((n) + 4u), FOUR((n) + 8u), FOUR((n) + 12u)
#define THIRTY_TWO(n) SIXTEEN(n), SIXTEEN((n) + 16u)

const DIA_ROM uint16_t dia_curve_straight[256] = {
    THIRTY_TWO(0u),   THIRTY_TWO(32u),  THIRTY_TWO(64u),  THIRTY_TWO(96u),
    THIRTY_TWO(128u), THIRTY_TWO(160u), THIRTY_TWO(192u), THIRTY_TWO(224u),
};
