/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <time.h>

#include <diachrome/diachrome.h>
#include <diachrome/linux_port.h>

/* Linux may have other things to do for longer than a driver waits: then it is asked again. */
static enum dia_status patiently(enum dia_status (*act)(struct dia_driver *driver),
                                 struct dia_driver *driver)
{
    const struct timespec rest = {0, 1000000};
    enum dia_status status;
    for (int k = 0; (status = act(driver)) == DIA_BUSY && k < 1000; k++)
        nanosleep(&rest, NULL);
    return status;
}

/* 60 pixels on the data line of an SPI bus of this computer: a breath of amber, then dark. */
int main(void)
{
    static struct dia_linux computer;
    static struct dia_rgb pixels[60];
    static uint8_t memory[DIA_STRIP_BYTES(3, 60)];
    struct dia_surface line;
    struct dia_strip strip;
    struct dia_breathe breathe;
    const struct timespec frame = {0, 20000000};

    dia_linux_init(&computer);
    enum dia_status status =
        dia_linux_pulses(&computer, 10, "/dev/spidev0.0", 60 * 3, &dia_ws2812b.timing);
    if (status != DIA_OK) {
        fprintf(stderr, "%s\n", computer.why); /* what is missing, and what to do about it */
        return 1;
    }
    if (dia_surface_line(&line, 60, 0, 16700) != DIA_OK ||
        dia_strip_init(&strip, &computer.port, 10, &dia_ws2812b, pixels, memory, 60) != DIA_OK)
        return 1;
    dia_strip_supply(&strip, 2000, 100); /* 2 A, 100 mA of it for other things */
    dia_breathe_defaults(&breathe);
    for (uint32_t ms = 0; ms < 1000 && status == DIA_OK; ms += 20) {
        dia_breathe_render(&breathe, &line, ms, 0, 60, pixels);
        status = patiently(dia_driver_show_and_wait, &strip.driver);
        nanosleep(&frame, NULL);
    }
    if (patiently(dia_driver_dark, &strip.driver) != DIA_OK || status != DIA_OK) {
        fprintf(stderr, "%s\n", computer.why);
        return 1;
    }
    dia_linux_close(&computer);
    printf("%u frames shown\n", (unsigned)strip.slot);
    return 0;
}
