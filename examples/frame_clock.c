/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* A frame clock at 30 frames a second, in a program that is late once. */
int main(void)
{
    struct dia_pace pace;
    uint32_t now_us = 5000000; /* on a controller: port->now_us(port) */

    dia_pace_init(&pace, 30, 1);
    dia_pace_start(&pace, now_us);
    while (pace.frame < 5) {
        if (dia_pace_due(&pace, now_us)) {
            printf("frame %u at %u ms, %u us late, %u left out\n", (unsigned)pace.frame,
                   (unsigned)pace.ms, (unsigned)pace.late_us, (unsigned)pace.dropped);
            now_us += pace.frame == 1 ? 110000 : 1000; /* what showing it takes */
        } else {
            now_us += 100; /* a program would do something else here */
        }
    }
    return 0;
}
