/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/sleep.h>
#include <stddef.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

/* The smallest program: a steady look on 60 pixels, limited, on PD6; three frames, then rest. */
#define COUNT 60
#define PIN   22

static uint8_t memory[DIA_INPLACE_STRIP_BYTES(3, COUNT)];
static struct dia_inplace_strip strip;

int main(void)
{
    static const DIA_ROM struct dia_rgb warm_white = {255, 180, 100};
    struct dia_steady steady = {warm_white};
    if (dia_inplace_strip_init(&strip, dia_avr_port(), PIN, &dia_ws2812b, memory, COUNT) != DIA_OK)
        return 1;
    dia_inplace_strip_supply(&strip, 1000, 100);
    for (uint8_t i = 0; i < 3; i++) {
        dia_inplace_strip_wait(&strip);
        dia_steady_render(&steady, NULL, 0, 0, COUNT, strip.frame.pixels);
        dia_inplace_strip_show(&strip);
    }
    dia_inplace_strip_wait(&strip);
    cli();
    sleep_mode(); /* for good: the simulator ends here */
    return 0;
}
