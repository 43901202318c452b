/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/sleep.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

/*
 * Groups of lanes on PD2 to PD6, of 1, 9, 4, none and 9 pixels, in the timing of each one-wire part
 * in turn. PD7 is high and PD1 low all the time. The test listens to all of them.
 */
#define LANES   5
#define LONGEST 27

static const uint8_t counts[LANES] = {3, LONGEST, 12, 0, LONGEST};

int main(void)
{
    static uint8_t bytes[LANES][LONGEST], planes[DIA_PLANES_BYTES(LANES, LONGEST)];
    struct dia_port *port = dia_avr_port_all();
    const uint8_t *sources[LANES];
    uint32_t lengths[LANES];
    for (uint8_t k = 0; k < LANES; k++) {
        for (uint8_t i = 0; i < LONGEST; i++)
            bytes[k][i] = (uint8_t)(i * 37u + k * 101u + 5u);
        sources[k] = bytes[k];
        lengths[k] = counts[k];
    }
    port->ops->pin_write(port, DIA_AVR_PIN('D', 1), 0);
    port->ops->pin_write(port, DIA_AVR_PIN('D', 7), 1);
    dia_planes_make(planes, LANES, sources, lengths);
    for (const DIA_ROM struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        struct dia_parallel line;
        if (dia_parallel_init(&line, port, DIA_AVR_PIN('D', 2), LANES, *part) != DIA_OK)
            break;
        while (dia_parallel_start(&line, planes, lengths) == DIA_BUSY)
            ;
        while (dia_parallel_poll(&line) == DIA_BUSY)
            ;
    }
    cli();
    sleep_mode();
    return 0;
}
