/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/sleep.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

/*
 * Sends the same 24 bytes by the port of the ATmega328P in the timing of one part after the
 * other, in the order of dia_onewire_parts, on PD6. The test listens to the pin.
 */
#define PIN 22

int main(void)
{
    static uint8_t bytes[24];
    struct dia_port *port = dia_avr_port();
    for (uint8_t i = 0; i < sizeof bytes; i++)
        bytes[i] = (uint8_t)(i * 37u + 5u);
    for (const DIA_ROM struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        struct dia_onewire line;
        if (dia_onewire_init(&line, port, PIN, *part) != DIA_OK)
            break;
        while (dia_onewire_start(&line, bytes, sizeof bytes) == DIA_BUSY)
            ;
        while (dia_onewire_poll(&line) == DIA_BUSY)
            ;
    }
    cli();
    sleep_mode();
    return 0;
}
