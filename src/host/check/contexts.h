/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_CONTEXTS_H
#define DIA_HOST_CONTEXTS_H

/*
 * Bytes of the structs of drivers on controllers: with pointers of 16 bits (AVR), and of 32 bits.
 * tests/cross/contexts.c holds them against both compilers.
 */
#define DIA_CONTEXTS(X)                                                                            \
    X(strip, 95, 136)                                                                              \
    X(inplace_strip, 56, 80)                                                                       \
    X(group, 59, 100)                                                                              \
    X(matrix, 36, 52)                                                                              \
    X(shift, 57, 80)                                                                               \
    X(shift_digits, 70, 70)                                                                        \
    X(digits, 64, 76)                                                                              \
    X(pin_lamps, 78, 92)                                                                           \
    X(panel, 43, 56)                                                                               \
    X(rgb_panel, 57, 76)                                                                           \
    X(characters, 221, 240)

/* CONTEXT_BYTES(rig, matrix): of that one on the controller of a rig. */
#define CONTEXT_OF(name, avr, other) CONTEXT_##name##_avr = (avr), CONTEXT_##name##_32 = (other),
enum { DIA_CONTEXTS(CONTEXT_OF) CONTEXTS_END };
#define CONTEXT_BYTES(rig, name)                                                                   \
    ((uint32_t)((rig)->controller.counted ? CONTEXT_##name##_avr : CONTEXT_##name##_32))

#endif
