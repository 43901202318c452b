/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LINKAGE_H
#define DIACHROME_LINKAGE_H

/*
 * Around what a public header declares: names as C has them, for programs in C++ too, and seen from
 * outside a shared library. All else in it is hidden.
 */
#if defined(__GNUC__) && defined(__ELF__)
#define DIA_VISIBLE        _Pragma("GCC visibility push(default)")
#define DIA_VISIBLE_SO_FAR _Pragma("GCC visibility pop")
#else
#define DIA_VISIBLE
#define DIA_VISIBLE_SO_FAR
#endif

#ifdef __cplusplus
#define DIA_BEGIN                                                                                  \
    DIA_VISIBLE extern "C"                                                                         \
    {
#define DIA_END                                                                                    \
    }                                                                                              \
    DIA_VISIBLE_SO_FAR
#else
#define DIA_BEGIN DIA_VISIBLE
#define DIA_END   DIA_VISIBLE_SO_FAR
#endif

#endif
