/* SPDX-License-Identifier: MIT */
#include <stdint.h>

#include "board.h"

/* A Cortex-M0 with nothing but a stack: output and the end by semihosting (ARM's, calls 3 and 24).
 */
static uint32_t semihosting(uint32_t call, const void *argument)
{
    register uint32_t r0 __asm__("r0") = call;
    register const void *r1 __asm__("r1") = argument;
    __asm__ volatile("bkpt 0xab" : "+r"(r0) : "r"(r1) : "memory");
    return r0;
}

void board_begin(void)
{
}

void board_put(char c)
{
    semihosting(3, &c);
}

void board_end(void)
{
    semihosting(24, (const void *)0x20026);
}

extern uint32_t data_from, data_begin, data_end, bss_begin, bss_end, stack_top;
int main(void);

void reset(void);
void reset(void)
{
    const uint32_t *from = &data_from;
    for (uint32_t *to = &data_begin; to != &data_end; to++)
        *to = *from++;
    for (uint32_t *to = &bss_begin; to != &bss_end; to++)
        *to = 0;
    main();
    board_end();
    for (;;)
        ;
}

static void fault(void)
{
    static const char message[] = "fault\n";
    for (const char *c = message; *c; c++)
        board_put(*c);
    board_end();
}

typedef void handler(void);
__attribute__((section(".vectors"), used)) static const struct {
    const uint32_t *stack;
    handler *handlers[3];
} vectors = {&stack_top, {reset, fault, fault}};
