/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_WAVEFORM_WORDS_H
#define DIA_HOST_WAVEFORM_WORDS_H

#include <diachrome/waveform.h>

/* Numbers of a waveform in words, the same in pictures and in the terminal. */

/* "250 ns", "1.5 us", "20 ms" */
char *dia_waveform_time(char text[40], double ns);

/* "3456 of 812 to 834 ns, mean 820.5; may be 650 to 950 ns; none outside" */
void dia_waveform_statistics(const struct dia_waveform_pulses *pulses, char *text, size_t size);

/* What the first whole pulse of the stretch measures. 0: there is none. */
int dia_waveform_first(const struct dia_waveform *wave, char *text, size_t size);

#endif
