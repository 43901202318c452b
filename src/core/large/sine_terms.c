/* SPDX-License-Identifier: MIT */
#include "../sine.h"

const int16_t dia_sine_terms[3] = {SINE_A, SINE_B, SINE_C};
